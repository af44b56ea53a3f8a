'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { useLive, useStation } from '../../live/StationProvider'
import { formatSigned } from '../../parts/formats'
import { panelStyles } from '../../parts/Panel'

const STEPS_MS = [-60_000, -1000, -100, 100, 1000, 60_000] as const
const LONGEST_S = 100 * 366 * 86_400

/** Reads seconds with a decimal point or comma and any minus. @returns undefined for what is no number of seconds */
function readSeconds(text: string): number | undefined {
  const value = Number(text.trim().replace(',', '.').replace('\u2212', '-'))
  return text.trim() !== '' && Number.isFinite(value) && Math.abs(value) <= LONGEST_S ? value : undefined
}

/** Moving the clock by hand. */
export function HandWay() {
  const { station } = useLive()
  const perfect = useStation((s) => s.timebase?.source === 'practice')
  const [byHand, setByHand] = useState('')
  const [instant, setInstant] = useState('')
  const seconds = readSeconds(byHand)
  const utcMs = /^\d{4}-\d\d-\d\d[T ]\d\d:\d\d(:\d\d)?$/.test(instant.trim())
    ? Date.parse(`${instant.trim().replace(' ', 'T')}Z`)
    : Number.NaN
  return (
    <>
      <div className={panelStyles.row}>
        {STEPS_MS.map((step) => (
          <Button key={step} variant="outlined" disabled={perfect} onClick={() => void station?.do({ type: 'clock.byHand', byMs: step })}>
            {Math.abs(step) >= 60_000
              ? `${formatSigned(step / 60_000)} min`
              : `${formatSigned(step / 1000, Math.abs(step) < 1000 ? 1 : 0)} s`}
          </Button>
        ))}
        <form
          className={panelStyles.row}
          onSubmit={(e) => {
            e.preventDefault()
            if (seconds === undefined) return
            void station?.do({ type: 'clock.byHand', byMs: seconds * 1000 })
            setByHand('')
          }}
        >
          <TextField
            label="Move by seconds"
            value={byHand}
            onChange={(e) => setByHand(e.target.value)}
            size="small"
            sx={{ width: 160 }}
            error={byHand.trim() !== '' && seconds === undefined}
            slotProps={{ htmlInput: { inputMode: 'decimal' } }}
          />
          <Button type="submit" variant="outlined" disabled={seconds === undefined || perfect}>
            Move
          </Button>
        </form>
      </div>
      <form
        className={panelStyles.row}
        style={{ marginTop: 12 }}
        onSubmit={(e) => {
          e.preventDefault()
          if (!station || Number.isNaN(utcMs)) return
          void station.do({ type: 'clock.byHand', byMs: utcMs - station.clock.nowUtcMs() })
          setInstant('')
        }}
      >
        <TextField
          label="Or say what time it is, in UTC"
          placeholder="2026-06-01 12:00:00"
          value={instant}
          onChange={(e) => setInstant(e.target.value)}
          size="small"
          sx={{ width: 280 }}
          error={instant.trim() !== '' && Number.isNaN(utcMs)}
          slotProps={{ inputLabel: { shrink: true } }}
        />
        <Button type="submit" variant="outlined" disabled={Number.isNaN(utcMs) || perfect}>
          It is now
        </Button>
      </form>
      <p className="muted" style={{ marginTop: 8 }}>
        Plus makes Zeptik’s clock later. What is set by hand counts as right to half a second, and is followed until you follow another
        source.
      </p>
    </>
  )
}
