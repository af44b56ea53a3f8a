import type { ExposureEstimate } from '@/core/power'

const WIDTH = 720
const LEFT = 70
const RIGHT = 40
const ROW = 22

/** Antenna, distances that the limits ask for, and where people are, along one line. */
export function DistanceDrawing({ estimate, distanceM }: { estimate: ExposureEstimate; distanceM: number }) {
  const farthest = Math.max(distanceM, estimate.nearFieldM, ...estimate.limits.map((l) => l.safeDistanceM)) * 1.15
  const x = (metres: number) => LEFT + (metres / farthest) * (WIDTH - LEFT - RIGHT)
  const base = 24 + ROW * estimate.limits.length
  const step = niceStep(farthest)
  const ticks = Array.from({ length: Math.floor(farthest / step) + 1 }, (_, i) => i * step)
  const label = `People at ${distanceM} m. ${estimate.limits.map((l) => `${l.limit.name}: from ${l.safeDistanceM.toFixed(1)} m`).join('; ')}.`
  return (
    <svg viewBox={`0 0 ${WIDTH} ${base + 44}`} role="img" aria-label={label} style={{ width: '100%', maxWidth: 860, display: 'block' }}>
      <line x1={LEFT} y1={10} x2={LEFT} y2={base + 8} stroke="var(--ink)" strokeWidth="4" />
      <text x={LEFT - 8} y={base / 2 + 6} textAnchor="end" fontSize="14" fill="var(--ink)">
        Antenna
      </text>
      <rect x={LEFT} y={12} width={x(estimate.nearFieldM) - LEFT} height={base - 4} fill="var(--line)" opacity="0.45" />
      {estimate.limits.map((l, i) => (
        <g key={l.limit.id}>
          <rect
            x={LEFT}
            y={16 + ROW * i}
            width={Math.max(2, x(l.safeDistanceM) - LEFT)}
            height={12}
            fill={l.within ? 'var(--muted)' : 'var(--missing)'}
          />
          <text x={x(l.safeDistanceM) + 6} y={27 + ROW * i} fontSize="13" fill="var(--ink)">
            {l.limit.name}
          </text>
        </g>
      ))}
      <line x1={x(distanceM)} y1={6} x2={x(distanceM)} y2={base + 8} stroke="var(--ink)" strokeWidth="2" strokeDasharray="6 4" />
      <text x={x(distanceM)} y={base + 40} textAnchor="middle" fontSize="14" fontWeight="700" fill="var(--ink)">
        people
      </text>
      <line x1={LEFT} y1={base + 8} x2={WIDTH - RIGHT} y2={base + 8} stroke="var(--ink)" />
      {ticks.map((metres) => (
        <text key={metres} x={x(metres)} y={base + 24} textAnchor="middle" fontSize="13" fill="var(--muted)">
          {Number(metres.toFixed(2))} m
        </text>
      ))}
    </svg>
  )
}

function niceStep(range: number): number {
  const rough = range / 6
  const power = 10 ** Math.floor(Math.log10(rough))
  return [1, 2, 5, 10].map((n) => n * power).find((n) => n >= rough)!
}
