'use client'
import Link from 'next/link'
import { isLocator } from '@/core/place'
import type { ConversationView } from '@/engine/modes/psk31/state'
import { useLive, useStation } from '../../live/StationProvider'
import { counted } from '../../parts/formats'
import { AzimuthalMap } from '../../reach/AzimuthalMap'
import styles from './Ribbons.module.css'

/** Where those are who are heard now, as they said themselves or as the log knows them. */
export function BandMap({ conversations, nowUtcMs }: { conversations: readonly ConversationView[]; nowUtcMs: number }) {
  const { profile } = useLive()
  const worked = useStation((s) => s.worked)
  const { locator } = profile.station
  if (!isLocator(locator))
    return (
      <p className={styles.mapWords}>
        The map is drawn around your own place. <Link href="/station">Set your locator</Link>.
      </p>
    )
  const named = conversations.flatMap(({ from, told, lastUtcMs, snrDb }) => {
    const before = from === undefined ? undefined : worked[from]
    const place = told.locator ?? before?.find((contact) => contact.locator)?.locator
    return from === undefined ? [] : [{ call: from, locator: place, lastUtcMs, snrDb, worked: before !== undefined && before.length > 0 }]
  })
  const marks = named.flatMap(({ locator: place, ...mark }) => (place && isLocator(place) ? [{ ...mark, locator: place }] : []))
  const without = named.length - marks.length
  return (
    <div className={styles.map}>
      <p className={styles.mapWords} role="status">
        {without > 0
          ? `${counted(without, 'station')} of ${named.length} told no locator yet, and the log knows none.`
          : named.length === 0
            ? 'Nobody has named itself yet: who gives a call and a locator stands here.'
            : 'All who named themselves stand on it.'}{' '}
        Those of before are on <Link href="/reach">Reach</Link>.
      </p>
      <AzimuthalMap ownLocator={locator} marks={marks} nowUtcMs={nowUtcMs} unit={profile.settings.distanceUnit} />
    </div>
  )
}
