import { bitLikelihoods } from './bitLikelihoods'
import { BAND_CENTRE_HZ, DEMODULATION_BINS, measureSymbols, type SymbolAmplitudes } from './demodulate'
import type { ExpectedMessage } from './expectedMessages'
import { CODEWORD_BITS, COSTAS, COSTAS_STARTS, DATA_SYMBOLS, TONE_COUNT } from './signal'
import type { Baseband, SlotSpectrum } from './slotSpectrum'
import type { PowerGrid } from './powerGrid'
import { codewordToTones } from './symbols'
import { findCandidates, type SyncSearch } from './sync'

/** An expected message that was found. */
export interface FoundExpected {
  expected: ExpectedMessage
  symbols: SymbolAmplitudes
  /** Share of all reliability that agrees with the message less the share that does not: about 0 for any other. */
  agreement: number
}

/**
 * In noise the best of ten thousand comparisons stays under 0.5: each scatters by 0.095, and this is nearly six times
 * as much. `zeptik bench knowledge` counts what gets through.
 */
const LEAST_AGREEMENT = 0.55
/**
 * Likelihoods of what subtraction left of a strong signal, or of another message of the same station, are uneven: a few of them
 * can make an agreement by chance. The power in the expected tones must stand out too: it is 1 in noise, scatters by 0.12, and is
 * about 2 at -24 dB.
 */
const LEAST_TONE_SHARE = 1.6
/**
 * Another message of the same station has part of its tones in common with the one expected: then the arrays stand out
 * more than the rest.
 */
const LEAST_OF_COSTAS = 0.72
/** Where the arrays themselves do not stand out there is no signal, whatever the rest looks like. They show 1.5 and more at -25 dB. */
const LEAST_COSTAS_SHARE = 1.3
const COSTAS_SYMBOLS = COSTAS_STARTS.flatMap((start) => COSTAS.map((_, i) => start + i))
/** What one symbol can add, so that a few strong ones do not decide. */
const MOST_OF_SYMBOL = 4
/** Weak signals hide among candidates that sync would not look at otherwise. */
const MINIMUM_SYNC_RATIO = 1.4
const MAXIMUM_CANDIDATES = 140
/** A station stays where it was within this. */
const NEAR_HZ = 15
/** Nearer than this two finds are the same transmission. */
const SAME_HZ = 6

const llr = new Float64Array(CODEWORD_BITS)

/**
 * Looks for whole expected messages in what is left of a slot. A codeword that is known needs no decoding: its 174 bits
 * are held against the likelihoods at once, which reaches some 3 dB below the decoder.
 */
export function findExpected(
  spectrum: SlotSpectrum,
  grid: PowerGrid,
  messages: readonly ExpectedMessage[],
  search: Pick<SyncSearch, 'lowestHz' | 'highestHz' | 'slotStartS' | 'searchS'>,
  nearHz: number | undefined,
): FoundExpected[] {
  const band = nearHz === undefined ? {} : { lowestHz: nearHz - NEAR_HZ, highestHz: nearHz + NEAR_HZ }
  const candidates = findCandidates(grid, {
    ...search,
    ...band,
    minimumRatio: MINIMUM_SYNC_RATIO,
    maximumCandidates: MAXIMUM_CANDIDATES,
  })
  const found: FoundExpected[] = []
  let scratch: Baseband | undefined
  for (const candidate of candidates) {
    scratch = spectrum.cut(candidate.frequencyHz + BAND_CENTRE_HZ, DEMODULATION_BINS, scratch)
    const symbols = measureSymbols(scratch, candidate.startS)
    let best: FoundExpected | undefined
    for (let group = 1; group <= 3; group++) {
      bitLikelihoods(symbols, group, llr)
      let total = 0
      for (let i = 0; i < CODEWORD_BITS; i++) total += Math.abs(llr[i]!)
      if (total === 0) continue
      for (const expected of messages) {
        const { codeword } = expected
        let sum = 0
        for (let i = 0; i < CODEWORD_BITS; i++) sum += codeword[i] === 1 ? llr[i]! : -llr[i]!
        const agreement = sum / total
        if (agreement >= LEAST_AGREEMENT && agreement > (best?.agreement ?? 0)) best = { expected, symbols, agreement }
      }
    }
    if (best && standsOut(best)) found.push(best)
  }
  // A message is said once, and a place holds one message: of several finds the surest.
  const sure: FoundExpected[] = []
  for (const f of found.sort((a, b) => b.agreement - a.agreement)) {
    const taken = sure.some((s) => s.expected === f.expected || Math.abs(s.symbols.frequencyHz - f.symbols.frequencyHz) < SAME_HZ)
    if (!taken) sure.push(f)
  }
  return sure
}

/** Whether the tones of the message are there, and as strongly as those of the Costas arrays that led to it. */
function standsOut({ symbols, expected }: FoundExpected): boolean {
  const tones = codewordToTones(expected.codeword)
  const share = measureToneShare(symbols, DATA_SYMBOLS, tones)
  const costasShare = measureToneShare(symbols, COSTAS_SYMBOLS, tones)
  return share >= LEAST_TONE_SHARE && costasShare >= LEAST_COSTAS_SHARE && share >= LEAST_OF_COSTAS * costasShare
}

/** Power of the expected tone of each of these symbols against the mean of its eight, averaged. */
function measureToneShare({ re, im }: SymbolAmplitudes, symbols: readonly number[], tones: ArrayLike<number>): number {
  let sum = 0
  let count = 0
  for (const symbol of symbols) {
    const row = symbol * TONE_COUNT
    let total = 0
    for (let tone = 0; tone < TONE_COUNT; tone++) total += re[row + tone]! ** 2 + im[row + tone]! ** 2
    if (total === 0) continue
    const at = row + tones[symbol]!
    sum += Math.min(MOST_OF_SYMBOL, (TONE_COUNT * (re[at]! ** 2 + im[at]! ** 2)) / total)
    count++
  }
  return count > 0 ? sum / count : 0
}
