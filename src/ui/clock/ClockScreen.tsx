'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { SLOT_MS } from '@/core/ft8'
import { goodUntilUtcMs, parityOf, uncertaintyAt } from '@/core/time'
import { useLive, useStation } from '../live/StationProvider'
import { useNow } from '../live/useNow'
import { formatAge, formatSigned, formatUtc } from '../parts/formats'
import { Page, Panel, panelStyles } from '../parts/Panel'
import { OffsetDots } from './OffsetDots'

const STEPS_MS = [-1000, -100, 100, 1000] as const
const SET_BY = { computer: 'taken from the computer', hand: 'set by hand', band: 'set by the band', practice: 'kept by the simulation' }

/** Zeptik's own timebase: how good it is, and what can make it better. */
export function ClockScreen() {
  const { station } = useLive()
  const now = useNow(200)
  const timebase = useStation((s) => s.timebase)
  const bandClock = useStation((s) => s.bandClock)
  const slots = useStation((s) => s.slots)
  const [byHand, setByHand] = useState('')
  const simulated = timebase?.source === 'practice'
  const uncertainty = timebase && now !== undefined ? uncertaintyAt(timebase, now) : undefined
  const goodUntil = timebase && goodUntilUtcMs(timebase, 500)
  const seconds = Number(byHand.replace(',', '.').replace('\u2212', '-'))
  const valid = byHand.trim() !== '' && Number.isFinite(seconds) && Math.abs(seconds) <= 86_400

  let answer = 'This clock comes from the computer; how far off it is, nobody knows yet.'
  if (simulated) answer = 'A practice band or a recording keeps its own time; your clock is untouched.'
  else if (bandClock) {
    const fast = bandClock.offsetMs > 0
    answer = `${Math.abs(bandClock.offsetMs / 1000).toFixed(2)} s ${fast ? 'fast' : 'slow'}, ±${(bandClock.uncertaintyMs / 1000).toFixed(2)} s, say ${bandClock.stations} stations.`
  } else if (uncertainty !== undefined) {
    answer = `Within ${(uncertainty / 1000).toFixed(2)} s${goodUntil !== undefined && goodUntil > (now ?? 0) ? `, good to half a second until ${formatUtc(goodUntil).slice(0, 5)}` : ''}.`
  } else if (timebase?.source === 'hand') answer = 'Set by hand. Let the band confirm it: listen to a few slots.'

  return (
    <Page title={answer} lead="Zeptik keeps its own time and never touches the computer’s clock, so it needs no special rights.">
      <Panel title="Now">
        <div className={panelStyles.row} style={{ gap: 32 }}>
          <span style={{ fontSize: 54, fontWeight: 700, lineHeight: 1 }}>{now === undefined ? '--:--:--' : formatUtc(now)}</span>
          <span>
            UTC, {now === undefined ? '' : `${parityOf(Math.floor(now / SLOT_MS))} slot, ${((now % SLOT_MS) / 1000).toFixed(0)} s into it`}
            <br />
            <span className="muted">
              {timebase &&
                `${SET_BY[timebase.source]}, ${formatAge((now ?? 0) - timebase.setUtcMs)}; corrections so far ${formatSigned(timebase.correctionMs / 1000, 2)} s`}
            </span>
          </span>
        </div>
      </Panel>
      <Panel
        title="The band"
        aside={
          <Button variant="contained" disabled={!bandClock || simulated} onClick={() => station?.useBandClock()}>
            Use the band
          </Button>
        }
      >
        <p style={{ marginBottom: 8 }}>
          {bandClock
            ? `The middle of ${bandClock.stations} stations is ${formatSigned(bandClock.offsetMs / 1000, 2)} s from this clock${simulated ? ' (in simulation nothing needs correcting)' : ''}.${bandClock.outliers.length > 0 ? ` Off by themselves: ${bandClock.outliers.join(', ')}.` : ''}`
            : 'After three stations have been decoded, their time offsets tell how far off this clock is. Listen to a slot or two.'}
        </p>
        <OffsetDots slots={slots} />
      </Panel>
      <Panel title="By hand">
        <div className={panelStyles.row}>
          {STEPS_MS.map((step) => (
            <Button key={step} variant="outlined" disabled={simulated} onClick={() => station?.correctClock(step)}>
              {formatSigned(step / 1000, 1)} s
            </Button>
          ))}
          <form
            className={panelStyles.row}
            onSubmit={(e) => {
              e.preventDefault()
              if (!valid) return
              station?.correctClock(seconds * 1000)
              setByHand('')
            }}
          >
            <TextField
              label="Move by seconds"
              value={byHand}
              onChange={(e) => setByHand(e.target.value)}
              size="small"
              sx={{ width: 170 }}
              error={byHand.trim() !== '' && !valid}
              slotProps={{ htmlInput: { inputMode: 'decimal' } }}
            />
            <Button type="submit" variant="outlined" disabled={!valid || simulated}>
              Move
            </Button>
          </form>
        </div>
        <p className="muted" style={{ marginTop: 8 }}>
          Plus makes Zeptik’s clock later. Compare with a watch you trust.
        </p>
      </Panel>
    </Page>
  )
}
