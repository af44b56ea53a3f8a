import { createRealFft, hannWindow, SAMPLE_RATE_HZ, type RealFft } from '../../dsp'
import type { FrameReceiver, HeardFrame } from './heardFrame'
import { tones300 } from './toneModulator'
import { BasebandReceiver, Mixer } from './toneReceiver'

/** Samples in a level of the baseband that each sender is read in. */
const PER_LEVEL = 8
const DECIMATION = SAMPLE_RATE_HZ / (300 * PER_LEVEL)
/** The filter before it passes the tones with their sidebands and stops what would fold onto them. */
const TAPS = 25
const PASS_HZ = 600

/** Audio is looked through for senders this often, over a length of a third of a second. */
const LENGTH = 4096
const HOP = LENGTH / 2
const BIN_HZ = SAMPLE_RATE_HZ / LENGTH
const LOWEST_HZ = 300
const HIGHEST_HZ = 3000
/** A sender's power lies within so much of its middle. */
const HALF_WIDTH_HZ = 200
/** How much more than the noise around it a sender's band holds: 3 dB less than one of which half of the frames are read. */
const STANDS_OUT = 1.8
/** Senders that are read at once, and how near to each other two may be. */
const MOST_SENDERS = 8
const APART_HZ = 250
/** Places so near to each other are one. */
const SAME_HZ = 60
/** Samples after which a reader has shown what it is worth. */
const SETTLED = SAMPLE_RATE_HZ / 2
/** A sender that is this far off its middle is begun anew there. */
const OFF_HZ = 20
/** Audio that is read again when a sender is found, and how long one is followed after its carrier is gone, in samples. */
const KEPT = 2 * SAMPLE_RATE_HZ
const FOLLOWED = 3 * SAMPLE_RATE_HZ
/** The same frame from two readers is one when it ends within this time, in seconds. */
const SAME_S = 0.5

interface Sender {
  centreHz: number
  mixer: Mixer
  filter: Decimator
  receiver: BasebandReceiver
  /** Seconds of the audio at which its reader began. */
  fromS: number
  /** Samples when it began, and when its carrier was last heard. */
  beganAt: number
  heardAt: number
  /** Whether its place was put right already. */
  moved: boolean
}

/** Receives 300 baud anywhere in the passband, several senders at once. */
export class Receiver300 implements FrameReceiver {
  private senders: Sender[] = []
  private readonly fft: RealFft = createRealFft(LENGTH)
  private readonly window = hannWindow(LENGTH)
  private readonly samples = new Float64Array(LENGTH)
  private readonly re = new Float64Array(LENGTH / 2 + 1)
  private readonly im = new Float64Array(LENGTH / 2 + 1)
  private readonly sums = new Float64Array(LENGTH / 2 + 2)
  private readonly memory = new Float32Array(KEPT)
  private held = 0
  private count = 0
  private searchedAt = 0
  private told: HeardFrame[] = []

  /** The audio of the last seconds. */
  private get kept(): Float32Array {
    return this.memory.subarray(0, this.held)
  }

  get carrier(): boolean {
    return this.senders.some(({ receiver }) => receiver.carrier)
  }

  push(block: Float32Array): HeardFrame[] {
    const out: HeardFrame[] = []
    for (let at = 0; at < block.length; at += HOP) out.push(...this.take(block.subarray(at, at + HOP)))
    return out
  }

  private take(block: Float32Array): HeardFrame[] {
    this.count += block.length
    const over = Math.max(0, this.held + block.length - KEPT)
    if (over > 0) this.memory.copyWithin(0, over, this.held)
    this.memory.set(block, this.held - over)
    this.held += block.length - over
    const frames = this.senders.flatMap((sender) => this.feed(sender, block))
    if (this.count - this.searchedAt >= HOP && this.held >= LENGTH) {
      this.searchedAt = this.count
      frames.push(...this.search())
    }
    this.senders = this.senders.filter(({ heardAt }) => this.count - heardAt < FOLLOWED)
    return frames
  }

  private feed(sender: Sender, block: Float32Array): HeardFrame[] {
    const { re, im } = sender.mixer.push(block)
    const frames = sender.receiver.push(sender.filter.push('re', re), sender.filter.push('im', im))
    if (sender.receiver.carrier) sender.heardAt = this.count
    return frames
      .map((frame) => ({
        ...frame,
        startS: frame.startS + sender.fromS,
        endS: frame.endS + sender.fromS,
        offsetHz: frame.offsetHz + sender.centreHz - CUSTOMARY_HZ,
      }))
      .filter((frame) => this.isNew(frame))
  }

  private isNew(frame: HeardFrame): boolean {
    this.told = this.told.filter(({ endS }) => frame.endS - endS < 60)
    const same = ({ bytes, endS }: HeardFrame) =>
      Math.abs(endS - frame.endS) < SAME_S && bytes.length === frame.bytes.length && bytes.every((byte, k) => byte === frame.bytes[k])
    if (this.told.some(same)) return false
    this.told.push(frame)
    return true
  }

  private search(): HeardFrame[] {
    const out: HeardFrame[] = []
    for (const sender of this.senders) out.push(...this.recentre(sender))
    for (const centreHz of this.standingOut()) {
      // While flags alone go out, one tone is on nearly all the time: the middle shows only when a frame begins.
      if (this.senders.some((one) => Math.abs(one.centreHz - centreHz) < SAME_HZ)) continue
      if (this.senders.length >= MOST_SENDERS) this.senders = this.senders.filter(({ receiver }) => receiver.carrier)
      if (this.senders.length < MOST_SENDERS) out.push(...this.begin(centreHz, false))
    }
    this.senders = this.senders.filter((one) => !this.senders.some((other) => this.isBetter(other, one)))
    return out
  }

  /** Of two readers of one sender, the one that is surer of it stays. */
  private isBetter(one: Sender, other: Sender): boolean {
    const isOld = ({ beganAt }: Sender) => this.count - beganAt > SETTLED
    const isSame = one !== other && Math.abs(one.centreHz - other.centreHz) < APART_HZ
    return isSame && isOld(one) && isOld(other) && one.receiver.sureness > other.receiver.sureness
  }

  /** A sender off the middle of its reader is read better from its own. */
  private recentre(sender: Sender): HeardFrame[] {
    const { offsetHz, carrier } = sender.receiver
    if (sender.moved || !carrier || Math.abs(offsetHz) < OFF_HZ) return []
    this.senders = this.senders.filter((one) => one !== sender)
    return this.begin(sender.centreHz + offsetHz, true)
  }

  private begin(centreHz: number, moved: boolean): HeardFrame[] {
    const fromS = (this.count - this.kept.length) / SAMPLE_RATE_HZ
    const sender: Sender = {
      ...{ centreHz, moved, fromS, beganAt: this.count, heardAt: this.count },
      mixer: new Mixer(centreHz, SAMPLE_RATE_HZ),
      filter: new Decimator(),
      receiver: new BasebandReceiver(tones300(centreHz), PER_LEVEL),
    }
    this.senders.push(sender)
    return this.feed(sender, this.kept)
  }

  /** Middles of bands that hold more than the noise does. */
  private standingOut(): number[] {
    const { samples, re, im, sums, window } = this
    const { kept } = this
    const from = kept.length - LENGTH
    for (let i = 0; i < LENGTH; i++) samples[i] = kept[from + i]! * window[i]!
    this.fft.forward(samples, re, im)
    for (let k = 0; k < re.length; k++) sums[k + 1] = sums[k]! + re[k]! ** 2 + im[k]! ** 2
    const half = Math.round(HALF_WIDTH_HZ / BIN_HZ)
    const [lowest, highest] = [Math.round(LOWEST_HZ / BIN_HZ), Math.round(HIGHEST_HZ / BIN_HZ)]
    const powers = new Float64Array(re.length)
    for (let k = lowest + half; k <= highest - half; k++) powers[k] = (sums[k + half]! - sums[k - half]!) / (2 * half)
    // A quarter of the passband is free of senders at least.
    const within = powers.slice(lowest + half, highest - half + 1).sort()
    const noise = within[within.length >> 2]! + 1e-30
    const out: number[] = []
    for (let k = lowest + half; k <= highest - half; k++) {
      if (powers[k]! < STANDS_OUT * noise) continue
      let j = Math.max(0, k - half)
      while (j <= k + half && powers[j]! <= powers[k]!) j++
      if (j > k + half) out.push(k * BIN_HZ)
    }
    return out.sort((a, b) => powers[Math.round(b / BIN_HZ)]! - powers[Math.round(a / BIN_HZ)]!)
  }
}

/** Where the middle between the tones lies by custom: offsets are told from there. */
export const CUSTOMARY_HZ = 1700

/** Narrows a complex signal and takes every fifth sample of it. */
class Decimator {
  private readonly taps = lowPass()
  private readonly rest = { re: new Float32Array(0), im: new Float32Array(0) }

  push(part: 're' | 'im', block: Float32Array): Float32Array {
    const whole = new Float32Array(this.rest[part].length + block.length)
    whole.set(this.rest[part])
    whole.set(block, this.rest[part].length)
    const count = Math.max(0, Math.floor((whole.length - TAPS) / DECIMATION) + 1)
    const out = new Float32Array(count)
    const { taps } = this
    const middle = (TAPS - 1) / 2
    for (let i = 0; i < count; i++) {
      const from = i * DECIMATION
      let sum = taps[middle]! * whole[from + middle]!
      // It is the same from both ends.
      for (let k = 0; k < middle; k++) sum += taps[k]! * (whole[from + k]! + whole[from + TAPS - 1 - k]!)
      out[i] = sum
    }
    this.rest[part] = whole.slice(count * DECIMATION)
    return out
  }
}

/** A low-pass filter that leaves a constant as it is. */
function lowPass(): Float64Array {
  const cut = (2 * PASS_HZ) / SAMPLE_RATE_HZ
  const taps = Float64Array.from({ length: TAPS }, (_, k) => {
    const x = k - (TAPS - 1) / 2
    const sinc = x === 0 ? cut : Math.sin(Math.PI * cut * x) / (Math.PI * x)
    return sinc * (0.54 + 0.46 * Math.cos((2 * Math.PI * x) / (TAPS - 1)))
  })
  const sum = taps.reduce((total, tap) => total + tap, 0)
  return taps.map((tap) => tap / sum)
}
