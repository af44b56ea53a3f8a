'use client'
import useMediaQuery from '@mui/material/useMediaQuery'
import type { SunTimes } from '@/core/place'
import { wordEvent, type PlanEvent } from '@/core/session'
import { formatUtc } from '../parts/formats'

/** In units of the drawing; narrower upright, so that its letters stay readable. */
const WIDTH = { across: 1080, upright: 720 }
/** A letter of a label at most, and what lies about the label. */
const LETTER_PX = 8.6
const AROUND_PX = 8
const TOP = 26
const ROW = 34
/** Half of an hour's label: nearer to an edge it would be cut. */
const LABEL_PX = 22
const FOOT = 26
const MOST_ROWS = 8
const HOUR_MS = 3_600_000
const DAY_MS = 86_400_000

interface TimelineProps {
  events: readonly PlanEvent[]
  fromUtcMs: number
  toUtcMs: number
  nowUtcMs: number
  sun: SunTimes | undefined
  emptyUtcMs: number | undefined
}

/** The hours to come as a strip: what is planned, darkness, the end of the battery, and now. */
export function Timeline({ events, fromUtcMs, toUtcMs, nowUtcMs, sun, emptyUtcMs }: TimelineProps) {
  const width = useMediaQuery('(orientation: portrait)') ? WIDTH.upright : WIDTH.across
  const x = (utcMs: number) => Math.max(0, Math.min(width, ((utcMs - fromUtcMs) / (toUtcMs - fromUtcMs)) * width))
  const rows = layOut(events.map((event) => placed(event, x, width)))
  const height = TOP + ROW * Math.max(1, rows.length) + FOOT
  const hours: number[] = []
  for (let t = Math.ceil(fromUtcMs / HOUR_MS) * HOUR_MS; t < toUtcMs; t += HOUR_MS) hours.push(t)
  const at = (utcMs: number) => formatUtc(utcMs).slice(0, 5)
  const label = `${events.length === 0 ? 'Nothing planned' : events.map((e) => `${wordEvent(e)} from ${at(e.startUtcMs)} to ${at(e.endUtcMs)}`).join('; ')}. Now ${at(nowUtcMs)}.`
  return (
    <svg viewBox={`0 0 ${width} ${height}`} role="img" aria-label={label} style={{ width: '100%', display: 'block' }}>
      <rect x="0" y={TOP} width={width} height={height - TOP - FOOT} fill="var(--paper)" stroke="var(--line)" />
      {nights(sun, fromUtcMs, toUtcMs).map(([from, to]) => (
        <rect key={from} x={x(from)} y={TOP} width={x(to) - x(from)} height={height - TOP - FOOT} fill="var(--muted)" opacity="0.28" />
      ))}
      {hours.map((t) => (
        <g key={t}>
          <line x1={x(t)} y1={TOP} x2={x(t)} y2={height - FOOT} stroke="var(--line)" />
          {x(t) > LABEL_PX && x(t) < width - LABEL_PX && (
            <text x={x(t)} y={height - 8} textAnchor="middle" fontSize="14" fill="var(--muted)">
              {at(t)}
            </text>
          )}
        </g>
      ))}
      {rows.flatMap((row, i) =>
        row.map(({ event, left, right }) => (
          <rect
            key={`${event.startUtcMs} ${wordEvent(event)}`}
            x={left}
            y={TOP + ROW * i + 4}
            width={Math.max(3, right - left)}
            height={ROW - 8}
            rx="4"
            fill="var(--card)"
            stroke="var(--ink)"
            strokeWidth="2"
            strokeDasharray={event.what.kind === 'net' ? '5 3' : undefined}
          />
        )),
      )}
      {emptyUtcMs !== undefined && emptyUtcMs > fromUtcMs && emptyUtcMs < toUtcMs && (
        <g>
          <line
            x1={x(emptyUtcMs)}
            y1={TOP - 4}
            x2={x(emptyUtcMs)}
            y2={height - FOOT}
            stroke="var(--missing)"
            strokeWidth="3"
            strokeDasharray="2 4"
          />
          <text x={x(emptyUtcMs)} y="16" textAnchor="middle" fontSize="14" fill="var(--missing)">
            battery empty
          </text>
        </g>
      )}
      <line x1={x(nowUtcMs)} y1={TOP - 4} x2={x(nowUtcMs)} y2={height - FOOT} stroke="var(--ink)" strokeWidth="3" />
      <text x={x(nowUtcMs)} y="16" textAnchor="middle" fontSize="14" fontWeight="700" fill="var(--ink)">
        now
      </text>
      {/* Words come last, on a ground of their own: no line may run through them. */}
      {rows.flatMap((row, i) =>
        row.map(({ event, wordsAt, anchor }) => (
          <text
            key={`${event.startUtcMs} ${wordEvent(event)}`}
            x={wordsAt}
            y={TOP + ROW * i + ROW / 2 + 5}
            textAnchor={anchor}
            fontSize="15"
            fontWeight="700"
            fill="var(--ink)"
            stroke="var(--card)"
            strokeWidth="5"
            strokeLinejoin="round"
            paintOrder="stroke"
          >
            {wordEvent(event)}
          </text>
        )),
      )}
    </svg>
  )
}

interface Placed {
  event: PlanEvent
  left: number
  right: number
  wordsAt: number
  anchor: 'start' | 'end'
  /** What it takes in its row, its words included. */
  from: number
  to: number
}

/** Words stand in their box; beside one that is too short for them: after it, or before it at the end of the drawing. */
function placed(event: PlanEvent, x: (utcMs: number) => number, width: number): Placed {
  const [left, right] = [x(event.startUtcMs), x(event.endUtcMs)]
  const words = LETTER_PX * wordEvent(event).length
  const box = { event, left, right }
  if (right - left >= words + 2 * AROUND_PX) return { ...box, wordsAt: left + AROUND_PX, anchor: 'start', from: left, to: right }
  const after = Math.max(right, left + 3) + AROUND_PX
  if (after + words <= width) return { ...box, wordsAt: after, anchor: 'start', from: left, to: after + words }
  return { ...box, wordsAt: left - AROUND_PX, anchor: 'end', from: left - AROUND_PX - words, to: right }
}

/** Puts events that overlap, they or their words, into rows of their own. */
function layOut(all: readonly Placed[]): Placed[][] {
  const rows: Placed[][] = []
  for (const one of all) {
    const row = rows.find((r) => r.every(({ from, to }) => to + AROUND_PX <= one.from || one.to + AROUND_PX <= from))
    if (row) row.push(one)
    else rows.push([one])
  }
  return rows.slice(0, MOST_ROWS)
}

/** Stretches between dusk and dawn; a day's times serve for its neighbours, which differ by a minute or two. */
function nights(sun: SunTimes | undefined, fromUtcMs: number, toUtcMs: number): [number, number][] {
  if (!sun) return []
  if (sun.allDay) return sun.allDay === 'dark' ? [[fromUtcMs, toUtcMs]] : []
  const { civilDuskUtcMs: dusk, civilDawnUtcMs: dawn } = sun
  if (dusk === undefined || dawn === undefined) return []
  return [-1, 0, 1]
    .map((day): [number, number] => [dusk + day * DAY_MS, dawn + (day + 1) * DAY_MS])
    .filter(([from, to]) => to > fromUtcMs && from < toUtcMs)
}
