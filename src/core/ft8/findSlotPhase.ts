import { estimateFromBand, type OffsetReading } from '../time/bandClock'
import { createCallMemory } from './callHash'
import { decodeSlot } from './decode'
import { NOMINAL_START_S, SAMPLE_RATE_HZ, SLOT_S, SYMBOL_S } from './signal'
import { measureGrid } from './powerGrid'
import { findCandidates, type Candidate } from './sync'

/** Where slots begin in a stretch of audio about which nothing else is known. */
export type SlotPhase =
  | {
      found: true
      /** Instant in the audio, modulo 15 s, at which slots begin. */
      slotPhaseS: number
      /** 95 % half-width. */
      uncertaintyS: number
      stations: number
      decodes: number
    }
  | { found: false; why: string }

/** Less audio need not hold a whole slot and what is around it. */
const SHORTEST_BLIND_S = 20
/** More would not make it surer, only slower. */
export const LONGEST_BLIND_S = 75
const HYPOTHESES = 6
const LEAST_AUDIO_S = 8
/** Room on either side of a slot for stations whose clocks are off. */
const AROUND_S = 2.4
const HISTOGRAM_S = 0.04
const CLUSTER_S = 0.5
/** Everybody's audio is late by some tens of milliseconds. */
const COMMON_DELAY_S = 0.05
/** Stations decoded at a guessed phase are a choice among those on the air, and most are heard once: measured, they miss by so much more. */
const CHOSEN_FACTOR = 1.25
/** What two stations alone are worth: their clocks are as good as people's clocks are. */
const FEW_STATIONS_S = 0.6
const ENOUGH_STATIONS = 4

/**
 * Finds where slots begin with the clock unknown: candidates are looked for over the whole audio, the phases at which many
 * of them begin are tried one after another by decoding, and the stations decoded there say where the slots are. Nothing is
 * guessed: without messages whose checks hold there is no answer.
 * @param samples 12 kHz audio, 20 s or more; beyond 75 s it is not looked at
 * @param onProgress told 0 to 1
 */
export function findSlotPhase(samples: Float32Array, onProgress: (share: number) => void = () => undefined): SlotPhase {
  const audio = samples.subarray(0, LONGEST_BLIND_S * SAMPLE_RATE_HZ)
  const lengthS = audio.length / SAMPLE_RATE_HZ
  if (lengthS < SHORTEST_BLIND_S)
    return { found: false, why: `${lengthS.toFixed(0)} s of audio are too little; ${SHORTEST_BLIND_S} s at least are needed` }
  const phases = likelyPhases(candidatesOf(audio, lengthS), lengthS)
  onProgress(0.2)
  let best: { phaseS: number; readings: OffsetReading[] } | undefined
  for (const [tried, phaseS] of phases.entries()) {
    const readings = decodeAt(audio, lengthS, phaseS, (share) => onProgress(0.2 + (0.8 * (tried + share)) / phases.length))
    if (stationsOf(readings) > stationsOf(best?.readings ?? []) || (!best && readings.length > 0)) best = { phaseS, readings }
    if (best && stationsOf(best.readings) >= ENOUGH_STATIONS) break
  }
  onProgress(1)
  if (!best) return { found: false, why: 'no message was decoded at any phase: is this a busy FT8 frequency, and is the level right?' }
  return judge(best.phaseS, best.readings)
}

function candidatesOf(audio: Float32Array, lengthS: number): Candidate[] {
  return findCandidates(measureGrid(audio, audio.length, 3000), {
    lowestHz: 200,
    highestHz: 3000,
    slotStartS: lengthS / 2 - NOMINAL_START_S,
    searchS: lengthS / 2,
    minimumRatio: 1.9,
    maximumCandidates: 800,
    peaksPerFrequency: 4 * Math.ceil(lengthS / SLOT_S),
  })
}

/**
 * Every signal shows false starts one or two thirds of its length early and late, where two of its three Costas arrays, or
 * one, fall on others of its own. They stand evenly on both sides, so a true start is the middle of its own false ones.
 */
const FALSE_STARTS = [
  { awayS: 36 * SYMBOL_S, share: 0.5 },
  { awayS: 72 * SYMBOL_S, share: 0.25 },
] as const

/** Phases at which many strong candidates begin, the likeliest first. */
function likelyPhases(candidates: readonly Candidate[], lengthS: number): number[] {
  const bins = Math.round(SLOT_S / HISTOGRAM_S)
  const histogram = new Float64Array(bins)
  const slots = Math.max(1, lengthS / SLOT_S)
  for (const { startS, syncRatio } of candidates) {
    const phase = positiveModulo(startS - NOMINAL_START_S, SLOT_S)
    histogram[Math.floor(phase / HISTOGRAM_S) % bins]! += Math.min(3, Math.log2(syncRatio / 1.7)) / slots
  }
  const half = Math.round(CLUSTER_S / HISTOGRAM_S)
  const near = Float64Array.from(histogram, (_, at) => {
    let sum = 0
    for (let d = -half; d <= half; d++) sum += histogram[(at + d + bins) % bins]! * (1 - Math.abs(d) / (half + 1))
    return sum
  })
  const votes = near.map((own, at) =>
    FALSE_STARTS.reduce((sum, { awayS, share }) => {
      const away = Math.round(awayS / HISTOGRAM_S)
      return sum + share * (near[(at + away) % bins]! + near[(at - away + 2 * bins) % bins]!)
    }, own),
  )
  const phases: number[] = []
  while (phases.length < HYPOTHESES) {
    const at = votes.reduce((top, vote, i) => (vote > votes[top]! ? i : top), 0)
    if (votes[at]! <= 0) break
    phases.push((at + 0.5) * HISTOGRAM_S)
    for (let d = -2 * half; d <= 2 * half; d++) votes[(at + d + bins) % bins] = 0
  }
  return phases
}

function decodeAt(audio: Float32Array, lengthS: number, phaseS: number, onProgress: (share: number) => void): OffsetReading[] {
  const readings: OffsetReading[] = []
  const callMemory = createCallMemory()
  for (let startS = phaseS - SLOT_S; startS < lengthS; startS += SLOT_S) {
    const fromS = Math.max(0, startS - AROUND_S)
    const toS = Math.min(lengthS, startS + SLOT_S + AROUND_S)
    if (Math.min(toS, startS + SLOT_S) - Math.max(0, startS) < LEAST_AUDIO_S) continue
    const from = Math.round(fromS * SAMPLE_RATE_HZ)
    const part = audio.subarray(from, Math.round(toS * SAMPLE_RATE_HZ))
    for (const d of decodeSlot(part, { slotStartS: startS - from / SAMPLE_RATE_HZ, callMemory, passes: 2 })) {
      if ('from' in d.message && d.message.from) readings.push({ call: d.message.from, timeOffsetS: d.timeOffsetS, snrDb: d.snrDb })
    }
    onProgress(Math.min(1, Math.max(0, (startS + SLOT_S) / lengthS)))
  }
  return readings
}

function stationsOf(readings: readonly OffsetReading[]): number {
  return new Set(readings.map((r) => r.call)).size
}

function judge(phaseS: number, readings: readonly OffsetReading[]): SlotPhase {
  const stations = stationsOf(readings)
  // One station heard once might be the one in ten thousand that noise makes up.
  if (stations < 2 && readings.length < 2)
    return {
      found: false,
      why: 'only one message was decoded, which is too little to set a clock by: listen longer, or where more is going on',
    }
  const estimate = estimateFromBand(readings)
  const offsetS = estimate ? estimate.offsetMs / 1000 : readings.reduce((sum, r) => sum + r.timeOffsetS, 0) / readings.length
  return {
    found: true,
    slotPhaseS: positiveModulo(phaseS + offsetS, SLOT_S),
    uncertaintyS: estimate ? Math.hypot((CHOSEN_FACTOR * estimate.uncertaintyMs) / 1000, COMMON_DELAY_S) : FEW_STATIONS_S,
    stations,
    decodes: readings.length,
  }
}

function positiveModulo(value: number, modulus: number): number {
  return ((value % modulus) + modulus) % modulus
}
