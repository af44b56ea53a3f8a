'use client'
import Button from '@mui/material/Button'
import type { ReadyState } from '@/core/readiness'
import { formatClockError, viewSources, type SourceView, type Standing } from '@/core/time'
import { useLive, useStation } from '../live/StationProvider'
import { formatAge } from '../parts/formats'
import { StateMark } from '../parts/StateMark'
import styles from './ClockScreen.module.css'

const STANDING: Record<Standing, { word: string; mark: ReadyState }> = {
  used: { word: 'Used', mark: 'ready' },
  disagrees: { word: 'Disagrees', mark: 'missing' },
  offered: { word: 'Offered', mark: 'attention' },
  doubtful: { word: 'Doubtful', mark: 'attention' },
  leftOut: { word: 'Ignored', mark: 'unknown' },
  old: { word: 'Too old', mark: 'unknown' },
}

/** What each source says of this clock, how sure it is, and whether it is followed. */
export function SourceList({ now }: { now: number | undefined }) {
  const { station } = useLive()
  const state = useStation((s) => s.clockState)
  const points = useStation((s) => s.clockPoints)
  const links = useStation((s) => s.serverClock?.links)
  const simulated = useStation((s) => s.clockSimulated)
  if (!state || !station || now === undefined) return <p className="muted">Waiting for the station of this tab.</p>
  const sources = viewSources(state, station.clock.monotonicMs())
  // A receiver that is heard stands here whether or not anything is made of it now.
  const unused = (links ?? []).flatMap((link) => link.receivers).filter((r) => !sources.some((s) => s.source === r.source))
  const computer = points.findLast((p) => p.source === 'computer')
  return (
    <>
      {sources.length === 0 && unused.length === 0 && (
        <p>
          No source has said anything yet. A GPS receiver, a phone, a time server, a watch, or the stations on the band will do: choose one
          below. Without any, the clock of this device is used as it is.
        </p>
      )}
      {(sources.length > 0 || unused.length > 0 || computer) && (
        <div className={`${styles.source} ${styles.sourceHead}`} aria-hidden="true">
          <span />
          <span>Source</span>
          <span>State</span>
          <span className={styles.figure}>This clock is</span>
          <span className={`${styles.figure} ${styles.optional}`}>within</span>
          <span className={styles.optional}>heard</span>
          <span />
        </div>
      )}
      <ul className={styles.sources}>
        {sources.map((source) => (
          <SourceRow key={source.source} source={source} />
        ))}
        {unused.map(({ source, label, gps }) => (
          <li key={source} className={styles.source}>
            <StateMark state={gps.trusted ? 'unknown' : 'attention'} size={22} />
            <strong>{label}</strong>
            <span>{gps.trusted ? 'Trusted' : 'Doubtful'}</span>
            <span className={`muted ${styles.doubt}`}>
              {simulated ? 'Not used: practice keeps a time of its own.' : (gps.doubt ?? 'Its first readings are being taken.')}
            </span>
          </li>
        ))}
        {computer && (
          <li className={styles.source}>
            <StateMark state="unknown" size={22} />
            <span>This device’s own clock</span>
            <span>Compared</span>
            <span className={styles.figure}>
              <span className="visually-hidden">this clock is </span>
              {formatError(computer.errorMs)}
            </span>
            <span className={`${styles.figure} muted ${styles.optional}`} />
            <span className={`muted ${styles.optional}`}>{formatAge(now - computer.utcMs)}</span>
            <span />
          </li>
        )}
      </ul>
    </>
  )
}

const formatError = (errorMs: number) => (Math.abs(errorMs) < 5 ? 'right' : formatClockError(errorMs))

function SourceRow({ source }: { source: SourceView }) {
  const { station } = useLive()
  const { word, mark } = STANDING[source.standing]
  const { standing } = source
  const why = source.latest.doubt
  return (
    <li className={styles.source}>
      <StateMark state={mark} size={22} />
      <span>
        <strong>{source.label}</strong>
      </span>
      <span>{word}</span>
      <span className={styles.figure}>
        <span className="visually-hidden">this clock is </span>
        {formatError(source.clockErrorMs)}
      </span>
      <span className={`${styles.figure} ${styles.optional}`}>±{(source.uncertaintyMs / 1000).toFixed(2)} s</span>
      <span className={`muted ${styles.optional}`}>{formatAge(source.ageMs)}</span>
      <span className={styles.actions}>
        {standing !== 'used' && standing !== 'leftOut' && standing !== 'old' && (
          <Button
            variant={standing === 'offered' ? 'contained' : 'outlined'}
            aria-label={`${standing === 'doubtful' ? 'Use anyway' : 'Use'}: ${source.label}`}
            onClick={() => void station?.do({ type: 'clock.follow', source: source.source })}
          >
            {standing === 'doubtful' ? 'Use anyway' : 'Use'}
          </Button>
        )}
        {standing === 'leftOut' ? (
          <Button
            variant="outlined"
            aria-label={`Take back: ${source.label}`}
            onClick={() => void station?.do({ type: 'clock.leaveOut', source: source.source, leftOut: false })}
          >
            Take back
          </Button>
        ) : (
          standing !== 'offered' && (
            <Button
              variant="outlined"
              aria-label={`Ignore: ${source.label}`}
              onClick={() => void station?.do({ type: 'clock.leaveOut', source: source.source, leftOut: true })}
            >
              Ignore
            </Button>
          )
        )}
      </span>
      {why && <span className={`muted ${styles.doubt}`}>Not followed by itself: {why}.</span>}
    </li>
  )
}
