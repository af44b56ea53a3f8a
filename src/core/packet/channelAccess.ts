import type { KissParameters } from './kissParameters'

/** When one who has something to send may begin on a channel that others use: by chance, slot by slot, as KISS has it. */
export interface AccessState {
  /** No draw before that. */
  nextSlotMs?: number
}

export interface AccessLook {
  nowMs: number
  /** Whether something is to be sent. */
  waits: boolean
  /** Whether anybody is heard to send. */
  busy: boolean
  /** Drawn anew for each look, from 0 up to 1. */
  draw: number
}

/** Looks at the channel. @returns whether to begin now, and what to go on from */
export function lookAtChannel(
  state: AccessState,
  { nowMs, waits, busy, draw }: AccessLook,
  { persistence, slotTimeMs, fullDuplex }: KissParameters,
): { state: AccessState; begin: boolean } {
  if (!waits) return { state: {}, begin: false }
  if (fullDuplex) return { state: {}, begin: true }
  // All who waited see the channel become free at once: the first slot after that is drawn for like every other one.
  if (busy) return { state: {}, begin: false }
  if (state.nextSlotMs !== undefined && nowMs < state.nextSlotMs) return { state, begin: false }
  if (draw < persistence) return { state: {}, begin: true }
  return { state: { nextSlotMs: nowMs + slotTimeMs }, begin: false }
}

/** What was heard of a channel in its last minutes. */
export interface ChannelUse {
  /** So long it was listened to: the window, or less after the begin. */
  overS: number
  /** Shares of the time in which others and we ourselves sent. */
  othersShare: number
  ownShare: number
  /** Transmissions of others, and those of them that no frame could be read from: collided, or too weak. */
  bursts: number
  spoiled: number
}

/** Shorter than the shortest frame at any speed: a click, no transmission. */
const LEAST_BURST_MS = 60
/** The modem is late with a frame by so much after its lock ended. */
const FRAME_LATE_MS = 400

interface Burst {
  fromMs: number
  toMs: number
  frames: number
}

/** Keeps account of who used a channel over the last minutes. */
export class ChannelUsage {
  private others: Burst[] = []
  private own: Burst[] = []
  private open: Burst | undefined
  private sinceMs: number | undefined

  constructor(private readonly windowMs: number) {}

  /** What the modem hears now. @param frames whole ones that it has read since the last time */
  look(nowMs: number, carrier: boolean, frames: number): void {
    this.sinceMs ??= nowMs
    if (carrier && !this.open) this.open = { fromMs: nowMs, toMs: nowMs, frames: 0 }
    if (this.open) this.open.toMs = nowMs
    const last = this.open ?? this.others.at(-1)
    if (frames > 0 && last && nowMs - last.toMs < FRAME_LATE_MS) last.frames += frames
    // A frame may be whole before the lock of the modem is sure: it was a transmission all the same.
    else if (frames > 0) this.others.push({ fromMs: nowMs - LEAST_BURST_MS, toMs: nowMs, frames })
    if (!carrier && this.open) {
      if (this.open.toMs - this.open.fromMs >= LEAST_BURST_MS || this.open.frames > 0) this.others.push(this.open)
      this.open = undefined
    }
    this.others = this.others.filter(({ toMs }) => toMs > nowMs - this.windowMs)
    this.own = this.own.filter(({ toMs }) => toMs > nowMs - this.windowMs)
  }

  sent(fromMs: number, toMs: number): void {
    this.sinceMs ??= fromMs
    this.own.push({ fromMs, toMs, frames: 0 })
  }

  at(nowMs: number): ChannelUse {
    const startMs = Math.max(nowMs - this.windowMs, this.sinceMs ?? nowMs)
    const lengthMs = Math.max(1000, nowMs - startMs)
    const share = (bursts: readonly Burst[]) =>
      Math.min(
        1,
        bursts.reduce((sum, { fromMs, toMs }) => sum + Math.max(0, Math.min(nowMs, toMs) - Math.max(startMs, fromMs)), 0) / lengthMs,
      )
    // What ended just now may still be read.
    const judged = this.others.filter(({ toMs }) => toMs < nowMs - FRAME_LATE_MS)
    return {
      overS: lengthMs / 1000,
      othersShare: share(this.open ? [...this.others, this.open] : this.others),
      ownShare: share(this.own),
      bursts: judged.length,
      spoiled: judged.filter(({ frames }) => frames === 0).length,
    }
  }
}
