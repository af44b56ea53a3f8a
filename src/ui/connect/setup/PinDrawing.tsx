import { joinWords, type JoinPlan, type Net, type Pin } from '@/core/chain'
import styles from './setup.module.css'

const ROW = 46
const TOP = 52
const WIDTH = 900
const LEFT = 300
const RIGHT = 600

/** Each kind of wire has a line of its own, so that the drawing reads in black and white. */
const DASHES: Partial<Record<Net, string>> = {
  ptt: '10 5',
  squelch: '2 5',
  rts: '10 5',
  dtr: '10 5',
  cts: '2 5',
  dsr: '2 5',
  dcd: '2 5',
}
const HEAVY: readonly Net[] = ['ground']

/** Both sockets as columns of pins, with the wires between them. */
export function PinDrawing({ plan, radioName, boxName }: { plan: JoinPlan; radioName: string; boxName: string }) {
  const radio = column(plan, 'radio')
  const box = column(plan, 'box')
  const height = TOP + Math.max(radio.length, box.length) * ROW
  const y = (pins: readonly Pin[], pin: Pin) => TOP + pins.indexOf(pin) * ROW + ROW / 2 - 8
  const open = new Set(plan.open.map(({ pin }) => pin))
  return (
    <svg
      className={styles.drawing}
      viewBox={`0 0 ${WIDTH} ${height}`}
      role="img"
      aria-label={`Lead from ${radioName} to ${boxName}: ${plan.joins.map(joinWords).join('; ')}`}
    >
      <text x={LEFT} y={24} textAnchor="middle" fontSize="18" fontWeight="700" fill="var(--ink)">
        Radio
      </text>
      <text x={RIGHT} y={24} textAnchor="middle" fontSize="18" fontWeight="700" fill="var(--ink)">
        Interface, TNC
      </text>
      {plan.joins.map((join) => {
        const from = y(radio, join.radio)
        const to = y(box, join.box)
        return (
          <path
            key={`${join.radio.pin} ${join.box.pin}`}
            d={`M${LEFT + 16} ${from} C ${LEFT + 120} ${from}, ${RIGHT - 120} ${to}, ${RIGHT - 16} ${to}`}
            fill="none"
            stroke="var(--ink)"
            strokeWidth={HEAVY.includes(join.net) ? 6 : 3}
            strokeDasharray={DASHES[join.net]}
          />
        )
      })}
      {[
        { pins: radio, x: LEFT, anchor: 'end' as const, away: -28 },
        { pins: box, x: RIGHT, anchor: 'start' as const, away: 28 },
      ].map(({ pins, x, anchor, away }) =>
        pins.map((pin) => (
          <g key={`${x} ${pin.pin}`} opacity={open.has(pin) ? 0.62 : 1}>
            <rect
              x={x - 16}
              y={y(pins, pin) - 16}
              width="32"
              height="32"
              rx={pin.pin.length > 2 ? 4 : 16}
              fill="var(--card)"
              stroke="var(--ink)"
              strokeWidth="3"
            />
            {pin.pin.length <= 2 && (
              <text x={x} y={y(pins, pin) + 6} textAnchor="middle" fontSize="16" fontWeight="700" fill="var(--ink)">
                {pin.pin}
              </text>
            )}
            <text x={x + away} y={y(pins, pin) + 5} textAnchor={anchor} fontSize="16" fill="var(--ink)">
              {pin.pin.length > 2 ? `${pin.label} · ${pin.pin}` : pin.label}
              {open.has(pin) ? ' (open)' : ''}
            </text>
          </g>
        )),
      )}
    </svg>
  )
}

function column(plan: JoinPlan, side: 'radio' | 'box'): Pin[] {
  const pins = [...new Set([...plan.joins.map((join) => join[side]), ...plan.open.filter((o) => o.side === side).map((o) => o.pin)])]
  // As numbered, and plugs from the tip on.
  return pins.sort((a, b) => rank(a.pin) - rank(b.pin))
}

const POLES = ['2.5 tip', '2.5 ring', '2.5 sleeve', '3.5 tip', '3.5 ring', '3.5 sleeve', 'tip', 'ring 1', 'ring 2', 'sleeve']
const rank = (pin: string) => (Number.isNaN(Number(pin)) ? POLES.indexOf(pin) : Number(pin))
