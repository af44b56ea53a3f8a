import { defaultClockConfig, defaultLinkConfig, linkStateSchema, serverClockSchema } from '@/core/links'
import { emptySheet, type LevelProfile } from '@/core/levels'
import { emptyContact, type Contact } from '@/core/log'
import { defaultSettings, emptyStation } from '@/core/station'
import { heard } from '@/server/db/schema'
import type { Services } from '@/server/services'
import { openTestServices } from '@/server/testServices'
import * as adifImport from './adif/import/route'
import * as adif from './adif/route'
import * as clockConfig from './clock/config/route'
import * as exchange from './clock/exchange/route'
import * as history from './clock/history/route'
import * as live from './clock/live/route'
import * as ports from './clock/ports/route'
import * as standins from './clock/standins/route'
import * as sync from './clock/sync/route'
import * as contact from './contacts/[id]/route'
import * as contacts from './contacts/route'
import * as levelHistory from './levels/history/route'
import * as levelProfile from './levels/profiles/[id]/route'
import * as levelProfiles from './levels/profiles/route'
import * as linkConfig from './links/config/route'
import * as diagnose from './links/diagnose/route'
import * as key from './links/key/route'
import * as linkLive from './links/live/route'
import * as radio from './links/radio/route'
import * as linkStandins from './links/standins/route'
import * as sheet from './sheets/[id]/route'
import * as sheets from './sheets/route'
import * as heardRoute from './heard/route'
import * as heardTextRoute from './heard/text/route'
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

let services: Services
let dispose: () => Promise<void>
beforeAll(async () => {
  ;({ services, dispose } = await openTestServices(() => noon))
})
afterAll(() => dispose())

describe('links', () => {
  const put = (config: unknown) => linkConfig.PUT(new Request(url('links/config'), body('PUT', config)))
  const standin = async (request: unknown) => {
    const answer = await linkStandins.PUT(new Request(url('links/standins'), body('PUT', request)))
    return {
      status: answer.status,
      told: (await answer.json()) as { radio: { port: number; faults: string[] } | null; tnc: unknown; error?: string },
    }
  }

  it('are set up, run against the practice radio, and keyed', async () => {
    expect(await linkConfig.GET().json()).toEqual(defaultLinkConfig)
    const started = await standin({ radio: { voice: 'ascii-9', faults: ['slow'] }, tnc: { faults: [] } })
    expect(started.told).toMatchObject({ radio: { voice: 'ascii-9', faults: ['slow'] }, tnc: { faults: [] } })
    expect((await standin({ radio: { voice: 'ascii-9', faults: [] } })).told.radio).toMatchObject({
      port: started.told.radio!.port,
      faults: [],
    })
    const port = { kind: 'tcp', host: '127.0.0.1', port: started.told.radio!.port }
    const wanted = {
      ...defaultLinkConfig,
      control: { ...defaultLinkConfig.control, enabled: true, port, dialect: 'ascii-9' },
      keying: { ...defaultLinkConfig.keying, by: 'cat' },
    }
    expect(await (await put(wanted)).json()).toEqual(wanted)
    const controller = new AbortController()
    const reader = linkLive.GET(new Request(url('links/live'), { signal: controller.signal })).body!.getReader()
    const next = async () => linkStateSchema.parse(JSON.parse(new TextDecoder().decode((await reader.read()).value).slice('data: '.length)))
    let state = await next()
    while (state.control.frequencyHz === null) state = await next()
    controller.abort()
    expect(state).toMatchObject({ control: { state: 'talking', frequencyHz: 14_074_000 }, keying: { state: 'ready' } })
    const post = async (handler: (request: Request) => Promise<Response>, value: unknown) => {
      const answer = await handler(new Request(url('links/x'), body('POST', value)))
      return [answer.status, await answer.json()]
    }
    expect(await post(radio.POST, { frequencyHz: 7_074_000, mode: 'usb-data' })).toEqual([200, {}])
    expect(await post(radio.POST, { frequencyHz: 7 })).toMatchObject([422, { error: expect.stringMatching(/frequencyHz/) }])
    expect(await post(key.POST, { action: 'on', id: 'a', acknowledged: 0 })).toEqual([200, {}])
    expect(await post(key.POST, { action: 'alive', id: 'b' })).toMatchObject([409, { error: 'It is not keyed.' }])
    expect(await post(key.POST, { action: 'off' })).toEqual([200, {}])
    expect(await post(diagnose.POST, { action: 'start', link: 'tnc' })).toMatchObject([
      409,
      { error: expect.stringMatching(/Choose the port/) },
    ])
    expect(await post(diagnose.POST, { action: 'stop' })).toEqual([200, {}])
    // Stopped, the practice radio is linked to no more.
    expect((await standin({ radio: null, tnc: null })).told).toEqual({ radio: null, tnc: null })
    expect(services.links.config).toMatchObject({ control: { enabled: false, port: null }, keying: { by: 'vox' } })
    await put(defaultLinkConfig)
  })

  it('refuse a set-up that cannot work, and a practice radio that there is not', async () => {
    const answer = await put({ ...defaultLinkConfig, control: { ...defaultLinkConfig.control, enabled: true } })
    expect([answer.status, await answer.json()]).toMatchObject([422, { error: expect.stringMatching(/control\.port: Choose the port/) }])
    expect(await standin({ radio: { voice: 'whisper', faults: [] } })).toMatchObject({
      status: 409,
      told: { error: expect.stringMatching(/whisper/) },
    })
  })
})

describe('the routes', () => {
  it('are alive', async () => expect(await health.GET().json()).toEqual({ ok: true, demo: true, longestStallMs: expect.any(Number) }))

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
      ...{ startUtcMs: Date.now(), endUtcMs: Date.now() + 12_640, mode: 'ft8', locator: 'JO31', place: null },
      source: 'practice',
      text: 'CQ Q1ABC JO31',
      call: 'Q1ABC',
      snrDb: -3,
      audioOffsetHz: 900,
      dialFrequencyHz: null,
      clockUncertaintyMs: null,
      details: { timeOffsetS: 0.1, pass: 1 },
    }
    for (let i = 0; i < 2; i++) expect((await heardRoute.POST(new Request(url('heard'), body('POST', [report])))).status).toBe(200)
    expect(await services.database.select().from(heard)).toHaveLength(1)
    expect((await heardRoute.POST(new Request(url('heard'), body('POST', [{ ...report, snrDb: 'loud' }])))).status).toBe(422)
    // What a mode keeps beside is checked by its own rules.
    const odd = await heardRoute.POST(new Request(url('heard'), body('POST', [{ ...report, mode: 'psk31' }])))
    expect([odd.status, JSON.stringify(await odd.json())]).toEqual([422, expect.stringMatching(/PSK31/)])
  })

  it('find what was heard by a word or a call, and hand it over as a file', async () => {
    const report = (k: number, over: { text: string } & Record<string, unknown>) => ({
      id: id(510 + k),
      ...{
        startUtcMs: Date.now() - 60_000 + 1000 * k,
        endUtcMs: Date.now(),
        mode: 'psk31',
        locator: null,
        place: null,
        source: 'practice',
      },
      ...{ call: null, snrDb: -3.4, audioOffsetHz: 900, dialFrequencyHz: null, clockUncertaintyMs: null, details: { channel: 1 } },
      ...over,
    })
    const reports = [
      report(0, { text: 'cq cq de Q2LMN Q2LMN pse k', call: 'Q2LMN' }),
      report(1, { text: '100% copy here\nname Isa_M', audioOffsetHz: null, snrDb: null }),
      report(2, { text: 'somewhere else', source: 'microphone' }),
    ]
    expect((await heardRoute.POST(new Request(url('heard'), body('POST', reports)))).status).toBe(200)
    const find = async (query: string) => heardTextRoute.GET(new Request(url(`heard/text?${query}`)))
    const texts = async (query: string) => ((await (await find(query)).json()) as { text: string }[]).map((one) => one.text)
    expect(await texts('mode=psk31&practice=true&words=q2lmn')).toEqual([reports[0]!.text])
    // Newest first, and signs that mean something to a database mean themselves.
    expect(await texts('mode=psk31&practice=true')).toEqual([reports[1]!.text, reports[0]!.text])
    expect(await texts('mode=psk31&practice=true&words=0%25')).toEqual([reports[1]!.text])
    expect(await texts('mode=psk31&practice=true&words=Isa_M')).toEqual([reports[1]!.text])
    expect(await texts('mode=psk31&practice=true&words=c_py')).toEqual([])
    expect(await texts('mode=psk31&words=else')).toEqual([reports[2]!.text])
    expect(await texts('mode=ft8&practice=true&words=Q2LMN')).toEqual([])
    // What no database takes is left out.
    expect(await texts('mode=psk31&practice=true&words=q2%00lmn')).toEqual([reports[0]!.text])
    expect((await find('mode=psk31&from=soon')).status).toBe(422)
    expect((await find(`mode=psk31&words=${'x'.repeat(61)}`)).status).toBe(422)
    const file = await find('mode=psk31&practice=true&as=file')
    expect(file.headers.get('content-disposition')).toMatch(/^attachment; filename="heard-psk31-\d{4}-\d\d-\d\d.txt"$/)
    expect((await file.text()).split('\n')).toEqual([
      expect.stringMatching(/^\d{4}-\d\d-\d\d \d\d:\d\d:\d\dZ  900 Hz  -3 dB  cq cq de Q2LMN Q2LMN pse k$/),
      expect.stringMatching(/^\S+ \S+Z  100% copy here name Isa_M$/),
      '',
    ])
  })

  it('export and import ADIF', async () => {
    const name = async (query: string) => (await adif.GET(new Request(url(`adif${query}`)))).headers.get('content-disposition')
    expect(await name('?origin=practice')).toMatch(/^attachment; filename="zeptik-practice-\d{12}\.adi"$/)
    expect(await name('?origin=all')).toMatch(/^attachment; filename="zeptik-with-practice-\d{12}\.adi"$/)
    expect((await adif.GET(new Request(url('adif?show=deleted')))).status).toBe(422)
    const file = await adif.GET(new Request(url('adif')))
    expect(file.headers.get('content-disposition')).toMatch(/^attachment; filename="zeptik-\d{12}\.adi"$/)
    const text = await file.text()
    expect(text).toMatch(/<ADIF_VER:5>3\.1\.6[\s\S]*<EOH>\n<CALL:5>Q1ABC/)
    expect(text.match(/<EOR>/g)).toHaveLength(1)
    const other = text.replaceAll('Q1ABC', 'Q7ABC').replace(id(1), id(7))
    const taken = await adif.POST(new Request(url('adif?name=field.adi'), { method: 'POST', body: other }))
    expect(taken.status).toBe(202)
    const until = async (stage: string): Promise<unknown> => {
      for (;;) {
        const state = (await (await adifImport.GET()).json()) as { stage: string }
        if (state.stage === stage) return state
        await new Promise((done) => setTimeout(done, 5))
      }
    }
    const { id: importId } = (await taken.json()) as { id: string }
    expect(await until('preview')).toMatchObject({ name: 'field.adi', ready: 1, alreadyThere: 0, stored: 0 })
    const order = (value: object) => adifImport.POST(new Request(url('adif/import'), body('POST', value)))
    expect((await order({ id: 'x', action: 'store' })).status).toBe(404)
    expect((await order({ id: importId, action: 'eat' })).status).toBe(422)
    expect((await order({ id: importId, action: 'store' })).status).toBe(200)
    expect(await until('done')).toMatchObject({ stored: 1 })
    expect((await adif.GET(new Request(url('adif?limit=0')))).status).toBe(422)
  })

  it('keep where time is looked for, and refuse what cannot be', async () => {
    const config = await (await clockConfig.GET()).json()
    expect(config).toEqual(defaultClockConfig)
    const change = { ...defaultClockConfig, network: { hosts: ['time.example.net'], automatic: false } }
    expect(await (await clockConfig.PUT(new Request(url('clock/config'), body('PUT', change)))).json()).toEqual(change)
    const wrong = { ...change, udp: { ...change.udp, port: 99_999 } }
    const refused = await clockConfig.PUT(new Request(url('clock/config'), body('PUT', wrong)))
    expect([refused.status, await refused.json()]).toEqual([422, { error: 'udp.port: Ports are 1 to 65535' }])
    const host = { ...change, network: { hosts: ['; rm -rf'], automatic: false } }
    expect((await clockConfig.PUT(new Request(url('clock/config'), body('PUT', host)))).status).toBe(422)
    await clockConfig.PUT(new Request(url('clock/config'), body('PUT', defaultClockConfig)))
    expect((await sync.POST()).status).toBe(409)
  })

  it('answer a timed question, and list ports', async () => {
    const { receivedMonotonicMs, repliedMonotonicMs, wallUtcMs } = await exchange.GET().json()
    expect(repliedMonotonicMs).toBeGreaterThanOrEqual(receivedMonotonicMs)
    expect(Math.abs(wallUtcMs - Date.now())).toBeLessThan(5000)
    expect(Array.isArray(await (await ports.GET()).json())).toBe(true)
  })

  it('keep the history of the clock, each point once', async () => {
    const today = Date.now()
    const entry = {
      id: id(77),
      utcMs: today,
      kind: 'reading',
      source: 'band',
      label: 'The band',
      errorMs: 12,
      uncertaintyMs: 60,
      words: '',
    }
    for (let i = 0; i < 2; i++)
      expect(await (await history.POST(new Request(url('clock/history'), body('POST', [entry])))).json()).toEqual({ stored: 1 })
    const read = (from: number, to: number) => history.GET(new Request(url(`clock/history?from=${from}&to=${to}`)))
    expect(await (await read(today - 1, today + 1)).json()).toEqual([entry])
    expect(await (await read(today + 1, today + 2)).json()).toEqual([])
    expect((await history.GET(new Request(url('clock/history?from=x')))).status).toBe(422)
    expect((await history.POST(new Request(url('clock/history'), body('POST', [{ ...entry, kind: 'rumour' }])))).status).toBe(422)
  })

  it('run practice devices, and tell what the server knows of time as it happens', async () => {
    const put = async (value: unknown) => standins.PUT(new Request(url('clock/standins'), body('PUT', value)))
    expect(await (await put({ time: { faults: ['liesByADay'] } })).json()).toMatchObject({
      time: { faults: ['liesByADay'], where: expect.stringMatching(/UDP/) },
    })
    const unheard = await put({ gps: { way: 'tcp', faults: [] } })
    expect([unheard.status, ((await unheard.json()) as { error: string }).error]).toEqual([
      409,
      expect.stringMatching(/Turn on "NMEA over TCP" first/),
    ])
    const abort = new AbortController()
    const response = live.GET(new Request(url('clock/live'), { signal: abort.signal }))
    const reader = response.body!.getReader()
    const next = async () => JSON.parse(new TextDecoder().decode((await reader.read()).value).replace('data: ', ''))
    expect(serverClockSchema.parse(await next()).standins.time).toMatchObject({ faults: ['liesByADay'] })
    await put({ gps: { way: 'udp', faults: ['noFix'] }, time: null })
    let state = serverClockSchema.parse(await next())
    for (let i = 0; i < 5 && !state.standins.gps; i++) state = serverClockSchema.parse(await next())
    expect(state.standins).toMatchObject({ gps: { way: 'udp', faults: ['noFix'] }, time: null })
    abort.abort()
    await put({ gps: null })
    expect((await put({ gps: { way: 'pigeon', faults: [] } })).status).toBe(422)
  })
})

describe('levels and radio sheets', () => {
  const good: LevelProfile = {
    id: id(900),
    radio: 'Heron 20',
    interfaceName: 'Reed Box',
    deviceLabel: 'Reed Box audio',
    savedUtcMs: noon,
    knobs: [{ name: 'Radio volume', position: '9' }],
    hostVolume: '60 %',
    note: '',
    figures: { rmsDbfs: -40, noise2500Dbfs: -44, headroomDb: 20, passbandHz: [200, 2900], humDbfs: null, dcOffset: 0, findings: [] },
    antennaRiseDb: 12,
    roomCostDb: null,
    converter2500Dbfs: null,
    transmit: null,
  }
  const put = (value: unknown) => levelProfiles.PUT(new Request(url('levels/profiles'), body('PUT', value)))

  it('keep profiles, newest first, and refuse what is none', async () => {
    expect(await (await put(good)).json()).toEqual(good)
    expect((await put({ ...good, id: id(901), savedUtcMs: noon + 1 })).status).toBe(200)
    expect(((await (await levelProfiles.GET()).json()) as LevelProfile[]).map((p) => p.id)).toEqual([id(901), id(900)])
    const refused = await put({ ...good, knobs: [{ name: '', position: '9' }] })
    expect([refused.status, ((await refused.json()) as { error: string }).error]).toEqual([422, expect.stringMatching(/knobs.0.name/)])
    const remove = (n: string) => levelProfile.DELETE(new Request(url('levels/profiles/x')), params(n))
    expect([(await remove(id(901))).status, (await remove(id(901))).status, (await remove('x')).status]).toEqual([200, 404, 422])
  })

  it('keep the history of levels once, and give back a stretch of it', async () => {
    const utcMs = Math.floor(Date.now() / 1000) * 1000
    const entry = { id: id(910), utcMs, deviceLabel: 'Reed Box audio', noise2500Dbfs: -44.5, headroomDb: 21, worst: 'hum' as const }
    const post = (value: unknown) => levelHistory.POST(new Request(url('levels/history'), body('POST', value)))
    expect(await (await post([entry])).json()).toEqual({ stored: 1 })
    expect((await post([entry])).status).toBe(200)
    expect((await post([{ ...entry, worst: 'gremlins' }])).status).toBe(422)
    const read = (query: string) => levelHistory.GET(new Request(url(`levels/history?${query}`)))
    expect(await (await read(`from=${utcMs - 1}&to=${utcMs + 1}`)).json()).toEqual([entry])
    expect((await read('from=x')).status).toBe(422)
  })

  it('take a file of sheets, keep what is newer here, and refuse one that is wrong as a whole', async () => {
    const mine = emptySheet(id(920), 'Heron 20', 'FT8', noon)
    const post = (value: unknown) => sheets.POST(new Request(url('sheets'), body('POST', value)))
    const file = (...list: unknown[]) => ({ kind: 'zeptik radio sheets', version: 1, sheets: list })
    expect(await (await post(file(mine))).json()).toEqual({ taken: 1, older: 0 })
    expect(await (await post(file({ ...mine, radio: 'Older', updatedUtcMs: noon - 1 }))).json()).toEqual({ taken: 0, older: 1 })
    expect((await post(file(mine, { ...mine, id: 'no' }))).status).toBe(422)
    expect(await (await sheets.GET()).json()).toEqual([mine])
    const many = Array.from({ length: 200 }, (_, i) => emptySheet(id(2000 + i), 'Heron 20', 'FT8', noon))
    expect((await post(file(...many))).status).toBe(422)
    const remove = (n: string) => sheet.DELETE(new Request(url('sheets/x')), params(n))
    expect([(await remove(id(920))).status, (await remove(id(920))).status, (await remove('x')).status]).toEqual([200, 404, 422])
  })
})
