'use client'
import { parityOf, SLOT_MS } from '@/core/time'
import styles from '../../frame/Frame.module.css'

/** Which slot it is, and how far it has come. */
export function SlotCell({ now }: { now: number | undefined }) {
  const intoMs = now === undefined ? 0 : now % SLOT_MS
  return (
    <div className={`${styles.cell} ${styles.slot}`}>
      <span className={styles.label}>UTC, slot</span>
      <span className={styles.value}>
        {now === undefined ? '' : `${parityOf(Math.floor(now / SLOT_MS))} ${Math.floor(intoMs / 1000)} s`}
      </span>
      <div className={styles.progress} aria-hidden="true">
        <i style={{ width: `${(100 * intoMs) / SLOT_MS}%` }} />
      </div>
    </div>
  )
}
