import { contactSchema, type Contact } from '@/core/log'
import type { Database } from '../db/database'
import { applyEntries, knownIds, readContact, readJournalMark, recordsOf, storedRevisions, tracesOf } from './contactRepository'
import { createInOrder } from '../inOrder'
import { TotalsCache } from './totalsCache'
import { newestEntries, openJournal, type Journal, type JournalEntry, type Replay } from './journal'

export type LogProblem = { ok: false; status: 404 | 409 | 422 | 507; error: string }
export type LogResult<T> = { ok: true; value: T } | LogProblem

/** Whether the database found the data themselves impossible (SQLSTATE class 22 or 23), and not that it could not store at all. */
function isDataError(error: unknown): boolean {
  for (let at: unknown = error; at instanceof Error; at = at.cause) {
    const { code } = at as { code?: unknown }
    if (typeof code === 'string' && /^2[23]/.test(code)) return true
  }
  return false
}

/** Brings entries of the journal into the database. @returns sequence numbers that it will not have; the others must not suffer for them */
async function applyAll(database: Database, entries: readonly JournalEntry[], nowUtcMs: number): Promise<number[]> {
  try {
    await applyEntries(database, entries, nowUtcMs)
    return []
  } catch (error) {
    if (!isDataError(error)) throw error
    if (entries.length === 1) return [entries[0]!.sequence]
  }
  const middle = entries.length >> 1
  const first = await applyAll(database, entries.slice(0, middle), nowUtcMs)
  return [...first, ...(await applyAll(database, entries.slice(middle), nowUtcMs))]
}

/**
 * Compares database and journal contact by contact, for after a power cut the database may have lost any part of what it said.
 * What it lacks is applied again; what only it has is written into the journal.
 * @throws when the database cannot hold what the journal has: it is damaged
 */
async function reconcile(database: Database, journal: Journal, path: string, replay: Replay, nowUtcMs: number): Promise<void> {
  const lacking = async () => {
    const stored = await storedRevisions(database)
    return { stored, lost: [...replay.held].flatMap(([id, revision]) => ((stored.get(id) ?? 0) < revision ? [id] : [])) }
  }
  const { stored, lost } = await lacking()
  if (lost.length > 0) {
    const entries = await newestEntries(path, new Set(lost))
    const impossible = new Set<number>()
    for (let from = 0; from < entries.length; from += 500)
      for (const sequence of await applyAll(database, entries.slice(from, from + 500), nowUtcMs)) impossible.add(sequence)
    const possible = new Set(entries.flatMap((e) => (impossible.has(e.sequence) ? [] : [e.contact.id])))
    const still = (await lacking()).lost.filter((id) => possible.has(id)).length
    if (still > 0) throw new Error(`it does not hold ${still} contacts of the journal though they were given to it again`)
    replay.restored = possible.size
  }
  const onlyStored = [...stored.keys()].filter((id) => !replay.held.has(id))
  for (let from = 0; from < onlyStored.length; from += 500) {
    const records = await recordsOf(database, onlyStored.slice(from, from + 500))
    await journal.append(records)
    replay.rewritten += records.length
  }
}

const revisionOf = ({ id, revision }: Contact) => `${id} ${revision}`
const notTaken = ({ call }: Contact): LogProblem => ({
  ok: false,
  status: 422,
  error: `The database does not take the contact with ${call}. It stands in the journal of the log and is not lost.`,
})

/** The log: every change goes to the journal on the disk first, then to the database. */
export class Logbook {
  /** Changes are made one after another: an edit must see the revision before it. */
  private readonly inTurn = createInOrder()

  private constructor(
    private readonly database: Database,
    private readonly journal: Journal,
    private readonly now: () => number,
    readonly replay: Replay,
  ) {}

  /** Revisions that the database will not have. */
  private readonly impossible = new Set<string>()

  /** Totals of the log as it stands. */
  readonly totals = new TotalsCache()

  static async open(database: Database, journalPath: string, now: () => number): Promise<Logbook> {
    const mark = await readJournalMark(database)
    const { journal, replay } = await openJournal(journalPath, mark, (entries) => applyAll(database, entries, now()))
    await reconcile(database, journal, journalPath, replay, now())
    return new Logbook(database, journal, now, replay)
  }

  /** Stores contacts made elsewhere. Those already known with this revision or a newer one are left as they are. */
  store(made: readonly Contact[]): Promise<LogResult<{ stored: string[] }>> {
    return this.inTurn(async () => {
      const fresh: Contact[] = []
      for (const contact of made) {
        const known = await readContact(this.database, contact.id)
        if (!known || known.contact.revision < contact.revision) fresh.push(contact)
      }
      // What stands in the journal already, and is not taken by the database, is not written down again with every try.
      const impossible = fresh.find((contact) => this.impossible.has(revisionOf(contact)))
      if (impossible) return notTaken(impossible)
      const written = await this.write(fresh)
      if (!written.ok) return written
      return written.refused[0] ? notTaken(written.refused[0]) : { ok: true, value: { stored: made.map((c) => c.id) } }
    })
  }

  /** Changes fields of a contact. `revision` is the one that the editor saw: a change made meanwhile is not overwritten. */
  edit(id: string, revision: number, change: Partial<Contact>): Promise<LogResult<Contact>> {
    return this.inTurn(async () => {
      const known = await readContact(this.database, id)
      if (!known) return { ok: false, status: 404, error: 'This contact is not in the log.' }
      if (known.contact.revision !== revision)
        return { ok: false, status: 409, error: 'This contact was changed elsewhere meanwhile. Look at it again, then repeat your change.' }
      const parsed = contactSchema.safeParse({ ...known.contact, ...change, id, revision: revision + 1 })
      if (!parsed.success) {
        const issue = parsed.error.issues[0]!
        return { ok: false, status: 422, error: `${issue.path.join('.')}: ${issue.message}` }
      }
      const written = await this.write([parsed.data])
      if (!written.ok) return written
      return written.refused[0] ? notTaken(written.refused[0]) : { ok: true, value: parsed.data }
    })
  }

  /** Marks a contact deleted; it can be restored. */
  remove(id: string, revision: number): Promise<LogResult<Contact>> {
    return this.edit(id, revision, { deletedUtcMs: this.now() })
  }

  /**
   * Looks which contacts of a file from elsewhere the log does not hold yet, and stores those if so asked. A file of somebody
   * else's has no ids of ours: the same call, band, mode and start make the same contact.
   * @returns how many are new, and those that the database does not take
   */
  take(contacts: readonly Contact[], store: boolean): Promise<LogResult<{ fresh: number; refused: Contact[] }>> {
    return this.inTurn(async () => {
      const known = await knownIds(
        this.database,
        contacts.map((c) => c.id),
      )
      const traces = await tracesOf(this.database, contacts)
      const fresh = contacts.filter((contact) => !known.has(contact.id) && (contact.origin === 'practice' || !traces.has(contact)))
      if (!store) return { ok: true, value: { fresh: fresh.length, refused: [] } }
      const written = await this.write(fresh)
      return written.ok ? { ok: true, value: { fresh: fresh.length, refused: written.refused } } : written
    })
  }

  async close(): Promise<void> {
    await this.inTurn(async () => this.journal.close())
  }

  /** @returns those that the database does not take; they stand in the journal */
  private async write(changed: readonly Contact[]): Promise<{ ok: true; refused: Contact[] } | LogProblem> {
    if (changed.length === 0) return { ok: true, refused: [] }
    let first: number
    try {
      first = (await this.journal.append(changed)) - changed.length + 1
    } catch (error) {
      const full = (error as NodeJS.ErrnoException).code === 'ENOSPC'
      return {
        ok: false,
        status: 507,
        error: full
          ? 'The disk of the server is full: nothing was stored. Free some space; contacts wait in the browser until then.'
          : `The journal of the log cannot be written: ${(error as Error).message}. Contacts wait in the browser until it can.`,
      }
    }
    const entries: JournalEntry[] = changed.map((contact, i) => ({ sequence: first + i, contact }))
    this.totals.clear()
    try {
      const numbers = new Set(await applyAll(this.database, entries, this.now()))
      const refused = entries.flatMap(({ sequence, contact }) => (numbers.has(sequence) ? [contact] : []))
      refused.forEach((contact) => this.impossible.add(revisionOf(contact)))
      return { ok: true, refused }
    } finally {
      this.totals.clear()
    }
  }
}
