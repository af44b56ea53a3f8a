'use client'
import { useEffect, useRef, useState } from 'react'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import { MODES } from '@/core/modes'
import { dutyWarning } from '@/core/power'
import { useLive, useStation } from '../live/StationProvider'
import { useBandWithoutMeter } from '../live/useDialOfRadio'
import { Caution, panelStyles } from './Panel'

/** The short check before the first transmission of a session. */
export function FirstCheck({
  what,
  practice,
  packet = false,
  onChecked,
  onNotNow,
}: {
  what: string
  practice: boolean
  /** By a TNC: nothing is known of its band. */
  packet?: boolean
  onChecked: () => void
  onNotNow: () => void
}) {
  // Whoever works by keyboard or by ear is taken to it.
  const first = useRef<HTMLInputElement>(null)
  useEffect(() => first.current?.focus(), [])
  const [antenna, setAntenna] = useState(false)
  const [clear, setClear] = useState(false)
  const [swr, setSwr] = useState(false)
  const bandOfDial = useBandWithoutMeter()
  const band = packet ? undefined : bandOfDial
  const { profile } = useLive()
  const inFront = useStation((s) => s.mode)
  const mode = packet ? 'packet' : inFront
  const warning = practice ? undefined : dutyWarning({ powerW: profile.station.powerW ?? 0, duty: MODES[mode].duty.keyedShare })
  return (
    <div className={panelStyles.check} role="group" aria-label="Check before the first transmission">
      <h2>Before the first transmission of this session{band === undefined ? '' : ` on ${band}`}</h2>
      <FormControlLabel
        control={<Checkbox checked={antenna} onChange={(e) => setAntenna(e.target.checked)} slotProps={{ input: { ref: first } }} />}
        label="An antenna or dummy load for this band is connected"
      />
      <FormControlLabel
        control={<Checkbox checked={clear} onChange={(e) => setClear(e.target.checked)} />}
        label="Hands and people are clear of the antenna and its wires"
      />
      {band !== undefined && (
        <FormControlLabel
          control={<Checkbox checked={swr} onChange={(e) => setSwr(e.target.checked)} />}
          label={`The SWR on ${band} was looked at with low power: no meter is read by Zeptik`}
        />
      )}
      <Caution>
        {practice
          ? 'This is practice and nothing reaches an antenna, but the habit is worth having. '
          : 'Touching an antenna or radial while it is keyed burns. '}
        The local rules, your licence and the manuals decide what you may send.
      </Caution>
      {warning && <p style={{ margin: 0 }}>{warning}</p>}
      <div style={{ display: 'flex', gap: 10, marginTop: 6 }}>
        <Button variant="contained" disabled={!antenna || !clear || (band !== undefined && !swr)} onClick={onChecked}>
          Checked. {what}
        </Button>
        <Button variant="outlined" onClick={onNotNow}>
          Not now
        </Button>
      </div>
    </div>
  )
}
