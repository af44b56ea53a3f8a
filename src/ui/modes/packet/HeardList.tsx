'use client'
import type { HeardStation } from '@/core/packet/station/contracts'
import { useNow } from '../../live/useNow'
import { counted, formatAge } from '../../parts/formats'
import styles from './Sessions.module.css'

/** Stations heard, the last one first: tapped, they are the next to be called. */
export function HeardList({ heard, onChoose }: { heard: readonly HeardStation[] | undefined; onChoose: (station: HeardStation) => void }) {
  const now = useNow(1000)
  return (
    <>
      <h2 id="heard-heading" className={styles.listHead}>
        {heard === undefined ? 'Stations heard' : heard.length === 0 ? 'Nobody heard yet' : `${counted(heard.length, 'station')} heard`}
      </h2>
      {heard?.length === 0 && (
        <p className={styles.empty}>Every frame that the TNC hears names its sender here, with the digipeater that it came by.</p>
      )}
      <ul className={styles.heard}>
        {heard?.map((station) => (
          <li key={station.call}>
            <button type="button" className={styles.station} onClick={() => onChoose(station)}>
              <strong>{station.call}</strong>
              <span>{station.by === null ? 'direct' : `by ${station.by}`}</span>
              <span className={styles.age}>{now === undefined ? '' : formatAge(now - station.lastUtcMs)}</span>
              {station.text !== null && <span className={styles.said}>{station.text}</span>}
            </button>
          </li>
        ))}
      </ul>
    </>
  )
}
