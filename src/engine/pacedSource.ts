import { SAMPLE_RATE_HZ, SLOT_MS } from '@/core/ft8'
import type { AudioSource, OnBlock } from './audioBlock'
import type { StationClock } from './stationClock'

/** The audio of a slot: 15 s at 12 kHz, or less at the end of a recording, and as it was converted when that differs. */
export interface SlotOfAudio {
  samples: Float32Array
  raw?: { channels: readonly Float32Array[]; rateHz: number }
}

/** Gives the audio of a slot; undefined when there is no more. */
export type SlotAudio = (slotIndex: number) => Promise<SlotOfAudio | undefined>

const BLOCK_MS = 100
/** The next slot is asked for this long before the present one ends: before the decoder begins, so that both work at once. */
const AHEAD_MS = 1350

export interface PacedSourceOptions {
  kind: 'recording' | 'practice'
  label: string
  clock: StationClock
  slotAudio: SlotAudio
  /** True while what the next slot will hold is not settled. It is then asked for later, at its start at the latest. */
  unsettled?: () => boolean
  onBlock: OnBlock
  onEnd: () => void
  onProblem: (error: string) => void
}

/** Plays slots of audio into the station in step with the simulated clock, which waits when a slot is not ready. */
export class PacedSource implements AudioSource {
  readonly kind: 'recording' | 'practice'
  readonly label: string
  private readonly slots = new Map<number, SlotOfAudio | 'asked' | 'end'>()
  /** True time of the simulated world up to which audio has been sent. */
  private sentUtcMs: number
  private stopped = false
  private readonly timer: ReturnType<typeof setInterval>

  constructor(private readonly options: PacedSourceOptions) {
    this.kind = options.kind
    this.label = options.label
    // On the grid of blocks, so that no block lies across the end of a slot.
    this.sentUtcMs = Math.floor(options.clock.worldUtcMs() / BLOCK_MS) * BLOCK_MS
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
    const { clock, onBlock, onEnd, unsettled } = this.options
    const nowUtcMs = clock.worldUtcMs()
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
      const samples = cut(audio.samples, SAMPLE_RATE_HZ, intoMs)
      const raw = audio.raw && {
        channels: audio.raw.channels.map((channel) => cut(channel, audio.raw!.rateHz, intoMs)),
        rateHz: audio.raw.rateHz,
      }
      onBlock({ samples, startUtcMs: clock.utcAtWorld(this.sentUtcMs), ...(raw && { raw }) })
      this.sentUtcMs += BLOCK_MS
      if (intoMs >= SLOT_MS - AHEAD_MS && !unsettled?.()) this.ask(slotIndex + 1)
      this.slots.delete(slotIndex - 2)
    }
  }
}

/** A block's worth of samples; silence after the end. */
function cut(samples: Float32Array, rateHz: number, fromMs: number): Float32Array {
  const from = Math.round((fromMs * rateHz) / 1000)
  const to = Math.round(((fromMs + BLOCK_MS) * rateHz) / 1000)
  const out = new Float32Array(to - from)
  out.set(samples.subarray(from, to))
  return out
}
