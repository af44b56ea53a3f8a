import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { emptyContact, type Contact } from '@/core/log'
import { defaultSettings, emptyStation } from '@/core/station'
import { openDatabase } from '@/server/db/database'
import { heard } from '@/server/db/schema'
import { Logbook } from '@/server/log/logbook'
import { provideServices, type Services } from '@/server/services'
import * as adif from './adif/route'
import * as contact from './contacts/[id]/route'
import * as contacts from './contacts/route'
import * as heardRoute from './heard/route'
import * as health from './health/route'
import * as profile from './profile/route'
import * as worked from './worked/route'

const noon = Date.UTC(2026, 5, 1, 12)
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`
const made = (n: number): Contact => ({
  ...emptyContact({ id: id(n), call: `Q${n}ABC`, mode: 'FT8', startedUtcMs: noon + n * 1000, endedUtcMs: noon + n * 1000, origin: 'air' }),
  band: '20m',
  name: 'Ines',
})
const url = (path: string) => `http://127.0.0.1/api/${path}`
const body = (method: string, value: unknown) => ({ method, body: typeof value === 'string' ? value : JSON.stringify(value) })
const params = (n: string) => ({ params: Promise.resolve({ id: n }) })

let folder: string
let services: Services
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'zeptik-routes-'))
  const { database, close } = await openDatabase(undefined, process.cwd())
  const logbook = await Logbook.open(database, join(folder, 'contacts.journal'), () => noon)
  services = {
    config: { port: 1, host: '127.0.0.1', dataFolder: folder, demo: true },
    database,
    logbook,
    close: async () => {
      await logbook.close()
      await close()
    },
  }
  provideServices(services)
})
afterAll(async () => {
  await services.close()
  rmSync(folder, { recursive: true, force: true })
})

describe('the routes', () => {
  it('are alive', async () => expect(await health.GET().json()).toEqual({ ok: true, demo: true }))

  it('keep station and settings, and say which field is wrong', async () => {
    expect(await (await profile.GET()).json()).toEqual({ station: emptyStation, settings: defaultSettings, demo: true })
    const station = { ...emptyStation, call: 'q5rvr', locator: 'jn97lk' }
    const saved = await profile.PUT(new Request(url('profile'), body('PUT', { station })))
    expect(await saved.json()).toMatchObject({ station: { call: 'Q5RVR', locator: 'JN97LK' } })
    const settings = { theme: 'night', distanceUnit: 'mi' }
    expect(await (await profile.PUT(new Request(url('profile'), body('PUT', { settings })))).json()).toMatchObject({
      settings,
      station: { call: 'Q5RVR' },
    })
    const wrong = await profile.PUT(new Request(url('profile'), body('PUT', { station: { ...station, locator: 'nowhere' } })))
    expect(wrong.status).toBe(422)
    expect(((await wrong.json()) as { error: string }).error).toMatch(/^station\.locator: A locator is/)
  })

  it('store, list, show, edit and delete contacts', async () => {
    const stored = await contacts.POST(new Request(url('contacts'), body('POST', [made(1), made(2)])))
    expect(await stored.json()).toEqual({ stored: [id(1), id(2)] })
    const list = (await (await contacts.GET(new Request(url('contacts?sort=call&direction=asc')))).json()) as {
      rows: Contact[]
      total: number
    }
    expect(list.total).toBe(2)
    expect(list.rows.map((r) => r.call)).toEqual(['Q1ABC', 'Q2ABC'])
    const edited = await contact.PATCH(
      new Request(url('contacts/x'), body('PATCH', { revision: 1, change: { locator: 'JO31' } })),
      params(id(1)),
    )
    expect(await edited.json()).toMatchObject({ revision: 2, locator: 'JO31' })
    const shown = await contact.GET(new Request(url('contacts/x')), params(id(1)))
    expect(await shown.json()).toMatchObject({ contact: { locator: 'JO31' }, history: [{ record: { locator: null } }] })
    expect((await contact.PATCH(new Request(url('contacts/x'), body('PATCH', { revision: 1, change: {} })), params(id(1)))).status).toBe(
      409,
    )
    expect((await contact.DELETE(new Request(url('contacts/x?revision=1'), { method: 'DELETE' }), params(id(2)))).status).toBe(200)
    expect((await contact.DELETE(new Request(url('contacts/x?revision=1'), { method: 'DELETE' }), params('nonsense'))).status).toBe(404)
    expect((await contact.GET(new Request(url('contacts/x')), params(id(99)))).status).toBe(404)
  })

  it.each([
    ['no JSON', 'certainly not', 400],
    ['no list', '{}', 422],
    ['no contact', '[{"call":"Q1ABC"}]', 422],
    ['too much', `"${'x'.repeat(2_000_001)}"`, 413],
  ])('refuse %s', async (_, text, status) => {
    expect((await contacts.POST(new Request(url('contacts'), body('POST', text)))).status).toBe(status)
  })

  it('say who was worked before', async () => {
    const ask = await worked.POST(new Request(url('worked'), body('POST', { calls: ['Q1ABC', 'Q2ABC', 'Q9ZZ'], practice: false })))
    expect(await ask.json()).toEqual([
      { call: 'Q1ABC', band: '20m', mode: 'FT8', locator: 'JO31', name: 'Ines', startedUtcMs: noon + 1000 },
    ])
    const none = await worked.POST(new Request(url('worked'), body('POST', { calls: ['Q1ABC'], practice: true })))
    expect(await none.json()).toEqual([])
  })

  it('keep decodes, each once', async () => {
    const report = {
      id: id(500),
      slotUtcMs: Date.now(),
      mode: 'FT8',
      source: 'practice',
      text: 'CQ Q1ABC JO31',
      call: 'Q1ABC',
      snrDb: -3,
      timeOffsetS: 0.1,
      audioOffsetHz: 900,
      dialFrequencyHz: null,
      clockUncertaintyMs: null,
      pass: 1,
    }
    for (let i = 0; i < 2; i++) expect((await heardRoute.POST(new Request(url('heard'), body('POST', [report])))).status).toBe(200)
    expect(await services.database.select().from(heard)).toHaveLength(1)
    expect((await heardRoute.POST(new Request(url('heard'), body('POST', [{ ...report, snrDb: 'loud' }])))).status).toBe(422)
  })

  it('export and import ADIF', async () => {
    const file = await adif.GET(new Request(url('adif?origin=all')))
    expect(file.headers.get('content-disposition')).toMatch(/^attachment; filename="zeptik-\d{12}\.adi"$/)
    const text = await file.text()
    expect(text).toMatch(/<ADIF_VER:5>3\.1\.6[\s\S]*<EOH>\n<CALL:5>Q1ABC/)
    expect(text.match(/<EOR>/g)).toHaveLength(1)
    const preview = await adif.POST(
      new Request(url('adif'), { method: 'POST', body: text.replaceAll('Q1ABC', 'Q7ABC').replace(id(1), id(7)) }),
    )
    expect(await preview.json()).toMatchObject({ ready: 1, alreadyThere: 0, stored: 0 })
    const stored = await adif.POST(
      new Request(url('adif?confirm=1'), { method: 'POST', body: text.replaceAll('Q1ABC', 'Q7ABC').replace(id(1), id(7)) }),
    )
    expect(await stored.json()).toMatchObject({ stored: 1 })
    expect((await adif.GET(new Request(url('adif?limit=0')))).status).toBe(422)
  })
})
