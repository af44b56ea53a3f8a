import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { emptyContact, type Contact } from '@/core/log'
import { defaultFieldSetup } from '@/core/power'
import { emptyPlan } from '@/core/session'
import { openDatabase } from '@/server/db/database'
import { Logbook } from '@/server/log/logbook'
import { provideServices, type Services } from '@/server/services'
import * as activation from './activation/route'
import * as adif from './adif/route'
import * as contact from './contacts/[id]/route'
import * as contacts from './contacts/route'
import * as field from './field/route'
import * as heard from './heard/route'
import * as calendar from './plan/calendar/route'
import * as plan from './plan/route'
import * as sessionContacts from './session/contacts/route'
import * as places from './worked/places/route'

const noon = Date.UTC(2026, 5, 6, 12)
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`
const url = (path: string) => `http://127.0.0.1/api/${path}`
const put = (value: unknown) => ({ method: 'PUT', body: JSON.stringify(value) })
const post = (value: unknown) => ({ method: 'POST', body: JSON.stringify(value) })

let folder: string
let services: Services
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'zeptik-plan-'))
  const { database, close } = await openDatabase(undefined, process.cwd())
  const logbook = await Logbook.open(database, join(folder, 'contacts.journal'), () => noon)
  // These routes need no more of the services.
  services = { database, logbook, close: async () => (await logbook.close(), close()) } as unknown as Services
  provideServices(services)
})
afterAll(async () => {
  await services.close()
  rmSync(folder, { recursive: true, force: true })
})

describe('documents of the plan', () => {
  const current = {
    ...{ id: id(1), name: 'Sallow Reach', programme: 'rivers', reference: 'sr-0042', goal: 10 },
    ...{ startedUtcMs: noon, endedUtcMs: null, practice: false },
  }
  it('keep an activation, with its references in capitals', async () => {
    expect(await (await activation.GET()).json()).toEqual({ current: null, past: [] })
    const stored = await activation.PUT(new Request(url('activation'), put({ current, past: [] })))
    expect(await stored.json()).toMatchObject({ current: { programme: 'RIVERS', reference: 'SR-0042' } })
    const refused = await activation.PUT(new Request(url('activation'), put({ current: { ...current, goal: 0 }, past: [] })))
    expect(refused.status).toBe(422)
    expect(await (await activation.GET()).json()).toMatchObject({ current: { goal: 10 } })
  })

  it('keep a plan and write it as a calendar', async () => {
    expect(await (await plan.GET()).json()).toEqual(emptyPlan)
    const block = { id: id(2), startUtcMs: noon, endUtcMs: noon + 3_600_000, dialFrequencyHz: 14_074_000, mode: 'FT8', note: '' }
    expect((await plan.PUT(new Request(url('plan'), put({ ...emptyPlan, blocks: [block] })))).status).toBe(200)
    expect((await plan.PUT(new Request(url('plan'), put({ ...emptyPlan, blocks: [{ ...block, endUtcMs: 0 }] })))).status).toBe(422)
    const file = await calendar.GET()
    expect(file.headers.get('content-type')).toMatch(/text\/calendar/)
    expect(await file.text()).toContain('SUMMARY:FT8 on 14\u202f074.0 kHz')
  })

  it('keep battery and antenna', async () => {
    expect(await (await field.GET()).json()).toEqual(defaultFieldSetup)
    const changed = { ...defaultFieldSetup, antenna: { ...defaultFieldSetup.antenna, distanceM: 2 } }
    expect(await (await field.PUT(new Request(url('field'), put(changed)))).json()).toEqual(changed)
    const refused = await field.PUT(new Request(url('field'), put({ ...changed, antenna: { ...changed.antenna, distanceM: 0 } })))
    expect(await refused.json()).toMatchObject({ error: expect.stringMatching(/distance/) })
  })
})

describe('what a session holds', () => {
  const made = (n: number, over: Partial<Contact> = {}): Contact => ({
    ...emptyContact({
      id: id(100 + n),
      call: `Q${n}ABC`,
      mode: 'FT8',
      startedUtcMs: noon + n * 60_000,
      endedUtcMs: noon + n * 60_000,
      origin: 'air',
    }),
    ...{ band: '20m', locator: n % 2 ? 'JO31' : 'FN20XX', ownReference: 'SR-0042' },
    evidence: [
      { utcMs: noon, direction: 'sent', text: 'x' },
      { utcMs: noon, direction: 'heard', text: 'y', timeOffsetS: 0.2 },
    ],
    ...over,
  })
  beforeAll(async () => {
    const all = [
      ...[1, 2, 3].map((n) => made(n)),
      made(4, { ownReference: 'SR-0007' }),
      made(5, { origin: 'practice', locator: 'KN44' }),
      made(6, { startedUtcMs: noon + 86_400_000, call: 'DL/Q6ABC' }),
    ]
    await contacts.POST(new Request(url('contacts'), post(all)))
  })
  const ask = async (query: string) =>
    (await (await sessionContacts.GET(new Request(url(`session/contacts?${query}`)))).json()) as { call: string }[]

  it('is told by time, reference and practice', async () => {
    expect((await ask(`from=${noon}`)).map((c) => c.call)).toEqual(['Q1ABC', 'Q2ABC', 'Q3ABC', 'Q4ABC', 'DL/Q6ABC'])
    expect((await ask(`from=${noon}&reference=SR-0042&to=${noon + 3_600_000}`)).map((c) => c.call)).toEqual(['Q1ABC', 'Q2ABC', 'Q3ABC'])
    expect(await ask(`from=${noon}&practice=true`)).toMatchObject([{ call: 'Q5ABC', transmissions: 1, timeOffsetS: 0.2 }])
    expect((await sessionContacts.GET(new Request(url('session/contacts?from=x')))).status).toBe(422)
  })

  it('keeps its references through a change of something else', async () => {
    const change = { method: 'PATCH', body: JSON.stringify({ revision: 1, change: { name: 'Ines' } }) }
    const changed = await contact.PATCH(new Request(url(`contacts/${id(101)}`), change), { params: Promise.resolve({ id: id(101) }) })
    expect(await changed.json()).toMatchObject({ revision: 2, name: 'Ines', ownReference: 'SR-0042' })
  })

  it('is exported by reference and by day', async () => {
    const file = async (query: string) =>
      (await adif.GET(new Request(url(`adif?${query}`))).text()).match(/<CALL:\d+>\S+/g)?.map((c) => c.split('>')[1])
    expect(await file('reference=SR-0042')).toEqual(['Q1ABC', 'Q2ABC', 'Q3ABC', 'DL/Q6ABC'])
    expect(await file('reference=SR-0042&day=2026-06-07')).toEqual(['DL/Q6ABC'])
    // A place without a reference has its stretch of time.
    expect(await file(`from=${noon + 2 * 60_000}&to=${noon + 4 * 60_000}&origin=air`)).toEqual(['Q2ABC', 'Q3ABC'])
    expect(await file('day=2026-06-31')).toBeUndefined()
    expect(adif.GET(new Request(url('adif?day=soon'))).status).toBe(422)
  })

  it('tells which places are no longer new', async () => {
    const told = await places.POST(new Request(url('worked/places'), post({ practice: false })))
    expect(await told.json()).toEqual({ locators: expect.arrayContaining(['JO31', 'FN20']), entities: ['Germany'] })
    expect(await (await places.POST(new Request(url('worked/places'), post({ practice: true })))).json()).toEqual({
      locators: ['KN44'],
      entities: [],
    })
    expect((await places.POST(new Request(url('worked/places'), post({})))).status).toBe(422)
  })

  it('tells who was heard where, whatever was heard of it last', async () => {
    // Decodes are kept for thirty days of real time.
    const since = Math.floor(Date.now() / 15_000) * 15_000 - 3_600_000
    const report = (n: number, call: string | null, text: string, over = {}) => ({
      ...{
        id: id(500 + n),
        startUtcMs: since + n * 15_000,
        endUtcMs: since + n * 15_000 + 12_640,
        mode: 'ft8',
        source: 'microphone',
        text,
        call,
        snrDb: -n,
      },
      ...{ locator: /JO31$|KN44$/.exec(text)?.[0] ?? null, place: null, audioOffsetHz: 1000, dialFrequencyHz: null },
      ...{ clockUncertaintyMs: null, details: { timeOffsetS: 0 }, ...over },
    })
    const reports = [
      report(1, 'Q1ABC', 'CQ Q1ABC JO31'),
      report(2, 'Q1ABC', 'Q5RVR Q1ABC RR73'),
      report(3, 'Q2DEF', 'Q5RVR Q2DEF -05'),
      report(4, 'Q3GHI', 'CQ Q3GHI KN44', { source: 'practice' }),
      report(5, null, 'HELLO RIVER'),
    ]
    expect((await heard.POST(new Request(url('heard'), post(reports)))).status).toBe(200)
    const told = async (query: string) => (await heard.GET(new Request(url(`heard?${query}`)))).json()
    expect(await told(`from=${since}`)).toEqual([{ call: 'Q1ABC', locator: 'JO31', lastUtcMs: since + 30_000, lastSnrDb: -2, times: 2 }])
    expect(await told(`from=${since}&practice=true`)).toMatchObject([{ call: 'Q3GHI' }])
    expect(await told(`from=${since + 40_000}`)).toEqual([])
    expect((await heard.GET(new Request(url('heard')))).status).toBe(422)
  })
})
