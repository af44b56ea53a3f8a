'use client'
import { useRef, useState } from 'react'
import Button from '@mui/material/Button'
import { useLevelTest } from '../../levels/useLevelTest'
import { useLive, useStation } from '../../live/StationProvider'
import { FirstCheck } from '../../parts/FirstCheck'
import { panelStyles } from '../../parts/Panel'
import { StateMark } from '../../parts/StateMark'

const TONE_S = 2
/** Quiet: it is about the key, not about the level. */
const QUIET = 0.1

type Result = { state: 'ready' | 'missing' | 'unknown'; words: string; ask?: boolean }

/** The last rung: a short tone through the gate, and what the radio says of itself meanwhile. */
export function KeysRung() {
  const { station } = useLive()
  const by = useStation((s) => s.links?.keying.by)
  const listening = useStation((s) => s.source.kind === 'microphone')
  const test = useLevelTest()
  const [result, setResult] = useState<Result>()
  const saidKeyed = useRef(false)
  const run = () =>
    test.afterCheck(
      () =>
        void (async () => {
          setResult(undefined)
          saidKeyed.current = false
          const stop = station?.slice('station').subscribe((s) => {
            if (s.links?.control.keyed === true && s.links.keying.state === 'keyed') saidKeyed.current = true
          })
          const sent = await test.send('tone', { amplitude: QUIET, durationS: TONE_S })
          stop?.()
          if (!sent?.sent) return
          const after = station?.slice('station').getState().links
          if (after?.control.keyed === true)
            setResult({
              state: 'missing',
              words: 'The radio says that it is still transmitting. Switch it off now, then check polarity and lead of the key line.',
            })
          else if (saidKeyed.current) setResult({ state: 'ready', words: 'The radio said that it transmitted, and that it stopped.' })
          else
            setResult({
              state: 'unknown',
              words: 'The radio does not say whether it transmitted. Did its transmit lamp light, and go out again?',
              ask: true,
            })
        })(),
    )
  const answer = (lit: boolean) =>
    setResult(
      lit
        ? { state: 'ready', words: 'It keys: the operator saw the lamp.' }
        : {
            state: 'missing',
            words:
              by === 'vox'
                ? 'It was not keyed. Raise the audio until the VOX trips: Levels, Transmit, finds the lowest level that does.'
                : 'It was not keyed. Check the key line and its polarity, and that the radio’s menu lets this connector key it.',
          },
    )
  return (
    <div style={{ marginTop: 8 }}>
      {test.checking ? (
        <FirstCheck what="Key it for two seconds" practice={false} onChecked={test.checked} onNotNow={test.notNow} />
      ) : (
        <div className={panelStyles.row}>
          <Button variant="outlined" disabled={!listening || test.busy !== undefined} onClick={run}>
            {test.busy ? 'Keying…' : `Does it key? ${TONE_S} s, quietly`}
          </Button>
          {!listening && <span className="muted">Start listening first: the audio of the radio belongs to it.</span>}
        </div>
      )}
      {test.refusal && (
        <p role="alert" className={panelStyles.problem}>
          {test.refusal.why}
        </p>
      )}
      {result && (
        <div role="status">
          <p className={panelStyles.row} style={{ marginTop: 8 }}>
            <StateMark state={result.state} size={22} />
            <span>{result.words}</span>
          </p>
          {result.ask && (
            <div className={panelStyles.row} style={{ marginTop: 6 }}>
              <Button variant="contained" onClick={() => answer(true)}>
                Yes, it lit
              </Button>
              <Button variant="outlined" onClick={() => answer(false)}>
                No
              </Button>
            </div>
          )}
        </div>
      )}
    </div>
  )
}
