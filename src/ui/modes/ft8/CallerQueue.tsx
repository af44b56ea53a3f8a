'use client'
import Button from '@mui/material/Button'
import type { QueuedCaller } from '@/core/ft8'
import { formatSigned } from '../../parts/formats'
import styles from './SlotsScreen.module.css'

interface CallerQueueProps {
  queue: readonly QueuedCaller[]
  /** While an exchange is under way nobody else is answered. */
  busy: boolean
  slotNow: number
  onAnswer: (call: string) => void
  onFirst: (call: string) => void
}

/** Who waits to be answered, in the order in which they would be; the next one is one tap away. */
export function CallerQueue({ queue, busy, slotNow, onAnswer, onFirst }: CallerQueueProps) {
  if (queue.length === 0) return null
  return (
    <div>
      <h3 className={styles.queueHead}>{queue.length === 1 ? 'One more calls you' : `${queue.length} more call you`}</h3>
      <ol className={styles.queue}>
        {queue.slice(0, 5).map((caller, i) => (
          <li key={caller.call}>
            <span className="mono" style={{ fontWeight: 700 }}>
              {caller.call}
            </span>
            <span className="muted">
              {formatSigned(caller.decode.snrDb)} dB{caller.locator ? `, ${caller.locator}` : ''}, {wordAge(slotNow - caller.slotIndex)}
            </span>
            {i > 0 && (
              <Button onClick={() => onFirst(caller.call)} aria-label={`Put first: ${caller.call}`} sx={{ px: 1 }}>
                Put first
              </Button>
            )}
            {!busy && (
              <Button
                variant={i === 0 ? 'contained' : 'outlined'}
                onClick={() => onAnswer(caller.call)}
                aria-label={`Answer ${caller.call}`}
                sx={{ px: 1 }}
              >
                Answer
              </Button>
            )}
          </li>
        ))}
      </ol>
      {busy && <p className="muted">They are answered by nobody but you: the first is one tap away when this exchange has ended.</p>}
    </div>
  )
}

function wordAge(slots: number): string {
  return slots <= 1 ? 'just now' : `${Math.round(slots * 15)} s ago`
}
