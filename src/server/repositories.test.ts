import {
  defaultClockConfig,
  defaultLinkConfig,
  emptyAddressBook,
  type AddressBook,
  type AddressEntry,
  type ClockHistoryEntry,
  type LadderResult,
} from '@/core/links'
import type { LevelHistoryEntry } from '@/core/levels'
import { defaultSettings, emptyStation } from '@/core/station'
import type { HeardReport } from '@/core/station/heardContract'
import { createSocket } from 'node:dgram'
import { mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { ClockServices } from './clockServices'
import { readClockConfig, readClockHistory, storeClockHistory } from './clockRepository'
import { openDatabase, type Database } from './db/database'
import { documents, heard, ladderResults, packetSessions } from './db/schema'
import { readLadderResults, storeLadderResult } from './ladderRepository'
import { readLevelHistory, storeLevelHistory } from './levelRepository'
import { NetworkServices } from './network/networkServices'
import type { KeptSession } from '@/core/packet/station/contracts'
import { findPacketSessions, storePacketSession } from './packet/sessionRepository'
import { SecretBox } from './network/secretBox'
import { freePort } from './testing'
import { readProfile, storeHeard, summariseHeard, writeDocument } from './stationRepository'

const DAY_MS = 86_400_000
const noon = Date.UTC(2026, 5, 1, 12)
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`

let database: Database
let close: () => Promise<void>
beforeAll(async () => {
  ;({ database, close } = await openDatabase(undefined, process.cwd()))
})
afterAll(() => close())
afterEach(() => database.delete(documents))

describe('documents of an older or a broken version', () => {
  it('take what they lack from the defaults', async () => {
    await writeDocument(database, 'station', { call: 'Q5RVR' })
    await writeDocument(database, 'settings', { theme: 'night' })
    await writeDocument(database, 'clock', { tcp: { ...defaultClockConfig.tcp, port: 5001 } })
    expect(await readProfile(database, false)).toEqual({
      station: { ...emptyStation, call: 'Q5RVR' },
      settings: { ...defaultSettings, theme: 'night' },
      demo: false,
    })
    expect(await readClockConfig(database)).toEqual({ ...defaultClockConfig, tcp: { ...defaultClockConfig.tcp, port: 5001 } })
  })

  it('that cannot be read any more are as good as none, each for itself', async () => {
    await writeDocument(database, 'station', { call: 5 })
    await writeDocument(database, 'settings', { theme: 'night' })
    await writeDocument(database, 'clock', { udp: 'loud' })
    const { station, settings } = await readProfile(database, true)
    expect(station).toEqual(emptyStation)
    expect(settings.theme).toBe('night')
    expect(await readClockConfig(database)).toEqual(defaultClockConfig)
  })
})

describe('what is kept for a while', () => {
  const report = (n: number, over: Partial<HeardReport> = {}): HeardReport => ({
    ...{ id: id(n), startUtcMs: noon, endUtcMs: noon + 12_640, mode: 'ft8', source: 'microphone', text: 'CQ Q2LMN JO31', call: 'Q2LMN' },
    ...{ snrDb: -8, locator: null, place: null, audioOffsetHz: 1310, dialFrequencyHz: 14_074_000, clockUncertaintyMs: 40 },
    details: { timeOffsetS: 0.2, pass: 1 },
    ...over,
  })

  it('loses decodes of more than thirty days with the next that come', async () => {
    await storeHeard(
      database,
      [report(1, { startUtcMs: noon - 31 * DAY_MS, call: 'Q1ABC' }), report(2, { startUtcMs: noon - 29 * DAY_MS })],
      noon,
    )
    await storeHeard(database, [], noon + 365 * DAY_MS)
    const kept = await database.select({ id: heard.id }).from(heard)
    expect(kept.map((row) => row.id)).toEqual([id(2)])
  })

  it('sums up a station by its newest decode, and by the newest place that it told', async () => {
    await storeHeard(
      database,
      [
        report(10, { startUtcMs: noon, text: 'CQ Q3DEF JO31', locator: 'JO31', call: 'Q3DEF', snrDb: -3 }),
        report(11, { startUtcMs: noon + 30_000, text: 'CQ Q3DEF JO32', locator: 'JO32', call: 'Q3DEF', snrDb: -5 }),
        report(12, { startUtcMs: noon + 60_000, text: 'Q5RVR Q3DEF RR73', call: 'Q3DEF', snrDb: -9 }),
        report(13, { startUtcMs: noon + 60_000, text: 'Q5RVR Q4GHI -11', call: 'Q4GHI' }),
      ],
      noon,
    )
    expect(await summariseHeard(database, { from: noon - 1000, practice: false })).toEqual([
      { call: 'Q3DEF', locator: 'JO32', lastUtcMs: noon + 60_000, lastSnrDb: -9, times: 3 },
    ])
  })

  it('gives histories back oldest first, the newest of too many, and none from before three months', async () => {
    const levels = Array.from({ length: 2003 }, (_, i): LevelHistoryEntry => ({
      id: id(i),
      utcMs: noon + i,
      deviceLabel: 'Reed',
      noise2500Dbfs: -60,
      headroomDb: 20,
      worst: null,
    }))
    await storeLevelHistory(database, [{ ...levels[0]!, id: id(9000), utcMs: noon - 91 * DAY_MS }], noon - 91 * DAY_MS)
    for (let from = 0; from < levels.length; from += 500) await storeLevelHistory(database, levels.slice(from, from + 500), noon)
    const read = await readLevelHistory(database, 0, noon + DAY_MS)
    expect(read).toEqual(levels.slice(3))
    expect(await readLevelHistory(database, noon + 1, noon + 3)).toEqual(levels.slice(1, 3))

    const point = (n: number, utcMs: number): ClockHistoryEntry => ({
      ...{ id: id(n), utcMs, kind: 'reading', source: 'band', label: 'The band', errorMs: 12, uncertaintyMs: 50, words: '' },
    })
    await storeClockHistory(database, [point(1, noon - 91 * DAY_MS)], noon - 91 * DAY_MS)
    await storeClockHistory(database, [point(3, noon + 2), point(2, noon), point(2, noon)], noon)
    expect((await readClockHistory(database, 0, noon + DAY_MS)).map((p) => p.id)).toEqual([id(2), id(3)])
  })

  it('keeps the newest two hundred results of the ladder, and leaves out what it cannot read', async () => {
    const result = (n: number): LadderResult => ({
      ...{ id: id(n), utcMs: noon + n, link: 'control', ok: false, rung: 'speed', code: 'wrong-speed', words: 'It is set to 4800.' },
      config: defaultLinkConfig,
    })
    for (let n = 0; n < 203; n++) await storeLadderResult(database, result(n))
    const read = await readLadderResults(database)
    expect(read.map((r) => r.utcMs - noon)).toEqual(Array.from({ length: 200 }, (_, i) => 202 - i))
    await database.insert(ladderResults).values({ id: id(999), utcMs: noon + 999, value: { link: 'telepathy' } as never })
    expect((await readLadderResults(database))[0]?.id).toBe(id(202))
  })
})

it('a listener that is opened and closed at the same moment is closed', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'zeptik-clock-'))
  const services = await ClockServices.open(database, folder)
  const udp = { ...defaultClockConfig.udp, port: await freePort(), enabled: true }
  const set = (enabled: boolean) => services.configure({ ...defaultClockConfig, udp: { ...udp, enabled } })
  await Promise.all([set(true), set(false), set(true), set(false)])
  expect(services.config.udp.enabled).toBe(false)
  const other = createSocket('udp4')
  await new Promise<void>((done, fail) => other.once('error', fail).bind(udp.port, '127.0.0.1', done))
  other.close()
  await services.close()
  rmSync(folder, { recursive: true, force: true })
})

describe('passwords', () => {
  let folder: string
  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'zeptik-secrets-'))
  })
  afterEach(() => rmSync(folder, { recursive: true, force: true }))
  const flipped = (base64: string) => {
    const bytes = Buffer.from(base64, 'base64')
    bytes[0]! ^= 1
    return bytes.toString('base64')
  }

  it('come out of the box under their own name alone, untouched, and with its key', () => {
    const path = join(folder, 'secrets.key')
    const box = new SecretBox(path)
    const sealed = box.seal('a', 'brook & reed')
    expect(statSync(path).mode & 0o777).toBe(0o600)
    expect(new SecretBox(path).open('a', sealed)).toBe('brook & reed')
    expect(JSON.stringify(sealed)).not.toContain('brook')
    // The same secret is never sealed the same.
    expect(box.seal('a', 'brook & reed').data).not.toBe(sealed.data)
    expect(box.open('b', sealed)).toBeUndefined()
    for (const part of ['iv', 'tag', 'data'] as const) expect(box.open('a', { ...sealed, [part]: flipped(sealed[part]) })).toBeUndefined()
    expect(new SecretBox(join(folder, 'other.key')).open('a', sealed)).toBeUndefined()
  })

  it('can be sealed anew when the key file holds no key', () => {
    const path = join(folder, 'secrets.key')
    writeFileSync(path, 'not a key\n', { mode: 0o644 })
    const box = new SecretBox(path)
    expect(box.open('a', { iv: '', tag: '', data: '' })).toBeUndefined()
    expect(box.open('a', box.seal('a', 'reed'))).toBe('reed')
    expect(statSync(path).mode & 0o777).toBe(0o600)
  })

  it('are forgotten when their entry goes to another host, port or user, and kept when it is only renamed', async () => {
    const entry = (over: Partial<AddressEntry> = {}): AddressEntry => ({
      ...{ id: id(1), name: 'Radio', kind: 'radio', user: 'rowan', places: { house: { host: '192.168.7.2', port: 4001 } } },
      ...over,
    })
    for (const [change, kept] of [
      [{ name: 'Heron' }, true],
      [{ user: 'somebody' }, false],
      [{ places: { house: { host: '10.6.6.6', port: 4001 } } }, false],
      [{ places: { house: { host: '192.168.7.2', port: 23 } } }, false],
      [{ places: { house: { host: '192.168.7.2', port: 4001 }, hotspot: { host: '10.6.6.6', port: 4001 } } }, false],
    ] as [Partial<AddressEntry>, boolean][]) {
      const services = await NetworkServices.open(database, folder)
      await services.store({ ...emptyAddressBook, entries: [entry()] })
      await services.setPassword(id(1), 'reed')
      await services.store({ ...emptyAddressBook, entries: [entry(change)] })
      expect(services.view().withPassword).toEqual(kept ? [id(1)] : [])
    }
    await (await NetworkServices.open(database, folder)).store(emptyAddressBook)
  })

  it('set at the same moment are all kept, and none for an entry that is gone', async () => {
    const place = (port: number) => ({ host: '192.168.7.2', port })
    const entries = [1, 2, 3].map((n): AddressEntry => ({
      ...{ id: id(n), name: `Radio ${n}`, kind: 'radio', user: 'rowan', places: { house: place(4000 + n) } },
    }))
    const book: AddressBook = { ...emptyAddressBook, entries }
    const services = await NetworkServices.open(database, folder)
    await services.store(book)
    const done = await Promise.all([1, 2, 3].map((n) => services.setPassword(id(n), `reed ${n}`)))
    expect(done).toEqual([true, true, true])
    expect(services.view().withPassword).toEqual([id(1), id(2), id(3)])
    const reopened = await NetworkServices.open(database, folder)
    expect(reopened.loginFor('192.168.7.2', 4002)).toEqual({ user: 'rowan', password: 'reed 2' })
    const [, gone] = await Promise.all([
      reopened.store({ ...book, entries: book.entries.slice(1) }),
      reopened.setPassword(id(1), 'too late'),
    ])
    expect(gone).toBe(false)
    expect(await reopened.setPassword(id(9), 'nobody')).toBe(false)
    expect((await NetworkServices.open(database, folder)).view().withPassword).toEqual([id(2), id(3)])
  })
})

describe('packet sessions', () => {
  const session = (n: number, over: Partial<KeptSession> = {}): KeptSession => ({
    ...{ id: id(n), own: 'Q5RVR', peer: 'Q5CTL-7', via: ['Q8TOP'], by: 'us', practice: false },
    ...{
      beganUtcMs: noon + n,
      endedUtcMs: noon + n + 1000,
      lines: [{ sequence: 1, utcMs: noon, way: 'in', text: `Lock gate 100% open, no. ${n}` }],
    },
    ...over,
  })

  it('are kept, replaced by the same one, found by a word or a call, and let go when there are too many', async () => {
    for (let n = 1; n <= 5; n++) await storePacketSession(database, session(n))
    await storePacketSession(
      database,
      session(5, { peer: 'Q7HUT-1', lines: [{ sequence: 2, utcMs: noon, way: 'out', text: 'zero\u0000byte' }] }),
    )
    await storePacketSession(database, session(6, { practice: true }))
    const find = (words: string, practice = false) => findPacketSessions(database, { words, practice })
    expect((await find('')).map((one) => one.id)).toEqual([5, 4, 3, 2, 1].map(id))
    expect(await find('q7hut')).toEqual([
      session(5, { peer: 'Q7HUT-1', lines: [{ sequence: 2, utcMs: noon, way: 'out', text: 'zerobyte' }] }),
    ])
    expect(await find('100% open, no. 3')).toHaveLength(1)
    expect(await find('100_')).toEqual([])
    expect((await find('', true)).map((one) => one.id)).toEqual([id(6)])
    await database.insert(packetSessions).values(Array.from({ length: 520 }, (_, k) => ({ ...session(1000 + k), words: '' })))
    await storePacketSession(database, session(2000))
    expect(await database.$count(packetSessions)).toBe(500)
  })
})
