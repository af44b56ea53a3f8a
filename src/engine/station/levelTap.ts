import { measureLevel, type LevelReading } from '@/core/audio'
import { convertedOf, type AudioBlock } from './audioBlock'
import { joinSamples } from '@/core/dsp'

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
    // Where it is converted a clipped wave still has its flat top.
    const { channels, rateHz } = convertedOf(block)
    this.gathered.push(louder(channels))
    const nowMs = this.monotonicMs()
    if (nowMs - this.sinceMs < EVERY_MS) return
    this.sinceMs = nowMs
    const joined = joinSamples(this.gathered)
    this.gathered = []
    if (joined.length > 0) this.onReading({ ...measureLevel(joined, rateHz), utcMs: block.startUtcMs })
  }
}

function louder(channels: readonly Float32Array[]): Float32Array {
  const energy = channels.map((samples) => samples.reduce((sum, value) => sum + value * value, 0))
  return channels[energy.indexOf(Math.max(...energy))] ?? channels[0]!
}
