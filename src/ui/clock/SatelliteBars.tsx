import type { SatelliteStatus } from '@/core/nmea'
import { counted } from '../parts/formats'

const MOST = 16
const STRONGEST_DB_HZ = 50

/** Satellites by strength: filled ones are used for the fix, outlined ones only seen. */
export function SatelliteBars({ satellites }: { satellites: readonly SatelliteStatus[] }) {
  if (satellites.length === 0) return <p className="muted">The receiver has not told which satellites it sees.</p>
  const shown = [...satellites].sort((a, b) => Number(b.used) - Number(a.used) || (b.snrDbHz ?? 0) - (a.snrDbHz ?? 0)).slice(0, MOST)
  const used = shown.filter((s) => s.used).length
  const width = 26
  return (
    <svg
      viewBox={`0 0 ${MOST * width} 104`}
      width="100%"
      style={{ maxHeight: 132 }}
      role="img"
      aria-label={`${counted(satellites.length, 'satellite')} seen, ${used} of them used`}
    >
      <line x1={0} y1={82} x2={MOST * width} y2={82} stroke="var(--ink)" />
      {shown.map((satellite, i) => {
        const height = (Math.min(STRONGEST_DB_HZ, satellite.snrDbHz ?? 2) / STRONGEST_DB_HZ) * 74
        return (
          <g key={`${satellite.talker}${satellite.id}`}>
            <rect
              x={i * width + 4}
              y={81 - height}
              width={width - 9}
              height={height}
              fill={satellite.used ? 'var(--receive)' : 'var(--card)'}
              stroke="var(--receive)"
              strokeWidth={1.5}
            />
            <text x={i * width + width / 2} y={99} textAnchor="middle" fontSize="13" fill="var(--muted)">
              {satellite.id}
            </text>
          </g>
        )
      })}
    </svg>
  )
}
