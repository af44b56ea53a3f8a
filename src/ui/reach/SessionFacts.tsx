'use client'
import type { SessionStatistics } from '@/core/activation'
import type { SlotTally } from '@/core/ft8'
import { useFt8, useStation } from '../live/StationProvider'
import { counted, formatDistance, formatSigned } from '../parts/formats'
import { Panel } from '../parts/Panel'
import styles from '../plan/plan.module.css'

/** What the session came to: contacts, farthest, the band's time, repeats, and the slots that were lost and why. */
export function SessionFacts({ statistics, unit }: { statistics: SessionStatistics; unit: 'km' | 'mi' }) {
  const tally = useFt8((s) => s.tally)
  const keyedMs = useStation((s) => s.keyedMs)
  const bandClock = useStation((s) => s.bandClock)
  const { contacts, stations, bestHour, farthest, medianDistanceKm, medianTimeOffsetS, transmissionsPerContact, withRepeats } = statistics
  const facts: [string, string | undefined][] = [
    ['Contacts', `${contacts} with ${counted(stations, 'station')}`],
    ['Best hour', bestHour > 0 ? counted(bestHour, 'contact') : undefined],
    ['Farthest', farthest && `${farthest.call}, ${formatDistance(farthest.distanceKm, unit)}`],
    ['Median distance', medianDistanceKm === undefined ? undefined : formatDistance(medianDistanceKm, unit)],
    ['Transmissions a contact', transmissionsPerContact?.toFixed(1)],
    ['Needed repeats', withRepeats === undefined ? undefined : `${Math.round(100 * withRepeats)} % of contacts`],
    ['Time of those worked', medianTimeOffsetS === undefined ? undefined : `${formatSigned(medianTimeOffsetS, 2)} s against your clock`],
    [
      'Time of the band now',
      bandClock ? `${formatSigned(bandClock.offsetMs / 1000, 2)} s, ${counted(bandClock.stations, 'station')}` : undefined,
    ],
    ['On the air', keyedMs > 0 ? `${Math.round(keyedMs / 1000)} s since listening began` : undefined],
  ]
  return (
    <>
      <Panel title="What it came to">
        <dl className={styles.facts}>
          {facts.map(([name, value]) => (
            <Fact key={name} name={name} value={value} />
          ))}
        </dl>
      </Panel>
      <Panel title="Slots since listening began">
        <SlotFacts tally={tally} />
      </Panel>
    </>
  )
}

function SlotFacts({ tally }: { tally: SlotTally }) {
  if (tally.firstSlotIndex === undefined) return <p className="muted">None yet: they are counted while you listen.</p>
  const rows: [string, string, number][] = [
    ['With messages', counted(tally.messages, 'message'), tally.heard],
    ['With nothing copied', '', tally.empty],
    ['Your own transmissions', '', tally.transmitted],
    ['Audio was missing', 'the device or the page stalled', tally.gaps],
    ['Time ran out', 'too slow a device: look less hard', tally.cutShort],
    ['Talking over the band', '', tally.spoilt],
    ['Lost altogether', 'no audio came, or the page slept', tally.lost],
  ]
  return (
    <table className={styles.table}>
      <tbody>
        {rows.map(([name, why, count]) => (
          <tr key={name}>
            <td style={{ height: 32 }}>
              {name}
              {why && count > 0 && <span className="muted">, {why}</span>}
            </td>
            <td className={styles.number} style={{ height: 32 }}>
              {count}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function Fact({ name, value }: { name: string; value: string | undefined }) {
  return (
    <>
      <dt>{name}</dt>
      <dd>{value ?? '–'}</dd>
    </>
  )
}
