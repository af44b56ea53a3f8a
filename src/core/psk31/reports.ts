import { CLEAN_DB, isOverdriven, type Linearity } from './linearity'
import type { Psk31Settings } from './settings'

/** What is known of how a station was copied. */
export interface Copied {
  snrDb: number
  /** Share of its characters that the waveform alone carries, from 0 to 1. */
  sure: number
  linearity?: Linearity
}

/** Strength by the signal over noise in 2500 Hz: from this on, so much. */
const RST_STRENGTH: readonly (readonly [db: number, s: number])[] = [
  [0, 9],
  [-3, 8],
  [-6, 7],
  [-8, 6],
  [-10, 5],
  [-12, 4],
  [-14, 3],
  [-16, 2],
]
const RSQ_STRENGTH: readonly (readonly [db: number, s: number])[] = [
  [0, 9],
  [-6, 7],
  [-10, 5],
  [-14, 3],
]
/** Readability by the share of characters that were carried. */
const RST_READABILITY: readonly (readonly [share: number, r: number])[] = [
  [0.97, 5],
  [0.88, 4],
  [0.7, 3],
  [0.4, 2],
]
const RSQ_READABILITY: readonly (readonly [share: number, r: string])[] = [
  [0.95, '95'],
  [0.8, '80'],
  [0.4, '40'],
  [0.2, '20'],
]
/** From this on an overdriven one is poor. */
const POOR_DB = -15

const stepOf = <T>(steps: readonly (readonly [from: number, value: T])[], value: number, least: T): T =>
  steps.find(([from]) => value >= from)?.[1] ?? least

/**
 * A report from what was measured: readability, strength and tone, or readability in per cent, strength and quality. The operator may
 * give another one.
 */
export function measuredReport(school: Psk31Settings['reports'], { snrDb, sure, linearity }: Copied): string {
  const overdriven = linearity !== undefined && isOverdriven(linearity)
  const worst = linearity && !linearity.atMost ? linearity.productsDb : -Infinity
  if (school === 'rst') {
    const tone = worst > POOR_DB || (linearity?.hum && linearity.hum.db > -20) ? 7 : overdriven || linearity?.hum ? 8 : 9
    return `${stepOf(RST_READABILITY, sure, 1)}${stepOf(RST_STRENGTH, snrDb, 1)}${tone}`
  }
  const quality = worst > POOR_DB ? 3 : overdriven ? 5 : worst > CLEAN_DB || linearity?.hum ? 7 : 9
  return `${stepOf(RSQ_READABILITY, sure, '10')}${stepOf(RSQ_STRENGTH, snrDb, 1)}${quality}`
}
