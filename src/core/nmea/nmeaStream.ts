import { LONGEST_SENTENCE } from './sentence'

/** A line as it came off the link, with where its first byte stood in the stream. */
export interface NmeaLine {
  text: string
  firstByte: number
  /** Number of the byte after its last. */
  endByte: number
}

/** Longer noise without any line end is thrown away piece by piece, so that memory stays bounded. */
const LONGEST_LINE = 2 * LONGEST_SENTENCE

/**
 * Cuts a stream of bytes into lines, however the reads split or merge it. A $ starts a new line even when the one before
 * was cut off. Bytes that are no text are kept as such: the parser says what they mean.
 */
export class NmeaStream {
  private codes: number[] = []
  private firstByte = 0
  private count = 0

  /** Bytes taken so far. */
  get bytes(): number {
    return this.count
  }

  push(bytes: Uint8Array): NmeaLine[] {
    const lines: NmeaLine[] = []
    for (const byte of bytes) {
      if (byte === 0x24 && this.codes.length > 0) this.cut(lines)
      if (byte === 0x0a || byte === 0x0d) this.cut(lines)
      else {
        if (this.codes.length === 0) this.firstByte = this.count
        this.codes.push(byte)
        if (this.codes.length >= LONGEST_LINE) this.cut(lines, this.count + 1)
      }
      this.count++
    }
    return lines
  }

  private cut(lines: NmeaLine[], endByte = this.count): void {
    if (this.codes.length === 0) return
    lines.push({ text: String.fromCharCode(...this.codes), firstByte: this.firstByte, endByte })
    this.codes = []
  }
}
