import { SAMPLE_RATE_HZ, SLOT_MS } from '@/core/ft8'
import type { AudioBlock } from '../../station/audioBlock'

/** A slot's audio, ready to be decoded. */
export interface CollectedSlot {
  slotIndex: number
  samples: Float32Array
  /** Where the slot starts in `samples`, in seconds. */
  slotStartS: number
  /** Milliseconds of the slot for which no audio came. */
  missingMs: number
}

const PER_MS = SAMPLE_RATE_HZ / 1000
/** Audio kept from before the slot, for transmissions that start early. */
const BEFORE_MS = 2100
/** When the slot is handed over: all of a transmission up to 0.76 s late has been received, and there is time to answer. */
export const HAND_OVER_MS = 13_900
/** When a slot is handed over for a first look: a transmission in time has been received but for its last ramp. */
export const EARLY_MS = 13_250
const RING = 30 * SAMPLE_RATE_HZ
/** Stamps scatter by less than this; a larger step is a real gap or a corrected clock. */
const JITTER_SAMPLES = 0.04 * SAMPLE_RATE_HZ
/** Too little of a slot to decode. */
const LEAST_MS = 5000

/**
 * Gathers stamped blocks into slots. Within a slot, blocks follow one another without regard to the scatter of their
 * stamps; between slots the stamps rule, so that the sound device's own clock error does not add up.
 */
export class SlotCollector {
  private readonly ring = new Float32Array(RING)
  /** Sample number (UTC in samples) after the last one received. */
  private next = Number.NaN
  private first = Number.NaN
  private currentSlot = Number.NaN
  private missingSamples = 0
  private resync = true

  /** The last slot that was handed over for a first look. */
  private earlySlot = Number.NaN

  constructor(
    private readonly onSlot: (slot: CollectedSlot) => void,
    private readonly onEarly?: (slot: CollectedSlot) => void,
  ) {}

  push(block: AudioBlock): void {
    let at = Math.round(block.startUtcMs * PER_MS)
    if (Number.isNaN(this.next)) this.begin(at)
    const step = at - this.next
    if (Math.abs(step) > SAMPLE_RATE_HZ * 20) this.begin(at)
    else if (Math.abs(step) <= JITTER_SAMPLES && !this.resync) at = this.next
    else if (step > 0) this.skip(at)
    this.resync = false
    // What is stamped before the last sample repeats it (the clock was set back): the newer samples replace the older.
    for (let i = 0; i < block.samples.length; i++) this.ring[(at + i) % RING] = block.samples[i]!
    this.next = at + block.samples.length
    this.handOver()
  }

  private begin(at: number): void {
    this.first = at
    this.next = at
    this.missingSamples = 0
    this.currentSlot = Math.floor(at / PER_MS / SLOT_MS)
  }

  private skip(to: number): void {
    for (let i = this.next; i < to; i++) this.ring[i % RING] = 0
    if (to - this.next > JITTER_SAMPLES) this.missingSamples += to - this.next
    this.next = to
  }

  private handOver(): void {
    for (;;) {
      const startSample = this.currentSlot * SLOT_MS * PER_MS
      if (this.onEarly && this.earlySlot !== this.currentSlot && this.next >= startSample + EARLY_MS * PER_MS) {
        this.earlySlot = this.currentSlot
        // A block that brings the whole slot leaves nothing to be early for.
        if (this.next < startSample + HAND_OVER_MS * PER_MS) this.cut(startSample + EARLY_MS * PER_MS, this.onEarly)
      }
      if (this.next < startSample + HAND_OVER_MS * PER_MS) return
      this.cut(startSample + HAND_OVER_MS * PER_MS, this.onSlot)
      this.currentSlot++
      this.missingSamples = 0
      this.resync = true
    }
  }

  /** Hands over what there is of the current slot up to a sample. */
  private cut(end: number, to: (slot: CollectedSlot) => void): void {
    const startSample = this.currentSlot * SLOT_MS * PER_MS
    const from = Math.max(this.first, startSample - BEFORE_MS * PER_MS, this.next - RING)
    const lateMs = Math.max(0, from - startSample) / PER_MS
    if (end - from < LEAST_MS * PER_MS) return
    const samples = new Float32Array(end - from)
    for (let i = 0; i < samples.length; i++) samples[i] = this.ring[(from + i) % RING]!
    to({
      slotIndex: this.currentSlot,
      samples,
      slotStartS: (startSample - from) / SAMPLE_RATE_HZ,
      missingMs: Math.round(this.missingSamples / PER_MS + lateMs),
    })
  }
}
