import type { Random } from '@/core/dsp'

/** Formants of five vowels: three resonances in Hz each. */
const VOWELS = [
  [730, 1090, 2440],
  [530, 1840, 2480],
  [270, 2290, 3010],
  [570, 840, 2410],
  [300, 870, 2240],
] as const
const FORMANT_WIDTH_HZ = 90

/** A stream of sounds with the rhythm and the resonances of a voice, that says nothing. */
export interface MadeUpSpeech {
  /** The next samples, root mean square about 1 while a syllable sounds. */
  next(length: number): Float32Array
}

/**
 * Creates a voice: pulses of the larynx through three resonances, syllables of a tenth to a quarter of a second, hisses
 * between some of them, a pause after each handful.
 */
export function createMadeUpSpeech(rateHz: number, random: Random): MadeUpSpeech {
  const pitchHz = 95 + 110 * random()
  let left = 0
  let length = 1
  let kind: 'voice' | 'hiss' | 'pause' = 'pause'
  let syllables = 0
  let phase = 0
  let pitch = pitchHz
  let vowel: readonly number[] = VOWELS[0]
  const memory = [0, 0, 0, 0, 0, 0]

  const begin = () => {
    if (kind === 'pause') syllables = 3 + Math.floor(8 * random())
    if (syllables <= 0) {
      kind = 'pause'
      length = Math.round(rateHz * (0.3 + 0.6 * random()))
    } else if (kind === 'voice' && random() < 0.35) {
      kind = 'hiss'
      length = Math.round(rateHz * (0.05 + 0.06 * random()))
    } else {
      kind = 'voice'
      syllables--
      length = Math.round(rateHz * (0.1 + 0.15 * random()))
      vowel = VOWELS[Math.floor(VOWELS.length * random())]!
      pitch = pitchHz * (0.85 + 0.3 * random())
    }
    left = length
  }
  const resonate = (input: number) => {
    let sum = 0
    for (let f = 0; f < 3; f++) {
      const r = Math.exp((-Math.PI * FORMANT_WIDTH_HZ) / rateHz)
      const value = (1 - r) * input + 2 * r * Math.cos((2 * Math.PI * vowel[f]!) / rateHz) * memory[2 * f]! - r * r * memory[2 * f + 1]!
      memory[2 * f + 1] = memory[2 * f]!
      memory[2 * f] = value
      sum += value * [1, 0.6, 0.3][f]!
    }
    return sum
  }
  return {
    next(count) {
      const out = new Float32Array(count)
      for (let i = 0; i < count; i++) {
        if (left <= 0) begin()
        const into = 1 - left / length
        left--
        const shape = Math.sin(Math.PI * into) ** 0.7
        phase += pitch / rateHz
        let pulse = 0
        if (phase >= 1) {
          phase -= 1
          pulse = 1
        }
        const voiced = resonate(kind === 'voice' ? pulse * 55 * shape : 0)
        out[i] = voiced + (kind === 'hiss' ? 0.4 * shape * (2 * random() - 1) : 0)
      }
      return out
    },
  }
}
