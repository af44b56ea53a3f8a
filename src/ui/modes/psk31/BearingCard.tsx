import { formatBearing, formatDistance } from '../../parts/formats'
import styles from './Ribbons.module.css'

const SIZE = 104
const MIDDLE = SIZE / 2
const RADIUS = 38
const POINTS = ['N', 'E', 'S', 'W'] as const

const at = (bearingDeg: number, radius: number) => {
  const turn = (bearingDeg * Math.PI) / 180
  return { x: MIDDLE + radius * Math.sin(turn), y: MIDDLE - radius * Math.cos(turn) }
}

/** Where to turn the antenna: the short way drawn through, the long way dashed. */
export function BearingCard({ bearingDeg, distanceKm, unit }: { bearingDeg: number; distanceKm: number; unit: 'km' | 'mi' }) {
  const long = (bearingDeg + 180) % 360
  const [tip, back] = [at(bearingDeg, RADIUS - 3), at(long, RADIUS - 3)]
  const wings = [at(bearingDeg - 9, RADIUS - 14), at(bearingDeg + 9, RADIUS - 14)]
  return (
    <figure className={styles.bearing}>
      <svg viewBox={`0 0 ${SIZE} ${SIZE}`} width={SIZE} height={SIZE} role="img" aria-label={`Bearing ${formatBearing(bearingDeg)}`}>
        <circle cx={MIDDLE} cy={MIDDLE} r={RADIUS} fill="none" stroke="var(--line)" strokeWidth={2} />
        {POINTS.map((point, k) => {
          const place = at(90 * k, RADIUS + 8)
          return (
            <text key={point} x={place.x} y={place.y} className={styles.point} dominantBaseline="central" textAnchor="middle">
              {point}
            </text>
          )
        })}
        <line x1={MIDDLE} y1={MIDDLE} x2={back.x} y2={back.y} stroke="var(--muted)" strokeWidth={2} strokeDasharray="3 4" />
        <line x1={MIDDLE} y1={MIDDLE} x2={tip.x} y2={tip.y} stroke="var(--ink)" strokeWidth={4} />
        <polygon points={[tip, ...wings].map(({ x, y }) => `${x},${y}`).join(' ')} fill="var(--ink)" />
      </svg>
      <figcaption>
        <strong>Turn to {formatBearing(bearingDeg)}</strong>
        <span>{formatDistance(distanceKm, unit)}</span>
        <span className="muted">long path {formatBearing(long)}</span>
      </figcaption>
    </figure>
  )
}
