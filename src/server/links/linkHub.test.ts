import { performance } from 'node:perf_hooks'
import {
  defaultLinkConfig,
  linkConfigSchema,
  linkStateSchema,
  WATCHDOG_MS,
  type BytePort,
  type BytePortEvents,
  type LinkConfig,
  type LinkState,
  type PortChoice,
  type SerialLines,
} from '@/core/links'
import { RadioStandin, TncStandin, type RadioFault, type TncFault } from '@/standins'
import { runDevice } from '@/standins/node/deviceRunner'
import type { RunningStandin } from '@/standins/node/gpsRunner'
import { createTcpBytePort } from '../ports/tcpBytePort'
import { freePort } from '../testing'
import type { KeyMark } from './keyMark'
import { LinkHub, type LinkHubOptions } from './linkHub'

const running: RunningStandin[] = []
const hubs: LinkHub[] = []
afterEach(async () => {
  await Promise.all(hubs.splice(0).map((hub) => hub.close()))
  running.splice(0).forEach((standin) => standin.stop())
})

async function run(device: Parameters<typeof runDevice>[0], port = 0): Promise<RunningStandin & { port: number }> {
  const started = await runDevice(device, { kind: 'tcp', host: '127.0.0.1', port })
  if (!started.ok) throw new Error(started.error)
  running.push(started.standin)
  return started.standin as RunningStandin & { port: number }
}

/** A serial port in memory whose lines and fate the test holds in its hand. */
class Line {
  lines: SerialLines = { rts: true, dtr: true }
  history: SerialLines[] = []
  events: BytePortEvents | undefined
  there = true
  create = (): BytePort => ({
    describe: () => '/dev/ttyKEY',
    open: async (events) => {
      if (!this.there) return { ok: false, error: '/dev/ttyKEY is not there.', fault: 'missing' }
      this.events = events
      this.lines = { rts: true, dtr: true }
      return { ok: true }
    },
    write: async () => ({ ok: true }),
    setLines: async (lines) => {
      this.lines = { ...this.lines, ...lines }
      this.history.push(this.lines)
      return { ok: true }
    },
    close: async () => {
      this.events = undefined
    },
  })
  vanish(): void {
    this.there = false
    const { events } = this
    this.events = undefined
    events?.onClosed('/dev/ttyKEY vanished.')
  }
}

function createHub(line?: Line, over: Partial<LinkHubOptions> = {}): LinkHub {
  const createPort = (port: PortChoice): BytePort => (port.kind === 'tcp' ? createTcpBytePort(port.host, port.port) : line!.create())
  const hub = new LinkHub({
    ...{ monotonicMs: () => performance.now(), utcMs: () => 0, createPort, listPorts: async () => ['/dev/ttyKEY'] },
    ...over,
  })
  hubs.push(hub)
  return hub
}

const tcp = (port: number): PortChoice => ({ kind: 'tcp', host: '127.0.0.1', port })
const withControl = (port: number, over: Partial<LinkConfig['keying']> = {}, dialect = 'framed-bcd'): LinkConfig => ({
  ...defaultLinkConfig,
  control: { ...defaultLinkConfig.control, enabled: true, port: tcp(port), dialect },
  keying: { ...defaultLinkConfig.keying, by: 'cat', ...over },
})

async function until(hub: LinkHub, holds: (state: LinkState) => boolean, ms = 6000): Promise<LinkState> {
  const end = performance.now() + ms
  for (;;) {
    const state = linkStateSchema.parse(hub.state(0))
    if (holds(state)) return state
    if (performance.now() > end) throw new Error(`not in time: ${JSON.stringify({ ...state, wire: undefined })}`)
    await new Promise((done) => setTimeout(done, 10))
  }
}

describe('the radio’s control line', () => {
  it('is read and set, and what crosses it can be seen', async () => {
    const radio = new RadioStandin({ voice: 'framed-bcd', serialBaud: 9600 })
    const { port } = await run(radio)
    const hub = createHub()
    await hub.configure(withControl(port))
    expect(await until(hub, (s) => s.control.frequencyHz === 14_074_000 && s.control.mode !== null)).toMatchObject({
      control: { state: 'talking', mode: 'usb' },
      keying: { by: 'cat', state: 'ready' },
    })
    expect(await hub.ask({ command: 'setFrequency', frequencyHz: 7_074_000 })).toEqual({ ok: true })
    expect(radio.frequencyHz).toBe(7_074_000)
    const { wire } = hub.state(0)
    expect(wire.some((w) => w.way === 'out' && w.hex === 'FE FE 70 E0 03 FD')).toBe(true)
    expect(wire.some((w) => w.way === 'in')).toBe(true)
    expect(hub.state(wire.at(-1)!.sequence).wire).toEqual([])
    radio.frequencyHz = 10_136_000
    await until(hub, (s) => s.control.frequencyHz === 10_136_000)
  })

  it('that is not there is a problem with its reason, and is taken up when it comes', async () => {
    const radio = new RadioStandin({ voice: 'ascii-9', serialBaud: 9600 })
    const first = await run(radio)
    const { port } = first
    first.stop()
    const hub = createHub()
    await hub.configure(withControl(port, {}, 'ascii-9'))
    expect((await until(hub, (s) => s.control.state === 'problem')).control.detail).toMatch(/nothing listens on its port/)
    expect(await hub.ask({ command: 'setFrequency', frequencyHz: 7_074_000 })).toMatchObject({
      ok: false,
      error: expect.stringMatching(/cannot be asked/),
    })
    await run(radio, port)
    await until(hub, (s) => s.control.state === 'talking')
  })
})

describe('keying by control', () => {
  it('goes on and off, and ends by itself when nobody is alive', async () => {
    const radio = new RadioStandin({ voice: 'five-byte', serialBaud: 9600 })
    const { port } = await run(radio)
    const hub = createHub()
    await hub.configure(withControl(port, {}, 'five-byte'))
    await until(hub, (s) => s.keying.state === 'ready')
    expect(await hub.key({ action: 'on', id: 'a', acknowledged: 0 })).toEqual({ ok: true })
    expect(radio.keyed).toBe(true)
    expect(hub.state(0).keying.state).toBe('keyed')
    expect(await hub.key({ action: 'off' })).toEqual({ ok: true })
    expect(radio.keyed).toBe(false)

    await hub.key({ action: 'on', id: 'b', acknowledged: 0 })
    const startMs = performance.now()
    await new Promise((done) => setTimeout(done, 1000))
    expect(await hub.key({ action: 'alive', id: 'b' })).toEqual({ ok: true })
    expect(await hub.key({ action: 'alive', id: 'other' })).toMatchObject({ ok: false })
    await until(hub, () => !radio.keyed)
    // Not before two seconds after the last sign of life.
    expect(performance.now() - startMs).toBeGreaterThan(2900)
    const { alarm } = await until(hub, (s) => s.alarm !== null)
    expect(alarm!.words).toMatch(/went away/)
    // Someone must have seen it before anything goes on.
    expect(await hub.key({ action: 'on', id: 'c', acknowledged: 0 })).toMatchObject({ ok: false, error: alarm!.words })
    expect(await hub.key({ action: 'on', id: 'c', acknowledged: alarm!.sequence })).toEqual({ ok: true })
  })

  it('ends within one reading of a standing wave that is too high', async () => {
    const faults = new Set<RadioFault>()
    const radio = new RadioStandin({ voice: 'framed-bcd', serialBaud: 9600 }, () => faults)
    const { port } = await run(radio)
    const hub = createHub()
    await hub.configure(withControl(port))
    await until(hub, (s) => s.keying.state === 'ready')
    await hub.key({ action: 'on', id: 'a', acknowledged: 0 })
    expect((await until(hub, (s) => s.control.swr !== null)).control.swr).toBeCloseTo(1.3, 1)
    expect(radio.keyed).toBe(true)
    faults.add('highSwr')
    const { alarm, keying } = await until(hub, (s) => s.alarm !== null)
    expect(alarm!.words).toMatch(/^SWR 4\.0, above the limit of 2\.5: transmission was stopped/)
    expect(keying.state).not.toBe('keyed')
    await until(hub, () => !radio.keyed)
  })

  it('whose line vanishes is told at once, and unkeyed first when it is back', async () => {
    const radio = new RadioStandin({ voice: 'ascii-11', serialBaud: 9600 })
    const standin = await run(radio)
    const hub = createHub()
    await hub.configure(withControl(standin.port, {}, 'ascii-11'))
    await until(hub, (s) => s.keying.state === 'ready')
    await hub.key({ action: 'on', id: 'a', acknowledged: 0 })
    await until(hub, () => radio.keyed)
    standin.stop()
    const { alarm, keying } = await until(hub, (s) => s.alarm !== null)
    expect(alarm!.words).toMatch(/lost while transmitting\. If the transmit lamp is lit, switch the radio off/)
    expect(keying.state).toBe('problem')
    expect(radio.keyed).toBe(true)
    await run(radio, standin.port)
    await until(hub, () => !radio.keyed)
  })

  it('ends by the line that keyed it when the set-up is changed meanwhile', async () => {
    const radio = new RadioStandin({ voice: 'ascii-9', serialBaud: 9600 })
    const { port } = await run(radio)
    const hub = createHub()
    const config = withControl(port, {}, 'ascii-9')
    // Two at once open the port once.
    await Promise.all([hub.configure(config), hub.configure({ ...config, swrLimit: 3 })])
    await until(hub, (s) => s.keying.state === 'ready')
    await hub.key({ action: 'on', id: 'a', acknowledged: 0 })
    await until(hub, () => radio.keyed)
    await hub.configure(defaultLinkConfig)
    await until(hub, () => !radio.keyed)
    expect(hub.state(0)).toMatchObject({ control: { state: 'off' }, keying: { by: 'vox', state: 'off' } })
  })

  it('that the radio does not confirm to have ended is told again, then said to be unknown', async () => {
    const faults = new Set<RadioFault>()
    const radio = new RadioStandin({ voice: 'framed-bcd', serialBaud: 9600 }, () => faults)
    const { port } = await run(radio)
    const hub = createHub()
    await hub.configure(withControl(port))
    await until(hub, (s) => s.keying.state === 'ready')
    await hub.key({ action: 'on', id: 'a', acknowledged: 0 })
    faults.add('drops')
    expect(await hub.key({ action: 'off' })).toEqual({ ok: true })
    faults.clear()
    await hub.key({ action: 'on', id: 'b', acknowledged: 0 })
    faults.add('off')
    expect(await hub.key({ action: 'off' })).toMatchObject({ ok: false })
    expect(hub.state(0).alarm!.words).toMatch(/not known whether the radio stopped: The radio did not answer\. If the transmit lamp/)
  })
})

describe('a radio that keys itself by VOX', () => {
  it('has its SWR read while it is on the air, and an alarm raised above the limit', async () => {
    const faults = new Set<RadioFault>(['highSwr'])
    const radio = new RadioStandin({ voice: 'framed-bcd', serialBaud: 9600 }, () => faults)
    const { port } = await run(radio)
    const hub = createHub()
    await hub.configure(withControl(port, { by: 'vox' }))
    const { control } = await until(hub, (s) => s.control.state === 'talking')
    expect(control.swrMeter).toBe(true)
    expect(await hub.key({ action: 'on', id: 'a', acknowledged: 0 })).toEqual({ ok: true })
    // The sound trips it; the server sends nothing that would key it.
    radio.keyed = true
    const { alarm } = await until(hub, (s) => s.alarm !== null)
    expect(alarm!.words).toMatch(/^SWR 4\.0, above the limit/)
    expect(radio.keyed).toBe(true)
    expect(await hub.key({ action: 'on', id: 'b', acknowledged: 0 })).toMatchObject({ ok: false })
  })

  it('is no longer read when its page is gone, without an alarm: there is nothing to unkey', async () => {
    const { port } = await run(new RadioStandin({ voice: 'framed-bcd', serialBaud: 9600 }))
    const hub = createHub()
    await hub.configure(withControl(port, { by: 'vox' }))
    await until(hub, (s) => s.control.state === 'talking')
    await hub.key({ action: 'on', id: 'a', acknowledged: 0 })
    await new Promise((done) => setTimeout(done, WATCHDOG_MS + 300))
    expect(await hub.key({ action: 'alive', id: 'a' })).toEqual({ ok: false, error: 'It is not keyed.' })
    expect(hub.state(0).alarm).toBeNull()
  })
})

describe('key lines', () => {
  const config = (by: 'rts' | 'dtr', inverted: boolean): LinkConfig => ({
    ...defaultLinkConfig,
    keying: { ...defaultLinkConfig.keying, by, inverted, path: '/dev/ttyKEY' },
  })

  it.each([
    ['rts', false, { rts: false, dtr: false }, { rts: true, dtr: false }],
    ['dtr', false, { rts: false, dtr: false }, { rts: false, dtr: true }],
    ['rts', true, { rts: true, dtr: false }, { rts: false, dtr: false }],
    ['dtr', true, { rts: false, dtr: true }, { rts: false, dtr: false }],
  ] as const)('%s, inverted %s', async (by, inverted, idle, keyed) => {
    const line = new Line()
    const hub = createHub(line)
    await hub.configure(config(by, inverted))
    await until(hub, (s) => s.keying.state === 'ready')
    // Opening a port raises both lines; they go back before anything else.
    expect(line.history[0]).toEqual(idle)
    expect(await hub.key({ action: 'on', id: 'a', acknowledged: 0 })).toEqual({ ok: true })
    expect(line.lines).toEqual(keyed)
    await hub.key({ action: 'off' })
    expect(line.lines).toEqual(idle)
  })

  it('have the SWR guarded too where the radio can be read', async () => {
    const line = new Line()
    const faults = new Set<RadioFault>()
    const radio = new RadioStandin({ voice: 'ascii-9', serialBaud: 9600 }, () => faults)
    const { port } = await run(radio)
    const hub = createHub(line)
    await hub.configure({ ...withControl(port, {}, 'ascii-9'), keying: config('rts', false).keying })
    await until(hub, (s) => s.keying.state === 'ready' && s.control.state === 'talking')
    await hub.key({ action: 'on', id: 'a', acknowledged: 0 })
    radio.setKeyed(line.lines.rts!)
    await until(hub, (s) => s.control.swr !== null)
    faults.add('highSwr')
    await until(hub, (s) => s.alarm !== null)
    expect(line.lines.rts).toBe(false)
  })

  it('are at rest while the ladder opens their port', async () => {
    const line = new Line()
    const hub = createHub(line)
    const serial = { kind: 'serial', path: '/dev/ttyKEY' } as const
    await hub.configure({
      ...defaultLinkConfig,
      control: { ...defaultLinkConfig.control, enabled: true, port: serial },
      keying: { ...defaultLinkConfig.keying, by: 'dtr', inverted: true },
    })
    await until(hub, (s) => s.control.state !== 'opening')
    line.history = []
    await hub.diagnose({ action: 'start', link: 'control' })
    await until(hub, (s) => s.diagnosis?.now.rungs[0]!.status === 'asking', 15_000)
    expect(line.history.length).toBeGreaterThan(0)
    expect(line.history.every((lines) => lines.rts === false && lines.dtr === true)).toBe(true)
    await hub.diagnose({ action: 'stop' })
  }, 30_000)

  it('drop when their port vanishes, and it is told within half a second', async () => {
    const line = new Line()
    const hub = createHub(line)
    await hub.configure(config('rts', false))
    await until(hub, (s) => s.keying.state === 'ready')
    await hub.key({ action: 'on', id: 'a', acknowledged: 0 })
    let told = false
    hub.subscribe(() => (told ||= hub.state(0).alarm !== null))
    line.vanish()
    await until(hub, () => told, 500)
    expect(hub.state(0)).toMatchObject({
      keying: { state: 'problem' },
      alarm: { words: expect.stringMatching(/vanished\. It was lost while transmitting\. The key line has dropped/) },
    })
    expect(await hub.key({ action: 'alive', id: 'a' })).toMatchObject({ ok: false })
  })
})

describe('a TNC', () => {
  it('is told its parameters at every start, and what it hears is shown', async () => {
    const tnc = new TncStandin({ seed: 2, serialBaud: 9600, startsIn: 'kiss' })
    const { port } = await run(tnc)
    const hub = createHub()
    const parameters = { ...defaultLinkConfig.tnc.parameters, txDelayMs: 420 }
    await hub.configure({ ...defaultLinkConfig, tnc: { ...defaultLinkConfig.tnc, enabled: true, port: tcp(port), parameters } })
    const state = await until(hub, (s) => s.tnc.frames.length > 0)
    expect(state.tnc).toMatchObject({ state: 'talking', badFrames: 0 })
    expect(state.tnc.frames[0]).toMatchObject({ kind: 'UI', line: expect.stringMatching(/^Q\d\w+(-\d+)?>Q1POS/), text: 'made-up beacon 1' })
    expect(tnc.kissParameters.get(1)).toBe(42)
  })

  it('that was powered up with a flat memory battery is set up again and put back into KISS', async () => {
    const faults = new Set<TncFault>()
    const tnc = new TncStandin({ seed: 2, serialBaud: 9600, startsIn: 'kiss' }, () => faults)
    const { port } = await run(tnc)
    const hub = createHub()
    const startLines = ['MYCALL Q5RVR', 'TXDELAY 42']
    await hub.configure({ ...defaultLinkConfig, tnc: { ...defaultLinkConfig.tnc, enabled: true, port: tcp(port), startLines } })
    await until(hub, (s) => s.tnc.frames.length > 0)
    tnc.kissParameters.clear()
    faults.add('lostSettings')
    await until(hub, (s) => /put into KISS again/.test(s.tnc.detail), 9000)
    await until(hub, () => tnc.kissParameters.get(1) === 30)
    expect(tnc).toMatchObject({ mode: 'kiss', settings: { MYCALL: 'Q5RVR', TXDELAY: '42' } })
  })
})

describe('the ladder on the server', () => {
  it('climbs, asks, names what is wrong, and takes the link up again', async () => {
    const radio = new RadioStandin({ voice: 'ascii-9', serialBaud: 9600 })
    const { port } = await run(radio)
    const hub = createHub()
    await hub.configure(withControl(port))
    expect(await hub.diagnose({ action: 'start', link: 'tnc' })).toMatchObject({
      ok: false,
      error: expect.stringMatching(/Choose the port/),
    })
    expect(await hub.diagnose({ action: 'start', link: 'control' })).toEqual({ ok: true })
    expect(await hub.diagnose({ action: 'start', link: 'control' })).toMatchObject({ ok: false })
    // A radio of another dialect stays silent, so only the operator knows whether it is on.
    await until(hub, (s) => s.diagnosis?.now.rungs[0]!.status === 'asking', 10_000)
    await hub.diagnose({ action: 'answer', rung: 'power', answer: 'yes' })
    const { diagnosis } = await until(hub, (s) => s.diagnosis?.now.verdict?.ok !== undefined, 25_000)
    expect(diagnosis!.now.verdict).toMatchObject({ ok: false, rung: 'answers', code: 'no-answer' })
    await hub.configure(withControl(port, {}, 'ascii-9'))
    // With other settings what was found says nothing any more.
    expect(hub.state(0).diagnosis).toBeNull()
    await until(hub, (s) => s.control.state === 'talking')
    await hub.diagnose({ action: 'start', link: 'control' })
    await until(hub, (s) => s.diagnosis?.now.verdict?.ok === true, 15_000)
    await until(hub, (s) => s.control.state === 'talking')
  }, 60_000)
})

describe('the set-up of links', () => {
  const valid = withControl(4532)
  it.each([
    [{ control: { ...valid.control, port: null } }, /Choose the port of the radio/],
    [{ control: { ...valid.control, enabled: false } }, /Keying by control needs/],
    [{ control: { ...valid.control, dialect: '' } }, /Choose a command set/],
    [{ keying: { ...valid.keying, by: 'rts' } }, /lines of a serial port/],
    [{ tnc: { ...valid.tnc, enabled: true } }, /port of the TNC/],
    [{ tnc: { ...valid.tnc, enabled: true, port: valid.control.port } }, /cannot share one port/],
    [
      {
        tnc: { ...valid.tnc, enabled: true, port: { kind: 'serial', path: '/dev/a' } },
        keying: { ...valid.keying, by: 'rts', path: '/dev/a' },
      },
      /keys by itself/,
    ],
    [{ swrLimit: 0.5 }, /At least 1\.2/],
    [{ tnc: { ...valid.tnc, airBaud: 4800 } }, /300|Invalid/],
  ])('is checked: %#', (change, error) => {
    const parsed = linkConfigSchema.safeParse({ ...valid, ...change })
    expect(parsed.error?.issues.map((i) => i.message).join()).toMatch(error)
  })
  it('is off at first', () => {
    expect(linkConfigSchema.parse(defaultLinkConfig)).toEqual(defaultLinkConfig)
    expect(linkConfigSchema.parse(valid)).toEqual(valid)
  })
})

/** A way to a radio that loses some of what is written to it. */
function lossyPort(loses: (bytes: Uint8Array) => boolean) {
  return (port: PortChoice): BytePort => {
    if (port.kind !== 'tcp') throw new Error('only over the network')
    const real = createTcpBytePort(port.host, port.port)
    return {
      describe: () => real.describe(),
      open: (events) => real.open(events),
      write: async (bytes) => (loses(bytes) ? { ok: true } : real.write(bytes)),
      close: () => real.close(),
    }
  }
}
const KEY_OFF = {
  'ascii-11': /^RX;$/,
  'ascii-9': /^TX0;$/,
  'framed-bcd': /^\xfe\xfe.{2}\x1c\x00\x00\xfd$/s,
  'five-byte': /^\x00{4}\x88$/,
} as const
type Voice = keyof typeof KEY_OFF

describe('unkeying', () => {
  const setUp = async (voice: Voice, lost: number, over: Partial<LinkHubOptions> = {}) => {
    const radio = new RadioStandin({ voice, serialBaud: 9600 })
    const { port } = await run(radio)
    let left = lost
    const loses = (bytes: Uint8Array) => KEY_OFF[voice].test(String.fromCharCode(...bytes)) && left-- > 0
    const hub = createHub(undefined, { createPort: lossyPort(loses), ...over })
    await hub.configure(withControl(port, {}, voice))
    return { radio, hub, loseMore: (n: number) => (left = n) }
  }

  it.each(Object.keys(KEY_OFF) as Voice[])('by %s is read back: one lost order is noticed and given again', async (voice) => {
    const { radio, hub, loseMore } = await setUp(voice, 0)
    await until(hub, (s) => s.keying.state === 'ready')
    expect(hub.state(0).keying).toMatchObject({ proof: 'readBack', unknown: false })
    expect(await hub.key({ action: 'on', id: 'a', acknowledged: 0 })).toEqual({ ok: true })
    // Some dialects do not answer: the order may still be on its way.
    await until(hub, () => radio.keyed)
    loseMore(1)
    expect(await hub.key({ action: 'off' })).toEqual({ ok: true })
    expect(radio.keyed).toBe(false)
    expect(hub.state(0).alarm).toBeNull()
  })

  it('that gets lost again and again raises the alarm, and is never forgotten', async () => {
    const { radio, hub, loseMore } = await setUp('ascii-11', 0)
    await until(hub, (s) => s.keying.state === 'ready')
    await hub.key({ action: 'on', id: 'a', acknowledged: 0 })
    await until(hub, () => radio.keyed)
    loseMore(5)
    expect(await hub.key({ action: 'off' })).toMatchObject({ ok: false, error: expect.stringMatching(/still transmits/) })
    const state = hub.state(0)
    expect(state.alarm!.words).toMatch(/not known whether the radio stopped.*switch the radio off/)
    expect(state.keying).toMatchObject({ state: 'problem', unknown: true })
    // Nobody keys what may be keyed, whatever was acknowledged.
    expect(await hub.key({ action: 'on', id: 'b', acknowledged: state.alarm!.sequence })).toMatchObject({ ok: false })
    // It is told until it says that it stopped.
    const after = await until(hub, (s) => !s.keying.unknown)
    expect(radio.keyed).toBe(false)
    expect(await hub.key({ action: 'on', id: 'c', acknowledged: after.alarm!.sequence })).toEqual({ ok: true })
  })

  it('of a radio that answers everything but that question goes by its orders, and says so', async () => {
    const radio = new RadioStandin({ voice: 'ascii-9', serialBaud: 9600 })
    const { port } = await run(radio)
    const hub = createHub(undefined, { createPort: lossyPort((bytes) => String.fromCharCode(...bytes) === 'TX;') })
    await hub.configure(withControl(port, {}, 'ascii-9'))
    await until(hub, (s) => s.control.frequencyHz !== null && s.keying.proof === 'none', 15_000)
    expect(await hub.key({ action: 'on', id: 'a', acknowledged: 0 })).toEqual({ ok: true })
    await until(hub, () => radio.keyed)
    expect(await hub.key({ action: 'off' })).toEqual({ ok: true })
    await until(hub, (s) => !radio.keyed && s.keying.state === 'ready')
    expect(hub.state(0).alarm).toBeNull()
  })

  it('comes first when a line is opened for the first time, whoever keyed the radio', async () => {
    const radio = new RadioStandin({ voice: 'ascii-9', serialBaud: 9600 })
    const { port } = await run(radio)
    radio.keyed = true
    const hub = createHub()
    await hub.configure(withControl(port, {}, 'ascii-9'))
    await until(hub, (s) => s.keying.state === 'ready' && !radio.keyed)
  })

  it('follows a server that ended while the radio was keyed, and says so', async () => {
    const marks: string[] = []
    const keyMark: KeyMark = { found: () => Date.UTC(2026, 5, 1, 12, 0, 3), set: () => marks.push('set'), clear: () => marks.push('clear') }
    const radio = new RadioStandin({ voice: 'framed-bcd', serialBaud: 9600 })
    const { port } = await run(radio)
    radio.keyed = true
    const hub = createHub(undefined, { keyMark })
    expect(hub.state(0).alarm!.words).toMatch(/ended while the radio was keyed, at 12:00:03/)
    expect(hub.state(0).keying.unknown).toBe(true)
    // To learn how it is linked tells it nothing: while it cannot be reached nobody knows.
    const nothingThere = withControl(await freePort())
    await hub.configure(nothingThere)
    await until(hub, (s) => s.control.state === 'problem')
    expect(hub.state(0).keying).toMatchObject({ unknown: true, state: 'problem' })
    expect(marks).toEqual([])
    await hub.configure(withControl(port))
    const state = await until(hub, (s) => s.keying.state === 'ready')
    expect(radio.keyed).toBe(false)
    expect(marks).toEqual(['clear'])
    // Before each keying the mark stands, after each it is gone.
    await hub.key({ action: 'on', id: 'a', acknowledged: state.alarm!.sequence })
    expect(marks).toEqual(['clear', 'set'])
    await hub.key({ action: 'off' })
    expect(marks).toEqual(['clear', 'set', 'clear'])
  })

  it('is one holder’s matter, and alarms that have not happened cannot be acknowledged', async () => {
    const { radio, hub } = await setUp('ascii-9', 0)
    await until(hub, (s) => s.keying.state === 'ready')
    await hub.key({ action: 'on', id: 'a', acknowledged: 0 })
    expect(await hub.key({ action: 'on', id: 'b', acknowledged: 0 })).toMatchObject({
      ok: false,
      error: expect.stringMatching(/Another transmission/),
    })
    expect(await hub.key({ action: 'alive', id: 'a' })).toEqual({ ok: true })
    expect(await hub.key({ action: 'off' })).toEqual({ ok: true })
    expect(radio.keyed).toBe(false)
    expect(await hub.key({ action: 'on', id: 'c', acknowledged: 9e15 })).toMatchObject({
      ok: false,
      error: expect.stringMatching(/has not happened/),
    })
  })
})
