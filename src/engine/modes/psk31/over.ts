import { BAUD, isSendable, Psk31Modulator, type Baud } from '@/core/psk31'
import type { SampleStream } from '../../station/audioOutput'

/** Without anything typed for so long an over ends by itself: an idling transmitter is in everybody's way. */
const LONGEST_IDLE_MS = 20_000
/** It is brought to its end so long before it would be cut off. */
const END_BEFORE_MS = 4000

/** One over that is being sent: typed text, and how much of it is out at a time. */
export class Over {
  private modulator: Psk31Modulator | undefined
  private typed = ''
  /** After so many samples pulled, so many characters were out. */
  private readonly marks: { samples: number; characters: number }[] = []
  private pulled = 0
  private rateHz = 1
  private ending = false
  private idleSinceMs: number | undefined

  constructor(
    readonly frequencyHz: number,
    private readonly amplitude: number,
    private readonly baud: Baud = BAUD,
  ) {}

  get isEnding(): boolean {
    return this.ending
  }

  /** All that is to be sent. */
  get text(): string {
    return this.typed
  }

  /** Adds what can be sent. */
  type(text: string): void {
    const good = [...text].filter(isSendable).join('')
    this.typed += good
    this.modulator?.type(good)
  }

  /** Takes back what has not begun to go out. @returns it */
  takeBack(): string {
    const kept = this.modulator ? this.typed.length - this.modulator.takeBack() : 0
    const taken = this.typed.slice(kept)
    this.typed = this.typed.slice(0, kept)
    return taken
  }

  /** Ends when everything is out. */
  end(): void {
    this.ending = true
    this.modulator?.end()
  }

  open(sampleRateHz: number): SampleStream {
    const modulator = new Psk31Modulator({ sampleRateHz, frequencyHz: this.frequencyHz, amplitude: this.amplitude, baud: this.baud })
    this.modulator = modulator
    this.rateHz = sampleRateHz
    modulator.type(this.typed)
    if (this.ending) modulator.end()
    return {
      next: (out) => {
        const count = modulator.next(out)
        this.pulled += count
        this.marks.push({ samples: this.pulled, characters: modulator.charactersSent })
        return count
      },
    }
  }

  /** How many characters were out so long after it began: it is pulled ahead of that. */
  sentAfter(elapsedMs: number): number {
    const samples = (elapsedMs / 1000) * this.rateHz
    while (this.marks.length > 1 && this.marks[1]!.samples <= samples) this.marks.shift()
    const [mark] = this.marks
    return mark && mark.samples <= samples ? mark.characters : 0
  }

  /** Ends what has nothing more to say, or would be cut off. */
  watch(nowUtcMs: number, mustEndUtcMs: number, sent: number): void {
    const tooLong = nowUtcMs > mustEndUtcMs - END_BEFORE_MS
    // Also of one that is ending, but has too much to say before it does.
    if (tooLong) this.takeBack()
    if (this.ending) return
    const idle = sent >= this.typed.length
    this.idleSinceMs = idle ? (this.idleSinceMs ?? nowUtcMs) : undefined
    if (tooLong || (this.idleSinceMs !== undefined && nowUtcMs - this.idleSinceMs > LONGEST_IDLE_MS)) this.end()
  }
}
