import { blankClicks } from './blankClicks'
import { createCallMemory, type CallMemory } from './callHash'
import { BAND_CENTRE_HZ, DEMODULATION_BINS, measureIfLikely, type SymbolAmplitudes } from './demodulate'
import { decodeSymbols } from './decodeSymbols'
import type { Depth } from './depth'
import { expectedMessages, type Knowledge } from './expectedMessages'
import { findExpected } from './findExpected'
import type { Ft8Message } from './message'
import { estimateNoiseFloor } from './noiseFloor'
import { unpackMessage } from './payload'
import { NOMINAL_START_S } from './signal'
import { SlotSpectrum, type Baseband } from './slotSpectrum'
import { subtractSignal } from './subtract'
import { codewordToTones } from './symbols'
import { measureGrid, remeasureGrid, type PowerGrid } from './powerGrid'
import { DRIFT_HZ_PER_S, findCandidates, type Candidate, type SyncSearch } from './sync'
import { measureTonePower, toSnrDb } from './tonePower'

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

const PASSES: Record<Depth, number> = { quick: 1, usual: 3, deep: 4 }
/** Of ordered statistics; 0 leaves it out. */
const ORDERS: Record<Depth, number> = { quick: 0, usual: 2, deep: 3 }

const MINIMUM_SYNC_RATIO = 1.85
const MAXIMUM_CANDIDATES = 200
const MINIMUM_COSTAS_HITS = 7
/** On the grid, where a signal may lie between steps and bins, what can be decoded at all shows 8 and more. */
const MINIMUM_GRID_HITS = 6
const MINIMUM_CONTRAST = 3.85
/** Weaker than this, what ordered statistics finds is more often noise than a message. */
const WEAKEST_ORDERED_DB = -24
/** A find nearer than this to a decoded message is what subtraction left of it. */
const SAME_HZ = 4
/** A signal taken away can only have hidden others nearer than this. */
const NEIGHBOURHOOD_HZ = 75
/** Fast drifts are rare: only what stands out is looked at, without ordered statistics. */
const DRIFTS = [-2, -1, 1, 2]
const DRIFTING_SYNC_RATIO = 2.6
const DRIFTING_CANDIDATES = 12
const DRIFTING_SEARCH_S = 1.2

/**
 * Decodes one slot.
 * @param samples 12 kHz audio, at most 20.48 s; values that are not finite count as silence
 * @returns messages, each text once (the stronger), by frequency
 */
export function decodeSlot(samples: Float32Array, options: DecodeOptions = {}): Ft8Decode[] {
  return new SlotDecoder(samples, options).decode()
}

/** What is known of one slot while it is decoded. */
class SlotDecoder {
  private readonly audio: Float32Array
  private readonly spectrum: SlotSpectrum
  private readonly search: Pick<SyncSearch, 'lowestHz' | 'highestHz' | 'slotStartS' | 'searchS'>
  private readonly depth: Depth
  private readonly callMemory: CallMemory
  private readonly outOfTime: () => boolean
  private readonly found = new Map<string, Ft8Decode>()
  /** Power of each message's tones, to be held against the floor once the crowd has been taken away. */
  private readonly tonePowers = new Map<string, number>()
  private floor: (hz: number) => number = () => 1
  private scratch: Baseband | undefined
  /** Where signals were taken away in this pass. */
  private removedHz: number[] = []

  constructor(
    samples: Float32Array,
    private readonly options: DecodeOptions,
  ) {
    const { slotStartS = 0, lowestHz = 200, highestHz = 3000, searchS = 2.5, depth = 'usual', callMemory = createCallMemory() } = options
    this.audio = blankClicks(samples)
    this.spectrum = new SlotSpectrum(this.audio)
    this.search = { lowestHz, highestHz, slotStartS, searchS }
    this.depth = depth
    this.callMemory = callMemory
    this.outOfTime = options.outOfTime ?? (() => false)
  }

  decode(): Ft8Decode[] {
    const passes = this.options.passes ?? PASSES[this.depth]
    let grid = measureGrid(this.audio, this.audio.length, this.search.highestHz)
    this.floor = estimateNoiseFloor(grid)
    for (let pass = 1; pass <= passes; pass++) {
      const candidates = findCandidates(grid, {
        ...this.search,
        minimumRatio: MINIMUM_SYNC_RATIO,
        minimumHits: MINIMUM_GRID_HITS,
        maximumCandidates: MAXIMUM_CANDIDATES,
        // Where nothing was taken away since the last look, looking again would find the same.
        ...(pass > 1 && { near: { placesHz: this.removedHz, withinHz: NEIGHBOURHOOD_HZ } }),
      })
      const news = this.look(candidates, { pass, order: ORDERS[this.depth] })
      const last = pass === passes || news === 0 || this.outOfTime()
      if (this.removedHz.length > 0 && !(last && this.depth === 'quick')) grid = this.remeasure(grid)
      if (!last) continue
      // After the stronger signals, so that no sidelobe of theirs is taken for a drift.
      if (this.depth !== 'quick') grid = this.lookForDrifting(grid, pass)
      break
    }
    this.lookForExpected(grid, passes + 1)
    if (this.found.size > 0) this.floor = estimateNoiseFloor(grid)
    // In a crowd the first floor is lifted by what was on it; the last one is that of the band without the signals found.
    return [...this.found.values()]
      .map((decode) => ({
        ...decode,
        snrDb: toSnrDb(this.tonePowers.get(decode.text)!, this.floor(decode.frequencyHz + BAND_CENTRE_HZ)),
      }))
      .sort((a, b) => a.frequencyHz - b.frequencyHz)
  }

  /** The grid without the signals that were taken away lately. */
  private remeasure(grid: PowerGrid): PowerGrid {
    const places = this.removedHz.map((hz) => hz + BAND_CENTRE_HZ)
    return remeasureGrid(grid, this.spectrum, this.audio.length, this.search.highestHz, places)
  }

  /** Tries candidates, the surest first, and takes away what it decodes. @returns how many messages are new */
  private look(candidates: readonly Candidate[], { pass, order, drift = 0 }: { pass: number; order: number; drift?: number }): number {
    this.removedHz = []
    let news = 0
    for (const candidate of candidates) {
      if (this.outOfTime()) break
      this.scratch = this.spectrum.cut(candidate.frequencyHz + BAND_CENTRE_HZ, DEMODULATION_BINS, this.scratch)
      const symbols = measureIfLikely(this.scratch, candidate.startS, MINIMUM_COSTAS_HITS, drift)
      if (!symbols || symbols.contrast < MINIMUM_CONTRAST) continue
      const codeword = decodeSymbols(symbols, order)
      if (!codeword) continue
      const tones = codewordToTones(codeword.bits)
      const tonePower = measureTonePower(symbols, tones)
      const snrDb = toSnrDb(tonePower, this.floor(symbols.frequencyHz + BAND_CENTRE_HZ))
      if (codeword.how === 'ordered' && snrDb < WEAKEST_ORDERED_DB) continue
      // Only now: unpacking remembers calls, and what is not believed must not be remembered.
      const message = unpackMessage(codeword.bits, this.callMemory)
      if (!message) continue
      subtractSignal(this.spectrum, tones, symbols)
      this.removedHz.push(symbols.frequencyHz)
      if (this.add(message, symbols, { snrDb, tonePower, how: codeword.how, pass })) news++
    }
    return news
  }

  /** @returns false when the message had been found before */
  private add(
    message: Ft8Message,
    symbols: SymbolAmplitudes,
    { snrDb, tonePower, how, pass }: Pick<Ft8Decode, 'snrDb' | 'how' | 'pass'> & { tonePower: number },
  ): boolean {
    const { text } = message
    const before = this.found.get(text)
    if (before && tonePower <= this.tonePowers.get(text)!) return false
    this.tonePowers.set(text, tonePower)
    this.found.set(text, {
      text,
      message,
      snrDb,
      timeOffsetS: symbols.startS - this.search.slotStartS - NOMINAL_START_S,
      frequencyHz: symbols.frequencyHz,
      how,
      pass: before?.pass ?? pass,
    })
    return !before
  }

  /** Looks for signals that move by a tone or two while they last: an oscillator that is warming up, or in the wind. */
  private lookForDrifting(grid: PowerGrid, pass: number): PowerGrid {
    for (const driftBins of DRIFTS) {
      if (this.outOfTime()) break
      const candidates = findCandidates(grid, {
        ...this.search,
        searchS: Math.min(this.search.searchS, DRIFTING_SEARCH_S),
        driftBins,
        minimumRatio: DRIFTING_SYNC_RATIO,
        minimumHits: MINIMUM_GRID_HITS,
        maximumCandidates: DRIFTING_CANDIDATES,
      })
      this.look(candidates, { pass, order: 0, drift: driftBins * DRIFT_HZ_PER_S })
      if (this.removedHz.length > 0) grid = this.remeasure(grid)
    }
    return grid
  }

  /** Looks for messages that are expected in what is left. */
  private lookForExpected(grid: PowerGrid, pass: number): void {
    const { knowledge } = this.options
    if (!knowledge || this.outOfTime()) return
    // What was decoded is known to be there; nobody says two things at once.
    const heard = [...this.found.values()]
    const open = expectedMessages(knowledge).filter(({ text }) => !this.found.has(text))
    if (open.length === 0) return
    for (const { expected, symbols } of findExpected(this.spectrum, grid, open, this.search, knowledge.nearHz)) {
      if (heard.some((d) => Math.abs(d.frequencyHz - symbols.frequencyHz) < SAME_HZ)) continue
      const message = unpackMessage(expected.codeword, this.callMemory)
      if (!message) continue
      const tonePower = measureTonePower(symbols, codewordToTones(expected.codeword))
      this.add(message, symbols, { snrDb: 0, tonePower, how: 'expected', pass })
    }
  }
}
