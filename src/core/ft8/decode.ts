import { createCallMemory, type CallMemory } from './callHash'
import { crcMatches } from './crc14'
import { BAND_CENTRE_HZ, bitLikelihoods, DEMODULATION_BINS, measureIfLikely, type SymbolAmplitudes } from './demodulate'
import { createBeliefPropagation } from './ldpc'
import type { Ft8Message } from './message'
import { expectedMessages, type Knowledge } from './expectedMessages'
import { findExpected } from './findExpected'
import { estimateNoiseFloor } from './noiseFloor'
import { createOrderedStatistics } from './osd'
import { unpackMessage } from './payload'
import { CODEWORD_BITS, NOMINAL_START_S, SYMBOL_COUNT, TONE_COUNT } from './signal'
import { SlotSpectrum, type Baseband } from './slotSpectrum'
import { subtractSignal } from './subtract'
import { codewordToTones } from './symbols'
import { findCandidates, measureGrid } from './sync'

/** One message taken from a slot. */
export interface Ft8Decode {
  text: string
  message: Ft8Message
  /** In 2500 Hz. */
  snrDb: number
  /** Start after the nominal 0.5 s into the slot. */
  timeOffsetS: number
  /** Frequency of the lowest tone. */
  frequencyHz: number
  /**
   * 'iterative' when belief propagation settled, 'ordered' when ordered statistics had to help, 'expected' when it was
   * found only because it was expected.
   */
  how: 'iterative' | 'ordered' | 'expected'
  /** 1 for what the first look found, 2 and 3 for what appeared after stronger signals were taken away. */
  pass: number
}

export interface DecodeOptions {
  /** Where the slot starts in `samples`, in seconds; may be negative. Default 0. */
  slotStartS?: number
  lowestHz?: number
  highestHz?: number
  /** How far from its nominal start a transmission is looked for. Default 2.5 s. */
  searchS?: number
  passes?: number
  /** How hard to look: `quick` one pass without ordered statistics, `deep` with a further order of it. Default `usual`. */
  depth?: Depth
  /** What is known before; messages that it leads to expect are found some 3 dB weaker. */
  knowledge?: Knowledge
  /** Calls heard before; calls in this slot are added. */
  callMemory?: CallMemory
  /** Asked before each candidate, the surest come first: once it says true, what was found so far is all. */
  outOfTime?: () => boolean
}

export const DEPTHS = ['quick', 'usual', 'deep'] as const
export type Depth = (typeof DEPTHS)[number]
const PASSES: Record<Depth, number> = { quick: 1, usual: 3, deep: 4 }
/** Of ordered statistics; 0 leaves it out. */
const ORDERS: Record<Depth, number> = { quick: 0, usual: 2, deep: 3 }

const MINIMUM_SYNC_RATIO = 1.85
const MAXIMUM_CANDIDATES = 200
const MINIMUM_COSTAS_HITS = 7
const MINIMUM_CONTRAST = 3.85
const ITERATIONS = 30
/** A find nearer than this to a decoded message is what subtraction left of it. */
const SAME_HZ = 4
/** A signal taken away can only have hidden others nearer than this. */
const NEIGHBOURHOOD_HZ = 75

const propagate = createBeliefPropagation()
const orderedStatistics = createOrderedStatistics()
const likelihoods = [1, 2, 3].map(() => new Float64Array(CODEWORD_BITS))

/**
 * Decodes one slot.
 * @param samples 12 kHz audio, at most 20.48 s; values that are not finite count as silence
 * @returns messages, each text once (the stronger), by frequency
 */
export function decodeSlot(samples: Float32Array, options: DecodeOptions = {}): Ft8Decode[] {
  const { slotStartS = 0, lowestHz = 200, highestHz = 3000, searchS = 2.5, depth = 'usual', callMemory = createCallMemory() } = options
  const { passes = PASSES[depth], outOfTime = () => false } = options
  const spectrum = new SlotSpectrum(samples)
  const found = new Map<string, Ft8Decode>()
  /** Power of each message's tones, to be held against the floor once the crowd has been taken away. */
  const tonePowers = new Map<string, number>()
  let floor: (hz: number) => number = () => 1
  let scratch: Baseband | undefined
  let removedHz: number[] = []

  for (let pass = 1; pass <= passes; pass++) {
    const audio: ArrayLike<number> = pass === 1 ? samples : spectrum.toSamples()
    const grid = measureGrid(audio, samples.length, highestHz)
    floor = estimateNoiseFloor(grid)
    const candidates = findCandidates(grid, {
      lowestHz,
      highestHz,
      slotStartS,
      searchS,
      minimumRatio: MINIMUM_SYNC_RATIO,
      maximumCandidates: MAXIMUM_CANDIDATES,
    })
    // Where nothing was taken away since the last look, looking again would find the same.
    const changed = removedHz
    removedHz = []
    let news = 0
    for (const candidate of candidates) {
      if (pass > 1 && !changed.some((hz) => Math.abs(hz - candidate.frequencyHz) < NEIGHBOURHOOD_HZ)) continue
      if (outOfTime()) break
      scratch = spectrum.cut(candidate.frequencyHz + BAND_CENTRE_HZ, DEMODULATION_BINS, scratch)
      const symbols = measureIfLikely(scratch, candidate.startS, MINIMUM_COSTAS_HITS)
      if (!symbols || symbols.contrast < MINIMUM_CONTRAST) continue
      const codeword = decodeSymbols(symbols, ORDERS[depth])
      if (!codeword) continue
      const tones = codewordToTones(codeword.bits)
      const tonePower = measureTonePower(symbols, tones)
      const snrDb = toSnrDb(tonePower, floor(symbols.frequencyHz + BAND_CENTRE_HZ))
      if (codeword.how === 'ordered' && snrDb < WEAKEST_ORDERED_DB) continue
      // Only now: unpacking remembers calls, and what is not believed must not be remembered.
      const message = unpackMessage(codeword.bits, callMemory)
      if (!message) continue
      subtractSignal(spectrum, tones, symbols.frequencyHz, symbols.startS)
      removedHz.push(symbols.frequencyHz)
      const decode: Ft8Decode = {
        text: message.text,
        message,
        snrDb,
        timeOffsetS: symbols.startS - slotStartS - NOMINAL_START_S,
        frequencyHz: symbols.frequencyHz,
        how: codeword.how,
        pass,
      }
      const before = found.get(decode.text)
      if (before) {
        if (tonePower <= tonePowers.get(decode.text)!) continue
        found.set(decode.text, { ...decode, pass: before.pass })
        tonePowers.set(decode.text, tonePower)
        continue
      }
      tonePowers.set(decode.text, tonePower)
      found.set(decode.text, decode)
      news++
    }
    if (news === 0 || outOfTime()) break
  }
  const expected = options.knowledge ? expectedMessages(options.knowledge) : []
  if (expected.length > 0 && !outOfTime()) {
    // What was decoded is known to be there; nobody says two things at once.
    const heard = [...found.values()]
    const open = expected.filter(({ text }) => !found.has(text))
    const spoken = (hz: number) => heard.some((d) => Math.abs(d.frequencyHz - hz) < SAME_HZ)
    const audio = spectrum.toSamples()
    const grid = measureGrid(audio, samples.length, highestHz)
    floor = estimateNoiseFloor(grid)
    for (const { expected: it, symbols } of findExpected(
      spectrum,
      grid,
      open,
      { lowestHz, highestHz, slotStartS, searchS },
      options.knowledge?.nearHz,
    )) {
      if (spoken(symbols.frequencyHz)) continue
      const message = unpackMessage(it.codeword, callMemory)
      if (!message) continue
      tonePowers.set(message.text, measureTonePower(symbols, codewordToTones(it.codeword)))
      found.set(message.text, {
        text: message.text,
        message,
        snrDb: 0,
        timeOffsetS: symbols.startS - slotStartS - NOMINAL_START_S,
        frequencyHz: symbols.frequencyHz,
        how: 'expected',
        pass: passes + 1,
      })
    }
  }
  // In a crowd the first floor is lifted by what was on it; the last one is that of the band without the signals found.
  return [...found.values()]
    .map((decode) => ({ ...decode, snrDb: toSnrDb(tonePowers.get(decode.text)!, floor(decode.frequencyHz + BAND_CENTRE_HZ)) }))
    .sort((a, b) => a.frequencyHz - b.frequencyHz)
}

interface Codeword {
  bits: Uint8Array
  how: 'iterative' | 'ordered'
}

function decodeSymbols(symbols: SymbolAmplitudes, order: number): Codeword | undefined {
  for (let group = 1; group <= 3; group++) {
    const llr = likelihoods[group - 1]!
    bitLikelihoods(symbols, group, llr)
    const result = propagate(llr, ITERATIONS)
    if (result.converged && isMessage(result.codeword)) return { bits: result.codeword, how: 'iterative' }
  }
  for (let group = 3; group >= 1 && order > 0; group--) {
    const llr = likelihoods[group - 1]!
    const result = orderedStatistics(llr, order)
    if (isMessage(result.codeword) && isCredible(result.distance, result.flips, llr)) return { bits: result.codeword, how: 'ordered' }
  }
  return undefined
}

function isMessage(codeword: Uint8Array): boolean {
  // The all-zero word passes every check and means nothing.
  return crcMatches(codeword) && codeword.some((bit) => bit === 1)
}

/** Share of all reliability that a codeword from ordered statistics may contradict, and how many bits it may change. */
const LARGEST_CONTRADICTION = 0.085
/** Weaker than this, what ordered statistics finds is more often noise than a message. */
const WEAKEST_ORDERED_DB = -24
const MOST_FLIPS = 36

function isCredible(distance: number, flips: number, llr: Float64Array): boolean {
  let total = 0
  for (let i = 0; i < CODEWORD_BITS; i++) total += Math.abs(llr[i]!)
  return flips <= MOST_FLIPS && distance <= LARGEST_CONTRADICTION * total
}

/** Mean power of the tones that were sent, over the symbols that were received. */
function measureTonePower(symbols: SymbolAmplitudes, tones: Uint8Array): number {
  let power = 0
  let count = 0
  for (let s = 0; s < SYMBOL_COUNT; s++) {
    const at = s * TONE_COUNT + tones[s]!
    const p = symbols.re[at]! ** 2 + symbols.im[at]! ** 2
    if (p === 0) continue
    power += p
    count++
  }
  return power / Math.max(1, count)
}

const SYMBOLS_IN_2500_HZ_DB = 10 * Math.log10(2500 * 0.16)

/**
 * Signal-to-noise ratio in 2500 Hz, -30 to +50 dB (a recording without any noise has no true one). A cell of the grid and a tone's amplitude have the same scale:
 * 32 complex samples cut out of the slot's spectrum add up to the same amplitude as 1920 real ones.
 */
function toSnrDb(tonePower: number, gridNoise: number): number {
  const ratio = Math.max(tonePower / gridNoise - 1, 0.05)
  return Math.min(50, Math.max(-30, 10 * Math.log10(ratio) - SYMBOLS_IN_2500_HZ_DB))
}
