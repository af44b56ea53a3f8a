import { randomUUID } from 'node:crypto'
import type { MonitorFrame } from '@/core/packet/station/contracts'
import type { HeardReport } from '@/core/station/heardContract'
import { storable } from '@/core/log/storable'

const AFTER_MS = 3000
const MOST_WAITING = 2000

/** A frame that a TNC heard, as it is kept among all that was heard. */
export function reportOf({ utcMs, line, from, hex }: MonitorFrame, practice: boolean): HeardReport {
  return {
    ...{ id: randomUUID(), mode: 'packet', source: practice ? 'practice' : 'microphone', startUtcMs: utcMs, endUtcMs: utcMs },
    ...{ text: storable(line), call: from, locator: null, snrDb: null, place: null, audioOffsetHz: null, dialFrequencyHz: null },
    ...{ clockUncertaintyMs: null, details: { hex } },
  }
}

/** Frames on their way to the database, many at once: a busy channel must not ask it for each. */
export class FrameBatch {
  private waiting: HeardReport[] = []
  private timer: ReturnType<typeof setTimeout> | undefined

  constructor(private readonly store: (reports: readonly HeardReport[]) => Promise<void>) {}

  add(report: HeardReport): void {
    this.waiting = [...this.waiting, report].slice(-MOST_WAITING)
    this.timer ??= setTimeout(() => void this.flush(), AFTER_MS)
    this.timer.unref()
  }

  private async flush(): Promise<void> {
    this.timer = undefined
    const { waiting } = this
    this.waiting = []
    // A database that is closing keeps nothing any more: it is evidence, no contact.
    await this.store(waiting).catch(() => undefined)
  }
}
