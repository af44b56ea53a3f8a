import { FrameFinder } from './frameFinder'
import type { FrameReceiver, HeardFrame } from './heardFrame'
import { PulseReader } from './pulseReader'
import { Descrambler, SCRAMBLER_TAPS } from './scrambler'

/** 9600 baud: pulses in the baseband of an FM transmitter, about 0 to 7 kHz. */
export const PULSE_BAUD = 9600
/** Rate at which it is received: five samples a bit. */
export const PULSE_RATE_HZ = 48_000
/** How much wider than the least a pulse's band is. */
const ROLL_OFF = 0.5
/** Length of a pulse in bits, to each side. */
const REACH = 4
const NOISE_BANDWIDTH_HZ = 2500
/** Bits of which the likelihoods tell whether a sender is heard, and how sure each must be in the mean: those of noise are 3.5, of a tone 8. */
const CARRIER_BITS = 200
const CARRIER_SURE = 9
/** Enough for the longest frame. */
const MOST_STRETCHES = 120

/** A root raised cosine at a place in bits. @returns 1 + roll-off (4 / pi - 1) at its middle */
function rootRaisedCosine(t: number): number {
  const b = ROLL_OFF
  if (Math.abs(t) < 1e-9) return 1 + b * (4 / Math.PI - 1)
  if (Math.abs(Math.abs(4 * b * t) - 1) < 1e-9)
    return (b / Math.SQRT2) * ((1 + 2 / Math.PI) * Math.sin(Math.PI / (4 * b)) + (1 - 2 / Math.PI) * Math.cos(Math.PI / (4 * b)))
  return (Math.sin(Math.PI * t * (1 - b)) + 4 * b * t * Math.cos(Math.PI * t * (1 + b))) / (Math.PI * t * (1 - (4 * b * t) ** 2))
}

export interface PulseOptions {
  sampleRateHz: number
  /** Of the largest sample. */
  amplitude?: number
  clockPpm?: number
}

/** Pulses for scrambled bits. @throws RangeError for a rate that is too low to carry them */
export function modulatePulses(bits: readonly number[], { sampleRateHz, amplitude = 0.5, clockPpm = 0 }: PulseOptions): Float32Array {
  if (sampleRateHz < 2 * PULSE_BAUD) throw new RangeError(`9600 baud needs a sample rate of 44100 or 48000 Hz, not ${sampleRateHz}`)
  const perBit = sampleRateHz / (PULSE_BAUD * (1 + clockPpm * 1e-6))
  const out = new Float32Array(Math.ceil((bits.length + 2 * REACH) * perBit))
  bits.forEach((bit, k) => {
    const middle = (k + REACH + 0.5) * perBit
    const from = Math.max(0, Math.ceil(middle - REACH * perBit))
    const to = Math.min(out.length - 1, Math.floor(middle + REACH * perBit))
    for (let i = from; i <= to; i++) out[i]! += (bit === 1 ? 1 : -1) * rootRaisedCosine((i - middle) / perBit)
  })
  const peak = out.reduce((most, value) => Math.max(most, Math.abs(value)), 1e-9)
  return out.map((value) => (value * amplitude) / peak)
}

/** Receives 9600 baud at 48 kHz, whatever its polarity. */
export class PulseReceiver implements FrameReceiver {
  private readonly reader = new PulseReader(rootRaisedCosine, REACH)
  private readonly descrambler = new Descrambler()
  private readonly finder = new FrameFinder([0, ...SCRAMBLER_TAPS])
  private sure = 0
  private count = 0
  /** With what was read lately, and from which bit on. */
  private read: { amplitude: number; noise: number; from: number }[] = []

  get carrier(): boolean {
    return this.sure > CARRIER_SURE
  }

  push(block: Float32Array): HeardFrame[] {
    const out: HeardFrame[] = []
    for (const bit of this.reader.push(block)) {
      this.sure += (Math.min(10, Math.abs(bit.llr)) - this.sure) / CARRIER_BITS
      this.count++
      if (bit.noise !== this.read.at(-1)?.noise) this.read = [...this.read.slice(-MOST_STRETCHES), { ...bit, from: this.count }]
      const found = this.finder.push(this.descrambler.push(bit.llr))
      if (!found) continue
      const { levels, ...frame } = found
      const endS = bit.at / PULSE_RATE_HZ
      out.push({ ...frame, startS: endS - levels / PULSE_BAUD, endS, ...this.measuresAt(this.count - levels / 2) })
    }
    return out
  }

  private measuresAt(bit: number): Pick<HeardFrame, 'levelDb' | 'snrDb'> {
    const { amplitude, noise } = this.read.findLast(({ from }) => from <= bit) ?? this.read[0]!
    return {
      levelDb: 20 * Math.log10(amplitude + 1e-12),
      snrDb: 10 * Math.log10((amplitude ** 2 / noise) * (PULSE_BAUD / 2 / NOISE_BANDWIDTH_HZ) + 1e-12),
    }
  }
}
