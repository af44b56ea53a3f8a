import { createRealFft, hannWindow } from '../../dsp'
import { PULSE_RATE_HZ } from './pulseModem'

const LENGTH = 2048
/** Bands of voice and beyond it: what 9600 baud needs reaches up to 7 kHz, half of it above 2.5 kHz. */
const VOICE_HZ = [500, 2500] as const
const BEYOND_HZ = [4000, 6500] as const
/** Noise of an open squelch or a transmission has less beyond voice by so much at most where the path is flat. */
const MISSING_DB = 25
const SILENCE = 1e-12

/** Measures whether an audio path lets 9600 baud pass: a voice filter, or a sound device at a low rate, ends it below 4 kHz. */
export class PulsePath {
  private readonly fft = createRealFft(LENGTH)
  private readonly window = hannWindow(LENGTH)
  private readonly samples = new Float64Array(LENGTH)
  private held = 0
  private readonly sums = new Float64Array(LENGTH / 2 + 1)

  /** Takes samples at 48 kHz. */
  push(block: Float32Array): void {
    const re = new Float64Array(LENGTH / 2 + 1)
    const im = new Float64Array(LENGTH / 2 + 1)
    for (const value of block) {
      this.samples[this.held] = value * this.window[this.held]!
      if (++this.held < LENGTH) continue
      this.held = 0
      this.fft.forward(this.samples, re, im)
      for (let k = 0; k < re.length; k++) this.sums[k]! += re[k]! ** 2 + im[k]! ** 2
    }
  }

  /** @returns why 9600 baud cannot pass, in words, or nothing where it can or nothing was heard */
  get problem(): string | undefined {
    const power = ([from, to]: readonly [number, number]) => {
      const [a, b] = [from, to].map((hz) => Math.round((hz * LENGTH) / PULSE_RATE_HZ)) as [number, number]
      return this.sums.subarray(a, b).reduce((sum, value) => sum + value, 0) / (b - a)
    }
    const [voice, beyond] = [power(VOICE_HZ), power(BEYOND_HZ)]
    if (voice < SILENCE || 10 * Math.log10(voice / (beyond + SILENCE)) < MISSING_DB) return undefined
    return 'Nothing passes above 4 kHz: 9600 baud needs the radio’s unfiltered data socket and a sound device at 44.1 or 48 kHz, without a voice filter.'
  }
}
