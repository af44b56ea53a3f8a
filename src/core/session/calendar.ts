import ICAL from 'ical.js'
import { utcOfWallClock } from './namedZone'
import { netSchema, PLAN_MODES, planBlockSchema, wordEvent, type Net, type PlanBlock, type SessionPlan } from './sessionPlan'

/** Properties of our own carry what a calendar has no place for; RFC 5545 section 3.8.8.2 lets others pass them over. */
const DIAL = 'x-zeptik-dial-hz'
const MODE = 'x-zeptik-mode'
const DAYS = ['SU', 'MO', 'TU', 'WE', 'TH', 'FR', 'SA'] as const
const DAY_MS = 86_400_000
/** A calendar of a field day is far below this. */
export const CALENDAR_LIMIT_BYTES = 1_000_000
const MOST_EVENTS = 200
/** Events this long or longer are days off, not stretches of a session. */
const LONGEST_MS = 2 * DAY_MS

const utc = (ms: number) => ICAL.Time.fromJSDate(new Date(ms), true)

/** A line break alone ends a line of text; a carriage return alone would end the property. */
const lines = (text: string) => text.replace(/\r\n?/g, '\n')

/**
 * Writes the plan as an iCalendar file (RFC 5545): each stretch an event, each net one that repeats, each with a reminder.
 * @param fromUtcMs nets begin at their first occurrence after this
 */
export function planToCalendar(plan: SessionPlan, fromUtcMs: number): string {
  const calendar = new ICAL.Component(['vcalendar', [], []])
  calendar.updatePropertyWithValue('version', '2.0')
  calendar.updatePropertyWithValue('prodid', '-//Zeptik//Session plan//EN')
  const add = (uid: string, summary: string, startUtcMs: number, endUtcMs: number, note: string) => {
    const event = new ICAL.Component('vevent')
    event.updatePropertyWithValue('uid', `${uid}@zeptik`)
    event.updatePropertyWithValue('dtstamp', utc(fromUtcMs))
    event.updatePropertyWithValue('dtstart', utc(startUtcMs))
    event.updatePropertyWithValue('dtend', utc(endUtcMs))
    event.updatePropertyWithValue('summary', lines(summary))
    if (note) event.updatePropertyWithValue('description', lines(note))
    const alarm = new ICAL.Component('valarm')
    alarm.updatePropertyWithValue('action', 'DISPLAY')
    alarm.updatePropertyWithValue('description', lines(summary))
    alarm.updatePropertyWithValue('trigger', ICAL.Duration.fromSeconds(-60 * plan.noticeMin))
    event.addSubcomponent(alarm)
    calendar.addSubcomponent(event)
    return event
  }
  for (const block of plan.blocks) {
    const { startUtcMs, endUtcMs } = block
    const summary = wordEvent({ startUtcMs, endUtcMs, what: { kind: 'block', block } })
    const event = add(block.id, summary, startUtcMs, endUtcMs, block.note)
    event.updatePropertyWithValue(MODE, block.mode)
    if (block.dialFrequencyHz !== null) event.updatePropertyWithValue(DIAL, String(block.dialFrequencyHz))
  }
  for (const net of plan.nets) {
    const startUtcMs = firstAfter(net, fromUtcMs)
    const event = add(net.id, net.name, startUtcMs, startUtcMs + net.durationMin * 60_000, net.note)
    const rule = net.weekday === null ? { freq: 'DAILY' } : { freq: 'WEEKLY', byday: [DAYS[net.weekday]!] }
    event.updatePropertyWithValue('rrule', ICAL.Recur.fromData(rule as ConstructorParameters<typeof ICAL.Recur>[0]))
    if (net.frequencyHz !== null) event.updatePropertyWithValue(DIAL, String(net.frequencyHz))
  }
  return `${calendar.toString()}\r\n`
}

function firstAfter(net: Net, fromUtcMs: number): number {
  for (let day = Math.floor(fromUtcMs / DAY_MS); ; day++) {
    const at = day * DAY_MS + net.startMinute * 60_000
    if (at >= fromUtcMs && (net.weekday === null || new Date(day * DAY_MS).getUTCDay() === net.weekday)) return at
  }
}

export interface CalendarImport {
  blocks: PlanBlock[]
  nets: Net[]
  /** What could not be taken, each with the event's name and why. */
  problems: string[]
}

/**
 * Reads an iCalendar file: events that repeat daily or weekly become nets, others stretches. Never throws.
 * @param newId ids for what comes from elsewhere
 */
export function calendarToPlan(text: string, newId: () => string): CalendarImport {
  const result: CalendarImport = { blocks: [], nets: [], problems: [] }
  if (text.length > CALENDAR_LIMIT_BYTES) return { ...result, problems: [`The file is larger than ${CALENDAR_LIMIT_BYTES / 1e6} MB.`] }
  let events: ICAL.Component[]
  try {
    events = new ICAL.Component(ICAL.parse(text)).getAllSubcomponents('vevent')
  } catch (error) {
    return { ...result, problems: [`This is no calendar that can be read: ${(error as Error).message}`] }
  }
  if (events.length === 0) result.problems.push('There are no events in this calendar.')
  if (events.length > MOST_EVENTS) result.problems.push(`Only the first ${MOST_EVENTS} of ${events.length} events were read.`)
  for (const event of events.slice(0, MOST_EVENTS)) {
    const name = textOf(event, 'summary') ?? 'an event without a name'
    try {
      const read = readEvent(event, name, newId)
      if (typeof read === 'string') result.problems.push(`${name.slice(0, 60)}: ${read}`)
      else if ('startUtcMs' in read) result.blocks.push(read)
      else {
        result.nets.push(...read.nets)
        if (read.ends) result.problems.push(`${name.slice(0, 60)}: it ends some day; here it goes on until you remove it`)
      }
    } catch (error) {
      result.problems.push(`${name.slice(0, 60)}: ${(error as Error).message}`)
    }
  }
  return result
}

function textOf(event: ICAL.Component, name: string): string | undefined {
  const value: unknown = event.getFirstPropertyValue(name)
  return value === null || value === undefined ? undefined : String(value)
}

/** What repeats: a net for each day of the week, and whether the calendar lets it end. */
interface Repeated {
  nets: Net[]
  ends: boolean
}

/** UTC of a start or an end; or why it cannot be told. A time without any zone is one of this device's own zone. */
function utcOf(component: ICAL.Component, name: 'dtstart' | 'dtend', time: ICAL.Time): number | string {
  // An event with a duration has no end of its own: it is in the zone of its start.
  const given: unknown = (component.getFirstProperty(name) ?? component.getFirstProperty('dtstart'))?.getParameter('tzid')
  if (typeof given !== 'string' || time.zone !== ICAL.Timezone.localTimezone) return time.toJSDate().getTime()
  // The file names a zone that it does not describe.
  const wallMs = Date.UTC(time.year, time.month - 1, time.day, time.hour, time.minute, time.second)
  return utcOfWallClock(wallMs, given) ?? `its time zone "${given.slice(0, 40)}" is not described in the file`
}

function readEvent(component: ICAL.Component, name: string, newId: () => string): PlanBlock | Repeated | string {
  const event = new ICAL.Event(component)
  if (!event.startDate || !event.endDate) return 'it has no start'
  if (event.startDate.isDate) return 'it takes whole days'
  const startUtcMs = utcOf(component, 'dtstart', event.startDate)
  const endUtcMs = utcOf(component, 'dtend', event.endDate)
  if (typeof startUtcMs === 'string') return startUtcMs
  if (typeof endUtcMs === 'string') return endUtcMs
  if (!(endUtcMs > startUtcMs)) return 'it does not end after it begins'
  if (endUtcMs - startUtcMs > LONGEST_MS) return 'it is longer than two days'
  const dial = Number(textOf(component, DIAL) ?? Number.NaN)
  const hz = Number.isFinite(dial) && dial > 0 ? Math.round(dial) : null
  const note = (textOf(component, 'description') ?? '').slice(0, 120)
  const rule = component.getFirstPropertyValue('rrule') as ICAL.Recur | null
  if (rule) return readRepeated(rule, event.startDate, { startUtcMs, endUtcMs, name, hz, note }, newId)
  const mode = textOf(component, MODE)
  const isMode = mode !== undefined && PLAN_MODES.includes(mode)
  const said = [isMode ? '' : name, note].filter(Boolean).join(': ').slice(0, 120)
  const block = { id: newId(), startUtcMs, endUtcMs, dialFrequencyHz: hz, mode: isMode ? mode : PLAN_MODES[0]!, note: said }
  const parsed = planBlockSchema.safeParse(block)
  return parsed.success ? parsed.data : parsed.error.issues[0]!.message
}

/** Daily and weekly events as nets; or why they cannot be. @param startDate in its own zone, of which the days of the rule are */
function readRepeated(
  rule: ICAL.Recur,
  startDate: ICAL.Time,
  { startUtcMs, endUtcMs, name, hz, note }: { startUtcMs: number; endUtcMs: number; name: string; hz: number | null; note: string },
  newId: () => string,
): Repeated | string {
  const often = (rule as unknown as { freq: string; interval: number }).freq
  if (often !== 'DAILY' && often !== 'WEEKLY') return `it repeats ${often.toLowerCase()}: only daily and weekly ones can be taken`
  if ((rule as unknown as { interval: number }).interval !== 1) return 'it does not repeat every day or week'
  const start = new Date(startUtcMs)
  const shift = start.getUTCDay() - (startDate.dayOfWeek() - ICAL.Time.SUNDAY)
  const named = (rule.getComponent('BYDAY') as string[]).map((day) => DAYS.indexOf(day as (typeof DAYS)[number]))
  if (named.includes(-1)) return 'it repeats on days that cannot be taken'
  const weekdays = named.length > 0 ? named.map((day) => (day + shift + 7) % 7) : often === 'DAILY' ? [null] : [start.getUTCDay()]
  const nets = weekdays.map((weekday) =>
    netSchema.safeParse({
      ...{ id: newId(), name: name.slice(0, 60), weekday, frequencyHz: hz, note },
      startMinute: start.getUTCHours() * 60 + start.getUTCMinutes(),
      durationMin: Math.round((endUtcMs - startUtcMs) / 60_000),
    }),
  )
  const wrong = nets.find((net) => !net.success)
  return wrong ? wrong.error!.issues[0]!.message : { nets: nets.map((net) => net.data!), ends: rule.isFinite() }
}
