'use client'
import { useEffect, useRef } from 'react'
import Link from 'next/link'
import { Circle, CircleCheck } from 'lucide-react'
import Button from '@mui/material/Button'
import { EXERCISES, signalWords } from '@/core/psk31'
import { allocationOf } from '@/core/place'
import type { FocusView, OverView, Span, TranscriptLine } from '@/engine/modes/psk31/state'
import { useLive, usePsk31, useStation } from '../../live/StationProvider'
import { useNow } from '../../live/useNow'
import { download } from '../../parts/download'
import { FirstCheck } from '../../parts/FirstCheck'
import { formatAge, formatBearing, formatDistance, formatSigned, formatUtc, pathBetween } from '../../parts/formats'
import { Refusal } from '../Refusal'
import { Compose, type Trying } from './Compose'
import { ContactFields } from './ContactFields'
import { HeardText } from './HeardText'
import { TroubleCard } from './TroubleCard'
import styles from './Ribbons.module.css'

/** The conversation in focus: what was said, what is known, and what is sent. */
export function FocusPanel({ trying, practice }: { trying: Trying; practice: boolean }) {
  const focus = usePsk31((s) => s.focus)
  return (
    <section
      className={`${styles.card} ${styles.scrolls}`}
      aria-label="In focus"
      data-acting={focus !== undefined || trying.pending !== undefined}
    >
      <Refusal refusal={trying.refusal} onClose={() => trying.setRefusal(undefined)} />
      {trying.pending ? (
        <div className={styles.focus}>
          <FirstCheck what={trying.pending} practice={practice} onChecked={trying.checked} onNotNow={trying.notNow} />
        </div>
      ) : focus ? (
        <InFocus focus={focus} trying={trying} />
      ) : (
        <NothingInFocus trying={trying} practice={practice} />
      )}
    </section>
  )
}

function InFocus({ focus, trying }: { focus: FocusView; trying: Trying }) {
  const { station, profile } = useLive()
  const over = usePsk31((s) => s.over)
  const cq = usePsk31((s) => s.cq)
  const before = useStation((s) => s.worked[focus.draft.call])
  const { call, locator, modes } = profile.station
  const listenOnly = modes.psk31.listenOnly || call === ''
  const theirLocator = focus.draft.locator || (before?.find((one) => one.locator)?.locator ?? undefined)
  const { distanceUnit } = profile.settings
  const log = async () => {
    const done = await station?.do({ type: 'psk31.log' })
    if (done && !done.ok) trying.setRefusal({ why: done.why, need: '' })
  }
  const send = (sendHz: number | undefined) => void station?.do({ type: 'psk31.split', ...(sendHz !== undefined && { sendHz }) })
  return (
    <>
      <div className={`${styles.cardHead} ${styles.focusHead}`}>
        <h2>
          {focus.draft.call || 'No call yet'} <span className="muted">at {focus.frequencyHz} Hz</span>
        </h2>
        <div className={styles.headActions}>
          {!listenOnly && focus.sendHz !== undefined && (
            <Button variant="outlined" disabled={over.phase !== 'none'} onClick={() => send(undefined)}>
              Sending at {focus.sendHz} Hz: go back to them
            </Button>
          )}
          {!listenOnly && (
            <Button variant="contained" disabled={!focus.draft.call || focus.loggedUtcMs !== undefined} onClick={() => void log()}>
              Log it
            </Button>
          )}
          <Button variant="outlined" disabled={focus.transcript.length === 0} onClick={() => saveText(focus)}>
            Save text
          </Button>
          <Button
            variant="outlined"
            disabled={over.phase !== 'none' || cq !== undefined}
            onClick={() => void station?.do({ type: 'psk31.leave' })}
          >
            Leave it
          </Button>
        </div>
      </div>
      <About focus={focus} theirLocator={theirLocator} />
      <ContactFields focus={focus} listenOnly={listenOnly} />
      <Transcript focus={focus} over={over} />
      {listenOnly ? (
        <p className={styles.listening}>
          {call === '' ? (
            <>
              You are listening. To send, <Link href="/station">fill in your call and confirm your licence</Link>.
            </>
          ) : (
            <>
              You only listen, as <Link href="/station">set for your station</Link>.
            </>
          )}
        </p>
      ) : (
        <>
          <TroubleCard
            {...{ focus, theirLocator, ownLocator: locator, unit: distanceUnit, disabled: over.phase !== 'none' }}
            onSay={(words) => void trying.attempt('Say it again', { type: 'psk31.say', text: words, ends: true })}
            onMove={send}
          />
          <Compose key={focus.startedUtcMs} focus={focus} over={over} trying={trying} />
        </>
      )}
    </>
  )
}

/** Where they are, whether they were worked before, and what is told of their signal. */
function About({ focus, theirLocator }: { focus: FocusView; theirLocator: string | undefined }) {
  const { profile } = useLive()
  const before = useStation((s) => s.worked[focus.draft.call])
  const { draft, signal } = focus
  const path = pathBetween(profile.station.locator, theirLocator)
  const known = before?.find((one) => one.name)?.name
  const facts = [
    draft.call && allocationOf(draft.call),
    path && `${formatDistance(path.distanceKm, profile.settings.distanceUnit)}, ${formatBearing(path.bearingDeg)}`,
    before && before.length > 0 && `worked before${known && !draft.name ? `: ${known}` : ''}`,
  ].filter(Boolean)
  const words = signal ? signalWords(signal) : []
  if (facts.length === 0 && !signal) return null
  return (
    <div className={styles.about}>
      {facts.length > 0 && <span>{facts.join(' · ')}</span>}
      {signal && (
        <span>
          <strong>{formatSigned(signal.snrDb)} dB</strong>
          {focus.fasterBaud && ` · ${focus.fasterBaud} baud, answered in the same`}
          {words.map(({ words: one, bad }) => (
            <span key={one} data-bad={bad}>
              {' · '}
              {one}
            </span>
          ))}
        </span>
      )}
    </div>
  )
}

/** Nothing is in focus: what to do, and contacts that were begun. */
function NothingInFocus({ trying, practice }: { trying: Trying; practice: boolean }) {
  const { station } = useLive()
  const unfinished = usePsk31((s) => s.begun)
  const now = useNow(10_000)
  const resume = async (id: string) => {
    const done = await station?.do({ type: 'psk31.resume', id })
    if (done && !done.ok) trying.setRefusal({ why: done.why, need: '' })
  }
  return (
    <div className={styles.empty}>
      <h2>Nothing in focus</h2>
      <p>Touch a ribbon to follow one conversation, or a free place on the scale to call there yourself.</p>
      {unfinished.length > 0 && (
        <>
          <h3>Begun and not in the log</h3>
          <ul className={styles.unfinished}>
            {unfinished.map((one) => (
              <li key={one.id}>
                <span>
                  <strong className="mono">{one.draft.call || 'no call'}</strong>{' '}
                  <span className="muted">
                    {one.draft.name} at {one.frequencyHz} Hz, left {now === undefined ? '' : formatAge(now - one.leftUtcMs)}
                  </span>
                </span>
                <Button variant="outlined" onClick={() => void resume(one.id)}>
                  Take up {one.draft.call}
                </Button>
                <Button variant="text" onClick={() => void station?.do({ type: 'psk31.drop', id: one.id })}>
                  Drop {one.draft.call}
                </Button>
              </li>
            ))}
          </ul>
        </>
      )}
      {practice && <Exercises />}
    </div>
  )
}

/** What can be practised on the practice band; each is ticked off by what happened. */
function Exercises() {
  const done = usePsk31((s) => s.exercises)
  return (
    <>
      <h3>
        Exercises{' '}
        <span className={styles.now}>
          {done.length} of {EXERCISES.length} done
        </span>
      </h3>
      <ul className={styles.exercises} aria-label="Exercises">
        {EXERCISES.map(({ id, title, todo }) => {
          const isDone = done.includes(id)
          return (
            <li key={id} data-done={isDone}>
              {isDone ? <CircleCheck size={22} aria-label="Done" /> : <Circle size={22} aria-label="To do" />}
              <span>
                <strong>{title}</strong> <span className="muted">{todo}</span>
              </span>
            </li>
          )
        })}
      </ul>
    </>
  )
}

function saveText({ transcript, draft, frequencyHz }: FocusView): void {
  const lines = transcript.map(({ utcMs, mine, text }) => `${formatUtc(utcMs)} ${mine ? 'sent    ' : 'received'} ${text.trim()}\n`)
  download(`${draft.call || `${frequencyHz} Hz`}.txt`, lines.join(''), 'text/plain')
}

function Transcript({ focus, over }: { focus: FocusView; over: OverView }) {
  const end = useRef<HTMLLIElement>(null)
  const said = focus.transcript.length + focus.transcript.reduce((sum, line) => sum + line.text.length, 0)
  useEffect(() => {
    // Newer browsers give a promise, which is no way to clean up.
    void end.current?.scrollIntoView({ block: 'nearest' })
  }, [said, over])
  return (
    <ol className={styles.transcript} aria-label="What was said" tabIndex={0}>
      {focus.transcript.length === 0 && over.phase === 'none' && <li className="muted">Nothing has been heard here yet.</li>}
      {focus.transcript.map((line) => (
        <li key={`${line.utcMs} ${line.mine}`} data-mine={line.mine}>
          <span className="muted">
            {formatUtc(line.utcMs)} {line.mine ? 'sent' : 'received'}
          </span>
          <span className="mono">
            <HeardText {...trimmed(line)} />
          </span>
        </li>
      ))}
      {over.phase !== 'none' && (
        <li data-mine="true">
          <strong>{over.phase === 'ending' ? 'Sending, then over' : 'Sending'}</strong>
          <span className="mono">
            {over.sent}
            <span className={styles.waiting}>{over.waiting}</span>
          </span>
        </li>
      )}
      <li ref={end} aria-hidden="true" className={styles.end} />
    </ol>
  )
}

/** A line without the spaces about it. */
function trimmed({ text, faint, told }: TranscriptLine) {
  const cut = text.length - text.trimStart().length
  const moved = (place: number) => Math.max(0, place - cut)
  return {
    text: text.trim(),
    faint: faint?.map(([from, to]): Span => [moved(from), moved(to)]),
    told: told?.map(({ what, from, to }) => ({ what, from: moved(from), to: moved(to) })),
  }
}
