'use client'
import { usePacketModem } from '../../live/StationProvider'
import styles from '../../frame/Frame.module.css'
import { usePacket } from './usePacket'

/** Whether the channel is free, and how many sessions go on. */
export function SessionCell() {
  const packet = usePacket()
  const carrier = usePacketModem((s) => s.carrier)
  const inUse = usePacketModem((s) => s.inUse)
  const open = packet?.sessions.filter(({ phase }) => phase !== 'closed') ?? []
  return (
    <div className={`${styles.cell} ${styles.slot}`}>
      <span className={styles.label}>{inUse ? (carrier ? 'Channel in use' : 'Channel free') : 'Packet'}</span>
      <span className={styles.value}>
        {open.length === 0 ? 'no session' : open.length === 1 ? open[0]!.peer : `${open.length} sessions`}
      </span>
    </div>
  )
}
