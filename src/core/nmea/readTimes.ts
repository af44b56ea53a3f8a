/** A read: the number of the byte after its last one, and when it came. */
export interface Read {
  endByte: number
  monotonicMs: number
}

/** Ten seconds of single bytes at 4800 baud, and some more. */
const KEPT_READS = 6000
/** Reads this close together waited for the same moment. */
const CLUSTER_MS = 5

/** When the bytes of a stream arrived, as far back as bursts and the load of the line need it. */
export class ReadTimes {
  private reads: Read[] = []

  get last(): Read | undefined {
    return this.reads.at(-1)
  }

  push(read: Read): void {
    this.reads.push(read)
    if (this.reads.length > KEPT_READS) this.reads.splice(0, KEPT_READS / 4)
  }

  /** The newest reads, the oldest first. */
  newest(count: number): readonly Read[] {
    return this.reads.slice(-count)
  }

  /** Index of the first read that ends beyond a byte. */
  private indexOf(byte: number): number {
    return firstIndex(this.reads, (read) => read.endByte > byte)
  }

  /** When a byte left at the latest, by the reads from it on up to another one. */
  leftBy(byte: number, beforeByte: number, byteMs: number): number {
    let leastMs = Infinity
    for (let i = this.indexOf(byte); i < this.reads.length && this.reads[i]!.endByte <= beforeByte; i++)
      leastMs = Math.min(leastMs, this.reads[i]!.monotonicMs - (this.reads[i]!.endByte - byte) * byteMs)
    return leastMs
  }

  /** The read that holds a byte. */
  holding(byte: number): Read | undefined {
    return this.reads[this.indexOf(byte)]
  }

  /**
   * The reads of a burst: from its first byte on to the read that holds its last, and on while they end before `limitByte`
   * and within it; at most so many of them.
   */
  ofBurst(firstByte: number, endByte: number, limitByte: number, most: number): readonly Read[] {
    const from = this.indexOf(firstByte)
    let to = from
    while (to < this.reads.length) {
      const before = to === 0 ? 0 : this.reads[to - 1]!.endByte
      if (this.reads[to]!.endByte > limitByte || before >= endByte) break
      to++
    }
    // Of very many reads some spread over the burst tell as much.
    const every = Math.ceil((to - from) / most)
    return this.reads.slice(from, to).filter((_, i) => i % every === 0)
  }

  /** How busy a line was over the last stretch: how long that was, and which share of it the bytes filled. */
  busy(forMs: number, byteMs: number): { spanMs: number; share: number } {
    const { reads, last } = this
    if (!last) return { spanMs: 0, share: 0 }
    let first = firstIndex(reads, (read) => last.monotonicMs - read.monotonicMs <= forMs)
    // Reads close together at the beginning waited for the same moment, and their bytes are of before it.
    while (first + 1 < reads.length && reads[first + 1]!.monotonicMs - reads[first]!.monotonicMs < CLUSTER_MS) first++
    const spanMs = last.monotonicMs - reads[first]!.monotonicMs
    return { spanMs, share: spanMs <= 0 ? 0 : ((last.endByte - reads[first]!.endByte) * byteMs) / spanMs }
  }
}

/** Index of the first read of which something holds that holds of all later ones, too. */
function firstIndex(reads: readonly Read[], holds: (read: Read) => boolean): number {
  let low = 0
  let high = reads.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (holds(reads[middle]!)) high = middle
    else low = middle + 1
  }
  return low
}
