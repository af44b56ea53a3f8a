import { createGaussian, createRandom, type Random } from '../dsp/random'
import { createCallMemory } from './callHash'
import type { Ft8Decode } from './decode'
import { packMessage, unpackMessage } from './payload'
import { modulate } from './modulate'
import { NOMINAL_START_S, OCCUPIED_HZ, SAMPLE_RATE_HZ, SLOT_S, TONE_SPACING_HZ } from './signal'
import { payloadToTones } from './symbols'
import { overTwoPaths, type TwoPathOptions } from './twoPath'

/** One transmission to be laid into a simulated slot. */
export interface SimulatedSignal {
  text: string
  /** In 2500 Hz against the noise of the slot. */
  snrDb: number
  audioOffsetHz: number
  timeOffsetS: number
  driftHzPerS?: number
  /** Rate of slow fading in Hz; none when absent. */
  fadingHz?: number
  /** Two rays that fade on their own; `snrDb` is then the mean. */
  twoPath?: TwoPathOptions
  /** How much too fast the sender's sample clock runs against the receiver's, in millionths. Default 0. */
  clockPpm?: number
}

/** Root mean square of the noise in a simulated slot, full scale 1: about -34 dBFS, as a well-set receiver gives. */
export const SIMULATED_NOISE_RMS = 0.02

/** Peak amplitude of a signal that stands `snrDb` over white noise of a given level across 6 kHz. */
export function amplitudeForSnr(snrDb: number, noiseRms = SIMULATED_NOISE_RMS): number {
  return noiseRms * Math.sqrt(2 * 10 ** (snrDb / 10) * (2500 / 6000))
}

/**
 * Adds one transmission to audio.
 * @param samples 12 kHz audio, changed in place; what falls outside is cut off
 * @param slotStartSample where the slot begins in it
 * @throws {RangeError} a text that cannot be sent
 */
export function addSignal(
  samples: Float32Array,
  slotStartSample: number,
  signal: SimulatedSignal,
  random: Random,
  noiseRms = SIMULATED_NOISE_RMS,
): void {
  const packed = packMessage(signal.text)
  if (!packed.ok) throw new RangeError(packed.error)
  const phaseRad = 2 * Math.PI * random()
  const turned = (byRad: number) =>
    modulate(payloadToTones(packed.payload), {
      sampleRateHz: SAMPLE_RATE_HZ / (1 + (signal.clockPpm ?? 0) / 1e6),
      audioOffsetHz: signal.audioOffsetHz,
      amplitude: amplitudeForSnr(signal.snrDb, noiseRms),
      phaseRad: phaseRad - byRad,
      driftHzPerS: signal.driftHzPerS ?? 0,
    })
  const audio = signal.twoPath ? overTwoPaths(turned(0), turned(Math.PI / 2), SAMPLE_RATE_HZ, signal.twoPath, random) : turned(0)
  const start = slotStartSample + Math.round((NOMINAL_START_S + signal.timeOffsetS) * SAMPLE_RATE_HZ)
  const fade = signal.fadingHz ? createFade(signal.fadingHz, random) : undefined
  for (let i = Math.max(0, -start); i < audio.length && start + i < samples.length; i++) {
    samples[start + i]! += fade ? audio[i]! * fade(i / SAMPLE_RATE_HZ) : audio[i]!
  }
}

/** A slow swing of strength between about a third and 1.4 times, from two paths that beat. */
function createFade(hz: number, random: Random): (timeS: number) => number {
  const phase = 2 * Math.PI * random()
  const depth = 0.35 + 0.3 * random()
  return (timeS) => 1 + depth * Math.cos(2 * Math.PI * hz * timeS + phase)
}

/**
 * A message as a receiver would report it, without making and decoding its audio.
 * @param over what is to differ from a middling signal
 * @returns undefined for a text that cannot be sent
 */
export function heardAs(text: string, over: Partial<Ft8Decode> = {}, memory = createCallMemory()): Ft8Decode | undefined {
  const packed = packMessage(text)
  const message = packed.ok ? unpackMessage(packed.payload, memory) : undefined
  return message && { text: message.text, message, snrDb: -8, timeOffsetS: 0.1, frequencyHz: 1000, how: 'iterative', pass: 1, ...over }
}

/** Signals nearer than this share part of their eight tones; 6 Hz are left for the edges of the outer ones. */
const CLEAR_HZ = OCCUPIED_HZ + TONE_SPACING_HZ

/** Which signals of a crowd have their lane to themselves. */
export function withClearLane(signals: readonly SimulatedSignal[]): SimulatedSignal[] {
  return signals.filter((s) => signals.every((other) => other === s || Math.abs(other.audioOffsetHz - s.audioOffsetHz) >= CLEAR_HZ))
}

/** Makes a slot of white noise with signals in it. */
export function simulateSlot(
  signals: readonly SimulatedSignal[],
  seed: number,
  { durationS = SLOT_S, noiseRms = SIMULATED_NOISE_RMS }: { durationS?: number; noiseRms?: number } = {},
): Float32Array {
  const random = createRandom(seed)
  const gaussian = createGaussian(random)
  const samples = new Float32Array(Math.round(durationS * SAMPLE_RATE_HZ))
  for (let i = 0; i < samples.length; i++) samples[i] = noiseRms * gaussian()
  for (const signal of signals) addSignal(samples, 0, signal, random, noiseRms)
  return samples
}

/** A made-up call: Q, a digit and two or three letters. Calls that begin with Q are never allocated. */
export function madeUpCall(random: Random): string {
  const letter = () => String.fromCharCode(65 + Math.floor(random() * 26))
  return `Q${Math.floor(random() * 10)}${letter()}${letter()}${random() < 0.6 ? letter() : ''}`
}

/** A crowd of `count` signals with strengths and places drawn evenly. */
export function simulatedCrowd(
  count: number,
  random: Random,
  { lowestDb = -20, highestDb = 10, lowestHz = 200, highestHz = 2800, clockS = 0.4 } = {},
): SimulatedSignal[] {
  return Array.from({ length: count }, () => ({
    text: `${madeUpCall(random)} ${madeUpCall(random)} JN${10 + Math.floor(random() * 90)}`,
    snrDb: lowestDb + (highestDb - lowestDb) * random(),
    audioOffsetHz: lowestHz + (highestHz - lowestHz) * random(),
    timeOffsetS: clockS * (2 * random() - 1),
  }))
}
