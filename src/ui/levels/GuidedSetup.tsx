'use client'
import { useEffect, useReducer } from 'react'
import Link from 'next/link'
import Button from '@mui/material/Button'
import { HOLD_GOOD_MS, idleReceiveSetup, reduceReceiveSetup, type ReceiveSetup } from '@/core/levels'
import { useStation } from '../live/StationProvider'
import { panelStyles } from '../parts/Panel'
import styles from './LevelsScreen.module.css'

const STEPS = ['sound', 'level', 'faults', 'good'] as const
const STEP_WORDS = { sound: 'Sound arrives', level: 'Level in the target', faults: 'Nothing else wrong', good: 'Remember it' }

/** Receive set-up step by step: says the one thing to do now, and stops by itself when all is good. */
export function GuidedSetup({ converter2500Dbfs, onGood }: { converter2500Dbfs: number | undefined; onGood: () => void }) {
  const audio = useStation((s) => s.audio)
  const [state, send] = useReducer(reduceReceiveSetup, idleReceiveSetup)
  const { step } = state.now
  useEffect(() => {
    if (!audio) return
    send({
      type: 'report',
      report: audio,
      nowMs: performance.now(),
      ...(converter2500Dbfs !== undefined && { converter2500Dbfs }),
    })
  }, [audio, converter2500Dbfs])
  if (step === 'idle')
    return (
      <div className={panelStyles.row}>
        <Button variant="contained" size="large" onClick={() => send({ type: 'start' })}>
          Guide me through it
        </Button>
        <span className="muted">One step at a time, and it stops by itself when all is good.</span>
      </div>
    )
  return (
    <div className={styles.guide} role="group" aria-label="Guided set-up">
      <ol className={styles.steps}>
        {STEPS.map((name) => (
          <li key={name} aria-current={step === name ? 'step' : undefined} data-done={STEPS.indexOf(step) > STEPS.indexOf(name)}>
            {STEP_WORDS[name]}
          </li>
        ))}
      </ol>
      <div aria-live="polite" className={styles.say}>
        <Say now={state.now} />
      </div>
      <div className={panelStyles.row}>
        {state.now.step === 'faults' && (
          <Button
            variant="outlined"
            onClick={() => send({ type: 'accept', code: state.now.step === 'faults' ? state.now.finding.code : '' })}
          >
            I know; go on all the same
          </Button>
        )}
        {step === 'good' && (
          <Button
            variant="contained"
            onClick={() => {
              send({ type: 'stop' })
              onGood()
            }}
          >
            Write down the knobs
          </Button>
        )}
        <Button variant="text" onClick={() => send({ type: 'stop' })}>
          {step === 'good' ? 'Close' : 'Stop the guide'}
        </Button>
      </div>
    </div>
  )
}

function Say({ now }: { now: ReceiveSetup }) {
  switch (now.step) {
    case 'idle':
      return null
    case 'sound':
      return (
        <>
          <strong>Let the radio make noise.</strong> Squelch open, volume a quarter up, antenna on. Nothing arrives yet: if it stays so,
          choose the input on the <Link href="/connect">Connect</Link> screen.
        </>
      )
    case 'level':
      return now.target.state === 'good' ? (
        <>
          <strong>Good. Hands off for {HOLD_GOOD_MS / 1000} seconds.</strong> It must stay there.
        </>
      ) : (
        <>
          <strong>{now.target.words}.</strong> Turn the radio’s output first; the host’s input level second. Wait two seconds after each
          turn.
        </>
      )
    case 'faults':
      return (
        <>
          <strong>{now.finding.name}.</strong> {now.finding.advice}
          {now.left > 1 && ` ${now.left - 1} more after that.`}
        </>
      )
    case 'good':
      return (
        <>
          <strong>All good.</strong> Leave every knob where it is, and write their positions down below: next time Zeptik tells what
          changed.
        </>
      )
  }
}
