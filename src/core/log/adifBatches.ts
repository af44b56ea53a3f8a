import type { AdiProblem } from './adi'
import { readAdif } from './adif'
import type { Contact } from './contact'
import { ContactTraces } from './sameContact'

/** A part of an ADIF file, as it was read. */
export interface AdifBatch {
  /** Bytes of the file read so far. */
  at: number
  /** Records in this part, with whatever is wrong with them. */
  records: number
  /** Contacts, with the lines at which they begin; none that stood in the file before. */
  contacts: { line: number; contact: Contact }[]
  /** Contacts that stood in the file before. */
  repeated: number
  problems: AdiProblem[]
}

/** A batch ends after so many contacts, problems, or bytes without either: small enough that nothing waits long for one. */
const MOST_CONTACTS = 100
const MOST_PROBLEMS = 200
const MOST_BYTES = 1_000_000

/**
 * Reads an ADIF file in parts, contacts that stand in it twice once.
 * @param newId makes a UUID for records that carry none of ours
 */
export function* adifBatches(bytes: Uint8Array, newId: () => string): Generator<AdifBatch, void, undefined> {
  const ids = new Set<string>()
  const traces = new ContactTraces()
  const empty = (at: number): AdifBatch => ({ at, records: 0, contacts: [], repeated: 0, problems: [] })
  let batch = empty(0)
  let began = 0
  for (const { at, line, contact, problem, isRecord } of readAdif(bytes, newId)) {
    batch.at = at
    if (isRecord) batch.records++
    if (problem) batch.problems.push(problem)
    // What was practised and what was on the air are never the same.
    const practice = contact?.origin === 'practice'
    if (contact && (ids.has(contact.id) || (!practice && traces.has(contact)))) batch.repeated++
    else if (contact) {
      ids.add(contact.id)
      if (!practice) traces.add(contact)
      batch.contacts.push({ line, contact })
    }
    if (batch.contacts.length < MOST_CONTACTS && batch.problems.length < MOST_PROBLEMS && at - began < MOST_BYTES) continue
    yield batch
    batch = empty(at)
    began = at
  }
  yield { ...batch, at: bytes.length }
}
