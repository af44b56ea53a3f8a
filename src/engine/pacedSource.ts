import { SAMPLE_RATE_HZ, SLOT_MS } from '@/core/ft8'
import type { AudioSource, OnBlock } from './audioBlock'
import type { StationClock } from './stationClock'

/** Gives the audio of a slot, 15 s at 12 kHz or less at the end of a recording; undefined when there is no more. */
export type SlotAudio = (slotIndex: number) => Promise<Float32Array | undefined>

const BLOCK_MS = 100
const BLOCK_SAMPLES = (SAMPLE_RATE_HZ * BLOCK_MS) / 1000
/** The next slot is asked for this long before the present one ends. */
const AHEAD_MS = 900

export interface PacedSourceOptions {
  kind: 'recording' | 'practice'
  label: string
  clock: StationClock
  slotAudio: SlotAudio
  onBlock: OnBlock
  onEnd: () => void
  onProblem: (error: string) => void
}

/** Plays slots of audio into the station in step with the simulated clock, which waits when a slot is not ready. */
export class PacedSource implements AudioSource {
  readonly kind: 'recording' | 'practice'
  readonly label: string
  private readonly slots = new Map<number, Float32Array | 'asked' | 'end'>()
  private sentUtcMs: number
  private stopped = false
  private readonly timer: ReturnType<typeof setInterval>

  constructor(private readonly options: PacedSourceOptions) {
    this.kind = options.kind
    this.label = options.label
    this.sentUtcMs = options.clock.nowUtcMs()
    this.ask(Math.floor(this.sentUtcMs / SLOT_MS))
    this.timer = setInterval(() => this.advance(), 25)
  }

  stop(): void {
    this.stopped = true
    clearInterval(this.timer)
  }

  private ask(slotIndex: number): void {
    if (this.slots.has(slotIndex)) return
    this.slots.set(slotIndex, 'asked')
    this.options
      .slotAudio(slotIndex)
      .then((samples) => this.slots.set(slotIndex, samples ?? 'end'))
      .catch((error: unknown) => this.options.onProblem((error as Error).message))
  }

  private advance(): void {
    const { clock, onBlock, onEnd } = this.options
    const nowUtcMs = clock.nowUtcMs()
    while (!this.stopped && this.sentUtcMs + BLOCK_MS <= nowUtcMs) {
      const slotIndex = Math.floor(this.sentUtcMs / SLOT_MS)
      const audio = this.slots.get(slotIndex)
      if (audio === 'end') {
        this.stop()
        onEnd()
        return
      }
      if (audio === undefined || audio === 'asked') {
        clock.hold('slot audio')
        this.ask(slotIndex)
        return
      }
      clock.release('slot audio')
      const intoMs = this.sentUtcMs - slotIndex * SLOT_MS
      const from = Math.round((intoMs * SAMPLE_RATE_HZ) / 1000)
      const samples = new Float32Array(BLOCK_SAMPLES)
      samples.set(audio.subarray(from, from + BLOCK_SAMPLES))
      onBlock({ samples, startUtcMs: this.sentUtcMs })
      this.sentUtcMs += BLOCK_MS
      if (intoMs >= SLOT_MS - AHEAD_MS) this.ask(slotIndex + 1)
      this.slots.delete(slotIndex - 2)
    }
  }
}
