import { MODES, type ModeId } from '../modes'

/** What is sent to set levels. */
export const TEST_KINDS = ['tone', 'twoTone', 'mode', 'ramp', 'vox', 'latency', 'carrier'] as const
export type TestKind = (typeof TEST_KINDS)[number]

export interface TestSignalOptions {
  kind: TestKind
  sampleRateHz: number
  /** Peak, share of full scale; a ramp ends there. */
  amplitude: number
  durationS: number
  /** For `mode`: which one. */
  mode?: ModeId
  /** For `mode`: whose call is sent; a test without a call would not be identified. */
  ownCall?: string
}

/** A test never lasts longer than this, whatever asks for it. */
export const LONGEST_TEST_S = 10
export const TONE_HZ = 1500
/** Neither tone's harmonics fall on the other, nor on their mixtures. */
export const TWO_TONES_HZ = [700, 1900] as const
/** Steps of a ramp and how far below its end it begins. */
export const RAMP_STEPS = 12
export const RAMP_SPAN_DB = 33
/** The click-free sweep by which delays are measured, after a tone by which any VOX has tripped. */
const SWEEP_S = 0.08
export const SWEEP_LEAD_S = 0.6
export const LATENCY_TEST_S = SWEEP_LEAD_S + SWEEP_S
const EDGE_S = 0.01

/**
 * Makes the audio of a test.
 * @returns full scale ±1; its ends are soft, so that it does not click
 * @throws {RangeError} longer than 10 s, or an amplitude outside (0, 1]
 */
export function makeTestSignal({ kind, sampleRateHz, amplitude, durationS, mode = 'ft8', ownCall = '' }: TestSignalOptions): Float32Array {
  if (!(durationS > 0 && durationS <= LONGEST_TEST_S)) throw new RangeError(`durationS must be up to ${LONGEST_TEST_S}, got ${durationS}`)
  if (!(amplitude > 0 && amplitude <= 1)) throw new RangeError(`amplitude must lie in (0, 1], got ${amplitude}`)
  const length = Math.round(durationS * sampleRateHz)
  const angle = (hz: number, i: number) => (2 * Math.PI * hz * i) / sampleRateHz
  const fill = (wave: (i: number) => number) =>
    soften(
      Float32Array.from({ length }, (_, i) => wave(i)),
      sampleRateHz,
    )
  switch (kind) {
    case 'tone':
    case 'carrier':
    case 'vox':
      return fill((i) => amplitude * Math.sin(angle(TONE_HZ, i)))
    case 'twoTone':
      return fill((i) => (amplitude / 2) * (Math.sin(angle(TWO_TONES_HZ[0], i)) + Math.sin(angle(TWO_TONES_HZ[1], i))))
    case 'ramp':
      return fill((i) => amplitude * rampGain(i / length) * Math.sin(angle(TONE_HZ, i)))
    case 'latency': {
      const lead = Math.round(SWEEP_LEAD_S * sampleRateHz)
      const out = new Float32Array(lead + Math.round(SWEEP_S * sampleRateHz))
      out.set(
        soften(
          Float32Array.from({ length: lead }, (_, i) => amplitude * Math.sin(angle(TONE_HZ, i))),
          sampleRateHz,
        ),
      )
      out.set(makeSweep(sampleRateHz, amplitude), lead)
      return out
    }
    case 'mode': {
      const whole = MODES[mode].testSignal({ sampleRateHz, amplitude, ownCall })
      const samples = new Float32Array(length)
      for (let at = 0; at < length; at += whole.length) samples.set(whole.subarray(0, length - at), at)
      return soften(samples, sampleRateHz)
    }
  }
}

/** How long a test of a kind lasts. */
export const testLengthS = (kind: TestKind, durationS: number) => (kind === 'latency' ? LATENCY_TEST_S : durationS)

/** Gain of a ramp at a share of its length: equal steps in dB, each level long enough to be measured. */
export function rampGain(share: number): number {
  const step = Math.min(RAMP_STEPS - 1, Math.floor(share * RAMP_STEPS))
  return 10 ** ((-RAMP_SPAN_DB * (1 - step / (RAMP_STEPS - 1))) / 20)
}

/** A rising sweep over the passband: found again to within a sample or two, even through a filter. */
export function makeSweep(sampleRateHz: number, amplitude: number): Float32Array {
  const length = Math.round(SWEEP_S * sampleRateHz)
  const [from, to] = [500, 2500]
  return soften(
    Float32Array.from({ length }, (_, i) => {
      const t = i / sampleRateHz
      return amplitude * Math.sin(2 * Math.PI * (from * t + ((to - from) * t * t) / (2 * SWEEP_S)))
    }),
    sampleRateHz,
  )
}

function soften(samples: Float32Array, sampleRateHz: number): Float32Array {
  const edge = Math.min(samples.length >> 1, Math.round(EDGE_S * sampleRateHz))
  for (let i = 0; i < edge; i++) {
    const shape = 0.5 - 0.5 * Math.cos((Math.PI * (i + 0.5)) / edge)
    samples[i]! *= shape
    samples[samples.length - 1 - i]! *= shape
  }
  return samples
}
