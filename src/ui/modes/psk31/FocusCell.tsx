'use client'
import { usePsk31 } from '../../live/StationProvider'
import styles from '../../frame/Frame.module.css'

/** Who is in focus, and where we would send. */
export function FocusCell() {
  const call = usePsk31((s) => s.focus?.draft.call)
  const frequencyHz = usePsk31((s) => s.focus?.frequencyHz)
  const heard = usePsk31((s) => s.conversations.filter((one) => one.doing !== 'gone').length)
  return (
    <div className={`${styles.cell} ${styles.slot}`}>
      <span className={styles.label}>{frequencyHz === undefined ? 'PSK31' : `In focus, ${frequencyHz} Hz`}</span>
      <span className={styles.value}>{frequencyHz === undefined ? `${heard} heard` : call || 'no call yet'}</span>
    </div>
  )
}
