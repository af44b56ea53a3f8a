'use client'
import { useMemo } from 'react'
import Link from 'next/link'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { z } from 'zod'
import { countedContactSchema, sumUpSession } from '@/core/activation'
import { isLocator } from '@/core/place'
import { heardSummarySchema } from '@/core/station'
import { useFt8, useLive, useStation } from '../live/StationProvider'
import { useNow } from '../live/useNow'
import { useRealNow } from '../live/useRealNow'
import { ask } from '@/engine/browser/http'
import { counted, pathBetween } from '../parts/formats'
import { Page, Panel } from '../parts/Panel'
import styles from '../plan/plan.module.css'
import { AzimuthalMap, type Mark } from './AzimuthalMap'
import { HourChart } from './HourChart'
import { SessionFacts } from './SessionFacts'

const heardSchema = z.array(heardSummarySchema)
const contactsSchema = z.array(countedContactSchema)
/** A session is what was heard and worked within this. */
const SESSION_MS = 12 * 3_600_000
const REFRESH_MS = 15_000

/** Who was heard and worked, where and how far, and what the session came to. */
export function ReachScreen() {
  const { profile } = useLive()
  // What is stored is dated by real time, also in practice; what is heard just now by the band's own.
  const now = useRealNow(REFRESH_MS / 3)
  const bandNow = useNow(REFRESH_MS / 3)
  const practice = useStation((s) => s.source.kind === 'practice')
  const slot = useFt8((s) => s.tally.lastSlotIndex)
  const stored = useStation((s) => s.storedCount)
  const stations = useFt8((s) => s.stations)
  const { locator } = profile.station
  const { distanceUnit } = profile.settings
  // Rounded, so that the question stays the same for an hour.
  const from = now === undefined ? 0 : Math.floor((now - SESSION_MS) / 3_600_000) * 3_600_000
  const common = { placeholderData: keepPreviousData, enabled: now !== undefined, retry: 1 } as const
  const query = `from=${from}&practice=${practice}`
  const heard = useQuery({ queryKey: ['reach', 'heard', query, slot], queryFn: () => ask(heardSchema, `/api/heard?${query}`), ...common })
  const contacts = useQuery({
    queryKey: ['reach', 'contacts', query, stored],
    queryFn: () => ask(contactsSchema, `/api/session/contacts?${query}`),
    ...common,
  })
  const marks = useMemo(() => {
    const byCall = new Map<string, Mark>()
    for (const h of heard.data ?? [])
      byCall.set(h.call, { call: h.call, locator: h.locator, lastUtcMs: h.lastUtcMs, snrDb: h.lastSnrDb, worked: false })
    for (const s of Object.values(stations))
      if (s.locator)
        byCall.set(s.call, {
          call: s.call,
          locator: s.locator,
          lastUtcMs: (now ?? 0) - ((bandNow ?? 0) - s.lastSlotIndex * 15_000),
          snrDb: s.strengths.at(-1)!.snrDb,
          worked: false,
        })
    for (const c of contacts.data ?? []) {
      const before = byCall.get(c.call)
      const place = c.locator ?? before?.locator
      if (place)
        byCall.set(c.call, {
          call: c.call,
          locator: place,
          lastUtcMs: Math.max(c.endedUtcMs, before?.lastUtcMs ?? 0),
          snrDb: before?.snrDb ?? null,
          worked: true,
        })
    }
    return [...byCall.values()].filter((m) => isLocator(m.locator)).sort((a, b) => Number(a.worked) - Number(b.worked))
  }, [heard.data, contacts.data, stations, now, bandNow])
  const statistics = useMemo(
    () => sumUpSession(contacts.data ?? [], (other) => pathBetween(locator, other)?.distanceKm),
    [contacts.data, locator],
  )
  const worked = marks.filter((m) => m.worked).length
  const problem = heard.error ?? contacts.error
  return (
    <Page
      title="Reach"
      lead={`Who was heard and worked in the last twelve hours${practice ? ' on the practice band' : ''}: ${counted(marks.length, 'station')} with a locator, ${worked} of them worked.`}
    >
      {problem && <p role="alert">{problem.message}</p>}
      <div className={styles.reach}>
        <Panel title={`Around ${locator || 'the station'}`}>
          {isLocator(locator) ? (
            <AzimuthalMap ownLocator={locator} marks={marks} nowUtcMs={now ?? 0} unit={distanceUnit} />
          ) : (
            <p>
              The map is drawn about your locator. <Link href="/station">Set it on the Station screen.</Link>
            </p>
          )}
        </Panel>
        <div style={{ display: 'grid', gap: 14 }}>
          <Panel title="Contacts an hour">
            <HourChart perHour={statistics.perHour} />
          </Panel>
          <SessionFacts statistics={statistics} unit={distanceUnit} />
        </div>
      </div>
    </Page>
  )
}
