'use client'
import { useEffect, useState } from 'react'
import Button from '@mui/material/Button'
import ToggleButton from '@mui/material/ToggleButton'
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup'
import { z } from 'zod'
import { localStore } from '@/engine/browser/localStore'
import { estimateFromTaps, measureReaction, MOST_TAPS, UNMEASURED_REACTION, type Reaction, type WatchUnit } from '@/core/time'
import { useLive, useStation } from '../../live/StationProvider'
import { panelStyles } from '../../parts/Panel'
import styles from '../ClockScreen.module.css'

const KEY = 'zeptik-reaction'
const BEAT_MS = 1000
const BEATS_WANTED = 8

const reactionSchema = z.object({ biasMs: z.number().gt(-500).lt(500), uncertaintyMs: z.number().finite() })
/** The operator's reaction, as it was measured on this device. */
const reactionStore = localStore<Reaction | undefined>(KEY, reactionSchema, undefined)

/** A watch read by eye: taps on whole seconds or minutes, less the operator's own delay. */
export function WatchWay() {
  const { station } = useLive()
  const perfect = useStation((s) => s.timebase?.source === 'practice')
  const simulated = useStation((s) => s.clockSimulated)
  const [unit, setUnit] = useState<WatchUnit>('second')
  const [taps, setTaps] = useState<number[]>([])
  const [reaction, setReaction] = useState<Reaction | undefined>(() => reactionStore.load())
  const [calibrating, setCalibrating] = useState(false)
  const [units, setUnits] = useState(0)
  const [said, setSaid] = useState<string>()

  const now = () => station?.clock.monotonicMs() ?? 0
  const tap = () => {
    setSaid(undefined)
    setTaps((list) => [...list, now()].slice(-MOST_TAPS))
  }
  const unitMs = unit === 'second' ? 1000 : 60_000
  const believed = station ? station.clock.nowUtcMs() - now() : 0
  const estimate = estimateFromTaps(taps, unit, believed)
  const { biasMs, uncertaintyMs } = reaction ?? UNMEASURED_REACTION
  // A tap that comes late makes the watch seem slow by as much.
  const offsetMs = estimate && estimate.offsetMs + biasMs + units * unitMs
  const errorMs = offsetMs === undefined ? undefined : believed - offsetMs
  const accept = () => {
    if (!estimate || offsetMs === undefined || !station) return
    const monotonicMs = taps[taps.length - 1]!
    void station.do({
      type: 'clock.reading',
      reading: {
        ...{ source: 'watch', kind: 'watch', label: `Watch, ${estimate.taps} taps`, monotonicMs, utcMs: monotonicMs + offsetMs },
        ...{ randomMs: estimate.randomMs, biasMs: uncertaintyMs, windowMs: 0 },
      },
    })
    setTaps([])
    setUnits(0)
    setSaid('Taken. The watch stands among the sources above.')
  }
  if (simulated || perfect)
    return <p>While practice or a recording keeps its own time, there is nothing to compare a watch with. Stop it first.</p>
  if (calibrating)
    return (
      <Calibration
        onDone={(measured) => {
          setCalibrating(false)
          if (!measured) return
          setReaction(measured)
          reactionStore.save(measured)
        }}
      />
    )
  return (
    <>
      <div className={panelStyles.row}>
        <span>Tap when the watch shows each whole</span>
        <ToggleButtonGroup
          exclusive
          value={unit}
          aria-label="What each tap marks"
          onChange={(_, value: WatchUnit | null) => {
            if (!value) return
            setUnit(value)
            setTaps([])
          }}
        >
          <ToggleButton value="second" sx={{ minHeight: 44 }}>
            second
          </ToggleButton>
          <ToggleButton value="minute" sx={{ minHeight: 44 }}>
            minute
          </ToggleButton>
        </ToggleButtonGroup>
      </div>
      <div className={panelStyles.row} style={{ marginTop: 12, alignItems: 'stretch' }}>
        <Button
          variant="contained"
          className={styles.tap}
          onPointerDown={tap}
          onKeyDown={(e) => (e.key === ' ' || e.key === 'Enter') && !e.repeat && tap()}
        >
          Tap here
        </Button>
        <div style={{ flex: 1, minWidth: 260 }} role="status">
          <p>
            <strong>{taps.length === 0 ? 'No taps yet.' : `${taps.length} ${taps.length === 1 ? 'tap' : 'taps'}.`}</strong>{' '}
            {taps.length < 2
              ? 'Two make a beginning, eight are good.'
              : !estimate
                ? 'These taps do not fit together: start again, to the rhythm of the watch.'
                : `They scatter by ${(estimate.spreadMs / 1000).toFixed(2)} s.`}
          </p>
          {estimate && errorMs !== undefined && (
            <p style={{ marginTop: 6 }}>
              This clock is{' '}
              <strong>
                {(Math.abs(errorMs) / 1000).toFixed(2)} s {errorMs > 0 ? 'fast' : 'slow'}
              </strong>
              , ±{(Math.hypot(estimate.randomMs, uncertaintyMs) / 1000).toFixed(2)} s, if the {unit} is right. At the last tap the watch
              showed{' '}
              <strong>{new Date(Math.round((taps[taps.length - 1]! + offsetMs!) / unitMs) * unitMs).toISOString().slice(11, 19)}</strong>.
            </p>
          )}
          <p className="muted" style={{ marginTop: 6 }}>
            {reaction
              ? `Your taps are ${Math.abs(reaction.biasMs).toFixed(0)} ms ${reaction.biasMs >= 0 ? 'late' : 'early'}, as measured; that is taken off.`
              : 'How late you tap has not been measured; a usual delay is taken off and ±0.15 s allowed for it.'}
          </p>
        </div>
      </div>
      <div className={panelStyles.row} style={{ marginTop: 12 }}>
        <Button variant="contained" size="large" disabled={!estimate} onClick={accept}>
          Take the watch’s time
        </Button>
        <Button variant="outlined" disabled={!estimate} onClick={() => setUnits(units - 1)}>
          −1 {unit}
        </Button>
        <Button variant="outlined" disabled={!estimate} onClick={() => setUnits(units + 1)}>
          +1 {unit}
        </Button>
        <Button variant="outlined" disabled={taps.length === 0} onClick={() => setTaps([])}>
          Start again
        </Button>
        <Button variant="outlined" onClick={() => setCalibrating(true)}>
          Measure my delay
        </Button>
        <span role="status">{said}</span>
      </div>
    </>
  )
}

/** Tapping to the application's own beat, to learn how late the operator taps. */
function Calibration({ onDone }: { onDone: (reaction: Reaction | undefined) => void }) {
  const [lit, setLit] = useState(false)
  const [taps, setTaps] = useState<{ tapMs: number; beatMs: number }[]>([])
  useEffect(() => {
    let frame = 0
    const look = () => {
      setLit(performance.now() % BEAT_MS < 180)
      frame = requestAnimationFrame(look)
    }
    frame = requestAnimationFrame(look)
    return () => cancelAnimationFrame(frame)
  }, [])
  const tap = () => {
    const tapMs = performance.now()
    setTaps((list) => [...list, { tapMs, beatMs: Math.round(tapMs / BEAT_MS) * BEAT_MS }])
  }
  // The first two taps find the rhythm.
  const measured = measureReaction(taps.slice(2))
  const enough = taps.length >= BEATS_WANTED + 2
  return (
    <>
      <div className={panelStyles.row}>
        <span className={styles.beat} data-on={lit} aria-hidden="true" />
        <span>Tap each time the disc fills, {BEATS_WANTED + 2} times.</span>
      </div>
      <div className={panelStyles.row} style={{ marginTop: 12 }}>
        <Button
          variant="contained"
          className={styles.tap}
          onPointerDown={tap}
          onKeyDown={(e) => (e.key === ' ' || e.key === 'Enter') && !e.repeat && tap()}
        >
          Tap here
        </Button>
        <span role="status">
          {taps.length} of {BEATS_WANTED + 2} taps.{' '}
          {enough &&
            (measured
              ? `You tap ${measured.biasMs.toFixed(0)} ms ${measured.biasMs >= 0 ? 'after' : 'before'} the beat.`
              : 'The taps do not follow the beat.')}
        </span>
      </div>
      <div className={panelStyles.row} style={{ marginTop: 12 }}>
        <Button variant="contained" disabled={!enough || !measured} onClick={() => onDone(measured)}>
          Keep it
        </Button>
        <Button variant="outlined" onClick={() => setTaps([])}>
          Start again
        </Button>
        <Button variant="outlined" onClick={() => onDone(undefined)}>
          Back to the watch
        </Button>
      </div>
    </>
  )
}
