'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import type { PacketAct, PacketState } from '@/core/packet/station/contracts'
import { useLive } from '../../live/StationProvider'
import { useNow } from '../../live/useNow'
import styles from './Sessions.module.css'

const MINUTES = [10, 30, 60, 120] as const

/** Whether others may connect to us, and until when. */
export function TakeCalls({
  accepting,
  practice,
  onAct,
}: {
  accepting: PacketState['accepting'] | undefined
  practice: boolean
  onAct: (act: PacketAct) => Promise<boolean>
}) {
  const { profile } = useLive()
  const [minutes, setMinutes] = useState<number>(30)
  const now = useNow(1000)
  const { operatorName, place } = profile.station
  const greeting = `${operatorName ? `${operatorName} here` : 'Hello'}${place ? `, ${place}` : ''}.`
  if (accepting)
    return (
      <div className={styles.takes}>
        <p role="status">
          Others may connect
          {now !== undefined && `, for ${Math.max(1, Math.round((accepting.untilUtcMs - now) / 60_000))} min more`}. Without a touch for ten
          minutes nothing is answered.
        </p>
        <Button size="small" variant="outlined" onClick={() => void onAct({ act: 'endAccept' })}>
          Take no more
        </Button>
      </div>
    )
  return (
    <div className={styles.takes}>
      <TextField
        select
        label="Take calls for"
        size="small"
        value={minutes}
        onChange={(e) => setMinutes(Number(e.target.value))}
        sx={{ width: 140 }}
      >
        {MINUTES.map((one) => (
          <MenuItem key={one} value={one}>
            {one} min
          </MenuItem>
        ))}
      </TextField>
      <Button size="small" variant="outlined" onClick={() => void onAct({ act: 'accept', minutes, greeting, practice })}>
        Take calls
      </Button>
    </div>
  )
}
