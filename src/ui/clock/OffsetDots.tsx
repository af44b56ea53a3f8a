import type { DecodedSlot } from '@/engine/stationState'
import { formatSigned } from '../parts/formats'

const RANGE_S = 2.5
const x = (s: number) => 500 + (Math.max(-RANGE_S, Math.min(RANGE_S, s)) / RANGE_S) * 480

/** Time offsets of everything decoded lately, one line of dots for each slot: is it me, or is it them? */
export function OffsetDots({ slots }: { slots: readonly DecodedSlot[] }) {
  const shown = slots.slice(-8)
  if (shown.every((slot) => slot.decodes.length === 0)) return null
  const height = 30 + shown.length * 16
  return (
    <svg
      viewBox={`0 0 1000 ${height}`}
      width="100%"
      role="img"
      aria-label="Time offsets of decoded stations over the last slots, in seconds"
    >
      {[-2, -1, 0, 1, 2].map((s) => (
        <g key={s}>
          <line x1={x(s)} y1={4} x2={x(s)} y2={height - 22} stroke={s === 0 ? 'var(--ink)' : 'var(--line)'} strokeWidth={s === 0 ? 2 : 1} />
          <text x={x(s)} y={height - 4} textAnchor="middle" fontSize="15" fill="var(--muted)">
            {formatSigned(s)} s
          </text>
        </g>
      ))}
      {shown.map((slot, row) =>
        slot.decodes.map((d) => (
          <circle
            key={`${slot.slotIndex} ${d.text}`}
            cx={x(d.timeOffsetS)}
            cy={12 + row * 16}
            r={6}
            fill="var(--receive)"
            fillOpacity={0.65}
          />
        )),
      )}
    </svg>
  )
}
