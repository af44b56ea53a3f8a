import type { ClockHistoryEntry } from '@/core/links'

const EVERY_MS = 60_000
const SEND_EVERY_MS = 20_000
const MOST_WAITING = 1000
const BATCH = 200

/** Gathers the clock's history and sends it to be kept; without a server the oldest points are let go. */
export class ClockRecorder {
  private waiting: ClockHistoryEntry[] = []
  private readonly lastBySource = new Map<string, number>()
  private lastSentMs = -Infinity
  private sending = false

  constructor(
    private readonly newId: () => string,
    private readonly send: (entries: ClockHistoryEntry[]) => Promise<boolean>,
  ) {}

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
    this.waiting = [...this.waiting, entry].slice(-MOST_WAITING)
  }

  /** Sends what waits, now and then. */
  tick(monotonicMs: number): void {
    if (this.sending || this.waiting.length === 0 || monotonicMs - this.lastSentMs < SEND_EVERY_MS) return
    this.lastSentMs = monotonicMs
    this.sending = true
    const batch = this.waiting.slice(0, BATCH)
    void this.send(batch)
      .then((sent) => {
        if (!sent) return
        const ids = new Set(batch.map((e) => e.id))
        this.waiting = this.waiting.filter((e) => !ids.has(e.id))
      })
      .finally(() => (this.sending = false))
  }
}
