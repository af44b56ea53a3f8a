import type { ClockHistoryEntry } from '@/core/links'
import { uncertaintyAt, type Timebase } from '@/core/time'
import type { ClockPoint } from '@/engine/station/state'

/** One point of the chart: minutes from now, seconds that the clock was fast. */
export interface ChartPoint {
  minutes: number
  seconds: number
}

export interface FanPoint {
  minutes: number
  /** Lower and upper edge in seconds. */
  range: [number, number]
}

export interface ClockChart {
  /** Points by family of source, each family with a shape of its own. */
  families: { name: string; shape: 'circle' | 'diamond' | 'triangle' | 'cross' | 'square'; points: ChartPoint[] }[]
  fan: FanPoint[]
  fromMinutes: number
  toMinutes: number
  /** Edge of the vertical axis in seconds, symmetric. */
  seconds: number
}

const FAMILIES = [
  { prefix: 'gps', name: 'GPS', shape: 'circle' },
  { prefix: 'network', name: 'Network time', shape: 'diamond' },
  { prefix: 'band', name: 'The band', shape: 'triangle' },
  { prefix: 'watch', name: 'Watch', shape: 'square' },
  { prefix: 'computer', name: 'This device’s own clock', shape: 'cross' },
] as const

const BACK_MINUTES = 60
const AHEAD_MINUTES = 240
const EDGES_S = [0.1, 0.25, 0.5, 1, 2.5] as const

/** Puts live points, remembered ones and the prospect of the coming hours together. */
export function clockChart(
  points: readonly ClockPoint[],
  history: readonly ClockHistoryEntry[],
  timebase: Timebase,
  nowUtcMs: number,
): ClockChart {
  const minutes = (utcMs: number) => (utcMs - nowUtcMs) / 60_000
  const firstLive = points[0]?.utcMs ?? Infinity
  const all = [...history.filter((e) => e.kind === 'reading' && e.errorMs !== null && e.utcMs < firstLive), ...points]
  const families = FAMILIES.map(({ prefix, name, shape }) => ({
    name,
    shape,
    points: all
      .filter((p) => p.source.startsWith(prefix) && minutes(p.utcMs) >= -BACK_MINUTES && minutes(p.utcMs) <= 1)
      .map((p) => ({ minutes: minutes(p.utcMs), seconds: p.errorMs! / 1000 })),
  })).filter((f) => f.points.length > 0)
  const fan: FanPoint[] = []
  for (let at = 0; at <= AHEAD_MINUTES; at += 10) {
    const uncertainty = uncertaintyAt(timebase, nowUtcMs + at * 60_000)
    if (uncertainty !== undefined) fan.push({ minutes: at, range: [-uncertainty / 1000, uncertainty / 1000] })
  }
  const largest = Math.max(...families.flatMap((f) => f.points.map((p) => Math.abs(p.seconds))), ...fan.map((f) => f.range[1]), 0)
  return {
    families,
    fan,
    fromMinutes: -BACK_MINUTES,
    toMinutes: AHEAD_MINUTES,
    // Beyond 2.5 s a point sits at the edge: what is further off is of no use anyway.
    seconds: EDGES_S.find((edge) => largest <= edge) ?? EDGES_S[EDGES_S.length - 1]!,
  }
}

export interface SpreadBin {
  /** Middle of the bin in seconds. */
  seconds: number
  near: number
  far: number
}

const BIN_S = 0.1
const RANGE_S = 2.5

/** How other people's time errors lie, in bins of a tenth of a second; those told apart as outliers count separately. */
export function spreadOf(stations: readonly { call: string; timeOffsetS: number }[], outliers: ReadonlySet<string>): SpreadBin[] {
  const bins = Array.from({ length: Math.round((2 * RANGE_S) / BIN_S) + 1 }, (_, i) => ({
    seconds: Number((i * BIN_S - RANGE_S).toFixed(1)),
    near: 0,
    far: 0,
  }))
  for (const { call, timeOffsetS } of stations) {
    const at = Math.max(0, Math.min(bins.length - 1, Math.round((timeOffsetS + RANGE_S) / BIN_S)))
    if (outliers.has(call)) bins[at]!.far++
    else bins[at]!.near++
  }
  return bins
}
