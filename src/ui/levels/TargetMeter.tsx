import type { HeardAudio } from '@/engine/station/state'
import { formatSigned } from '../parts/formats'
import styles from './LevelsScreen.module.css'

const LOWEST = -110
const HIGHEST = 0
const at = (db: number) => `${(100 * (Math.max(LOWEST, Math.min(HIGHEST, db)) - LOWEST)) / (HIGHEST - LOWEST)}%`

/** The noise of the band against where it should be, readable from two metres. Both ends of the target are computed. */
export function TargetMeter({ audio, on }: { audio: HeardAudio | undefined; on: boolean }) {
  const target = audio?.target
  const peakDbfs = audio?.peakDbfs
  const fault = target?.state === 'good' ? audio?.findings.find((f) => f.severity !== 'note') : undefined
  const silent = !target || target.state === 'silent'
  const now = silent ? LOWEST : target.nowDbfs
  return (
    <div className={styles.meterBox}>
      <div className={styles.meterWords} aria-live="polite">
        <span className={styles.arrow} aria-hidden="true" data-state={fault ? 'fault' : (target?.state ?? 'silent')}>
          {target?.state === 'up' ? '▲' : target?.state === 'down' ? '▼' : target?.state === 'good' && !fault ? '●' : '○'}
        </span>
        <strong className={styles.big}>
          {fault
            ? `Volume right; what is wrong: ${fault.name.toLowerCase()}`
            : (target?.words ?? (on ? 'Measuring…' : 'No sound arrives yet'))}
        </strong>
      </div>
      <div
        className={styles.meter}
        role="meter"
        aria-label="Noise of the band in 2500 Hz"
        aria-valuemin={LOWEST}
        aria-valuemax={HIGHEST}
        aria-valuenow={Math.round(Math.max(LOWEST, now))}
        aria-valuetext={
          silent ? 'no sound' : `${formatSigned(now)} dBFS; good from ${formatSigned(target.lowDbfs)} to ${formatSigned(target.highDbfs)}`
        }
      >
        {target && !silent && (
          <i className={styles.zone} style={{ left: at(target.lowDbfs), right: `calc(100% - ${at(target.highDbfs)})` }}>
            <b>good</b>
          </i>
        )}
        <i className={styles.fill} style={{ width: at(now) }} />
        {peakDbfs !== undefined && Number.isFinite(peakDbfs) && <i className={styles.needle} style={{ left: at(peakDbfs) }} />}
      </div>
      <div className={styles.scale} aria-hidden="true">
        {[-100, -80, -60, -40, -20, 0].map((db) => (
          <span key={db} style={{ left: at(db) }}>
            {formatSigned(db)}
          </span>
        ))}
      </div>
      <p className={styles.meterNote}>
        <span>
          Noise in 2500 Hz <strong>{silent ? 'none' : `${formatSigned(now)} dBFS`}</strong>
        </span>
        <span>
          Target{' '}
          <strong>{target && !silent ? `${formatSigned(target.lowDbfs)} to ${formatSigned(target.highDbfs)} dBFS` : 'needs sound'}</strong>
        </span>
        <span>
          Peaks, the needle{' '}
          <strong>{peakDbfs !== undefined && Number.isFinite(peakDbfs) ? `${formatSigned(peakDbfs)} dBFS` : 'none'}</strong>
        </span>
      </p>
    </div>
  )
}
