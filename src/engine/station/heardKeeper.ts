import type { HeardReport } from '@/core/station/heardContract'
import { SendLater } from './sendLater'

/** One thing heard, as its mode tells it. */
export type HeardEvent = Omit<HeardReport, 'id' | 'source' | 'dialFrequencyHz' | 'clockUncertaintyMs' | 'place'>

/** What it was heard with. */
export type HeardCircumstances = Pick<HeardReport, 'source' | 'dialFrequencyHz' | 'clockUncertaintyMs'>

const MOST_WAITING = 2000
const BATCH = 500

/** Sends what is heard to be kept, in every mode. It is evidence, not contacts: without a server the oldest is let go. */
export class HeardKeeper {
  private readonly queue: SendLater<HeardReport>

  constructor(
    private readonly newId: () => string,
    send: (reports: HeardReport[]) => Promise<boolean>,
    /** Undefined while nothing is listened to. */
    private readonly circumstances: () => HeardCircumstances | undefined,
    /** Real time of what a practice band dated. */
    private readonly realUtcAt: (utcMs: number) => number,
  ) {
    this.queue = new SendLater(send, { mostWaiting: MOST_WAITING, batch: BATCH })
  }

  async keep(events: readonly HeardEvent[]): Promise<void> {
    const around = this.circumstances()
    if (!around) return
    const dated = (event: HeardEvent) =>
      around.source === 'practice'
        ? { ...event, startUtcMs: this.realUtcAt(event.startUtcMs), endUtcMs: this.realUtcAt(event.endUtcMs) }
        : event
    this.queue.add(events.map((event) => ({ id: this.newId(), place: null, ...dated(event), ...around })))
    await this.queue.flush()
  }
}
