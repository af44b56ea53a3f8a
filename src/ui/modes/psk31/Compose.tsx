'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { faultPhrase, fillPhrase, USUAL_PHRASES, type Known } from '@/core/psk31'
import type { FocusView, OverView } from '@/engine/modes/psk31/state'
import { useLive, usePsk31 } from '../../live/StationProvider'
import { useNow } from '../../live/useNow'
import type { useAttempt } from '../useAttempt'
import { RAIL_HZ } from './layout'
import styles from './Ribbons.module.css'

export type Trying = ReturnType<typeof useAttempt>

interface ComposeProps {
  focus: FocusView
  over: OverView
  trying: Trying
}

/** Hours and minutes, UTC. */
const timeOf = (utcMs: number | undefined) => (utcMs === undefined ? '' : new Date(utcMs).toISOString().slice(11, 16).replace(':', ''))

/** Phrases filled from what is known, and typing that goes out as it is typed. */
export function Compose({ focus, over, trying }: ComposeProps) {
  const { station, profile } = useLive()
  const cq = usePsk31((s) => s.cq)
  const [text, setText] = useState('')
  const minute = useNow(10_000)
  const sending = over.phase !== 'none'
  const { call, operatorName, locator, place, modes } = profile.station
  const { phrases, gear, cqTries, cqPauseS, identifyEveryMin } = modes.psk31
  const { draft, signal } = focus
  const known: Known = {
    ...{ me: call, them: draft.call, myName: operatorName.split(' ')[0] ?? '', theirName: draft.name, myLocator: locator, myPlace: place },
    ...{ report: draft.reportSent, theirReport: draft.reportReceived, gear, time: timeOf(minute) },
  }
  const fault = faultPhrase(signal?.linearity)
  const offered = [
    ...USUAL_PHRASES,
    ...(fault ? [{ label: 'Your signal', text: `{them} de {me} ${fault} {them} de {me} kn` }] : []),
    ...phrases,
  ]
  const cqText = fillPhrase(USUAL_PHRASES.find(({ label }) => label === 'CQ')!.text, known)
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
  const takeBack = async () => {
    const done = await station?.do({ type: 'psk31.takeBack' })
    // Back where it can be mended, before what was typed meanwhile.
    if (done?.ok && done.text) setText((before) => `${done.text}${before}`.trimStart())
  }
  if (cq) return <CqRunning />
  return (
    <div className={styles.compose}>
      <div className={styles.phrases} role="group" aria-label="Phrases">
        {offered.map((phrase) => {
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
        slotProps={{ htmlInput: { className: 'mono', spellCheck: false, autoCapitalize: 'none', maxLength: 2000 } }}
        fullWidth
      />
      <div className={styles.actions}>
        {sending ? (
          <>
            <Button variant="contained" size="large" disabled={over.phase === 'ending'} onClick={() => void send(text, true)}>
              {text ? 'Send it and end the over' : 'End the over'}
            </Button>
            <Button variant="outlined" size="large" disabled={over.waiting.length === 0} onClick={() => void takeBack()}>
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
            <SendAt focus={focus} />
            {focus.draft.call === '' && (
              <Button
                variant="outlined"
                size="large"
                disabled={cqText.missing.length > 0}
                onClick={() =>
                  void trying.attempt('Call CQ', { type: 'psk31.callCq', text: cqText.text, tries: cqTries, pauseS: cqPauseS })
                }
              >
                Call CQ {cqTries === 1 ? 'once' : `up to ${cqTries} times`}
              </Button>
            )}
          </>
        )}
      </div>
      <Identification text={text} call={call} everyMin={identifyEveryMin} />
    </div>
  )
}

/** Where in the passband it is sent: where they are, unless the operator says otherwise. */
function SendAt({ focus }: { focus: FocusView }) {
  const { station } = useLive()
  const [typed, setTyped] = useState<string>()
  const { frequencyHz, sendHz } = focus
  const set = () => {
    const hz = Number(typed)
    setTyped(undefined)
    if (typed === undefined || !Number.isFinite(hz) || hz < RAIL_HZ[0] || hz > RAIL_HZ[1]) return
    void station?.do({ type: 'psk31.split', ...(hz !== frequencyHz && { sendHz: hz }) })
  }
  return (
    <TextField
      size="small"
      label={sendHz === undefined ? 'Send at, Hz' : 'Apart, at Hz'}
      title={sendHz === undefined ? 'Where they are, also when they drift' : `Apart from them, who are at ${frequencyHz} Hz`}
      value={typed ?? String(sendHz ?? frequencyHz)}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={set}
      onKeyDown={(e) => e.key === 'Enter' && set()}
      slotProps={{ htmlInput: { inputMode: 'numeric', maxLength: 4 } }}
      sx={{ width: 112 }}
    />
  )
}

/** Calls go on by themselves while nobody answers: how many, when the next one comes, and the way out. */
function CqRunning() {
  const { station } = useLive()
  const cq = usePsk31((s) => s.cq)
  const now = useNow(500)
  if (!cq) return null
  const left = cq.nextUtcMs === undefined || now === undefined ? undefined : Math.max(0, Math.ceil((cq.nextUtcMs - now) / 1000))
  return (
    <div className={styles.compose}>
      <p role="status">
        <strong>
          CQ {cq.called} of {cq.of}
        </strong>{' '}
        {left === undefined
          ? 'goes out'
          : cq.called < cq.of
            ? `is out; called again in ${left} s unless somebody is heard`
            : `is out; ends in ${left} s`}
      </p>
      <div className={styles.actions}>
        <Button variant="contained" size="large" onClick={() => void station?.do({ type: 'psk31.stopCq' })}>
          Stop calling
        </Button>
      </div>
    </div>
  )
}

/** Reminds of the own call when it was not sent for as long as the operator’s rules allow. */
function Identification({ text, call, everyMin }: { text: string; call: string; everyMin: number }) {
  const { callUtcMs, sentUtcMs } = usePsk31((s) => s.identified)
  const now = useNow(5000)
  if (call === '' || sentUtcMs === undefined || now === undefined || text.toUpperCase().includes(call)) return null
  const sinceMin = callUtcMs === undefined ? undefined : (now - callUtcMs) / 60_000
  // Whoever has sent nothing since, and writes nothing now, need not identify again.
  const isSending = text !== '' || callUtcMs === undefined || sentUtcMs > callUtcMs
  if (!isSending || (sinceMin !== undefined && sinceMin < everyMin - 1)) return null
  return (
    <p role="status" className={styles.notice}>
      {sinceMin === undefined ? 'Your call has not been sent yet' : `Your call was sent ${Math.round(sinceMin)} min ago`}: it is due every{' '}
      {everyMin} min by your setting.
    </p>
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
