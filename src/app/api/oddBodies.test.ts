// Whatever comes, a route answers with what is wrong; and whatever it takes, the data can still be read afterwards.
import { join } from 'node:path'
import { createRandom } from '@/core/dsp'
import { BUILT_IN_DIALECTS } from '@/core/links/cat'
import { storable, type Contact } from '@/core/log'
import { openDatabase } from '@/server/db/database'
import { seedDemo } from '@/server/demo'
import { Logbook } from '@/server/log/logbook'
import type { Services } from '@/server/services'
import { openTestServices } from '@/server/testServices'
import * as activation from './activation/route'
import * as adif from './adif/route'
import * as chain from './chain/route'
import * as channels from './channels/route'
import * as clockHistory from './clock/history/route'
import * as contact from './contacts/[id]/route'
import * as contacts from './contacts/route'
import * as field from './field/route'
import * as heard from './heard/route'
import * as levelHistory from './levels/history/route'
import * as levelProfiles from './levels/profiles/route'
import * as dialects from './links/dialects/route'
import * as network from './network/route'
import * as calendar from './plan/calendar/route'
import * as plan from './plan/route'
import * as profile from './profile/route'
import * as sessionContacts from './session/contacts/route'
import * as sheets from './sheets/route'
import * as places from './worked/places/route'
import * as worked from './worked/route'

const noon = Date.UTC(2026, 5, 6, 12)
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`
const url = (path: string) => `http://127.0.0.1/api/${path}`
const request = (method: string, path: string, value: unknown) => new Request(url(path), { method, body: JSON.stringify(value) })

let folder: string
let services: Services
let dispose: () => Promise<void>
beforeAll(async () => {
  ;({ services, folder, dispose } = await openTestServices(() => noon))
  await seedDemo(services, noon)
})
afterAll(() => dispose())

const ODD: readonly unknown[] = [
  ...[null, '', ' ', 'Q', 'x'.repeat(600), 'a\u0000b', '\ud83d', '\u2028', "'; drop table contacts; --", '%_\\', '<script>', '../../etc'],
  ...[0, -1, 0.5, 1e300, -1e300, 2 ** 31, 2 ** 53, 8.64e15, 8.65e15, -62135596800001],
  ...[true, [], {}, [[[[]]]], { __proto__: null, length: 1e9 }],
]
type Json = null | boolean | number | string | Json[] | { [key: string]: Json }

/** A copy of a body in which one part, anywhere, is something odd, or is missing. */
function oddCopy(body: Json, random: () => number): Json {
  const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)]!
  const copy = structuredClone(body)
  let at = copy as Record<string, Json>
  for (;;) {
    const keys = Object.keys(at)
    if (keys.length === 0) return pick(ODD) as Json
    const key = pick(keys)
    const next = at[key]
    if (next !== null && typeof next === 'object' && Object.keys(next).length > 0 && random() < 0.85) {
      at = next as Record<string, Json>
      continue
    }
    const how = random()
    if (how < 0.1) delete at[key]
    else if (how < 0.2) at[`${key}\u0000\ud83d`] = at[key]!
    else at[key] = structuredClone(pick(ODD)) as Json
    return copy
  }
}

/** What each route takes, from what it gives, or as a page would send it. */
const BODIES: [string, (value: Json, of: Contact) => Promise<Response>, () => Promise<unknown>][] = [
  ['profile', (v) => profile.PUT(request('PUT', 'profile', v)), () => json(profile.GET())],
  ['activation', (v) => activation.PUT(request('PUT', 'activation', v)), () => json(activation.GET())],
  ['plan', (v) => plan.PUT(request('PUT', 'plan', v)), () => json(plan.GET())],
  ['field', (v) => field.PUT(request('PUT', 'field', v)), () => json(field.GET())],
  ['chain', (v) => chain.PUT(request('PUT', 'chain', v)), () => json(chain.GET())],
  ['channels', (v) => channels.PUT(request('PUT', 'channels', v)), () => json(channels.GET())],
  ['network', (v) => network.PUT(request('PUT', 'network', v)), () => json(network.GET())],
  ['dialects', (v) => dialects.PUT(request('PUT', 'links/dialects', v)), async () => ({ ...BUILT_IN_DIALECTS[0]!, id: 'heron' })],
  [
    'sheets',
    (v) => sheets.POST(request('POST', 'sheets', v)),
    async () => ({ kind: 'zeptik radio sheets', version: 1, sheets: await json(sheets.GET()) }),
  ],
  [
    'contacts',
    (v) => contacts.POST(request('POST', 'contacts', v)),
    async () => ((await json(contacts.GET(new Request(url('contacts?origin=all&limit=3'))))) as { rows: unknown }).rows,
  ],
  [
    'one contact',
    (v, of) => contact.PATCH(request('PATCH', 'contacts/x', v), { params: Promise.resolve({ id: of.id }) }),
    async () => {
      const { rows } = (await json(contacts.GET(new Request(url('contacts?origin=all&limit=1'))))) as { rows: Contact[] }
      const { revision, id: _id, evidence: _evidence, origin: _origin, ...change } = rows[0]!
      return { revision, change }
    },
  ],
  [
    'heard',
    (v) => heard.POST(request('POST', 'heard', v)),
    async () => [
      {
        ...{ id: id(1), slotUtcMs: noon, mode: 'FT8', source: 'practice', text: 'CQ Q2LMN JO31', call: 'Q2LMN', snrDb: -8 },
        ...{ timeOffsetS: 0.2, audioOffsetHz: 1310, dialFrequencyHz: 14_074_000, clockUncertaintyMs: 40, pass: 1 },
      },
    ],
  ],
  [
    'the clock’s history',
    (v) => clockHistory.POST(request('POST', 'clock/history', v)),
    async () => [
      { id: id(2), utcMs: noon, kind: 'reading', source: 'band', label: 'The band', errorMs: 12, uncertaintyMs: 50, words: 'ok' },
    ],
  ],
  [
    'the history of levels',
    (v) => levelHistory.POST(request('POST', 'levels/history', v)),
    async () => [{ id: id(3), utcMs: noon, deviceLabel: 'Reed', noise2500Dbfs: -60, headroomDb: 20, worst: null }],
  ],
  [
    'level profiles',
    (v) => levelProfiles.PUT(request('PUT', 'levels/profiles', v)),
    async () => ({
      ...{ id: id(4), radio: 'Heron 20', interfaceName: 'Reed', deviceLabel: 'Reed', savedUtcMs: noon, hostVolume: '70', note: '' },
      knobs: [{ name: 'AF', position: 'nine' }],
      figures: { rmsDbfs: -30, noise2500Dbfs: -60, headroomDb: 20, passbandHz: [200, 2800], humDbfs: null, dcOffset: 0, findings: [] },
      ...{ antennaRiseDb: 8, roomCostDb: null, converter2500Dbfs: null },
      transmit: { level: 0.4, voxLeadInMs: 120, outputDelayMs: 40 },
    }),
  ],
  ['worked before', (v) => worked.POST(request('POST', 'worked', v)), async () => ({ calls: ['Q1ABC', 'Q2LMN'], practice: false })],
]
async function json(response: Response | Promise<Response>): Promise<unknown> {
  return (await response).json()
}
const get = (path: string) => new Request(url(path))
/** All that is read, with no question and with odd ones. */
const READS: [string, (question: string) => Response | Promise<Response>][] = [
  ['contacts', (q) => contacts.GET(get(`contacts?${q}`))],
  ['adif', (q) => adif.GET(get(`adif?${q}`))],
  ['session', (q) => sessionContacts.GET(get(`session/contacts?${q}`))],
  ['heard', (q) => heard.GET(get(`heard?from=0&${q}`))],
  ['places', () => places.POST(request('POST', 'worked/places', { practice: false }))],
  ['clock', (q) => clockHistory.GET(get(`clock/history?from=0&to=9e15&${q}`))],
  ['levels', (q) => levelHistory.GET(get(`levels/history?from=0&to=9e15&${q}`))],
  ['profiles', () => levelProfiles.GET()],
  ['sheets', () => sheets.GET()],
  ['profile', () => profile.GET()],
  ['plan', () => plan.GET()],
  ['calendar', () => calendar.GET()],
  ['activation', () => activation.GET()],
  ['field', () => field.GET()],
  ['chain', () => chain.GET()],
  ['channels', () => channels.GET()],
  ['network', () => network.GET()],
]

describe('odd bodies', () => {
  it.each(BODIES)('%s: answered, never thrown at', async (name, send, valid) => {
    const random = createRandom(name.length)
    const of = ((await json(contacts.GET(get('contacts?origin=all&limit=1')))) as { rows: Contact[] }).rows[0]!
    const body = (await valid()) as Json
    let refused = 0
    for (let n = 0; n < 80; n++) {
      const odd = oddCopy(body, random)
      const answer = await send(odd, of).catch((error: Error) => `${error.message}\n${error.stack}`)
      if (typeof answer === 'string' || answer.status >= 500)
        throw new Error(
          `${JSON.stringify(odd).slice(0, 2000)}: ${typeof answer === 'string' ? answer : `${answer.status} ${await answer.text()}`}`,
        )
      if (answer.status >= 400) {
        refused++
        expect(((await answer.json()) as { error: string }).error.length).toBeGreaterThan(3)
      }
    }
    // Else this test would try nothing.
    expect(refused).toBeGreaterThan(8)
  })

  it('that were taken leave all that can be asked for readable', async () => {
    for (const [name, read] of READS) {
      const answer = await read('')
      const text = await answer.text()
      expect(`${name} ${answer.status} ${answer.status === 200 ? '' : text}`).toBe(`${name} 200 `)
    }
  })

  it('in a question are answered too', async () => {
    const names = [
      'search',
      'band',
      'mode',
      'origin',
      'show',
      'sort',
      'direction',
      'offset',
      'limit',
      'reference',
      'day',
      'from',
      'to',
      'practice',
    ]
    for (const [name, read] of READS)
      for (const field of names)
        for (const value of ODD.map((odd) => (typeof odd === 'string' ? odd : JSON.stringify(odd)))) {
          const answer = await (async () => read(`${field}=${encodeURIComponent(storable(value))}`))().catch((error: Error) => error)
          const text = answer instanceof Error ? answer.message : await answer.text().catch((error: Error) => `cut off: ${error.message}`)
          if (answer instanceof Error || answer.status >= 500 || text.startsWith('cut off'))
            throw new Error(`${name}?${field}=${value.slice(0, 80)}: ${text.slice(0, 500)}`)
        }
  })

  it('leave a journal from which the log opens again', async () => {
    const fresh = await openDatabase(undefined, process.cwd())
    const again = await Logbook.open(fresh.database, join(folder, 'contacts.journal'), () => noon)
    expect(again.replay).toMatchObject({ damagedLines: [], refused: [] })
    expect(again.replay.applied).toBeGreaterThan(8)
    await again.close()
    await fresh.close()
  })
})
