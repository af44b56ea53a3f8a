'use client'
import { useEffect, useRef, useState } from 'react'
import Button from '@mui/material/Button'
import { findSweep, LATENCY_TEST_S, SWEEP_LEAD_S } from '@/core/transmit'
import { readOutputDelayMs, saveOutputDelayMs } from '@/engine/browser/outputDelay'
import { readChosenDevices } from '../connect/devices'
import { useLive, useStation } from '../live/StationProvider'
import { formatSigned } from '../parts/formats'
import { panelStyles } from '../parts/Panel'
import styles from './LevelsScreen.module.css'
import type { useLevelTest } from './useLevelTest'

const SWEEPS = 3
const REST_MS = 1300
/** Measurements further apart than this mean that something else moves. */
const LARGEST_SPREAD_MS = 8

/** Measures by how much transmitted audio comes late, and corrects the start by it. */
export function DelayTest({ test }: { test: ReturnType<typeof useLevelTest> }) {
  const { station, profile } = useLive()
  const practice = useStation((s) => s.source.kind === 'practice')
  const [running, setRunning] = useState(false)
  const [found, setFound] = useState<{ delayMs: number; spreadMs: number }>()
  const [said, setSaid] = useState('')
  const here = useRef(true)
  useEffect(() => {
    here.current = true
    return () => void (here.current = false)
  }, [])

  const run = async () => {
    setRunning(true)
    setFound(undefined)
    setSaid('')
    const delays: number[] = []
    // Loud enough for any monitor, and never louder than what is used on the air.
    // Leaving the screen ends it, and so does a Silence between two sweeps.
    for (let i = 0; i < SWEEPS && here.current; i++) {
      const result = await test.send('latency', { amplitude: profile.station.transmitLevel, durationS: LATENCY_TEST_S, goesOn: i > 0 })
      if (!result?.sent || !result.complete) break
      const sweep = findSweep(result.heard.subarray(0, 20_000))
      if (sweep) delays.push(1000 * (sweep.atS - SWEEP_LEAD_S))
      await new Promise((done) => setTimeout(done, REST_MS))
    }
    setRunning(false)
    if (delays.length < SWEEPS) {
      setSaid(
        'The sweep did not come back often enough. It needs a monitor, a second receiver or a cable that brings it to the audio input.',
      )
      return
    }
    const sorted = [...delays].sort((a, b) => a - b)
    setFound({ delayMs: sorted[1]!, spreadMs: sorted[2]! - sorted[0]! })
  }
  const use = () => {
    if (!found) return
    const device = readChosenDevices().output
    const total = Math.round(readOutputDelayMs(device) + found.delayMs)
    saveOutputDelayMs(device, total)
    void station?.do({ type: 'outputDelay', delayMs: total })
    setFound(undefined)
    setSaid(`Audio now starts ${total} ms earlier on this device.`)
  }
  return (
    <>
      <h3 className={styles.sub}>Delay of the audio output</h3>
      <p>
        Three short sweeps over a monitor or a cable, each after a tone by which a VOX has tripped. What comes back late is the delay of
        output and input together, beyond what the browser announces; the start of each transmission is then moved forward by it.
      </p>
      <div className={panelStyles.row}>
        <Button variant="outlined" disabled={test.busy !== undefined || running} onClick={() => test.afterCheck(() => void run())}>
          {running ? 'Measuring…' : 'Measure the delay'}
        </Button>
        {found && (
          <>
            <strong role="status">
              {formatSigned(found.delayMs)} ms, three measurements within {found.spreadMs.toFixed(1)} ms.
            </strong>
            {practice ? (
              <span className="muted">This is the practice radio’s; nothing is changed.</span>
            ) : (
              <Button variant="contained" disabled={found.spreadMs > LARGEST_SPREAD_MS} onClick={use}>
                Correct by {formatSigned(found.delayMs)} ms
              </Button>
            )}
          </>
        )}
        {said && <span role="status">{said}</span>}
      </div>
    </>
  )
}
