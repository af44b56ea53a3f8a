'use client'
import { frequencyWords } from '@/core/text/frequency'
import { MODES } from '@/core/modes'
import { useRef, useState } from 'react'
import Button from '@mui/material/Button'
import { isLocator, locatorToPosition, sunTimes, type SunTimes } from '@/core/place'
import { reckonPower } from '@/core/power'
import {
  CALENDAR_LIMIT_BYTES,
  calendarToPlan,
  eventsBetween,
  judgePlan,
  wordEvent,
  type Net,
  type PlanBlock,
  type SessionPlan,
} from '@/core/session'
import { newId } from '@/engine/station/newId'
import { useFieldSetup, usePlan } from '../live/fieldDocuments'
import { keyedSince } from '../live/keyedTime'
import { useLive, useStation } from '../live/StationProvider'
import { useDialOfRadio } from '../live/useDialOfRadio'
import { useRealNow } from '../live/useRealNow'
import { FileInput } from '../parts/FileInput'
import { counted, formatUtc, formatUtcDate } from '../parts/formats'
import { useMessages } from '../parts/Messages'
import { Page, Panel, panelStyles } from '../parts/Panel'
import { BlockForm } from './BlockForm'
import { DraftField } from './DraftField'
import { NetForm } from './NetForm'
import { PlanTabs } from './PlanTabs'
import { Timeline } from './Timeline'
import styles from './plan.module.css'

const HOUR_MS = 3_600_000
const SHOWN_MS = 12 * HOUR_MS
const WEEKDAYS = ['Sundays', 'Mondays', 'Tuesdays', 'Wednesdays', 'Thursdays', 'Fridays', 'Saturdays']

/** The plan of the session: bands and times, nets, sun, battery, and a calendar in and out. */
export function SessionScreen() {
  const { value: plan, save, amend, problem } = usePlan()
  const field = useFieldSetup().value
  const { profile } = useLive()
  const mode = useStation((s) => s.mode)
  const now = useRealNow(5000)
  const dial = useDialOfRadio() ?? profile.station.dialFrequencyHz
  const picker = useRef<HTMLInputElement>(null)
  const [told, setTold] = useState<string[]>([])
  if (!plan || now === undefined)
    return (
      <Page title="Session">
        <PlanTabs />
        <p role="status">{problem ?? 'Reading…'}</p>
      </Page>
    )
  const { locator } = profile.station
  const sun = isLocator(locator) ? sunTimes(locatorToPosition(locator), now) : undefined
  const power =
    field &&
    reckonPower(
      field.power,
      field.power.connectedUtcMs === null ? 0 : keyedSince(field.power.connectedUtcMs),
      now,
      MODES[mode].duty.keyedShare,
    )
  const emptyUtcMs = power && field.power.connectedUtcMs !== null ? power.emptyUtcMs : undefined
  const state = judgePlan(plan, now, dial)

  const take = async (file: File) => {
    if (file.size > CALENDAR_LIMIT_BYTES) {
      setTold([`The file is larger than ${CALENDAR_LIMIT_BYTES / 1e6} MB.`])
      return
    }
    const read = calendarToPlan(await file.text(), newId)
    const blocks = [...plan.blocks, ...read.blocks].slice(0, 100)
    const nets = [...plan.nets, ...read.nets].slice(0, 100)
    if (read.blocks.length + read.nets.length > 0) save({ ...plan, blocks, nets })
    const stretches = blocks.length - plan.blocks.length
    setTold([
      `Taken from the calendar: ${stretches} ${stretches === 1 ? 'period' : 'periods'} and ${counted(nets.length - plan.nets.length, 'net')}.`,
      ...(stretches < read.blocks.length || nets.length - plan.nets.length < read.nets.length
        ? ['A plan holds 100 of each: the rest was left out.']
        : []),
      ...read.problems,
    ])
  }
  return (
    <Page title="Session" lead="Where to be when. All times are UTC.">
      <PlanTabs />
      {problem && (
        <p role="alert" className={panelStyles.problem}>
          {problem}
        </p>
      )}
      <Panel title="The next twelve hours">
        <p className={styles.big} role="status" style={{ margin: '0 0 8px' }}>
          {wordNow(state, now)}
        </p>
        <Timeline
          events={eventsBetween(plan, now - HOUR_MS, now + SHOWN_MS)}
          fromUtcMs={now - HOUR_MS}
          toUtcMs={now + SHOWN_MS}
          nowUtcMs={now}
          sun={sun}
          emptyUtcMs={emptyUtcMs}
        />
        <p className="muted" style={{ margin: '6px 0 0' }}>
          {sun ? wordSun(sun, locator) : 'With a locator on the Station screen, sun and dusk are drawn too.'}
          {emptyUtcMs !== undefined &&
            Number.isFinite(emptyUtcMs) &&
            ` The battery lasts until about ${formatUtc(emptyUtcMs).slice(0, 5)}.`}
        </p>
      </Panel>
      <div className={styles.two}>
        <Blocks plan={plan} save={save} amend={amend} now={now} />
        <Nets plan={plan} save={save} amend={amend} />
      </div>
      <Panel title="Calendar and reminder">
        <div className={panelStyles.row}>
          <FileInput inputRef={picker} label="Calendar file to read" accept=".ics,text/calendar" onFile={(file) => void take(file)} />
          <Button variant="outlined" onClick={() => picker.current?.click()}>
            Read a calendar file
          </Button>
          <Button
            variant="contained"
            component="a"
            href="/api/plan/calendar"
            download
            disabled={plan.blocks.length + plan.nets.length === 0}
          >
            Save as calendar file
          </Button>
          <div style={{ width: 240 }}>
            <DraftField
              label="Mention a change, min before"
              value={plan.noticeMin}
              onChange={(minutes) => minutes !== null && save({ ...plan, noticeMin: Math.max(0, Math.min(60, Math.round(minutes))) })}
            />
          </div>
        </div>
        {told.length > 0 && (
          <ul role="status">
            {told.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        )}
      </Panel>
    </Page>
  )
}

function wordNow(state: ReturnType<typeof judgePlan>, now: number): string {
  const here = state.now[0]
  const next = state.next
  const then =
    next &&
    `${here ? 'then' : 'Next'} ${wordEvent(next)} at ${formatUtc(next.startUtcMs).slice(0, 5)}${next.startUtcMs - now > 20 * HOUR_MS ? ` on ${formatUtcDate(next.startUtcMs)}` : ''}`
  if (here) return `Now ${wordEvent(here)} until ${formatUtc(here.endUtcMs).slice(0, 5)}${then ? `, ${then}` : ''}.`
  return then ? `${then}.` : 'Nothing is planned. Add a period or a net below.'
}

function wordSun(sun: SunTimes, locator: string): string {
  if (sun.allDay) return `At ${locator} it is ${sun.allDay} all day.`
  const at = (utcMs: number | undefined) => (utcMs === undefined ? 'never' : formatUtc(utcMs).slice(0, 5))
  return `At ${locator} the sun rises at ${at(sun.sunriseUtcMs)} and sets at ${at(sun.sunsetUtcMs)}; from ${at(sun.civilDuskUtcMs)} on a torch is needed.`
}

interface PartProps {
  plan: SessionPlan
  save: (plan: SessionPlan) => void
  amend: (change: (plan: SessionPlan) => SessionPlan) => Promise<void>
}

function Blocks({ plan, save, amend, now }: PartProps & { now: number }) {
  const { tell } = useMessages()
  const [editing, setEditing] = useState<PlanBlock | 'new'>()
  const ordered = [...plan.blocks].sort((a, b) => a.startUtcMs - b.startUtcMs)
  return (
    <Panel
      title="Operating periods"
      aside={
        <Button variant="outlined" onClick={() => setEditing(editing ? undefined : 'new')}>
          {editing ? 'Close' : 'Add a period'}
        </Button>
      }
    >
      {editing && (
        <BlockForm
          key={editing === 'new' ? 'new' : editing.id}
          now={now}
          after={ordered[ordered.length - 1]?.endUtcMs}
          given={editing === 'new' ? undefined : editing}
          onDone={(block) => {
            save({ ...plan, blocks: [...plan.blocks.filter((b) => b.id !== block.id), block] })
            setEditing(undefined)
          }}
        />
      )}
      {ordered.length === 0 && !editing && (
        <p className="muted">None yet. A period says from when to when you are on a dial frequency, in which mode.</p>
      )}
      <ul className={styles.list}>
        {ordered.map((block) => {
          const { startUtcMs, endUtcMs } = block
          return (
            <li key={block.id}>
              <span className={styles.when}>
                {formatUtc(startUtcMs).slice(0, 5)} to {formatUtc(endUtcMs).slice(0, 5)}
              </span>
              <span className={styles.grow}>
                {wordEvent({ startUtcMs, endUtcMs, what: { kind: 'block', block } })}
                {block.note && <span className="muted">, {block.note}</span>}
                {formatUtcDate(startUtcMs) !== formatUtcDate(now) && <span className="muted">, {formatUtcDate(startUtcMs)}</span>}
              </span>
              <Button onClick={() => setEditing(block)} aria-label={`Edit the period from ${formatUtc(startUtcMs).slice(0, 5)}`}>
                Edit
              </Button>
              <Button
                onClick={() => {
                  if (editing !== 'new' && editing?.id === block.id) setEditing(undefined)
                  save({ ...plan, blocks: plan.blocks.filter((b) => b.id !== block.id) })
                  tell({
                    kind: 'undo',
                    text: `Removed: the period from ${formatUtc(startUtcMs).slice(0, 5)} to ${formatUtc(endUtcMs).slice(0, 5)}.`,
                    action: { label: 'Undo', run: () => amend((now) => ({ ...now, blocks: [...now.blocks, block] })) },
                  })
                }}
                aria-label={`Remove the period from ${formatUtc(startUtcMs).slice(0, 5)}`}
              >
                Remove
              </Button>
            </li>
          )
        })}
      </ul>
    </Panel>
  )
}

function Nets({ plan, save, amend }: PartProps) {
  const { tell } = useMessages()
  const [editing, setEditing] = useState<Net | 'new'>()
  const at = (minute: number) => `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`
  return (
    <Panel
      title="Nets"
      aside={
        <Button variant="outlined" onClick={() => setEditing(editing ? undefined : 'new')}>
          {editing ? 'Close' : 'Add a net'}
        </Button>
      }
    >
      {editing && (
        <NetForm
          key={editing === 'new' ? 'new' : editing.id}
          given={editing === 'new' ? undefined : editing}
          onDone={(net) => {
            const known = plan.nets.some((n) => n.id === net.id)
            save({ ...plan, nets: known ? plan.nets.map((n) => (n.id === net.id ? net : n)) : [...plan.nets, net] })
            setEditing(undefined)
          }}
        />
      )}
      {plan.nets.length === 0 && !editing && <p className="muted">None yet. A net comes back every day or week by itself.</p>}
      <ul className={styles.list}>
        {plan.nets.map((net) => (
          <li key={net.id}>
            <span className={styles.when}>
              {at(net.startMinute)}, {net.durationMin} min
            </span>
            <span className={styles.grow}>
              {net.name}, {net.weekday === null ? 'every day' : WEEKDAYS[net.weekday]}
              {net.frequencyHz !== null && `, ${frequencyWords(net.frequencyHz)}`}
              {net.note && <span className="muted">, {net.note}</span>}
            </span>
            <Button onClick={() => setEditing(net)} aria-label={`Edit the net ${net.name}`}>
              Edit
            </Button>
            <Button
              onClick={() => {
                if (editing !== 'new' && editing?.id === net.id) setEditing(undefined)
                save({ ...plan, nets: plan.nets.filter((n) => n.id !== net.id) })
                tell({
                  kind: 'undo',
                  text: `Removed: the net ${net.name}.`,
                  action: { label: 'Undo', run: () => amend((now) => ({ ...now, nets: [...now.nets, net] })) },
                })
              }}
              aria-label={`Remove the net ${net.name}`}
            >
              Remove
            </Button>
          </li>
        ))}
      </ul>
    </Panel>
  )
}
