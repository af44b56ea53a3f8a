import { SAMPLE_RATE_HZ } from '@/core/dsp'
import type { SampleClock } from '@/core/levels'

/** A stretch of received audio: 12 kHz, mono, stamped by the timebase. */
export interface AudioBlock {
  samples: Float32Array
  /** UTC of the first sample. */
  startUtcMs: number
  /** The same stretch as it was converted, for the level coach: each channel, at its own rate. Absent when that is `samples`. */
  raw?: { channels: readonly Float32Array[]; rateHz: number }
}

/** What a source can say of itself beyond its samples. */
export interface SourceFacts {
  processing: readonly string[]
  lostBlocks: number
  sampleClock?: SampleClock
}

/** Where audio comes from: all kinds enter the station by this one door. */
export interface AudioSource {
  readonly kind: 'microphone' | 'recording' | 'practice'
  /** Name of the device, file or band, for the screen. */
  readonly label: string
  stop(): void
  facts?(): SourceFacts
}

export type OnBlock = (block: AudioBlock) => void

/** A block as it was converted: each channel at its own rate. */
export const convertedOf = (block: AudioBlock) => block.raw ?? { channels: [block.samples], rateHz: SAMPLE_RATE_HZ }

/** Lays blocks at their instants into one stretch that begins at `startUtcMs`; what is missing stays silent. */
export function assemble(blocks: readonly AudioBlock[], startUtcMs: number): Float32Array {
  const sampleAt = (utcMs: number) => Math.round(((utcMs - startUtcMs) / 1000) * SAMPLE_RATE_HZ)
  const last = blocks[blocks.length - 1]
  const length = last ? Math.max(0, sampleAt(last.startUtcMs) + last.samples.length) : 0
  const out = new Float32Array(length)
  for (const { samples, startUtcMs: blockStart } of blocks) {
    const at = sampleAt(blockStart)
    if (at + samples.length <= 0) continue
    out.set(at < 0 ? samples.subarray(-at) : samples.subarray(0, length - at), Math.max(0, at))
  }
  return out
}
