'use client'
import Link from 'next/link'
import Button from '@mui/material/Button'
import Popover from '@mui/material/Popover'
import { DialField } from './DialField'
import type { Refused } from './useAttempt'
import styles from './modes.module.css'

const MENDED_AT: Record<string, { href: string; label: string }> = {
  ownCall: { href: '/station', label: 'Set up the station' },
  licence: { href: '/station', label: 'Set up the station' },
  source: { href: '/connect', label: 'Choose the audio source' },
}

/** Why nothing was begun: where the finger is, with what mends it one tap away. */
export function Refusal({ refusal, onClose }: { refusal: Refused | undefined; onClose: () => void }) {
  const mended = refusal && MENDED_AT[refusal.need]
  const dial = refusal?.need === 'dial'
  return (
    <Popover
      open={refusal !== undefined}
      onClose={onClose}
      anchorReference="anchorPosition"
      anchorPosition={refusal?.at ?? { top: 160, left: 320 }}
      slotProps={{ paper: { role: 'alertdialog', 'aria-label': 'Not begun' } }}
    >
      <div className={styles.refusal}>
        <p role="alert">{refusal?.why}</p>
        {dial && <DialField onSet={onClose} />}
        <div className={styles.refusalActs}>
          {mended && (
            <Button component={Link} href={mended.href} variant="contained">
              {mended.label}
            </Button>
          )}
          <Button variant={mended || dial ? 'outlined' : 'contained'} onClick={onClose} autoFocus>
            {dial ? 'Not now' : 'OK'}
          </Button>
        </div>
      </div>
    </Popover>
  )
}
