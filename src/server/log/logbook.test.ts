import { appendFileSync, cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { sql } from 'drizzle-orm'
import { adifBatches, contactQuerySchema, contactSchema, emptyContact, type Contact, type ContactQuery } from '@/core/log'
import { openDatabase, type Database } from '../db/database'
import { contactHistory, contacts, journalMark } from '../db/schema'
import { listContacts as listWith, readContact } from './contactRepository'
import { openJournal } from './journal'
import { Logbook } from './logbook'

const root = process.cwd()
const noon = Date.UTC(2026, 5, 1, 12)
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`
const contact = (n: number, over: Partial<Contact> = {}): Contact => ({
  ...emptyContact({
    id: id(n),
    call: `Q${n % 10}AB${String.fromCharCode(65 + (n % 26))}`,
    mode: 'FT8',
    startedUtcMs: noon + n * 60_000,
    endedUtcMs: noon + n * 60_000 + 60_000,
    origin: 'air',
  }),
  band: '20m',
  reportSent: '-08',
  reportReceived: '-10',
  locator: 'JO31',
  ...over,
})
const listContacts = (db: Database, asked: ContactQuery) => listWith(db, asked, logbook.totals)
const query = (over = {}) => contactQuerySchema.parse({ origin: 'all', ...over })

let folder: string
let database: Database
let close: () => Promise<void>
let logbook: Logbook
/** Opening a database takes seconds, so tests that do not need one of their own share this one, emptied. */
let shared: { database: Database; close: () => Promise<void> }

const open = async (databaseFolder: string) => {
  ;({ database, close } = await openDatabase(databaseFolder, root))
  logbook = await Logbook.open(database, join(folder, 'contacts.journal'), () => noon)
}
const shut = async () => {
  await logbook.close()
  await close()
}

beforeAll(async () => {
  shared = await openDatabase(undefined, root)
})
afterAll(() => shared.close())
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'zeptik-log-'))
  database = shared.database
  close = () => Promise.resolve()
  for (const table of [contacts, contactHistory, journalMark]) await database.delete(table)
  logbook = await Logbook.open(database, join(folder, 'contacts.journal'), () => noon)
})
afterEach(async () => {
  await shut()
  rmSync(folder, { recursive: true, force: true })
})

describe('the logbook', () => {
  it('stores a contact once however often it is sent', async () => {
    await logbook.store([contact(1)])
    expect(await logbook.store([contact(1), contact(2)])).toEqual({ ok: true, value: { stored: [id(1), id(2)] } })
    const page = await listContacts(database, query())
    expect(page).toMatchObject({ total: 2, stations: 2 })
    expect(page.rows.map((r) => r.id)).toEqual([id(2), id(1)])
  })

  it('edits with history, refuses to overwrite a change made elsewhere, and does not resurrect old forms', async () => {
    await logbook.store([contact(1)])
    const edited = await logbook.edit(id(1), 1, { locator: 'KN44', name: 'Tilde' })
    expect(edited).toMatchObject({ ok: true, value: { revision: 2, locator: 'KN44', name: 'Tilde' } })
    expect(await logbook.edit(id(1), 1, { locator: 'AA00' })).toMatchObject({ ok: false, status: 409 })
    expect(await logbook.edit(id(1), 2, { locator: 'nonsense' })).toMatchObject({ ok: false, status: 422 })
    expect(await logbook.edit(id(99), 1, {})).toMatchObject({ ok: false, status: 404 })
    await logbook.store([contact(1)])
    const found = await readContact(database, id(1))
    expect(found!.contact.locator).toBe('KN44')
    expect(found!.history.map((h) => h.record.locator)).toEqual(['JO31'])
  })

  it('deletes so that it can be undone', async () => {
    await logbook.store([contact(1)])
    await logbook.remove(id(1), 1)
    expect((await listContacts(database, query())).total).toBe(0)
    await logbook.edit(id(1), 2, { deletedUtcMs: null })
    expect((await listContacts(database, query())).total).toBe(1)
  })

  it('finds, filters, sorts, and marks duplicates and gaps', async () => {
    await logbook.store(
      [
        contact(1, { call: 'Q1ABC', name: 'Oskar' }),
        contact(2, { call: 'Q1ABC' }),
        contact(3, { call: 'Q1ABC', band: '40m', locator: null }),
        contact(4, { call: 'Q1ABC', origin: 'practice' }),
        contact(5, { call: 'Q2_X', mode: 'PSK', submode: 'PSK31' } as Partial<Contact>),
      ].filter((c) => /^[0-9A-Z/]+$/.test(c.call)),
    )
    const ids = async (over: object) => (await listContacts(database, query(over))).rows.map((r) => Number(r.id.slice(-2)))
    expect(await ids({ search: 'oskar q1' })).toEqual([1])
    expect(await ids({ search: '%' })).toEqual([])
    expect(await ids({ band: '40m' })).toEqual([3])
    expect(await ids({ origin: 'practice' })).toEqual([4])
    expect(await ids({ origin: 'air', sort: 'startedUtcMs', direction: 'asc' })).toEqual([1, 2, 3])
    expect(await ids({ show: 'missing' })).toEqual([3])
    expect(await ids({ show: 'duplicates' })).toEqual([2])
    expect((await listContacts(database, query())).rows.find((r) => r.id === id(2))!.duplicate).toBe(true)
  })

  it('looks which contacts are new first, and takes only those', async () => {
    await logbook.store([contact(1)])
    expect(await logbook.take([contact(1), contact(2)], false)).toEqual({ ok: true, value: { fresh: 1, refused: [] } })
    expect((await listContacts(database, query())).total).toBe(1)
    expect(await logbook.take([contact(1), contact(2)], true)).toEqual({ ok: true, value: { fresh: 1, refused: [] } })
    expect((await listContacts(database, query())).total).toBe(2)
  })

  it('imports a file of another program once, however often it is offered', async () => {
    // No ids of ours, times of four digits, and one record twice.
    const record = (call: string, time: string) =>
      `<CALL:${call.length}>${call}<BAND:3>20m<MODE:3>FT8<QSO_DATE:8>20260601<TIME_ON:${time.length}>${time}<EOR>\n`
    const file = new TextEncoder().encode(
      `<EOH>${record('Q3NEW', '1234')}${record('Q4NEW', '123417')}${record('Q4NEW', '123417')}${record('Q4NEW', '1250')}`,
    )
    let next = 50
    const offer = async (store: boolean) => {
      const [batch] = [...adifBatches(file, () => id(next++))]
      const taken = await logbook.take(
        batch!.contacts.map((c) => c.contact),
        store,
      )
      return { repeated: batch!.repeated, fresh: taken.ok && taken.value.fresh }
    }
    expect(await offer(false)).toEqual({ fresh: 3, repeated: 1 })
    expect(await offer(true)).toEqual({ fresh: 3, repeated: 1 })
    expect(await offer(true)).toEqual({ fresh: 0, repeated: 1 })
    expect((await listContacts(database, query())).total).toBe(3)
    // One that was deleted may come back.
    const { rows } = await listContacts(database, query())
    const gone = rows.find((r) => r.call === 'Q3NEW')!
    await logbook.remove(gone.id, gone.revision)
    expect(await offer(true)).toEqual({ fresh: 1, repeated: 1 })
  })

  it('holds thousands and answers searches among them', async () => {
    const many = Array.from({ length: 3000 }, (_, i) => contact(i + 1))
    await logbook.store(many)
    const page = await listContacts(database, query({ offset: 2990, limit: 100 }))
    expect(page.total).toBe(3000)
    expect(page.rows).toHaveLength(10)
  })
})

describe('after a power cut', () => {
  it('the journal brings an older copy of the database up to date', async () => {
    await shut()
    const live = join(folder, 'database')
    await open(live)
    await logbook.store([contact(1)])
    await shut()
    const older = join(folder, 'older')
    cpSync(live, older, { recursive: true })

    await open(live)
    await logbook.store([contact(2)])
    await logbook.edit(id(1), 1, { locator: 'KN44' })
    await logbook.remove(id(2), 1)
    await logbook.store([contact(3)])
    await shut()

    await open(older)
    expect(logbook.replay).toMatchObject({ applied: 4, damagedLines: [], refused: [] })
    const page = await listContacts(database, query({ direction: 'asc' }))
    expect(page.rows.map((r) => [r.id, r.locator])).toEqual([
      [id(1), 'KN44'],
      [id(3), 'JO31'],
    ])
    expect((await readContact(database, id(1)))!.history).toHaveLength(1)
    // A second start finds nothing more to do.
    await shut()
    await open(older)
    expect(logbook.replay.applied).toBe(0)
  })

  it('the journal alone is enough', async () => {
    await logbook.store([contact(1), contact(2)])
    await shut()
    for (const table of [contacts, contactHistory, journalMark]) await database.delete(table)
    logbook = await Logbook.open(database, join(folder, 'contacts.journal'), () => noon)
    expect((await listContacts(database, query())).total).toBe(2)
  })
})

describe('text that a database does not hold', () => {
  const bad = 'before\u0000after \ud83d half a sign'
  it.each([
    ['in a field', { comment: bad }],
    ['in what is kept as it came', { extra: { APP_X: bad, [`APP_${bad}`]: 'y' } }],
    ['in evidence', { evidence: [{ utcMs: noon, direction: 'heard' as const, text: bad }] }],
  ])('%s is kept without the signs that nothing can hold, and the log opens again', async (_where, over) => {
    // As it comes from outside, and as an older version wrote it down.
    expect(await logbook.store([contactSchema.parse(contact(1, over))])).toMatchObject({ ok: true })
    await shut()
    appendFileSync(join(folder, 'contacts.journal'), `${JSON.stringify({ sequence: 2, contact: contact(2, over) })}\n`)
    logbook = await Logbook.open(database, join(folder, 'contacts.journal'), () => noon)
    const { rows } = await listContacts(database, query())
    expect(rows.map((row) => row.call).sort()).toEqual(['Q1ABB', 'Q2ABC'])
    for (const row of rows) expect(JSON.stringify(row)).toContain('beforeafter \ufffd half a sign')
  })

  it('of whatever kind, in the journal, is left out and named; the rest of the log is there', async () => {
    await shut()
    const lines = [1, 2, 3, 4, 5].map((n) => ({ sequence: n, contact: contact(n) }))
    writeFileSync(join(folder, 'contacts.journal'), lines.map((line) => `${JSON.stringify(line)}\n`).join(''))
    // A rule of the database that the third breaks stands for whatever is not thought of.
    await database.execute(sql`alter table contacts add constraint odd check (call <> 'Q3ABD')`)
    try {
      logbook = await Logbook.open(database, join(folder, 'contacts.journal'), () => noon)
      expect(logbook.replay).toMatchObject({ applied: 4, damagedLines: [], refused: [3] })
      expect((await listContacts(database, query())).rows.map((row) => row.call).sort()).toEqual(['Q1ABB', 'Q2ABC', 'Q4ABE', 'Q5ABF'])
      expect(await logbook.store([contact(6)])).toMatchObject({ ok: true })
      // Sent together with one that is taken.
      expect(await logbook.store([contact(8), { ...contact(9), call: 'Q3ABD' }])).toMatchObject({ ok: false, status: 422 })
      expect(await readContact(database, id(8))).toBeDefined()
      const odd = { ...contact(7), call: 'Q3ABD' }
      const size = () => readFileSync(join(folder, 'contacts.journal')).length
      const before = size()
      expect(await logbook.store([odd])).toMatchObject({ ok: false, status: 422, error: expect.stringMatching(/Q3ABD.*journal/) })
      const once = size()
      expect(once).toBeGreaterThan(before)
      expect(await logbook.store([odd])).toMatchObject({ ok: false, status: 422 })
      expect(size()).toBe(once)
    } finally {
      await database.execute(sql`alter table contacts drop constraint odd`)
    }
  })
})

describe('the journal', () => {
  const path = () => join(folder, 'other.journal')
  const collect = async (after = 0) => {
    const seen: number[] = []
    const opened = await openJournal(path(), after, async (entries) => (seen.push(...entries.map((e) => e.sequence)), []))
    return { ...opened, seen }
  }

  it('drops a torn last line, which was never acknowledged, and goes on after it', async () => {
    const first = await collect()
    await first.journal.append([contact(1), contact(2)])
    await first.journal.close()
    appendFileSync(path(), '{"sequence":3,"contact":{"id":"0000')
    const second = await collect()
    expect(second.seen).toEqual([1, 2])
    expect(second.replay.damagedLines).toEqual([])
    await second.journal.append([contact(3)])
    await second.journal.close()
    const third = await collect(1)
    expect(third.seen).toEqual([2, 3])
    await third.journal.close()
  })

  it('names damaged lines in the middle and keeps the rest', async () => {
    const first = await collect()
    await first.journal.append([contact(1), contact(2), contact(3)])
    await first.journal.close()
    const lines = readFileSync(path(), 'utf8').split('\n')
    lines[1] = lines[1]!.slice(0, 40)
    writeFileSync(path(), lines.join('\n'))
    const second = await collect()
    expect(second.seen).toEqual([1, 3])
    expect(second.replay.damagedLines).toEqual([2])
    await second.journal.close()
  })

  it('keeps contacts whose text holds signs at which some readers of lines would cut', async () => {
    const first = await collect()
    const comments = ['above\u2028below', 'one\u2029two', 'a\u0085b', 'carriage\rreturn']
    await first.journal.append(comments.map((comment, i) => contact(i + 1, { comment })))
    await first.journal.close()
    const second = await collect()
    expect(second.seen).toEqual([1, 2, 3, 4])
    expect(second.replay).toMatchObject({ applied: 4, damagedLines: [], refused: [] })
    await second.journal.close()
    expect(readFileSync(path(), 'utf8').split('\n')).toHaveLength(5)
  })

  it('keeps a last line that lacks no more than its end, and those that an editor gave other ends', async () => {
    const first = await collect()
    await first.journal.append([contact(1), contact(2)])
    await first.journal.close()
    writeFileSync(path(), readFileSync(path(), 'utf8').trimEnd().replace('\n', '\r\n\r\n'))
    const second = await collect()
    expect(second.seen).toEqual([1, 2])
    await second.journal.append([contact(3)])
    await second.journal.close()
    const third = await collect()
    expect(third.seen).toEqual([1, 2, 3])
    expect(third.replay.damagedLines).toEqual([])
    await third.journal.close()
  })

  it('leaves a whole line that it cannot read where it is, though it be the last, and does not use its number again', async () => {
    const first = await collect()
    await first.journal.append([contact(1)])
    await first.journal.close()
    const newer = `{"sequence":2,"contact":{"call":"Q2LMN","written by":"a later version"}}\n`
    const long = `{"sequence":3,"contact":"${'x'.repeat(1_100_000)}"}\n`
    appendFileSync(path(), newer + long)
    const second = await collect()
    expect(second.seen).toEqual([1])
    expect(second.replay.damagedLines).toEqual([2, 3])
    expect(await second.journal.append([contact(4)])).toBe(4)
    await second.journal.close()
    expect(readFileSync(path(), 'utf8')).toContain(newer + long)
    const third = await collect(1)
    expect(third.seen).toEqual([4])
    await third.journal.close()
  })

  it('acknowledges nothing when the disk is full, and leaves no half line', async () => {
    const { journal } = await collect()
    await journal.append([contact(1)])
    await journal.close()
    // A closed file stands for a disk that takes no more: the write fails in the same place.
    await expect(journal.append([contact(2)])).rejects.toThrow()
    const again = await collect()
    expect(again.seen).toEqual([1])
    await again.journal.close()
  })
})
