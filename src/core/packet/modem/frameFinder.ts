import { parseAx25 } from '../ax25Frame'
import { CorrectionReader } from './correction'
import { HdlcReader } from './hdlcReader'

/** What was found in line levels, with its place. */
export interface FoundFrame {
  bytes: Uint8Array
  mended: number
  corrected?: number
  /** Levels from its begin to the newest one. */
  levels: number
}

const isCredible = (bytes: Uint8Array): boolean => parseAx25(bytes).ok

/** Frames in line levels, with and without error correction, each once. */
export class FrameFinder {
  private readonly plain: HdlcReader
  private readonly corrected = new CorrectionReader(isCredible)
  private count = 0
  private last: { bytes: Uint8Array; at: number } | undefined

  /** @param pattern levels that one wrong bit on the air spoils, from the first of them on */
  constructor(pattern: readonly number[] = [0]) {
    this.plain = new HdlcReader(isCredible, pattern)
  }

  /** @param llr logarithm of how much likelier the level is a one than a zero */
  push(llr: number): FoundFrame | undefined {
    this.count++
    const block = this.corrected.push(llr)
    const frame = this.plain.push(llr)
    if (frame) {
      this.last = { bytes: frame.bytes, at: this.count }
      return frame
    }
    // What stood in a block and was read without it already is not told twice.
    if (!block || (this.last && this.count - this.last.at < block.levels && alike(this.last.bytes, block.bytes))) return undefined
    return { bytes: block.bytes, mended: 0, corrected: block.corrected, levels: block.levels }
  }
}

const alike = (a: Uint8Array, b: Uint8Array) => a.length === b.length && a.every((byte, k) => byte === b[k])
