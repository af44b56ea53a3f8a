import { z } from 'zod'

/** What can be wrong with a line itself, whatever is at its ends. */
export const LINE_FAULTS = {
  drops: 'every second piece is lost',
  late: 'everything comes 1.5 s late',
  frozen: 'nothing passes; what is held comes when it thaws',
  halfOpen: 'takes everything and passes on nothing',
  hangsUp: 'takes each call and ends it at once',
} as const
export type LineFault = keyof typeof LINE_FAULTS
export const lineFaultSchema = z.enum(Object.keys(LINE_FAULTS) as [LineFault, ...LineFault[]])

/** Ways of a line: `out` to the device, `in` from it. */
export type LineWay = 'out' | 'in'

const LATE_MS = 1500

/** A line whose faults can be chosen while it is in use. Whoever runs it keeps the time: it only says what becomes of each piece. */
export class FaultyLine {
  private readonly held: { way: LineWay; bytes: Uint8Array }[] = []
  private pieces: Record<LineWay, number> = { out: 0, in: 0 }
  private lastMs: Record<LineWay, number> = { out: -Infinity, in: -Infinity }

  constructor(private readonly faults: () => ReadonlySet<LineFault> = () => new Set()) {}

  get hangsUp(): boolean {
    return this.faults().has('hangsUp')
  }

  get frozen(): boolean {
    return this.faults().has('frozen')
  }

  /** Whether an order that is no bytes, such as setting a key line, reaches the other end; those under way wait for a thaw. */
  get deaf(): boolean {
    return this.faults().has('halfOpen')
  }

  /** @returns how much later a piece comes out at the other end; undefined when it does not, or not yet */
  pass(way: LineWay, bytes: Uint8Array, nowMs: number): number | undefined {
    const faults = this.faults()
    if (faults.has('halfOpen')) return undefined
    if (faults.has('frozen') || this.held.length > 0) {
      this.held.push({ way, bytes })
      return undefined
    }
    if (faults.has('drops') && this.pieces[way]++ % 2 === 0) return undefined
    return this.laterMs(way, nowMs + (faults.has('late') ? LATE_MS : 0), nowMs)
  }

  /** What was held while it was frozen and comes out now, in its order. */
  thawed(nowMs: number): { way: LineWay; bytes: Uint8Array; laterMs: number }[] {
    if (this.frozen) return []
    return this.held.splice(0).map((piece) => ({ ...piece, laterMs: this.laterMs(piece.way, nowMs, nowMs) }))
  }

  /** Lines do not put what they carry into another order. */
  private laterMs(way: LineWay, dueMs: number, nowMs: number): number {
    this.lastMs[way] = Math.max(this.lastMs[way], dueMs)
    return this.lastMs[way] - nowMs
  }

  /** The line was closed: what it held is lost. */
  closed(): void {
    this.held.length = 0
  }
}
