'use client'
import { useEffect, useRef, useState } from 'react'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { fillPhrase, USUAL_PHRASES, type Known } from '@/core/psk31'
import type { FocusView, OverView, Span, TranscriptLine } from '@/engine/modes/psk31/state'
import { useLive, usePsk31 } from '../../live/StationProvider'
import { useNow } from '../../live/useNow'
import { FirstCheck } from '../../parts/FirstCheck'
import { formatUtc } from '../../parts/formats'
import { Refusal } from '../Refusal'
import type { useAttempt } from '../useAttempt'
import { ContactFields } from './ContactFields'
import { HeardText } from './HeardText'
import styles from './Ribbons.module.css'

type Trying = ReturnType<typeof useAttempt>

/** The conversation in focus: what was said, what is known, and what is sent. */
export function FocusPanel({ trying, practice }: { trying: Trying; practice: boolean }) {
  const { station } = useLive()
  const focus = usePsk31((s) => s.focus)
  const over = usePsk31((s) => s.over)
  return (
    <section className={styles.card} aria-label="In focus" data-acting={focus !== undefined || trying.pending !== undefined}>
      <Refusal refusal={trying.refusal} onClose={() => trying.setRefusal(undefined)} />
      {trying.pending ? (
        <div className={styles.focus}>
          <FirstCheck what={trying.pending} practice={practice} onChecked={trying.checked} onNotNow={trying.notNow} />
        </div>
      ) : focus ? (
        <>
          <div className={styles.cardHead}>
            <h2>
              {focus.draft.call || 'No call yet'} <span className="muted">at {focus.frequencyHz} Hz</span>
            </h2>
            <Button variant="outlined" disabled={over.phase !== 'none'} onClick={() => void station?.do({ type: 'psk31.leave' })}>
              Leave it
            </Button>
          </div>
          <ContactFields focus={focus} onRefused={(why) => trying.setRefusal({ why, need: '' })} />
          <Transcript focus={focus} over={over} />
          <Compose key={focus.startedUtcMs} focus={focus} over={over} trying={trying} />
        </>
      ) : (
        <div className={styles.empty}>
          <h2>Nothing in focus</h2>
          <p>Touch a ribbon to follow one conversation, or a free place on the scale to call there yourself.</p>
        </div>
      )}
    </section>
  )
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
function trimmed({ text, faint }: TranscriptLine) {
  const cut = text.length - text.trimStart().length
  return { text: text.trim(), faint: faint?.map(([from, to]): Span => [Math.max(0, from - cut), Math.max(0, to - cut)]) }
}

/** Phrases filled from what is known, and typing that goes out as it is typed. */
function Compose({ focus, over, trying }: { focus: FocusView; over: OverView; trying: Trying }) {
  const { station, profile } = useLive()
  const [text, setText] = useState('')
  const sending = over.phase !== 'none'
  const { call, operatorName, locator, place } = profile.station
  const known: Known = {
    ...{ me: call, them: focus.draft.call, myName: operatorName.split(' ')[0] ?? '', theirName: focus.draft.name },
    ...{ myLocator: locator, myPlace: place, report: focus.draft.reportSent },
  }
  const phrases = [...USUAL_PHRASES, ...profile.station.modes.psk31.phrases.map((phrase) => ({ ...phrase, ends: false }))]
  const send = async (words: string, ends: boolean) => {
    if (!words && !ends) return
    if (await trying.attempt('Send it', { type: 'psk31.say', text: words, ends })) setText('')
  }
  // While an over is on, what is typed joins it word by word.
  const typed = (value: string) => {
    setText(value)
    const cut = value.lastIndexOf(' ') + 1
    if (over.phase !== 'sending' || cut === 0) return
    setText(value.slice(cut))
    void station?.do({ type: 'psk31.say', text: value.slice(0, cut), ends: false })
  }
  return (
    <div className={styles.compose}>
      <div className={styles.phrases} role="group" aria-label="Phrases">
        {phrases.map((phrase) => {
          const filled = fillPhrase(phrase.text, known)
          return (
            <Button
              key={phrase.label}
              variant="outlined"
              disabled={filled.missing.length > 0 || over.phase === 'ending'}
              title={filled.missing.length > 0 ? `Not known: ${filled.missing.join(', ')}` : filled.text}
              onClick={() => setText((before) => (before ? `${before.trimEnd()} ${filled.text}` : filled.text))}
            >
              {phrase.label}
            </Button>
          )
        })}
      </div>
      <TextField
        multiline
        minRows={2}
        maxRows={4}
        label={sending ? 'Type on: each word goes out as it is finished' : 'What to send'}
        value={text}
        disabled={over.phase === 'ending'}
        onChange={(e) => typed(e.target.value)}
        slotProps={{ htmlInput: { className: 'mono', spellCheck: false, autoCapitalize: 'none' } }}
        fullWidth
      />
      <div className={styles.actions}>
        {sending ? (
          <>
            <Button variant="contained" size="large" disabled={over.phase === 'ending'} onClick={() => void send(text, true)}>
              {text ? 'Send it and end the over' : 'End the over'}
            </Button>
            <Button
              variant="outlined"
              size="large"
              disabled={over.waiting.length === 0}
              onClick={() => void station?.do({ type: 'psk31.takeBack' })}
            >
              Take back what waits
            </Button>
            <Left mustEndUtcMs={over.mustEndUtcMs} />
          </>
        ) : (
          <>
            <Button variant="contained" size="large" disabled={!text.trim()} onClick={() => void send(text.trim(), true)}>
              Send this over
            </Button>
            <Button
              variant="outlined"
              size="large"
              onClick={() => void send(text.trim() ? `${text.trim()} ` : '', false)}
              disabled={!text.trim()}
            >
              Send and type on
            </Button>
          </>
        )}
      </div>
    </div>
  )
}

function Left({ mustEndUtcMs }: { mustEndUtcMs: number }) {
  const now = useNow(500)
  return (
    <span className="muted">
      {now === undefined ? '' : `ends by itself in ${Math.max(0, Math.round((mustEndUtcMs - now) / 1000))} s at the latest`}
    </span>
  )
}
