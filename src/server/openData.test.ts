import { cpSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, truncateSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { inArray } from 'drizzle-orm'
import { emptySheet, type RadioSheet } from '@/core/levels'
import { emptyContact, type Contact } from '@/core/log'
import { emptyStation } from '@/core/station'
import { openDatabase as openHere, openDatabaseThread } from './db/database'
import { contacts, radioSheets } from './db/schema'
import { readSheets, removeSheet, storeSheets } from './levelRepository'
import { openData, type OpenedData } from './openData'
import type { Programs } from './programs'
import { readProfile, writeStation } from './stationRepository'
import { bundlePrograms } from './testing'

const root = process.cwd()
const noon = Date.UTC(2026, 5, 1, 12)
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`
const contact = (n: number): Contact => ({
  ...emptyContact({
    id: id(n),
    call: `Q${n % 10}ABC`,
    mode: 'FT8',
    startedUtcMs: noon + n * 60_000,
    endedUtcMs: noon + n * 60_000,
    origin: 'air',
  }),
  band: '20m',
})
const COUNT = 400

let pristine: string
let folder: string
let programs: Programs
let dispose: () => void
/** In this thread it starts sooner; one of the tests is done in a thread of its own, as in use. */
const openDatabase = (at: string) => openHere(at, root)
beforeAll(async () => {
  ;({ programs, dispose } = await bundlePrograms())
  pristine = mkdtempSync(join(tmpdir(), 'zeptik-whole-'))
  const data = await openData(pristine, openDatabase, () => noon)
  expect(data.notes).toEqual([])
  await data.logbook.store(Array.from({ length: COUNT }, (_, n) => contact(n)))
  await writeStation(data.database, { ...emptyStation, call: 'Q5RVR', locator: 'JN97LK' })
  await data.close()
})
afterAll(() => {
  rmSync(pristine, { recursive: true, force: true })
  dispose()
})
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'zeptik-damaged-'))
  cpSync(pristine, folder, { recursive: true })
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))

const database = (...names: string[]) => join(folder, 'database', ...names)
/** The largest file of the tables: the contacts or what belongs to them. */
const largest = () => {
  const base = database('base')
  const files = readdirSync(base).flatMap((name) => readdirSync(join(base, name)).map((file) => join(base, name, file)))
  return files.sort((a, b) => statSync(b).size - statSync(a).size)[0]!
}
async function opened(check: (data: OpenedData) => Promise<void>, open = openDatabase): Promise<void> {
  const data = await openData(folder, open, () => noon)
  try {
    const { rowCount, call } = {
      rowCount: (await data.database.select({ id: contacts.id }).from(contacts)).length,
      call: (await readProfile(data.database, false)).station.call,
    }
    // Whatever had happened: the log is whole, and the station is known.
    expect({ rowCount, call }).toEqual({ rowCount: COUNT, call: 'Q5RVR' })
    await check(data)
    // And the next contact joins it.
    expect(await data.logbook.store([contact(COUNT)])).toMatchObject({ ok: true })
    expect((await data.database.select({ id: contacts.id }).from(contacts)).length).toBe(COUNT + 1)
  } finally {
    await data.close()
  }
}
const asides = () => readdirSync(folder).filter((name) => name.startsWith('database-damaged-'))

describe('the data at the start', () => {
  it('are made anew also when the database fails in its own thread', async () => {
    writeFileSync(database('global', 'pg_control'), new Uint8Array(8192))
    await opened(
      async ({ notes }) => expect(notes[0]).toMatch(/was damaged \(.*made anew/),
      (at) => openDatabaseThread(at, root, programs.database),
    )
  }, 60_000)

  it('that are whole are opened as they are', () => opened(async ({ notes }) => expect(notes).toEqual([])), 60_000)

  it.each<[string, () => void]>([
    ['its write-ahead log is gone', () => rmSync(database('pg_wal'), { recursive: true })],
    ['its version is gone', () => rmSync(database('PG_VERSION'))],
    ['a catalogue is cut to nothing', () => truncateSync(database('global', '1262'), 0)],
  ])(
    'are made anew when of the database %s',
    async (_, damage) => {
      damage()
      await opened(async ({ notes }) => {
        // Some of this the database mends by itself; else it is put aside, and that is said.
        if (asides().length > 0) expect(notes[0]).toMatch(/was damaged \(.*moved to .*database-damaged-.*made anew/)
        else for (const note of notes) expect(note).toMatch(/brought back/)
      })
    },
    60_000,
  )

  it('are made anew when a table is cut short or its pages are zeroed', async () => {
    const base = database('base')
    const before = new Map(readdirSync(base).map((name) => [name, 0]))
    expect(before.size).toBeGreaterThan(0)
    const file = largest()
    const bytes = readFileSync(file)
    bytes.fill(0, Math.floor(bytes.length / 2))
    writeFileSync(file, bytes)
    await opened(async () => undefined)
  }, 60_000)

  it('that the database has lost are brought back from the journal and the copies', async () => {
    const first = await openData(folder, openDatabase, () => noon)
    await first.database.delete(contacts).where(inArray(contacts.id, [id(3), id(7)]))
    await first.close()
    const copy = join(folder, 'documents', 'station.json')
    expect(JSON.parse(readFileSync(copy, 'utf8'))).toMatchObject({ call: 'Q5RVR' })
    await opened(async ({ notes }) =>
      expect(notes).toEqual([expect.stringMatching(/^2 contacts that the database had lost were brought back/)]),
    )
  }, 60_000)

  it('whose journal is gone are written into a new one', async () => {
    rmSync(join(folder, 'contacts.journal'))
    await opened(async ({ notes }) =>
      expect(notes).toEqual([expect.stringMatching(new RegExp(`^${COUNT} contacts of the database were missing in the journal`))]),
    )
    // Now the journal alone is enough.
    rmSync(database(), { recursive: true })
    const data = await openData(folder, openDatabase, () => noon)
    expect((await data.database.select({ id: contacts.id }).from(contacts)).length).toBe(COUNT + 1)
    await data.close()
  }, 60_000)

  it('prefer a copy to what the database says, for it was written first; half a copy is none', async () => {
    const copy = join(folder, 'documents', 'station.json')
    writeFileSync(copy, JSON.stringify({ ...(JSON.parse(readFileSync(copy, 'utf8')) as object), locator: 'JN97LK44' }))
    writeFileSync(join(folder, 'documents', 'plan.json'), '{"half')
    await opened(async ({ notes, database: db }) => {
      expect(notes).toEqual([expect.stringMatching(/^1 settings/)])
      expect((await readProfile(db, false)).station.locator).toBe('JN97LK44')
    })
    expect(existsSync(copy)).toBe(true)
  }, 60_000)

  it('bring back sheets and profiles that somebody entered, as they were last, and none that were removed', async () => {
    const sheet = (n: number, radio: string): RadioSheet => emptySheet(id(n), radio, 'FT8', noon)
    const first = await openData(folder, openDatabase, () => noon)
    await storeSheets(first.database, [sheet(1, 'Heron 20'), sheet(2, 'Bittern')])
    await removeSheet(first.database, id(2))
    await first.close()
    const older = await openData(folder, openDatabase, () => noon)
    // What a database may be after a power cut: older than it said.
    await older.database.delete(radioSheets)
    await older.database.insert(radioSheets).values({ id: id(2), updatedUtcMs: noon, value: sheet(2, 'Bittern') })
    await older.close()
    await opened(async ({ notes, database: db }) => {
      expect(notes).toEqual([expect.stringMatching(/^1 settings/)])
      expect((await readSheets(db)).map((s) => s.radio)).toEqual(['Heron 20'])
    })
  }, 60_000)

  it('stay where they are when it is not the database that fails', async () => {
    // A program without its migrations can open no database at all.
    await expect(
      openData(
        folder,
        (at) => openHere(at, join(folder, 'no-program')),
        () => noon,
      ),
    ).rejects.toThrow()
    expect(asides()).toEqual([])
    await opened(async ({ notes }) => expect(notes).toEqual([]))
  }, 60_000)
})
