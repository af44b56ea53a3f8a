import { SLOT_MS, type Ft8Decode } from '@/core/ft8'
import type { HeardReport } from '@/core/station/heardContract'

/** What a slot's decodes were heard with. */
export interface HeardCircumstances {
  slotIndex: number
  source: HeardReport['source']
  dialFrequencyHz: number | null
  clockUncertaintyMs: number | null
}

const MOST_WAITING = 2000
const BATCH = 500

/** Sends decodes to be kept. They are evidence, not contacts: without a server the oldest are let go. */
export class HeardKeeper {
  private waiting: HeardReport[] = []

  constructor(
    private readonly newId: () => string,
    private readonly send: (reports: HeardReport[]) => Promise<boolean>,
  ) {}

  async keep(decodes: readonly Ft8Decode[], { slotIndex, source, dialFrequencyHz, clockUncertaintyMs }: HeardCircumstances): Promise<void> {
    for (const d of decodes) {
      this.waiting.push({
        id: this.newId(),
        slotUtcMs: slotIndex * SLOT_MS,
        mode: 'FT8',
        source,
        text: d.text,
        call: 'from' in d.message ? (d.message.from ?? null) : null,
        snrDb: d.snrDb,
        timeOffsetS: d.timeOffsetS,
        audioOffsetHz: d.frequencyHz,
        dialFrequencyHz,
        clockUncertaintyMs,
        pass: d.pass,
      })
    }
    this.waiting = this.waiting.slice(-MOST_WAITING)
    const batch = this.waiting.slice(0, BATCH)
    if (batch.length === 0 || !(await this.send(batch))) return
    const sent = new Set(batch.map((report) => report.id))
    this.waiting = this.waiting.filter((report) => !sent.has(report.id))
  }
}
