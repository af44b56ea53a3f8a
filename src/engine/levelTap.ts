import { measureLevel, type LevelReading } from '@/core/audio'
import { SAMPLE_RATE_HZ } from '@/core/ft8'
import type { AudioBlock } from './audioBlock'

const EVERY_MS = 250

/** Measures the level of the stream several times a second. */
export class LevelTap {
  private gathered: Float32Array[] = []
  private sinceMs = Number.NEGATIVE_INFINITY

  constructor(
    private readonly monotonicMs: () => number,
    private readonly onReading: (reading: LevelReading & { utcMs: number }) => void,
  ) {}

  push(block: AudioBlock): void {
    this.gathered.push(block.samples)
    const nowMs = this.monotonicMs()
    if (nowMs - this.sinceMs < EVERY_MS) return
    this.sinceMs = nowMs
    const joined = new Float32Array(this.gathered.reduce((sum, samples) => sum + samples.length, 0))
    let at = 0
    for (const samples of this.gathered) {
      joined.set(samples, at)
      at += samples.length
    }
    this.gathered = []
    if (joined.length > 0) this.onReading({ ...measureLevel(joined, SAMPLE_RATE_HZ), utcMs: block.startUtcMs })
  }
}
