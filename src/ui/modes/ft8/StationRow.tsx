'use client'
import { memo } from 'react'
import Button from '@mui/material/Button'
import type { Doing, HeardStation } from '@/core/ft8'
import { formatDistance, formatSigned, formatUtcDate } from '../../parts/formats'
import type { StationView } from './stationOrder'
import styles from './SlotsScreen.module.css'

function wordDoing(doing: Doing): string {
  switch (doing.kind) {
    case 'callingAll':
      return doing.word === 'CQ' ? 'calling CQ' : `calling CQ ${doing.word}`
    case 'callingMe':
      return 'calls you'
    case 'workingMe':
      return 'answers you'
    case 'calling':
      return `calls ${doing.whom}`
    case 'working':
      return `works ${doing.whom}`
    case 'ending':
      return `ends with ${doing.whom}`
    case 'other':
      return 'sends something else'
  }
}

/** What the log has to say of a station, in a few words. */
function wordLog({ here, before, fresh, entity, open }: StationView): string {
  if (open) return 'broke off: can be finished'
  if (before) {
    const when = `${here ? 'worked' : (before.band ?? 'worked')} ${formatUtcDate(before.startedUtcMs)}`
    return before.name ? `${when}, ${before.name}` : when
  }
  if (fresh === 'entity') return `new: ${entity}`
  return fresh === 'locator' ? 'new locator' : ''
}

interface StationRowProps {
  view: StationView
  slotNow: number
  unit: 'km' | 'mi'
  onAnswer: (call: string) => void
  busy: boolean
  /** The one that the eye is led to. */
  leads: boolean
}

/** One station: who, where, what it does, how far, how strong lately, and the button that answers it. */
export const StationRow = memo(function StationRow({ view, slotNow, unit, onAnswer, busy, leads }: StationRowProps) {
  const { heard, path, mine, quiet, open, entity, snrDb } = view
  const log = wordLog(view)
  const verb = open ? 'Resume' : 'Answer'
  return (
    <div className={styles.station} data-mine={mine} data-stale={quiet}>
      <span>
        <span className={`${styles.call} mono`}>{heard.call}</span>
        <br />
        <span className={`${styles.small} muted`}>
          {heard.parity} · {Math.round(heard.frequencyHz)} Hz
        </span>
      </span>
      <span className={`${styles.small} ${styles.aside}`}>
        <span className="mono">{heard.locator ?? '····'}</span>
        <br />
        <span className="muted" aria-label={`time offset ${formatSigned(heard.timeOffsetS, 1)} seconds`}>
          DT {formatSigned(heard.timeOffsetS, 1)} s
        </span>
      </span>
      <span className={styles.doing} data-two={log ? 'true' : 'false'}>
        {quiet
          ? `quiet for ${Math.round((slotNow - heard.lastSlotIndex) / 4) || 1} min`
          : `${wordDoing(heard.doing)}${heard.lastDecode.how === 'expected' ? ' · expected' : ''}`}
        {log && <span className={`${styles.before} ${view.before ? 'muted' : styles.fresh}`}>{log}</span>}
      </span>
      <span className={`${styles.small} ${styles.aside}`}>
        {path ? (
          <span style={{ display: 'flex', alignItems: 'center', gap: 6 }}>
            <svg
              width="18"
              height="18"
              viewBox="0 0 18 18"
              aria-hidden="true"
              style={{ transform: `rotate(${path.bearingDeg}deg)`, flex: 'none' }}
            >
              <path d="M9 1l5 15-5-4-5 4z" fill="var(--ink)" />
            </svg>
            <span style={{ whiteSpace: 'nowrap' }}>
              {formatDistance(path.distanceKm, unit)}
              <br />
              <span className="muted">{Math.round(path.bearingDeg)}°</span>
            </span>
          </span>
        ) : (
          <span className="muted">{entity ?? 'place unknown'}</span>
        )}
      </span>
      <Strengths heard={heard} slotNow={slotNow} snr={snrDb} />
      <Button
        data-answer
        variant={leads ? 'contained' : 'outlined'}
        disabled={busy}
        onClick={() => onAnswer(heard.call)}
        sx={{ px: 1, whiteSpace: 'nowrap' }}
        aria-label={busy ? `With you: ${heard.call}` : `${verb} ${heard.call}`}
      >
        {busy ? 'With you' : verb}
      </Button>
    </div>
  )
})

/** Strength in this and the last slots as bars, and the newest as a number. */
function Strengths({ heard, slotNow, snr }: { heard: HeardStation; slotNow: number; snr: number }) {
  const bars = heard.strengths.filter((s) => slotNow - s.slotIndex < 16)
  return (
    <span className={`${styles.number} ${styles.aside}`}>
      <span className={styles.small}>
        <strong>{formatSigned(snr)}</strong> dB
      </span>
      <svg width="56" height="18" viewBox="0 0 56 18" aria-hidden="true" style={{ display: 'block' }}>
        {bars.map(({ slotIndex, snrDb }) => {
          const height = Math.max(2, Math.min(18, ((snrDb + 25) / 35) * 18))
          return (
            <rect
              key={slotIndex}
              x={56 - 3.5 * (slotNow - slotIndex + 1)}
              y={18 - height}
              width="5"
              height={height}
              fill="var(--receive)"
            />
          )
        })}
      </svg>
    </span>
  )
}
