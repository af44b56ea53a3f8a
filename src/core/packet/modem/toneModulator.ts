/** What tells a modem of two tones apart from the others. */
export interface TonePair {
  baud: number
  markHz: number
  spaceHz: number
}

/** Tones on VHF and UHF, in FM. */
export const TONES_1200: TonePair = { baud: 1200, markHz: 1200, spaceHz: 2200 }
/** Tones on HF, 200 Hz apart; where in the passband they lie is a matter of custom. */
export const tones300 = (centreHz = 1700): TonePair => ({ baud: 300, markHz: centreHz - 100, spaceHz: centreHz + 100 })

export interface ToneOptions {
  sampleRateHz: number
  amplitude?: number
  /** How much stronger the higher tone is, in dB: the amplitudes' geometric mean stays. */
  twistDb?: number
  /** How far the clock of the sender is off, in parts per million. */
  clockPpm?: number
}

/** Longest step of a rise or fall at the ends, in seconds: no click. */
const RAMP_S = 0.001

/** Tones without a jump of phase for line levels, 1 the mark. @returns samples within the amplitude, the twist apart */
export function modulateTones(levels: readonly number[], tones: TonePair, options: ToneOptions): Float32Array {
  const { sampleRateHz, amplitude = 0.5, twistDb = 0, clockPpm = 0 } = options
  const clock = 1 + clockPpm * 1e-6
  const perLevel = sampleRateHz / (tones.baud * clock)
  const out = new Float32Array(Math.ceil(levels.length * perLevel))
  const gains = [10 ** (twistDb / 40), 10 ** (-twistDb / 40)]
  const isMarkHigher = tones.markHz > tones.spaceHz
  const hz = [tones.spaceHz * clock, tones.markHz * clock]
  let cycles = 0
  let level = levels[0] ?? 1
  for (let i = 0; i < out.length; i++) {
    const next = levels[Math.min(levels.length - 1, Math.floor(i / perLevel))]!
    // A sample in which the level changes has a part of each.
    const share = next === level ? 1 : Math.min(1, i / perLevel - Math.floor(i / perLevel))
    cycles += (share * hz[next]! + (1 - share) * hz[level]!) / sampleRateHz
    cycles -= Math.floor(cycles)
    level = next
    out[i] = amplitude * gains[(next === 1) === isMarkHigher ? 0 : 1]! * Math.sin(2 * Math.PI * cycles)
  }
  const ramp = Math.min(out.length >> 1, Math.round(RAMP_S * sampleRateHz))
  for (let k = 0; k < ramp; k++) {
    const gain = (k + 0.5) / ramp
    out[k]! *= gain
    out[out.length - 1 - k]! *= gain
  }
  return out
}
