'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import type { GpsStatus } from '@/core/nmea'
import { useLive } from '../live/StationProvider'
import { StateMark } from '../parts/StateMark'
import styles from './ClockScreen.module.css'
import { SatelliteBars } from './SatelliteBars'

/** One receiver: what it hears, how far it is to be trusted, and the place it gives. */
export function ReceiverCard({ label, gps }: { label: string; gps: GpsStatus }) {
  const { profile, saveStation } = useLive()
  const [said, setSaid] = useState<string>()
  const place = gps.position
  const known = profile.station.locator === gps.locator
  const takePlace = async () => {
    try {
      await saveStation({ ...profile.station, locator: gps.locator! })
      setSaid(`The station’s locator is now ${gps.locator}.`)
    } catch (error) {
      setSaid((error as Error).message)
    }
  }
  return (
    <section className={styles.receiver} aria-label={label}>
      <div className={styles.wide} style={{ display: 'flex', gap: 10, alignItems: 'center' }}>
        <StateMark state={gps.trusted ? 'ready' : 'attention'} size={22} />
        <strong>{label}</strong>
        <span>{gps.trusted ? 'Its time is trusted.' : `Doubtful: ${gps.doubt}.`}</span>
      </div>
      <dl className={styles.facts}>
        <dt>Its time</dt>
        <dd>{gps.utcMs === null ? 'none yet' : new Date(gps.utcMs).toISOString().slice(0, 19).replace('T', ' ')}</dd>
        <dt>Satellites used</dt>
        <dd>{gps.satellitesUsed ?? 'not told'}</dd>
        <dt>Place</dt>
        <dd>
          {place ? `${degrees(place.latitudeDeg, 'N', 'S')} ${degrees(place.longitudeDeg, 'E', 'W')}` : 'none yet'}
          {place?.altitudeM !== null && place?.altitudeM !== undefined && `, ${place.altitudeM.toFixed(0)} m`}
        </dd>
        <dt>Locator</dt>
        <dd>{gps.locator ? <Locator locator={gps.locator} /> : 'none yet'}</dd>
        <dt>Sentences</dt>
        <dd>
          {gps.accepted} good, {gps.rejected} not{gps.badChecksums > 0 ? ` (${gps.badChecksums} checksums)` : ''}
          {gps.jitterMs !== null && `, jitter ${gps.jitterMs.toFixed(0)} ms`}
        </dd>
      </dl>
      <SatelliteBars satellites={gps.satellites} />
      {gps.remarks.map((remark) => (
        <p key={remark} className={styles.wide}>
          {remark}
        </p>
      ))}
      {gps.locator && (
        <div className={styles.wide} style={{ display: 'flex', gap: 12, alignItems: 'center', flexWrap: 'wrap' }}>
          <Button variant="outlined" disabled={known} onClick={() => void takePlace()}>
            {known ? 'This is the station’s locator' : `Use ${gps.locator} as the station’s place`}
          </Button>
          <span role="status">{said}</span>
        </div>
      )}
    </section>
  )
}

const degrees = (value: number, positive: string, negative: string) => `${Math.abs(value).toFixed(5)}° ${value < 0 ? negative : positive}`

/** The locator with its 4, 6 and 8 characters told apart. */
function Locator({ locator }: { locator: string }) {
  return (
    <span className="mono">
      <strong>{locator.slice(0, 4)}</strong>
      {locator.slice(4, 6)}
      <span className="muted">{locator.slice(6)}</span>
    </span>
  )
}
