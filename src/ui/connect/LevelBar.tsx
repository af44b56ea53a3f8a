import type { LevelReading } from '@/core/audio'
import { formatSigned } from '../parts/formats'

const FLOOR_DB = -90
const at = (db: number) => Math.max(0, Math.min(100, ((db - FLOOR_DB) / -FLOOR_DB) * 100))

/** A meter readable from two metres: mean level as a bar, peak as a needle, the room that is needed on either side hatched. */
export function LevelBar({ level }: { level: LevelReading | undefined }) {
  const rms = level && Number.isFinite(level.rmsDbfs) ? level.rmsDbfs : FLOOR_DB
  const peak = level && Number.isFinite(level.peakDbfs) ? level.peakDbfs : FLOOR_DB
  return (
    <div>
      <div
        role="meter"
        aria-label="Receive level"
        aria-valuemin={FLOOR_DB}
        aria-valuemax={0}
        aria-valuenow={Math.round(Math.max(FLOOR_DB, rms))}
        aria-valuetext={level ? `${formatSigned(rms)} dBFS, peak ${formatSigned(peak)} dBFS` : 'no audio'}
      >
        <svg viewBox="0 0 1000 64" width="100%" height="64" preserveAspectRatio="none" aria-hidden="true">
          <defs>
            <pattern id="hatch" width="10" height="10" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
              <rect width="3" height="10" fill="var(--line)" />
            </pattern>
          </defs>
          <rect x="0" y="8" width="1000" height="44" fill="none" stroke="var(--ink)" strokeWidth="2" />
          <rect x="1" y="9" width={at(-72) * 10 - 1} height="42" fill="url(#hatch)" />
          <rect x={at(-3) * 10} y="9" width={1000 - at(-3) * 10 - 1} height="42" fill="url(#hatch)" />
          <rect x="1" y="14" width={Math.max(0, at(rms) * 10 - 1)} height="32" fill="var(--receive)" />
          {level && <rect x={at(peak) * 10 - 3} y="4" width="6" height="52" fill="var(--ink)" />}
        </svg>
        <div style={{ display: 'flex', justifyContent: 'space-between', fontSize: 14 }} className="muted" aria-hidden="true">
          <span>too quiet below {formatSigned(-72)} dBFS</span>
          <span style={{ fontSize: 22, fontWeight: 700, color: 'var(--ink)' }}>
            {level ? `${formatSigned(rms)} dBFS, peak ${formatSigned(peak)}` : 'no audio'}
          </span>
          <span>headroom of 3 dB</span>
        </div>
      </div>
    </div>
  )
}
