'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import { formatClockError, SLOT_MS } from '@/core/time'
import { useFt8, useLive, useStation } from '../../live/StationProvider'
import { useNow } from '../../live/useNow'
import { panelStyles } from '../../parts/Panel'
import styles from '../ClockScreen.module.css'

const SHIFTS = [-4, -1, 1, 4] as const

/** Finding the slots by ear, with the clock unknown. */
export function BlindWay() {
  const { station } = useLive()
  const source = useStation((s) => s.source)
  const blind = useFt8((s) => s.blind)
  const [slots, setSlots] = useState(0)
  useNow(250)
  const hearing = source.kind === 'microphone' || source.kind === 'recording' || source.kind === 'practice'
  const busy = blind.phase === 'gathering' || blind.phase === 'searching'
  const start = () => {
    setSlots(0)
    void station?.do({ type: 'ft8.findSlots' })
  }
  const proposed =
    blind.phase === 'found' ? station && blind.slotUtcMs + slots * SLOT_MS + station.clock.monotonicMs() - blind.slotMonotonicMs : undefined
  return (
    <>
      <p>
        Even with a clock that is minutes or years off, the stations on the band show where the 15-second slots begin. Zeptik listens for 45
        s, finds them, and sets its clock to the right second; you confirm the minute. Where nothing is found it listens on for some
        minutes.
      </p>
      {blind.phase === 'found' && proposed !== undefined ? (
        <div role="status">
          <p style={{ margin: '10px 0' }}>
            Found from {blind.stations} stations, ±{(blind.uncertaintyMs / 1000).toFixed(2)} s. If the minute is right, this clock is{' '}
            {Math.abs(blind.clockErrorMs) < 5 ? 'on time' : formatClockError(blind.clockErrorMs)}. It would then show:
          </p>
          <p className={styles.time}>{new Date(proposed).toISOString().slice(0, 19).replace('T', ' ')}</p>
          <div className={panelStyles.row} style={{ marginTop: 10 }}>
            {SHIFTS.map((shift) => (
              <Button key={shift} variant="outlined" onClick={() => setSlots(slots + shift)}>
                {shift > 0 ? '+' : '−'}
                {Math.abs(shift) === 1 ? '15 s' : '1 min'}
              </Button>
            ))}
            <Button variant="contained" size="large" onClick={() => void station?.do({ type: 'ft8.acceptFound', slots })}>
              That is the time
            </Button>
            <Button variant="outlined" size="large" onClick={() => void station?.do({ type: 'ft8.dropFound' })}>
              Drop it
            </Button>
          </div>
          <p className="muted" style={{ marginTop: 8 }}>
            Is the date or the hour wrong? Set the clock by hand to the nearest few seconds first, then find the slots.
          </p>
        </div>
      ) : (
        <div style={{ marginTop: 12 }}>
          {busy && (
            <div
              className={styles.bar}
              role="progressbar"
              aria-label="Search for the slots"
              aria-valuemin={0}
              aria-valuemax={100}
              aria-valuenow={Math.round(blind.phase === 'gathering' ? (100 * blind.haveS) / blind.needS : 100 * blind.share)}
            >
              <i style={{ width: `${blind.phase === 'gathering' ? (100 * blind.haveS) / blind.needS : 100 * blind.share}%` }} />
            </div>
          )}
          <p role="status" style={{ margin: '8px 0' }}>
            {blind.phase === 'gathering' && `Listening: ${blind.haveS.toFixed(0)} of ${blind.needS} s.`}
            {blind.phase === 'gathering' && blind.because && ` Nothing yet: ${blind.because}.`}
            {blind.phase === 'searching' && 'Searching what was heard.'}
            {blind.phase === 'notFound' && `Not found: ${blind.why}.`}
            {blind.phase === 'idle' && !hearing && 'Listen to a radio or a recording first, on the Connect screen.'}
          </p>
          {busy ? (
            <Button variant="outlined" size="large" onClick={() => void station?.do({ type: 'ft8.dropFound' })}>
              Stop the search
            </Button>
          ) : (
            <Button variant="contained" size="large" disabled={!hearing} onClick={start}>
              Find the slots by ear
            </Button>
          )}
        </div>
      )}
    </>
  )
}
