import { mkdirSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { emptyChainSetup } from '@/core/chain'
import { startingChannels } from '@/core/channels'
import { defaultLinkConfig, emptyAddressBook, type AddressBook, type LadderResult } from '@/core/links'
import { BUILT_IN_DIALECTS } from '@/core/links/cat'
import { openDatabase, type Database } from '@/server/db/database'
import { documents } from '@/server/db/schema'
import { readLadderResults } from '@/server/ladderRepository'
import { openHubHere } from '@/server/links/hubHere'
import { LinkServices } from '@/server/linkServices'
import { NetworkServices } from '@/server/network/networkServices'
import { provideServices, type Services } from '@/server/services'
import { writeDocument } from '@/server/stationRepository'
import * as chain from './chain/route'
import * as channels from './channels/route'
import * as dialects from './links/dialects/route'
import * as ladders from './links/ladders/route'
import * as linkConfig from './links/config/route'
import * as diagnose from './links/diagnose/route'
import * as relay from './links/relay/route'
import * as network from './network/route'
import * as password from './network/password/route'
import * as reachRoute from './network/reach/route'

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`
const ask = async (handler: (request: Request) => Promise<Response> | Response, method: string, value: unknown) => {
  const answer = await handler(new Request('http://127.0.0.1/api/x', { method, body: JSON.stringify(value) }))
  return { status: answer.status, told: (await answer.json()) as Record<string, unknown> }
}

let folder: string
let database: Database
let services: Services
let closeDatabase: () => Promise<void>
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'zeptik-connect-'))
  const opened = await openDatabase(undefined, process.cwd())
  database = opened.database
  closeDatabase = opened.close
  const networkServices = await NetworkServices.open(database, folder)
  const links = await LinkServices.open(database, networkServices, async (host) => openHubHere(host))
  services = { database, links, network: networkServices } as Services
  provideServices(services)
})
afterAll(async () => {
  await services.links.close()
  await closeDatabase()
  rmSync(folder, { recursive: true, force: true })
})

describe('chain and channels', () => {
  it('are kept, and checked', async () => {
    expect(await (await chain.GET()).json()).toEqual(emptyChainSetup)
    const setup = { ...emptyChainSetup, family: 'serialTnc', packed: ['radio'] }
    expect(await ask(chain.PUT, 'PUT', setup)).toEqual({ status: 200, told: setup })
    expect(await (await chain.GET()).json()).toEqual(setup)
    expect(await ask(chain.PUT, 'PUT', { ...setup, family: 'string' })).toMatchObject({
      status: 422,
      told: { error: expect.stringMatching(/family/) },
    })

    expect(await (await channels.GET()).json()).toEqual([])
    let n = 0
    const list = startingChannels('region1', () => id(++n))
    expect(await ask(channels.PUT, 'PUT', list)).toEqual({ status: 200, told: list })
    expect(await (await channels.GET()).json()).toEqual(list)
    expect((await ask(channels.PUT, 'PUT', [{ ...list[0], receiveHz: 1 }])).status).toBe(422)
  })
})

describe('the address book', () => {
  const entry = (n: number) => ({
    id: id(n),
    name: `Radio ${n}`,
    kind: 'radio',
    user: 'rowan',
    places: { house: { host: '127.0.0.1', port: 4000 + n } },
  })
  const book: AddressBook = { topology: 'house', entries: [entry(1), entry(2)] as AddressBook['entries'] }

  it('keeps passwords sealed, with a key that only its owner reads, and never sends them back', async () => {
    expect(await network.GET().json()).toEqual({ ...emptyAddressBook, withPassword: [], unreadable: [] })
    await ask(network.PUT, 'PUT', book)
    expect((await ask(password.PUT, 'PUT', { id: id(9), password: 'x' })).status).toBe(404)
    const told = await ask(password.PUT, 'PUT', { id: id(1), password: 'sallow-reach-7' })
    expect(told).toEqual({ status: 200, told: { ...book, withPassword: [id(1)], unreadable: [] } })
    expect(JSON.stringify(await network.GET().json())).not.toContain('sallow')
    expect(JSON.stringify(await database.select().from(documents))).not.toContain('sallow')
    expect(statSync(join(folder, 'secrets.key')).mode & 0o777).toBe(0o600)
    expect(readFileSync(join(folder, 'secrets.key'), 'utf8')).toMatch(/^[0-9a-f]{64}\n$/)
    expect(services.network.loginFor('127.0.0.1', 4001)).toEqual({ user: 'rowan', password: 'sallow-reach-7' })
    expect(services.network.loginFor('127.0.0.1', 4002)).toBeUndefined()
  })

  it('knows them after a restart; without the key it says that they must be entered again', async () => {
    const again = await NetworkServices.open(database, folder)
    expect(again.loginFor('127.0.0.1', 4001)?.password).toBe('sallow-reach-7')
    const elsewhere = mkdtempSync(join(tmpdir(), 'zeptik-nokey-'))
    const without = await NetworkServices.open(database, elsewhere)
    expect(without.view()).toMatchObject({ withPassword: [], unreadable: [id(1)] })
    expect(without.loginFor('127.0.0.1', 4001)).toBeUndefined()
    // A file without a key, and one that cannot be read, are as good as none.
    for (const broken of [
      () => writeFileSync(join(elsewhere, 'secrets.key'), 'rust'),
      () => (rmSync(join(elsewhere, 'secrets.key')), mkdirSync(join(elsewhere, 'secrets.key'))),
    ]) {
      broken()
      expect((await NetworkServices.open(database, elsewhere)).view()).toMatchObject({ withPassword: [], unreadable: [id(1)] })
    }
    rmSync(elsewhere, { recursive: true })
  })

  it('forgets a password when told, and with its entry', async () => {
    await ask(password.PUT, 'PUT', { id: id(2), password: 'two' })
    expect((await ask(password.PUT, 'PUT', { id: id(2), password: null })).told.withPassword).toEqual([id(1)])
    expect((await ask(network.PUT, 'PUT', { ...book, entries: [entry(2)] })).told.withPassword).toEqual([])
    expect((await ask(network.PUT, 'PUT', book)).told.withPassword).toEqual([])
  })

  it('says whether an address can be reached', async () => {
    const server = createServer((socket) => socket.end())
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
    const { port } = server.address() as { port: number }
    // Only what the operator has entered is tried: nobody else's ports are looked for through us.
    expect((await ask(reachRoute.POST, 'POST', { host: '127.0.0.1', port })).status).toBe(403)
    const places = { house: { host: '127.0.0.1', port }, hotspot: { host: 'no.such.host.invalid', port: 1 } }
    await ask(network.PUT, 'PUT', { ...book, entries: [{ ...entry(1), places }] })
    expect((await ask(reachRoute.POST, 'POST', { host: '127.0.0.1', port })).told).toMatchObject({
      ok: true,
      words: expect.stringMatching(/answers after/),
    })
    await new Promise((done) => server.close(done))
    expect((await ask(reachRoute.POST, 'POST', { host: '127.0.0.1', port })).told).toMatchObject({
      ok: false,
      words: expect.stringMatching(/nothing listens/),
    })
    expect((await ask(reachRoute.POST, 'POST', { host: 'no.such.host.invalid', port: 1 })).told).toMatchObject({
      ok: false,
      words: expect.stringMatching(/No address/),
    })
    expect((await ask(reachRoute.POST, 'POST', { host: 'a b', port: 1 })).status).toBe(422)
  })
})

describe('dialects of the operator', () => {
  const own = { ...BUILT_IN_DIALECTS[0]!, id: 'heron', name: 'Heron 20' }
  const config = { ...defaultLinkConfig, control: { ...defaultLinkConfig.control, dialect: 'heron' } }

  it('are taken, used, and not removed while in use', async () => {
    expect((await ask(linkConfig.PUT, 'PUT', config)).told.error).toMatch(/no command set "heron"/)
    expect((await ask(dialects.PUT, 'PUT', own)).told).toMatchObject([{ id: 'heron' }])
    expect((await ask(linkConfig.PUT, 'PUT', config)).status).toBe(200)
    expect(await ask(dialects.DELETE, 'DELETE', { id: 'heron' })).toMatchObject({
      status: 409,
      told: { error: expect.stringMatching(/in use/) },
    })
    await ask(linkConfig.PUT, 'PUT', defaultLinkConfig)
    expect(await ask(dialects.DELETE, 'DELETE', { id: 'heron' })).toEqual({ status: 200, told: [] })
    expect((await ask(dialects.DELETE, 'DELETE', { id: 'heron' })).status).toBe(409)
  })

  it('one is not removed in the moment in which it is taken into use', async () => {
    await ask(dialects.PUT, 'PUT', own)
    const [used, removed] = await Promise.all([ask(linkConfig.PUT, 'PUT', config), ask(dialects.DELETE, 'DELETE', { id: 'heron' })])
    expect([used.status, removed.status]).toEqual([200, 409])
    await ask(linkConfig.PUT, 'PUT', defaultLinkConfig)
    expect((await ask(dialects.DELETE, 'DELETE', { id: 'heron' })).status).toBe(200)
  })

  it('are all kept when they come at the same moment', async () => {
    const ids = ['heron', 'plover', 'reed']
    for (const { status } of await Promise.all(ids.map((id) => ask(dialects.PUT, 'PUT', { ...own, id })))) expect(status).toBe(200)
    const left = await Promise.all(ids.map((id) => ask(dialects.DELETE, 'DELETE', { id })))
    expect(left.map(({ status }) => status)).toEqual([200, 200, 200])
    expect(left.at(-1)!.told).toEqual([])
  })

  it('that are wrong, or named like a built-in one, are refused with the place', async () => {
    expect((await ask(dialects.PUT, 'PUT', BUILT_IN_DIALECTS[0])).told.error).toMatch(/built in/)
    expect((await ask(dialects.PUT, 'PUT', { ...own, commands: {} })).told.error).toMatch(/commands\.readFrequency: Reading the frequency/)
    expect(
      (await ask(dialects.PUT, 'PUT', { ...own, commands: { ...own.commands, keyOn: { send: 'TX{nonsense:3};' } } })).told.error,
    ).toMatch(/commands\.keyOn\.send/)
  })
})

describe('a practice device of the last run', () => {
  it('is linked to no more after a start, and its port is then free for another', async () => {
    const port = { kind: 'tcp', host: '127.0.0.1', port: 4999 } as const
    const linked = { ...defaultLinkConfig, tnc: { ...defaultLinkConfig.tnc, enabled: true, port } }
    await ask(linkConfig.PUT, 'PUT', linked)
    await writeDocument(database, 'practicePorts', { radio: null, tnc: 4999 })
    const start = async () => {
      const started = await LinkServices.open(database, services.network, async (host) => openHubHere(host))
      await started.close()
      return started.config.tnc
    }
    expect(await start()).toMatchObject({ enabled: false, port: null })
    await ask(linkConfig.PUT, 'PUT', linked)
    expect(await start()).toMatchObject({ enabled: true, port })
    await ask(linkConfig.PUT, 'PUT', defaultLinkConfig)
  })
})

describe('results of the ladder', () => {
  it('are kept with the settings they were made with', async () => {
    const port = { kind: 'tcp', host: '127.0.0.1', port: 9 } as const
    const config = { ...defaultLinkConfig, tnc: { ...defaultLinkConfig.tnc, enabled: true, port } }
    await ask(linkConfig.PUT, 'PUT', config)
    await ask(diagnose.POST, 'POST', { action: 'start', link: 'tnc' })
    // Nothing listens there: the port says so before anybody is asked whether it is switched on.
    for (;;) {
      const now = services.links.hub.state(0).diagnosis!.now
      if (now.verdict) break
      expect(now.rungs.map((rung) => rung.status)).not.toContain('asking')
      await new Promise((done) => setTimeout(done, 30))
    }
    let results: LadderResult[] = []
    while (results.length === 0) results = (await (await ladders.GET()).json()) as LadderResult[]
    expect(results).toMatchObject([
      { link: 'tnc', ok: false, rung: 'port', code: 'refused-connection', words: expect.stringMatching(/nothing listens/), config },
    ])
    expect(await readLadderResults(database)).toEqual(results)
    await ask(linkConfig.PUT, 'PUT', defaultLinkConfig)
  })
})

describe('a port that a browser lends', () => {
  it('needs one of the two kinds, and reports of a session of now', async () => {
    expect((await ask(relay.GET, 'POST', {})).status).toBe(422)
    expect((await ask(relay.POST, 'POST', { by: 'serial', session: 'old', type: 'closed', why: '' })).status).toBe(409)
    expect((await ask(relay.POST, 'POST', { by: 'serial', session: 'old', type: 'bytes', bytes: '***' })).status).toBe(422)
  })
})
