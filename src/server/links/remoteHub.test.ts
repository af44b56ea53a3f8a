import { spawn, type ChildProcess } from 'node:child_process'
import { existsSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { performance } from 'node:perf_hooks'
import { defaultLinkConfig, fromBase64, linkStateSchema, toBase64, WATCHDOG_MS, type LinkConfig, type LinkState } from '@/core/links'
import { RadioStandin } from '@/standins'
import { PortRelay } from '../ports/portRelay'
import { bundlePrograms } from '../testing'
import { RemoteHub } from './remoteHub'

const root = process.cwd()
let folder: string
let bundled: Awaited<ReturnType<typeof bundlePrograms>>
let hub: RemoteHub
let problems: string[]
const children: ChildProcess[] = []
beforeAll(async () => {
  bundled = await bundlePrograms()
})
afterAll(() => bundled.dispose())
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'zeptik-hub-'))
  problems = []
})
afterEach(async () => {
  await hub.close()
  children.splice(0).forEach((child) => child.kill('SIGKILL'))
  rmSync(folder, { recursive: true, force: true })
})

const later = (ms: number) => new Promise((done) => setTimeout(done, ms))
async function until<T>(look: () => T | undefined | false): Promise<T> {
  const end = performance.now() + 20_000
  for (;;) {
    const found = look()
    if (found) return found
    if (performance.now() > end) throw new Error(`not in time: ${JSON.stringify(hub.state(Infinity))} ${problems.join()}`)
    await later(10)
  }
}

/** A radio in a process of its own: it goes on whatever this one does. */
async function radio(): Promise<{ port: number; events: { what: string; utcMs: number }[] }> {
  const child = spawn(process.execPath, [join(root, 'scripts', 'torture', 'radio.mjs')], { stdio: ['ignore', 'pipe', 'inherit'] })
  children.push(child)
  const events: { what: string; utcMs: number }[] = []
  createInterface({ input: child.stdout! }).on('line', (line) => {
    const [what, n] = line.split(' ')
    events.push({ what: what!, utcMs: Number(n) })
  })
  const { utcMs: port } = await until(() => events[0])
  events.splice(0)
  return { port, events }
}

async function open(relay = new PortRelay()): Promise<void> {
  hub = await RemoteHub.open(
    {
      loginFor: async () => undefined,
      lentPort: (by, baud) => relay.createPort(by, baud),
      onVerdict: () => undefined,
      onPacket: () => undefined,
    },
    {
      program: bundled.programs.links,
      watchScript: join(root, 'scripts', 'key-watch.mjs'),
      folder,
      onProblem: (words) => problems.push(words),
    },
  )
}
const state = (): LinkState => linkStateSchema.parse(hub.state(0))
const config = (port: LinkConfig['control']['port']): LinkConfig => ({
  ...defaultLinkConfig,
  control: { ...defaultLinkConfig.control, enabled: true, port, dialect: 'ascii-9' },
  keying: { ...defaultLinkConfig.keying, by: 'cat' },
})
const talking = () =>
  until(() => state().control.state === 'talking' && state().control.frequencyHz === 14_074_000 && state().keying.state === 'ready')

describe('the links in a process of their own', () => {
  it('are told from here as they stand there, and unkey while this process is deaf', async () => {
    const { port, events } = await radio()
    await open()
    await hub.configure(config({ kind: 'tcp', host: '127.0.0.1', port }))
    await talking()
    expect(state().wire.length).toBeGreaterThan(2)
    expect(hub.state(state().wire.at(-1)!.sequence + 1000).wire).toEqual([])
    expect(await hub.key({ action: 'on', id: 'a', acknowledged: 0 })).toEqual({ ok: true })
    expect(state().keying.state).toBe('keyed')
    expect(await hub.key({ action: 'on', id: 'b', acknowledged: 0 })).toMatchObject({
      ok: false,
      error: expect.stringMatching(/Another transmission/),
    })
    // Nothing at all is done here for longer than the key may be held without a word.
    const deafUntil = performance.now() + 4 * WATCHDOG_MS
    while (performance.now() < deafUntil);
    const deafUntilUtcMs = Date.now()
    await until(() => state().alarm)
    expect(state().alarm!.words).toMatch(/went away: the radio was unkeyed/)
    expect(events.map((event) => event.what)).toEqual(['keyed', 'unkeyed'])
    expect(events[1]!.utcMs).toBeLessThan(deafUntilUtcMs - WATCHDOG_MS)
    expect(existsSync(join(folder, 'keyed.json'))).toBe(false)
  })

  it('that are killed while keyed: the watch unkeys, a new process takes over, and the page learns of it', async () => {
    const { port, events } = await radio()
    await open()
    await hub.configure(config({ kind: 'tcp', host: '127.0.0.1', port }))
    await talking()
    expect(await hub.key({ action: 'on', id: 'a', acknowledged: 0 })).toEqual({ ok: true })
    const { pid } = hub
    process.kill(pid!, 'SIGKILL')
    await until(() => events.length > 1)
    expect(events.map((event) => event.what)).toEqual(['keyed', 'unkeyed'])
    await until(() => hub.pid !== undefined && hub.pid !== pid && state().alarm)
    await talking()
    expect(problems.join()).toMatch(/has ended; it is started anew/)
    const { alarm } = state()
    expect(alarm!.words).toMatch(/ended while the radio was keyed/)
    // Only after a person has seen it.
    expect(await hub.key({ action: 'on', id: 'b', acknowledged: 0 })).toMatchObject({ ok: false })
    expect(await hub.key({ action: 'on', id: 'b', acknowledged: alarm!.sequence })).toEqual({ ok: true })
    expect(await hub.key({ action: 'off' })).toEqual({ ok: true })
    expect(existsSync(join(folder, 'keyed.json'))).toBe(false)
  })

  it('say what they cannot do while there is no process', async () => {
    await open()
    process.kill(hub.pid!, 'SIGKILL')
    await until(() => hub.pid === undefined)
    expect(await hub.key({ action: 'off' })).toMatchObject({ ok: false, error: expect.stringMatching(/started anew/) })
    expect(await hub.diagnose({ action: 'stop' })).toMatchObject({ ok: false })
    // What is set meanwhile is told to the next one.
    const { port } = await radio()
    await hub.configure(config({ kind: 'tcp', host: '127.0.0.1', port }))
    await until(() => hub.pid)
    await talking()
    // And what is under way when it ends is neither an error nor lost.
    const changing = hub.configure({ ...config({ kind: 'tcp', host: '127.0.0.1', port }), swrLimit: 3 })
    process.kill(hub.pid!, 'SIGKILL')
    await changing
    await until(() => hub.pid)
    await talking()
  })

  it('reach a port that a browser lends, both ways', async () => {
    const relay = new PortRelay()
    await open(relay)
    await hub.configure(config({ kind: 'browser', by: 'serial' }))
    await until(() => /is not attached/.test(state().control.detail))
    const device = new RadioStandin({ voice: 'ascii-9', serialBaud: 9600 })
    const lent = relay.attach('serial')
    const report = (part: object) => relay.report({ by: 'serial', session, ...part } as never)
    let session = ''
    const look = () => {
      const { session: mine, orders } = lent.read()
      session = mine
      for (const order of orders) {
        if (order.type === 'write')
          for (const { delayMs, bytes } of device.receive(fromBase64(order.bytes), 9600))
            setTimeout(() => report({ type: 'bytes', bytes: toBase64(bytes) }), delayMs)
        queueMicrotask(() => report({ type: 'done', n: order.n, ok: true }))
      }
    }
    look()
    const leave = lent.subscribe(() => queueMicrotask(look))
    hub.portAppeared()
    await talking()
    expect(await hub.key({ action: 'on', id: 'a', acknowledged: 0 })).toEqual({ ok: true })
    expect(device.keyed).toBe(true)
    leave()
    await until(() => state().alarm)
    expect(state().alarm!.words).toMatch(/went to sleep\. It was lost while transmitting/)
  })

  it('are not left keyed by a server that ends, in order or not', async () => {
    const { port, events } = await radio()
    await open()
    await hub.configure(config({ kind: 'tcp', host: '127.0.0.1', port }))
    await talking()
    await hub.key({ action: 'on', id: 'a', acknowledged: 0 })
    await hub.close()
    await until(() => events.length > 1)
    expect(events.map((event) => event.what)).toEqual(['keyed', 'unkeyed'])
    expect(existsSync(join(folder, 'keyed.json'))).toBe(false)
  })
})
