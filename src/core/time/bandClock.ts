/** One station's time offset as decoded. */
export interface OffsetReading {
  call: string
  timeOffsetS: number
  snrDb: number
}

export interface BandClockEstimate {
  /** Median time offset of the stations; positive when they seem late, which means this clock is fast. */
  offsetMs: number
  /** Half-width of the 95 % interval, never below what the reading of one decode allows. */
  uncertaintyMs: number
  stations: number
  /** Stations whose own clock stands apart from the rest. */
  outliers: readonly string[]
}

const FEWEST_STATIONS = 3
const READING_ERROR_MS = 15

/**
 * Judges this clock by other people's: the median over stations (each by its own median, weighted by strength) of the
 * decoded time offsets. A median is not moved by the few whose clocks are badly off.
 * @returns undefined with fewer than three stations
 */
export function estimateFromBand(readings: readonly OffsetReading[]): BandClockEstimate | undefined {
  const byCall = new Map<string, OffsetReading[]>()
  for (const reading of readings) {
    const list = byCall.get(reading.call)
    if (list) list.push(reading)
    else byCall.set(reading.call, [reading])
  }
  if (byCall.size < FEWEST_STATIONS) return undefined
  const stations = [...byCall].map(([call, list]) => ({
    call,
    offsetMs: 1000 * weightedMedian(list.map((r) => ({ value: r.timeOffsetS, weight: 1 }))),
    weight: 1 / (1 + 10 ** (-(Math.max(...list.map((r) => r.snrDb)) + 18) / 10)),
  }))
  const offsetMs = weightedMedian(stations.map((s) => ({ value: s.offsetMs, weight: s.weight })))
  const deviations = stations.map((s) => ({ value: Math.abs(s.offsetMs - offsetMs), weight: s.weight }))
  // 1.4826 turns a median absolute deviation into a standard deviation, 1.2533 is the price of the median against the mean.
  const spreadMs = 1.4826 * weightedMedian(deviations)
  const uncertaintyMs = Math.max(READING_ERROR_MS, (2 * 1.2533 * spreadMs) / Math.sqrt(stations.length))
  const limitMs = Math.max(3.5 * spreadMs, 150)
  return {
    offsetMs,
    uncertaintyMs,
    stations: stations.length,
    outliers: stations.filter((s) => Math.abs(s.offsetMs - offsetMs) > limitMs).map((s) => s.call),
  }
}

function weightedMedian(items: readonly { value: number; weight: number }[]): number {
  const sorted = [...items].sort((a, b) => a.value - b.value)
  const half = sorted.reduce((sum, item) => sum + item.weight, 0) / 2
  let sum = 0
  for (let i = 0; i < sorted.length; i++) {
    sum += sorted[i]!.weight
    if (sum > half) return sorted[i]!.value
    if (sum === half) return (sorted[i]!.value + sorted[Math.min(i + 1, sorted.length - 1)]!.value) / 2
  }
  return sorted[sorted.length - 1]!.value
}
