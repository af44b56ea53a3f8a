import { TextStream } from '@/core/packet'
import type { SessionLine } from '@/core/packet/station/contracts'

/** Kept of a session at most; what is older is let go. */
const MOST_LINES = 4000
const LONGEST_LINE = 1000

/** What was said in a session, line by line. */
export class Transcript {
  lines: readonly SessionLine[] = []
  private readonly text = new TextStream()
  /** Of what they send, a line that has not ended yet. */
  private partial = ''

  constructor(
    private readonly utcMs: () => number,
    private readonly next: () => number,
  ) {}

  add(way: SessionLine['way'], text: string): void {
    this.lines = [...this.lines, { sequence: this.next(), utcMs: this.utcMs(), way, text }].slice(-MOST_LINES)
  }

  /** What they sent: it comes in pieces; lines end by CR, LF or both. */
  take(bytes: Uint8Array): void {
    const parts = (this.partial + this.text.push(bytes).replace(/\r\n?|\n/g, '\n')).split('\n')
    // One who never ends a line fills no memory with it.
    for (let last = parts.at(-1)!; last.length > LONGEST_LINE; last = parts.at(-1)!)
      parts.splice(-1, 1, last.slice(0, LONGEST_LINE), last.slice(LONGEST_LINE))
    const rest = parts.pop()!
    const isOngoing = this.partial !== ''
    parts.forEach((line, k) => (k === 0 && isOngoing ? this.replaceLast(line) : this.add('in', line)))
    if (rest !== '') {
      if (parts.length === 0 && isOngoing) this.replaceLast(rest)
      else this.add('in', rest)
    }
    this.partial = rest
  }

  private replaceLast(text: string): void {
    const at = this.lines.findLastIndex(({ way }) => way === 'in')
    this.lines = this.lines.map((line, k) => (k === at ? { ...line, text } : line))
  }
}
