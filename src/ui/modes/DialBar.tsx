'use client'
import type { ReactNode } from 'react'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { bandOf } from '@/core/log'
import { MODES, type SoundModeId } from '@/core/modes'
import { setRadio } from '../connect/links/linkApi'
import { useLive } from '../live/StationProvider'
import { ActivationProgress } from '../plan/ActivationProgress'
import { useDialOfRadio } from '../live/useDialOfRadio'
import { formatKilohertz } from '../parts/formats'
import { FrontGate } from './FrontGate'
import styles from './modes.module.css'

/** Where the dial stands, and where it usually does in this mode. */
export function DialBar({
  title,
  mode,
  onProblem,
  children,
}: {
  title: string
  mode: SoundModeId
  onProblem: (why: string) => void
  children?: ReactNode
}) {
  const { profile, saveStation } = useLive()
  const { dials, radio } = MODES[mode]
  const readHz = useDialOfRadio()
  const dial = readHz ?? profile.station.dialFrequencyHz
  const setDial = (hz: number) => {
    const failed = (error: Error) => onProblem(error.message)
    if (readHz !== undefined) void setRadio(hz).catch(failed)
    void saveStation({ ...profile.station, dialFrequencyHz: hz, dialSetUtcMs: Date.now() }).catch(failed)
  }
  return (
    <div className={styles.head}>
      <div className={styles.bar}>
        <h1>{title}</h1>
        <span className={styles.dial}>{dial === null ? 'frequency not set' : `${formatKilohertz(dial)} kHz`}</span>
        {dial !== null && (
          <span className="muted">
            {bandOf(dial) ?? 'outside the bands'}, {radio.words}
            {readHz === undefined ? '' : ', read from the radio'}
          </span>
        )}
        {children}
        <ActivationProgress />
        <TextField
          select
          size="small"
          label="Set the dial"
          value={dial !== null && dials.some((d) => d.dialFrequencyHz === dial) ? String(dial) : ''}
          onChange={(e) => setDial(Number(e.target.value))}
          sx={{ minWidth: 190, ml: 'auto' }}
        >
          {dials.map((d) => (
            <MenuItem key={d.dialFrequencyHz} value={String(d.dialFrequencyHz)}>
              {d.band} · {formatKilohertz(d.dialFrequencyHz)} kHz{d.note ? ` (${d.note})` : ''}
            </MenuItem>
          ))}
        </TextField>
        {dial !== null && readHz === undefined && (
          <Button variant="outlined" onClick={() => setDial(dial)}>
            Confirm frequency
          </Button>
        )}
      </div>
      <FrontGate mode={mode} />
    </div>
  )
}
