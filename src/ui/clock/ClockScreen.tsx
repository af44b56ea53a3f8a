'use client'
import { useState } from 'react'
import Tab from '@mui/material/Tab'
import Tabs from '@mui/material/Tabs'
import { SLOT_MS } from '@/core/ft8'
import {
  CLOCK_KIND_WORDS,
  formatUntil,
  goodUntilUtcMs,
  parityOf,
  THRESHOLDS_MS,
  type ClockSourceKind,
  type TimebaseSource,
} from '@/core/time'
import { useStation } from '../live/StationProvider'
import { useClockVerdict } from '../live/useClockVerdict'
import { useNow } from '../live/useNow'
import { formatSigned, formatUtc, formatUtcDate } from '../parts/formats'
import { Page, Panel } from '../parts/Panel'
import { BandSpread } from './BandSpread'
import styles from './ClockScreen.module.css'
import { OffsetChart } from './OffsetChart'
import { SourceList } from './SourceList'
import { BlindWay } from './ways/BlindWay'
import { GpsWay } from './ways/GpsWay'
import { HandWay } from './ways/HandWay'
import { NetworkWay } from './ways/NetworkWay'
import { SystemClockWay } from './ways/SystemClockWay'
import { WatchWay } from './ways/WatchWay'

const WAYS = [
  ['gps', 'GPS receiver'],
  ['network', 'Time server'],
  ['blind', 'The band, by ear'],
  ['watch', 'A watch'],
  ['hand', 'By hand'],
  ['system', 'The device’s clock'],
] as const
type Way = (typeof WAYS)[number][0]

function setBy(source: TimebaseSource): string {
  if (source === 'computer') return 'Taken from the computer'
  if (source === 'practice') return 'Kept by the simulation'
  return source === 'hand' ? 'Set by hand' : `Set by ${CLOCK_KIND_WORDS[source as ClockSourceKind]}`
}

/** Zeptik's own timebase: how good it is, for how long, who says so, and what can make it better. */
export function ClockScreen() {
  const now = useNow(200)
  const verdict = useClockVerdict(500)
  const [way, setWay] = useState<Way>('gps')
  return (
    <Page
      title={verdict?.sentence ?? 'Reading the clock…'}
      lead="Zeptik keeps its own time and never touches the computer’s clock, so it needs no special rights."
    >
      <NowPanel now={now} />
      <Panel title="Sources">
        <SourceList now={now} />
      </Panel>
      <Panel title="Where to get the time" id="ways">
        <Tabs
          value={way}
          onChange={(_, value: Way) => setWay(value)}
          variant="scrollable"
          scrollButtons="auto"
          className={styles.ways}
          aria-label="Where to get the time"
        >
          {WAYS.map(([value, label]) => (
            <Tab key={value} value={value} label={label} id={`way-${value}`} aria-controls="way-body" />
          ))}
        </Tabs>
        <div role="tabpanel" id="way-body" aria-labelledby={`way-${way}`}>
          {way === 'gps' && <GpsWay />}
          {way === 'network' && <NetworkWay />}
          {way === 'blind' && <BlindWay />}
          {way === 'watch' && <WatchWay />}
          {way === 'hand' && <HandWay />}
          {way === 'system' && <SystemClockWay now={now} />}
        </div>
      </Panel>
      <Panel title="Is it me, or is it them?">
        <BandSpread />
      </Panel>
      <Panel title="Over time">{now !== undefined && <OffsetChart nowUtcMs={now} />}</Panel>
      <Notes />
    </Page>
  )
}

function NowPanel({ now }: { now: number | undefined }) {
  const timebase = useStation((s) => s.timebase)
  const drift = useStation((s) => s.clockState?.drift)
  const simulated = useStation((s) => s.clockSimulated)
  return (
    <Panel title="Now">
      <div className={styles.now}>
        <span className={styles.time}>{now === undefined ? '--:--:--' : formatUtc(now)}</span>
        <span>
          {now !== undefined && (
            <>
              UTC, {formatUtcDate(now)}, {parityOf(Math.floor(now / SLOT_MS))} slot, {Math.floor((now % SLOT_MS) / 1000)} s into it
            </>
          )}
          <br />
          <span className="muted">
            {timebase && `${setBy(timebase.source)}; moved by ${formatSigned(timebase.correctionMs / 1000, 2)} s in all since the start.`}
            <br />
            {drift && !simulated && drift.uncertaintyPpm < 20
              ? `This device’s crystal drifts by ${formatSigned(drift.ppm * 0.0864, 2)} s a day (±${(drift.uncertaintyPpm * 0.0864).toFixed(2)}), which is taken into account.`
              : 'How this device’s crystal drifts is not known yet; ten minutes of a good source tell.'}
          </span>
        </span>
        <GoodUntil now={now} />
      </div>
    </Panel>
  )
}

function GoodUntil({ now }: { now: number | undefined }) {
  const timebase = useStation((s) => s.timebase)
  if (!timebase || now === undefined || timebase.source === 'practice' || timebase.uncertaintyMs === undefined) return null
  return (
    <div className={styles.until} role="group" aria-label="Good until">
      <span className={`muted ${styles.untilHead}`}>Good until, UTC</span>
      {THRESHOLDS_MS.map((threshold) => (
        <span key={threshold} className="muted">
          within {threshold / 1000} s
        </span>
      ))}
      {THRESHOLDS_MS.map((threshold) => {
        const until = goodUntilUtcMs(timebase, threshold)
        return <strong key={threshold}>{until === undefined || until < now ? 'not now' : formatUntil(until, now)}</strong>
      })}
    </div>
  )
}

function Notes() {
  const notes = useStation((s) => s.clockNotes)
  if (notes.length === 0) return null
  return (
    <Panel title="What happened to the clock">
      <ul className={styles.notes}>
        {[...notes]
          .reverse()
          .slice(0, 8)
          .map((note, i) => (
            <li key={`${note.utcMs} ${note.kind} ${i}`}>
              <span className="muted">{formatUtc(note.utcMs)}</span>
              <span>{note.words}</span>
            </li>
          ))}
      </ul>
    </Panel>
  )
}
