import { FrameFinder } from './frameFinder'
import type { FrameReceiver, HeardFrame } from './heardFrame'
import type { ToneChannel } from './phaseReader'
import { powerOf, ToneReader, type ReadLevel } from './toneReader'
import type { TonePair } from './toneModulator'

/** Levels of which the likelihoods tell whether a sender is heard, and how sure each must be in the mean. */
const CARRIER_LEVELS = 48
const CARRIER_SURE = 2.5
/** Flags and frames change the level within eight: a steady tone that lasts longer is nobody's. */
const STEADY_LEVELS = 16
const NOISE_BANDWIDTH_HZ = 2500
/** Enough for the longest frame. */
const MOST_STRETCHES = 400

/** A frame in two tones. */
type ToneFrame = HeardFrame & { offsetHz: number; twistDb: number }

/** Frames in a complex baseband whose zero is the middle between the tones. */
export class BasebandReceiver {
  private readonly reader: ToneReader
  private readonly finder = new FrameFinder()
  private sure = 0
  private count = 0
  /** Levels since the last change from one tone to the other. */
  private steady = 0
  private wasHigh = false
  /** With what was read lately, and from which level on. */
  private read: { channel: ToneChannel; from: number }[] = []

  /** @param perLevel samples in a level */
  constructor(
    private readonly tones: TonePair,
    private readonly perLevel: number,
  ) {
    this.reader = new ToneReader(perLevel, Math.abs(tones.spaceHz - tones.markHz) / tones.baud)
  }

  get carrier(): boolean {
    return this.sure > CARRIER_SURE && this.steady < STEADY_LEVELS
  }

  /** How sure its levels were lately in the mean. */
  get sureness(): number {
    return this.sure
  }

  /** How far the tones are above where they are taken to be, in Hz. */
  get offsetHz(): number {
    return ((this.read.at(-1)?.channel.turn ?? 0) * this.tones.baud) / (2 * Math.PI)
  }

  push(re: Float32Array, im: Float32Array): ToneFrame[] {
    return this.reader.push(re, im).flatMap((level) => {
      const frame = this.take(level)
      return frame ? [frame] : []
    })
  }

  private take({ llr, at, channel }: ReadLevel): ToneFrame | undefined {
    this.sure += (Math.min(8, Math.abs(llr)) - this.sure) / CARRIER_LEVELS
    this.count++
    this.steady = llr > 0 === this.wasHigh ? this.steady + 1 : 0
    this.wasHigh = llr > 0
    if (this.read.at(-1)?.channel !== channel) this.read = [...this.read.slice(-MOST_STRETCHES), { channel, from: this.count }]
    const found = this.finder.push(this.tones.spaceHz > this.tones.markHz ? -llr : llr)
    if (!found) return undefined
    const { bytes, mended, corrected, levels } = found
    const endS = (at + this.perLevel) / (this.perLevel * this.tones.baud)
    const place = { startS: endS - levels / this.tones.baud, endS }
    return { bytes, ...place, mended, ...(corrected !== undefined && { corrected }), ...this.measuresAt(this.count - levels / 2) }
  }

  private measuresAt(level: number): Required<Pick<HeardFrame, 'levelDb' | 'snrDb' | 'offsetHz' | 'twistDb'>> {
    const { channel } = this.read.findLast(({ from }) => from <= level) ?? this.read[0]!
    const [low, high] = channel.gains.map(({ re, im }) => re * re + im * im) as [number, number]
    return {
      // A real tone of amplitude 1 has a gain of one half.
      levelDb: 10 * Math.log10(4 * Math.max(low, high) + 1e-12),
      snrDb: 10 * Math.log10(((powerOf(channel) / channel.noise) * this.tones.baud) / NOISE_BANDWIDTH_HZ + 1e-12),
      offsetHz: (channel.turn * this.tones.baud) / (2 * Math.PI),
      twistDb: 10 * Math.log10((high + 1e-12) / (low + 1e-12)),
    }
  }
}

/** Turns a real signal down by a frequency, whatever the block's length. */
export class Mixer {
  private cycles = 0

  constructor(
    private readonly frequencyHz: number,
    private readonly sampleRateHz: number,
  ) {}

  push(block: Float32Array): { re: Float32Array; im: Float32Array } {
    const re = new Float32Array(block.length)
    const im = new Float32Array(block.length)
    const turn = (2 * Math.PI * this.frequencyHz) / this.sampleRateHz
    const [onRe, onIm] = [Math.cos(turn), -Math.sin(turn)]
    let [c, s] = [Math.cos(2 * Math.PI * this.cycles), -Math.sin(2 * Math.PI * this.cycles)]
    for (let i = 0; i < block.length; i++) {
      re[i] = block[i]! * c
      im[i] = block[i]! * s
      const next = c * onRe - s * onIm
      s = s * onRe + c * onIm
      c = next
    }
    this.cycles = (this.cycles + (block.length * this.frequencyHz) / this.sampleRateHz) % 1
    return { re, im }
  }
}

/** Receives 1200 baud: one place in the audio, ten samples a level. */
export function createReceiver1200(tones: TonePair): FrameReceiver {
  const perLevel = 10
  const mixer = new Mixer((tones.markHz + tones.spaceHz) / 2, perLevel * tones.baud)
  const receiver = new BasebandReceiver(tones, perLevel)
  return {
    push(block) {
      const { re, im } = mixer.push(block)
      return receiver.push(re, im)
    },
    get carrier() {
      return receiver.carrier
    },
  }
}
