'use client'
import useMediaQuery from '@mui/material/useMediaQuery'
import type { SunTimes } from '@/core/place'
import { wordEvent, type PlanEvent } from '@/core/session'
import { formatUtc } from '../parts/formats'

/** In units of the drawing; narrower upright, so that its letters stay readable. */
const WIDTH = { across: 1080, upright: 720 }
/** A box with less room than this says nothing: the list below does. */
const LEAST_WORDS_PX = 52
const TOP = 26
const ROW = 34
/** Half of an hour's label: nearer to an edge it would be cut. */
const LABEL_PX = 22
const FOOT = 26
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
  const rows = layOut(events)
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
        row.map((event, k) => {
          const left = x(event.startUtcMs)
          const free = x(row[k + 1]?.startUtcMs ?? toUtcMs) - left
          return (
            <g key={`${event.startUtcMs} ${wordEvent(event)}`}>
              <rect
                x={left}
                y={TOP + ROW * i + 4}
                width={Math.max(3, x(event.endUtcMs) - left)}
                height={ROW - 8}
                rx="4"
                fill="var(--card)"
                stroke="var(--ink)"
                strokeWidth="2"
                strokeDasharray={event.what.kind === 'net' ? '5 3' : undefined}
              />
              {free >= LEAST_WORDS_PX && (
                <svg x={left} y={TOP + ROW * i} width={free} height={ROW} overflow="hidden">
                  <text x="8" y={ROW / 2 + 5} fontSize="15" fontWeight="700" fill="var(--ink)">
                    {wordEvent(event)}
                  </text>
                </svg>
              )}
            </g>
          )
        }),
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
    </svg>
  )
}

/** Puts events that overlap into rows of their own. */
function layOut(events: readonly PlanEvent[]): PlanEvent[][] {
  const rows: PlanEvent[][] = []
  for (const event of events) {
    const row = rows.find((r) => r[r.length - 1]!.endUtcMs <= event.startUtcMs)
    if (row) row.push(event)
    else rows.push([event])
  }
  return rows.slice(0, 6)
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
