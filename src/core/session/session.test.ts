import { calendarToPlan, planToCalendar } from './calendar'
import { utcOfWallClock } from './namedZone'
import {
  emptyPlan,
  eventsBetween,
  judgePlan,
  sessionPlanSchema,
  wordEvent,
  type Net,
  type PlanBlock,
  type SessionPlan,
} from './sessionPlan'

// A Saturday.
const noon = Date.UTC(2026, 5, 6, 12)
const MIN = 60_000
let ids = 0
const newId = () => `00000000-0000-4000-8000-${String(++ids).padStart(12, '0')}`
const block = (fromMin: number, toMin: number, over: Partial<PlanBlock> = {}): PlanBlock => ({
  ...{ id: newId(), startUtcMs: noon + fromMin * MIN, endUtcMs: noon + toMin * MIN, dialFrequencyHz: 14_074_000, mode: 'FT8', note: '' },
  ...over,
})
const net = (over: Partial<Net> = {}): Net => ({
  ...{ id: newId(), name: 'River net', weekday: 6, startMinute: 13 * 60, durationMin: 30, frequencyHz: 145_500_000, note: 'Ada calls' },
  ...over,
})
const plan: SessionPlan = { ...emptyPlan, blocks: [block(0, 60), block(60, 90, { dialFrequencyHz: 7_074_000 })], nets: [net()] }

describe('eventsBetween', () => {
  it('has nets in each of their occurrences, and those that began the day before', () => {
    const weekly = eventsBetween({ ...emptyPlan, nets: [net()] }, noon, noon + 15 * 24 * 60 * MIN)
    expect(weekly.map((e) => (e.startUtcMs - noon) / MIN / 60)).toEqual([1, 169, 337])
    const late = eventsBetween(
      { ...emptyPlan, nets: [net({ weekday: null, startMinute: 1430, durationMin: 60 })] },
      Date.UTC(2026, 5, 7, 0, 10),
      Date.UTC(2026, 5, 7, 1),
    )
    expect(late).toHaveLength(1)
  })
})

describe('judgePlan', () => {
  const at = (minute: number, dial: number | null = 14_074_000) => judgePlan(plan, noon + minute * MIN, dial)
  it('says nothing while all is as planned', () => {
    expect(at(20)).toMatchObject({ now: [{ what: { block: { dialFrequencyHz: 14_074_000 } } }], reminder: undefined })
    expect(at(20, null).reminder).toBeUndefined()
  })
  it('mentions a change when it is near, and who comes first', () => {
    expect(at(55.5).reminder).toMatchObject({ kind: 'soon', inMin: 5 })
    expect(wordEvent(at(55.5).next!)).toBe('FT8 on 7\u202f074.0 kHz')
    expect(at(54).reminder).toBeUndefined()
  })
  it('mentions a dial that is not where the plan is', () => {
    expect(at(70).reminder).toMatchObject({ kind: 'dial', block: { dialFrequencyHz: 7_074_000 } })
    expect(at(70, 7_074_000).reminder).toBeUndefined()
  })
  it('says that it is over, for a while', () => {
    expect(at(95).reminder).toMatchObject({ kind: 'over' })
    expect(at(110).reminder).toBeUndefined()
  })
  it('has nothing to say without a plan', () =>
    expect(judgePlan(emptyPlan, noon, null)).toEqual({ now: [], next: undefined, reminder: undefined }))
  it('refuses a stretch that ends before it begins', () => {
    expect(sessionPlanSchema.safeParse({ ...plan, blocks: [block(10, 5)] }).error!.issues[0]!.message).toBe(
      'A stretch ends after it begins',
    )
  })
})

describe('iCalendar', () => {
  it('comes back as it went out', () => {
    const full = {
      ...plan,
      blocks: [...plan.blocks, block(100, 130, { mode: 'Pause', dialFrequencyHz: null, note: 'Tea; bread, and \n cheese' })],
    }
    const text = planToCalendar(full, noon)
    const back = calendarToPlan(text, newId)
    expect(back.problems).toEqual([])
    const withoutId = ({ id: _id, ...rest }: PlanBlock | Net) => rest
    expect(back.blocks.map(withoutId)).toEqual(full.blocks.map(withoutId))
    expect(back.nets.map(withoutId)).toEqual(full.nets.map(withoutId))
  })

  it('is written as RFC 5545 has it: CRLF, UTC, lines of at most 75 octets, an alarm for each event', () => {
    const text = planToCalendar({ ...plan, blocks: [block(0, 60, { note: 'n'.repeat(120) })] }, noon)
    expect(text.startsWith('BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:')).toBe(true)
    expect(text).toContain('DTSTART:20260606T120000Z\r\n')
    expect(text).toContain('RRULE:FREQ=WEEKLY;BYDAY=SA\r\n')
    expect(text).toContain('TRIGGER:-PT5M\r\n')
    expect(text.match(/BEGIN:VALARM/g)).toHaveLength(2)
    for (const line of text.split('\r\n')) expect(Buffer.byteLength(line)).toBeLessThanOrEqual(75)
  })

  it('takes events of other calendars, and says what it cannot take', () => {
    const event = (lines: string) => `BEGIN:VEVENT\r\nUID:1\r\nDTSTAMP:20260101T000000Z\r\n${lines}\r\nEND:VEVENT\r\n`
    const text = `BEGIN:VCALENDAR\r\nVERSION:2.0\r\n${[
      'SUMMARY:Start of the race\r\nDTSTART:20260606T120000Z\r\nDTEND:20260606T130000Z',
      'SUMMARY:Evening net\r\nDTSTART:20260606T180000Z\r\nDURATION:PT45M\r\nRRULE:FREQ=DAILY',
      'SUMMARY:Holiday\r\nDTSTART;VALUE=DATE:20260606',
      'SUMMARY:Monthly\r\nDTSTART:20260606T180000Z\r\nDURATION:PT45M\r\nRRULE:FREQ=MONTHLY',
      'SUMMARY:Backwards\r\nDTSTART:20260606T180000Z\r\nDTEND:20260606T170000Z',
      'SUMMARY:Nothing',
    ]
      .map(event)
      .join('')}END:VCALENDAR\r\n`
    const read = calendarToPlan(text, newId)
    expect(read.blocks).toMatchObject([{ startUtcMs: noon, mode: 'FT8', note: 'Start of the race', dialFrequencyHz: null }])
    expect(read.nets).toMatchObject([{ name: 'Evening net', weekday: null, startMinute: 1080, durationMin: 45 }])
    expect(read.problems).toEqual([
      'Holiday: it takes whole days',
      expect.stringMatching(/^Monthly: it repeats monthly/),
      'Backwards: it does not end after it begins',
      'Nothing: it has no start',
    ])
  })

  it('reads times in a zone, whether the file describes it or only names it, and refuses a name that nobody knows', () => {
    const zone = [
      ...['BEGIN:VTIMEZONE', 'TZID:River time', 'BEGIN:STANDARD', 'DTSTART:19700101T000000'],
      ...['TZOFFSETFROM:+0330', 'TZOFFSETTO:+0330', 'END:STANDARD', 'END:VTIMEZONE'],
    ]
    const event = (tzid: string, end: string) => [
      ...['BEGIN:VEVENT', 'UID:1', 'DTSTAMP:20260101T000000Z', `SUMMARY:${tzid}`],
      ...[`DTSTART;TZID=${tzid}:20260606T153000`, end, 'END:VEVENT'],
    ]
    const lines = [
      ...['BEGIN:VCALENDAR', 'VERSION:2.0', ...zone],
      ...event('River time', 'DTEND;TZID=River time:20260606T163000'),
      ...event('Asia/Tehran', 'DURATION:PT1H'),
      ...event('Asia/Tehran', 'DTEND:20260606T130000Z'),
      ...event('Nobody/Knows', 'DURATION:PT1H'),
      'END:VCALENDAR',
    ]
    const read = calendarToPlan(lines.join('\r\n'), newId)
    const times = { startUtcMs: noon, endUtcMs: noon + 60 * MIN }
    expect(read.blocks).toMatchObject([times, times, times])
    expect(read.problems).toEqual(['Nobody/Knows: its time zone "Nobody/Knows" is not described in the file'])
  })

  it('takes what repeats on several days as a net for each, on the days as they are in UTC, and says what ends', () => {
    const zone = ['BEGIN:VTIMEZONE', 'TZID:Far', 'BEGIN:STANDARD', 'DTSTART:19700101T000000', 'TZOFFSETFROM:+1200', 'TZOFFSETTO:+1200']
    const event = (name: string, start: string, rule: string) => [
      'BEGIN:VEVENT',
      'UID:1',
      'DTSTAMP:20260101T000000Z',
      `SUMMARY:${name}`,
      start,
      'DURATION:PT30M',
      `RRULE:${rule}`,
      'END:VEVENT',
    ]
    const lines = [
      ...['BEGIN:VCALENDAR', 'VERSION:2.0', ...zone, 'END:STANDARD', 'END:VTIMEZONE'],
      ...event('River', 'DTSTART:20260601T180000Z', 'FREQ=WEEKLY;BYDAY=MO,TH,SU'),
      // Eight on a Saturday morning there is Friday evening in UTC.
      ...event('Far', 'DTSTART;TZID=Far:20260606T080000', 'FREQ=WEEKLY;BYDAY=SA,SU'),
      ...event('Ferry', 'DTSTART:20260601T190000Z', 'FREQ=DAILY;COUNT=3'),
      ...event('Odd', 'DTSTART:20260601T190000Z', 'FREQ=WEEKLY;BYDAY=2MO'),
      'END:VCALENDAR',
    ]
    const { nets, problems } = calendarToPlan(lines.join('\r\n'), newId)
    expect(nets.map(({ name, weekday, startMinute }) => [name, weekday, startMinute])).toEqual([
      ...[1, 4, 0].map((day) => ['River', day, 1080]),
      ...[5, 6].map((day) => ['Far', day, 1200]),
      ['Ferry', null, 1140],
    ])
    expect(new Set(nets.map((n) => n.id)).size).toBe(6)
    expect(problems).toEqual([
      'Ferry: it ends some day; here it goes on until you remove it',
      expect.stringMatching(/^Odd: it repeats on days/),
    ])
  })

  it.each([
    '',
    'no calendar',
    'BEGIN:VCALENDAR',
    'BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nEND:VCALENDAR',
    '\u0000\u0001',
    'x'.repeat(1_000_001),
  ])('bears what is none', (text) => {
    const read = calendarToPlan(text, newId)
    expect(read.blocks).toEqual([])
    expect(read.problems.length).toBeGreaterThan(0)
  })
})

describe('utcOfWallClock', () => {
  it.each([
    ['in winter', 'Europe/Paris', Date.UTC(2026, 0, 10, 12), Date.UTC(2026, 0, 10, 11)],
    ['in summer', 'Europe/Paris', Date.UTC(2026, 6, 10, 12), Date.UTC(2026, 6, 10, 10)],
    ['just before the clocks go on', 'Europe/Paris', Date.UTC(2026, 2, 29, 1, 59), Date.UTC(2026, 2, 29, 0, 59)],
    ['in the hour that is left out', 'Europe/Paris', Date.UTC(2026, 2, 29, 2, 30), Date.UTC(2026, 2, 29, 1, 30)],
    ['just after it', 'Europe/Paris', Date.UTC(2026, 2, 29, 3), Date.UTC(2026, 2, 29, 1)],
    ['in the hour that comes twice, the first', 'Europe/Paris', Date.UTC(2026, 9, 25, 2, 30), Date.UTC(2026, 9, 25, 0, 30)],
    ['across the date line', 'Pacific/Auckland', Date.UTC(2026, 0, 1, 6), Date.UTC(2025, 11, 31, 17)],
    ['a quarter of an hour apart', 'Asia/Kathmandu', Date.UTC(2026, 0, 1, 12), Date.UTC(2026, 0, 1, 6, 15)],
  ])('%s', (_name, zone, wall, utc) => expect(new Date(utcOfWallClock(wall, zone)!).toISOString()).toBe(new Date(utc).toISOString()))
  it('knows no zone that there is not', () => expect(utcOfWallClock(noon, 'Nobody/Knows')).toBeUndefined())
})
