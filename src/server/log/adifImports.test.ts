import { existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { contactSchema, type AdifBatch, type Contact } from '@/core/log'
import { bundlePrograms } from '../testing'
import { AdifImports } from './adifImports'
import { readAdifInThread, type AdifReader } from './adifReader'
import type { Logbook } from './logbook'

let folder: string
let imports: AdifImports
let stored: Contact[]
let taking: () => Promise<void>
let bundled: Awaited<ReturnType<typeof bundlePrograms>>
beforeAll(async () => {
  bundled = await bundlePrograms()
})
afterAll(() => bundled.dispose())

/** A log that only counts. */
const logbook = {
  async take(contacts: readonly Contact[], store: boolean) {
    await taking()
    if (store) stored.push(...contacts)
    return { ok: true, value: { fresh: contacts.length, refused: [] } }
  },
} as unknown as Logbook

const open = (read: (path: string) => AdifReader = (path) => readAdifInThread(path, bundled.programs.adif), log = logbook) =>
  new AdifImports({ folder: join(folder, 'imports'), logbook: log, read })
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'zeptik-import-'))
  stored = []
  taking = () => Promise.resolve()
  imports = open()
})
afterEach(async () => {
  await imports.close()
  rmSync(folder, { recursive: true, force: true })
})

const record = (n: number) =>
  `<CALL:5>Q${n % 10}ABC<BAND:3>20m<MODE:3>FT8<QSO_DATE:8>20260601<TIME_ON:6>${String(100 * Math.floor(n / 60) + (n % 60)).padStart(4, '0')}30<EOR>\n`
const records = (count: number) => Array.from({ length: count }, (_, n) => record(n)).join('')
const stream = (text: string) => new Blob([text]).stream() as ReadableStream<Uint8Array>
const until = async (stage: string) => {
  const end = performance.now() + 20_000
  while (imports.state?.stage !== stage) {
    if (performance.now() > end) throw new Error(`not ${stage} in time: ${JSON.stringify(imports.state)}`)
    await new Promise((done) => setTimeout(done, 5))
  }
  return imports.state!
}
const files = () => (existsSync(join(folder, 'imports')) ? readdirSync(join(folder, 'imports')) : [])

describe('the import of a file', () => {
  it('reads it in a thread, says what it would add, and stores that only when it is wanted', async () => {
    expect(await imports.receive(stream(`<EOH>${records(250)}<CALL:1>?<EOR>`), 'field.adi')).toEqual({ ok: true })
    const { id } = imports.state!
    expect(await until('preview')).toMatchObject({
      name: 'field.adi',
      recordsRead: 251,
      ready: 250,
      problemCount: 1,
      problems: [{ line: 251 }],
    })
    expect(stored).toEqual([])
    expect(await imports.order({ id, action: 'store' })).toEqual({ ok: true })
    // The same press again, as after a lost answer.
    expect(await imports.order({ id, action: 'store' })).toEqual({ ok: true })
    expect(await until('done')).toMatchObject({ stored: 250, problemCount: 1 })
    expect(await imports.order({ id, action: 'store' })).toEqual({ ok: true })
    expect(stored).toHaveLength(250)
    expect(stored.every((contact) => contactSchema.safeParse(contact).success)).toBe(true)
    expect(files()).toEqual([])
  })

  it('is one at a time, stops when told to, and keeps what it had stored', async () => {
    let go: () => void = () => undefined
    expect(await imports.receive(stream(`<EOH>${records(450)}`), 'a')).toEqual({ ok: true })
    await until('preview')
    const { id } = imports.state!
    taking = () => new Promise((done) => (go = done))
    await imports.order({ id, action: 'store' })
    expect(await imports.receive(stream('<EOH>'), 'b')).toMatchObject({ ok: false, status: 409 })
    while (stored.length < 200) {
      go()
      await new Promise((done) => setTimeout(done, 1))
    }
    const stopped = imports.order({ id, action: 'stop' })
    go()
    expect(await stopped).toEqual({ ok: true })
    expect(imports.state).toMatchObject({ stage: 'stopped', stored: stored.length })
    expect(stored.length).toBeLessThan(450)
    expect(files()).toEqual([])
    expect(await imports.order({ id: 'another', action: 'store' })).toMatchObject({ ok: false, status: 404 })
    taking = () => Promise.resolve()
    expect(await imports.receive(stream(`<EOH>${records(1)}`), 'c')).toEqual({ ok: true })
    await until('preview')
  })

  it('ends with a word, not with the server, when a file wants more memory than it may have', async () => {
    // What a reader keeps of each contact adds up: here a whole log in one file of nothing but distinct contacts.
    imports = open((path) => {
      const inner = readAdifInThread(path, join(folder, 'greedy.mjs'))
      return inner
    })
    writeFileSync(
      join(folder, 'greedy.mjs'),
      `import { parentPort } from 'node:worker_threads'
       parentPort.on('message', () => { const all = []; for (;;) all.push(new Array(1000).fill(all.length)) })`,
    )
    await imports.receive(stream(record(1)), 'a')
    expect(await until('failed')).toMatchObject({
      error: expect.stringMatching(/more memory than it may have.*the same file adds only the rest/),
    })
  })

  it('says when the log cannot be written, and what broke off on the way in leaves nothing', async () => {
    const full = { take: async () => ({ ok: false, status: 507, error: 'The disk of the server is full.' }) } as unknown as Logbook
    imports = open(undefined, full)
    await imports.receive(stream(record(1)), 'a')
    expect(await until('failed')).toMatchObject({ error: 'The disk of the server is full.', stored: 0 })
    const broken = new ReadableStream<Uint8Array>({
      start: (controller) => controller.enqueue(new Uint8Array(1000)),
      pull: (controller) => controller.error(new Error('the page went away')),
    })
    expect(await imports.receive(broken, 'b')).toMatchObject({ ok: false, error: expect.stringMatching(/the page went away/) })
    expect(files()).toEqual([])
    expect(imports.state).toBeNull()
  })

  it('refuses more bytes than are read, without keeping them', async () => {
    const piece = new Uint8Array(10_000_000)
    const endless = new ReadableStream<Uint8Array>({ pull: (controller) => controller.enqueue(piece) })
    expect(await imports.receive(endless, 'a')).toMatchObject({ ok: false, status: 413 })
    expect(files()).toEqual([])
  })

  it('throws away what a server before this one left', () => {
    mkdirSync(join(folder, 'imports'))
    writeFileSync(join(folder, 'imports', 'old.adi'), 'x')
    open()
    expect(files()).toEqual([])
  })

  it('names what the database does not take by its line', async () => {
    const batch: AdifBatch = {
      at: 1,
      records: 1,
      contacts: [{ line: 7, contact: { call: 'Q1ABC' } as Contact }],
      repeated: 0,
      problems: [],
    }
    const parts: AdifBatch[][] = [[batch], [batch]]
    const read = (): AdifReader => {
      const left = parts.shift()!
      return { next: async () => left.shift(), stop: async () => undefined }
    }
    const picky = {
      take: async (contacts: Contact[], store: boolean) => ({ ok: true, value: { fresh: 1, refused: store ? contacts : [] } }),
    } as unknown as Logbook
    imports = open(read, picky)
    await imports.receive(stream('x'), 'a')
    await until('preview')
    await imports.order({ id: imports.state!.id, action: 'store' })
    expect(await until('done')).toMatchObject({
      stored: 0,
      problemCount: 1,
      problems: [{ line: 7, what: expect.stringMatching(/Q1ABC.*journal/) }],
    })
  })
})
