import { BandSpectra } from './bandSpectra'
import { basebandOf, BASEBAND_HZ, MATCHED_FILTER, startOf } from './baseband'
import type { ReceivedSymbol } from './phaseTrellis'
import { encodePsk31 } from './modulate'
import { PREAMBLE_SYMBOLS, SAMPLE_RATE_HZ, SYMBOL_S } from './signal'
import { simulateBand } from './simulate'
import { encodeVaricode } from './varicode'

/** Silence before and after it. */
const AROUND_S = 1

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
    const piece = basebandOf(spectrum, frequencyHz, MATCHED_FILTER)
    re.push(...piece.re)
    im.push(...piece.im)
  }
  const symbols = Array.from({ length: bits.length + 1 }, (_, k) => {
    const at = (AROUND_S + (k + 1) * SYMBOL_S - firstS) * BASEBAND_HZ
    const i = Math.floor(at)
    const part = at - i
    return { re: re[i]! + part * (re[i + 1]! - re[i]!), im: im[i]! + part * (im[i + 1]! - im[i]!) }
  })
  return { symbols, bits }
}
