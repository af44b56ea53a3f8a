import { SAMPLE_RATE_HZ } from '@/core/dsp'
import { Psk31Modulator } from '@/core/psk31'
import type { Psk31Operator } from './operators'

/** A drift goes no further: it begins anew with each over. */
const MOST_DRIFT_HZ = 8
const HUM_HZ = 100

/** An over as an invented operator sends it: with the speed of the fingers, and with what the transmitter adds. */
export class Voice {
  private readonly modulator = new Psk31Modulator({ sampleRateHz: SAMPLE_RATE_HZ, frequencyHz: 0, amplitude: 1 })
  private waiting: string
  private phase = 0
  private samples = 0
  /** Characters typed by now. */
  private typed = 0
  private readonly bend: number

  constructor(
    readonly who: Psk31Operator,
    text: string,
    private readonly frequencyHz: number,
  ) {
    this.waiting = text
    const ratio = who.productsDb === undefined ? 0 : 10 ** (who.productsDb / 20)
    // Of an envelope that is a cosine, b times its third power is a quarter b at three times its rate, and three quarters at its own.
    this.bend = (4 * ratio) / (1 + 3 * ratio)
  }

  /** Fills a piece, at full scale. @returns how many samples of it are sent; fewer than its length once it is over */
  next(piece: Float32Array): number {
    this.typeOn()
    const count = this.modulator.next(piece)
    const { driftHzS, humShare = 0 } = this.who
    for (let i = 0; i < count; i++) {
      const atS = (this.samples + i) / SAMPLE_RATE_HZ
      const drift = Math.sign(driftHzS) * Math.min(MOST_DRIFT_HZ, Math.abs(driftHzS) * atS)
      this.phase = (this.phase + (2 * Math.PI * (this.frequencyHz + drift)) / SAMPLE_RATE_HZ) % (2 * Math.PI)
      const envelope = piece[i]!
      const hum = 1 + humShare * Math.sin(2 * Math.PI * HUM_HZ * atS)
      piece[i] = (hum * (envelope - this.bend * envelope ** 3) * Math.cos(this.phase)) / (1 - 0.75 * this.bend)
    }
    this.samples += count
    return count
  }

  /** Hands over what is typed by now. */
  private typeOn(): void {
    const { typesPerS } = this.who
    const upTo = typesPerS === undefined ? this.waiting.length : Math.floor((typesPerS * this.samples) / SAMPLE_RATE_HZ) - this.typed
    if (upTo <= 0 && this.waiting !== '') return
    this.typed += upTo
    this.modulator.type(this.waiting.slice(0, upTo))
    this.waiting = this.waiting.slice(upTo)
    if (this.waiting === '') this.modulator.end()
  }
}
