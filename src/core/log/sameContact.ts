import type { Contact } from './contact'

/** What tells one contact from another when their ids do not: with whom, on which band, how, and when it began. */
export type ContactTrace = Pick<Contact, 'call' | 'band' | 'mode' | 'submode' | 'startedUtcMs'>

const MINUTE_MS = 60_000
const SECOND_MS = 1000
/** ADIF gives times of four digits or six; a time on the whole minute may be one that was cut to it. */
const isWholeMinute = (utcMs: number) => utcMs % MINUTE_MS === 0

const keyOf = ({ call, band, mode, submode, startedUtcMs }: ContactTrace) =>
  [call, band?.toLowerCase() ?? '', mode.toUpperCase(), submode?.toUpperCase() ?? '', Math.floor(startedUtcMs / MINUTE_MS)].join(' ')

/** Contacts by what tells them apart: the same call, band and mode, begun at the same time as far as it was written down. */
export class ContactTraces {
  private readonly starts = new Map<string, number[]>()

  add(trace: ContactTrace): void {
    const key = keyOf(trace)
    const known = this.starts.get(key)
    if (known) known.push(trace.startedUtcMs)
    else this.starts.set(key, [trace.startedUtcMs])
  }

  has(trace: ContactTrace): boolean {
    const { startedUtcMs } = trace
    return (this.starts.get(keyOf(trace)) ?? []).some(
      (at) => isWholeMinute(at) || isWholeMinute(startedUtcMs) || Math.floor(at / SECOND_MS) === Math.floor(startedUtcMs / SECOND_MS),
    )
  }
}
