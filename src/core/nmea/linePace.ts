import { median } from '../time/weightedMedian'

/** A byte on a serial line: a start bit, eight data bits, a stop bit. */
export const BITS_PER_BYTE = 10

/** How long a byte takes on a line. @param serialBaud above 0 */
export const byteMsAt = (serialBaud: number): number => (BITS_PER_BYTE * 1000) / serialBaud

/** A read inside a burst: how many bytes of the burst had come by then, and when, after some instant common to all bursts. */
export interface BurstRead {
  bytes: number
  afterMs: number
}

/**
 * How a burst's bytes follow one another: one by one at the speed of a line, all at once, or unknown.
 * `byteMs` is what a byte takes; for `unknown` the most that it could.
 */
export type Pace = { kind: 'line' | 'free' | 'unknown'; byteMs: number }

const BIN_BYTES = 48
/** Reads in a bin, below which its least delay says nothing. */
const FEWEST_READS = 3
/** From so many on their middle shows how they scatter; of fewer only the extremes do. */
const MANY_READS = 8
/** Differences below this cannot be told from chance, nor ones below so many times what chance leaves of the least delays. */
const LEAST_SPAN_MS = 12
const CHANCE_FACTOR = 3
/** Of what a line would make of it, a growth below this share is none, and one above the rest is the line's. */
const NONE_SHARE = 0.35
/** Of a network nobody tells the line behind it; slower ones than this are not in use. */
export const SLOWEST_BYTE_MS = byteMsAt(4800)
export const USUAL_BAUDS = [4800, 9600, 14_400, 19_200, 38_400, 57_600, 115_200, 230_400, 460_800] as const

/**
 * Tells how bytes follow one another from when reads came that ended at different places of a burst: reads are late by
 * chance but never early, so the least delay at each place shows how it grows along the burst.
 * @param reads of the last bursts
 * @param toldByteMs of a serial line whose speed is known; undefined for a network
 */
export function judgePace(reads: readonly BurstRead[], toldByteMs: number | undefined): Pace {
  const unknown: Pace = { kind: 'unknown', byteMs: toldByteMs ?? SLOWEST_BYTE_MS }
  const bins = new Map<number, BurstRead[]>()
  for (const read of reads) {
    const bin = Math.floor(read.bytes / BIN_BYTES)
    const list = bins.get(bin)
    if (list) list.push(read)
    else bins.set(bin, [read])
  }
  const full = [...bins].filter(([, list]) => list.length >= FEWEST_READS).sort(([a], [b]) => a - b)
  const [first, last] = [full[0]?.[1], full.at(-1)?.[1]]
  if (!first || !last || first === last) return unknown
  const meanBytes = (list: readonly BurstRead[]) => list.reduce((sum, r) => sum + r.bytes, 0) / list.length
  const bytesApart = meanBytes(last) - meanBytes(first)
  /** How the least delay grows from the first to the last place, after taking off so much for each byte. */
  const growthMs = (byteMs: number) => leastDelay(last, byteMs) - leastDelay(first, byteMs)
  const chanceMs = (byteMs: number) => Math.max(chanceOf(first, byteMs), chanceOf(last, byteMs))
  // Of the speeds in use, the one by which bursts begin at the same time wherever one looks.
  const lineByteMs = toldByteMs ?? USUAL_BAUDS.map(byteMsAt).reduce((a, b) => (Math.abs(growthMs(b)) < Math.abs(growthMs(a)) ? b : a))
  const expectedMs = bytesApart * (toldByteMs ?? SLOWEST_BYTE_MS)
  // Even where nothing can be decided, bytes take no longer than the growth that was seen, and what chance may have hidden of it.
  const mostByteMs = Math.max(0, growthMs(0) + CHANCE_FACTOR * chanceOf(first, 0)) / bytesApart
  const undecided: Pace = toldByteMs === undefined ? { kind: 'unknown', byteMs: Math.min(SLOWEST_BYTE_MS, mostByteMs) } : unknown
  if (expectedMs < Math.max(LEAST_SPAN_MS, CHANCE_FACTOR * chanceMs(0))) return undecided
  const noneMs = NONE_SHARE * expectedMs
  const isFree = Math.abs(growthMs(0)) < (toldByteMs === undefined ? LEAST_SPAN_MS / 2 : noneMs)
  if (isFree && (toldByteMs === undefined || growthMs(toldByteMs) < noneMs - expectedMs)) return { kind: 'free', byteMs: 0 }
  const grownMs = bytesApart * lineByteMs
  const isLine = Math.abs(growthMs(lineByteMs)) < NONE_SHARE * grownMs && growthMs(0) > (1 - NONE_SHARE) * grownMs
  return isLine && grownMs >= Math.max(LEAST_SPAN_MS, CHANCE_FACTOR * chanceMs(lineByteMs))
    ? { kind: 'line', byteMs: lineByteMs }
    : undecided
}

const delaysOf = (reads: readonly BurstRead[], byteMs: number) => reads.map((r) => r.afterMs - r.bytes * byteMs)
const leastDelay = (reads: readonly BurstRead[], byteMs: number) => Math.min(...delaysOf(reads, byteMs))

/** How far the least delay may be above the true one: the more reads, the less of their scatter. */
function chanceOf(reads: readonly BurstRead[], byteMs: number): number {
  const delays = delaysOf(reads, byteMs)
  if (delays.length < MANY_READS) return Math.max(...delays) - Math.min(...delays)
  return (6 * (median(delays) - Math.min(...delays))) / delays.length
}
