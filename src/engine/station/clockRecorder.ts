import type { ClockHistoryEntry } from '@/core/links'
import { SendLater } from './sendLater'

const EVERY_MS = 60_000
const SEND_EVERY_MS = 20_000
const MOST_WAITING = 1000
const BATCH = 200

/** Gathers the clock's history and sends it to be kept; without a server the oldest points are let go. */
export class ClockRecorder {
  private readonly queue: SendLater<ClockHistoryEntry>
  private readonly lastBySource = new Map<string, number>()
  private lastSentMs = -Infinity

  constructor(
    private readonly newId: () => string,
    send: (entries: ClockHistoryEntry[]) => Promise<boolean>,
  ) {
    this.queue = new SendLater(send, { mostWaiting: MOST_WAITING, batch: BATCH })
  }

  /** Notes a reading, at most one a minute from each source. */
  reading(entry: Omit<ClockHistoryEntry, 'id' | 'kind'>): void {
    const last = this.lastBySource.get(entry.source)
    if (last !== undefined && Math.abs(entry.utcMs - last) < EVERY_MS) return
    this.lastBySource.set(entry.source, entry.utcMs)
    this.add({ ...entry, id: this.newId(), kind: 'reading' })
  }

  note(entry: Omit<ClockHistoryEntry, 'id'>): void {
    this.add({ ...entry, id: this.newId() })
  }

  private add(entry: ClockHistoryEntry): void {
    this.queue.add([entry])
  }

  /** Sends what waits, now and then. */
  tick(monotonicMs: number): void {
    if (this.queue.isEmpty || monotonicMs - this.lastSentMs < SEND_EVERY_MS) return
    this.lastSentMs = monotonicMs
    void this.queue.flush()
  }
}
