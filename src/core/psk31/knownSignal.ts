import { BandSpectra } from './bandSpectra'
import { basebandHz, basebandOf, between, noiseOf, startOf } from './baseband'
import type { ReceivedSymbol } from './phaseTrellis'
import { encodePsk31 } from './modulate'
import { BAUD, PREAMBLE_SYMBOLS, SAMPLE_RATE_HZ, SYMBOL_S } from './signal'
import { NOISE_DENSITY, simulateBand } from './simulate'
import { encodeVaricode } from './varicode'

/** Silence before and after it. */
const AROUND_S = 1

/** Power of the noise in each of its symbols. */
export const KNOWN_NOISE = noiseOf(NOISE_DENSITY, BAUD)

/** Simulated symbols of a text with the bits between them. */
export interface KnownSignal {
  symbols: ReceivedSymbol[]
  /** Of each symbol but the first: 0 where it reversed the phase. */
  bits: number[]
}

/**
 * A text in white noise as a receiver gets it that knows its frequency and the time of its symbols, through the matched filter:
 * what reading the bits costs can be measured apart from finding and following the signal.
 */
export function knownSignal({
  text,
  frequencyHz,
  snrDb,
  seed,
}: {
  text: string
  frequencyHz: number
  snrDb: number
  seed: number
}): KnownSignal {
  const bits = [...Array.from({ length: PREAMBLE_SYMBOLS }, () => 0), ...encodeVaricode(text)]
  const lengthS = encodePsk31(text, { sampleRateHz: SAMPLE_RATE_HZ, frequencyHz, amplitude: 1 }).length / SAMPLE_RATE_HZ
  const samples = simulateBand([{ text, frequencyHz, snrDb, startS: AROUND_S }], lengthS + 2 * AROUND_S, seed)
  const re: number[] = []
  const im: number[] = []
  let firstS = 0
  for (const spectrum of new BandSpectra().push(samples)) {
    if (re.length === 0) firstS = startOf(spectrum)
    const piece = basebandOf(spectrum, frequencyHz, BAUD)
    re.push(...piece.re)
    im.push(...piece.im)
  }
  const symbols = Array.from({ length: bits.length + 1 }, (_, k) => {
    const at = (AROUND_S + (k + 1) * SYMBOL_S - firstS) * basebandHz(BAUD)
    const i = Math.floor(at)
    return { re: between(re, i, at - i), im: between(im, i, at - i) }
  })
  return { symbols, bits }
}
