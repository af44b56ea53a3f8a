import { execFileSync } from 'node:child_process'
import { createSocket } from 'node:dgram'
import { mkdtempSync, rmSync } from 'node:fs'
import { connect, createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { performance } from 'node:perf_hooks'
import { defaultClockConfig, SerialReceiver, type BytePort, type BytePortEvents, type ClockConfig, type ServerClock } from '@/core/links'
import { locatorToPosition } from '@/core/place'
import { createGpsStandin, createTimeServerStandin, garbled, type GpsFault, type TimeFault } from '@/standins'
import { createRandom } from '@/core/dsp'
import { runGpsStandin, type RunningStandin } from '@/standins/node/gpsRunner'
import { runTimeServer } from '@/standins/node/timeServerRunner'
import { createSerialBytePort, explainSerialError, listSerialPorts } from '../ports/serialBytePort'
import { freePort } from '../testing'
import { ClockHub } from './clockHub'
import { ReceiverLink } from './receiverLink'
import { askTimeServer, splitHost } from './sntpClient'

const monotonicMs = () => performance.now()
const sleep = (ms: number) => new Promise<void>((done) => setTimeout(done, ms))
const position = locatorToPosition('JN97LK45')
const open: { close?(): unknown; stop?(): unknown }[] = []
afterEach(async () => {
  for (const thing of open.splice(0)) await (thing.close?.() ?? thing.stop?.())
})

async function hubWith(change: Partial<ClockConfig>, over: Partial<ConstructorParameters<typeof ClockHub>[0]> = {}) {
  const hub = new ClockHub({ monotonicMs, ...over })
  open.push(hub)
  await hub.configure({ ...defaultClockConfig, ...change })
  return hub
}
/** Waits until the hub's state is as wanted. */
async function until(hub: ClockHub, wanted: (state: ServerClock) => boolean, forMs = 15_000): Promise<ServerClock> {
  const end = performance.now() + forMs
  for (;;) {
    const state = hub.state(0)
    if (wanted(state)) return state
    if (performance.now() > end) throw new Error(`not reached: ${JSON.stringify(state)}`)
    await sleep(50)
  }
}
async function standin(way: Parameters<typeof runGpsStandin>[1], faults: GpsFault[] = [], serialBaud?: number): Promise<RunningStandin> {
  const started = await runGpsStandin({ seed: 1, position, ...(serialBaud && { serialBaud }) }, way, () => new Set(faults))
  if (!started.ok) throw new Error(started.error)
  open.push(started.standin)
  return started.standin
}
/** How far a reading of the hub is from this computer's clock, which the stand-ins follow. */
const errorOf = (state: ServerClock) => {
  const { reading } = state.readings.at(-1)!
  return reading.utcMs - reading.monotonicMs - (Date.now() - performance.now())
}

describe('receivers over real ports', () => {
  it('by UDP: time, satellites and place, with one source for each sender', async () => {
    const port = await freePort()
    const hub = await hubWith({ udp: { ...defaultClockConfig.udp, enabled: true, port } })
    expect(hub.state(0).links[1]).toMatchObject({ state: 'waiting', detail: expect.stringContaining('this computer alone') })
    await standin({ kind: 'udp', host: '127.0.0.1', port })
    const state = await until(hub, (s) => s.readings.length > 0)
    expect(Math.abs(errorOf(state))).toBeLessThan(200)
    expect(state.links[1]).toMatchObject({
      state: 'hearing',
      receivers: [{ source: 'gps:udp:127.0.0.1', gps: { trusted: true, locator: 'JN97LK45' } }],
    })
    expect(hub.state(state.readings.at(-1)!.sequence).readings).toEqual([])
    // Turned off it lets go of the port.
    await hub.configure(defaultClockConfig)
    expect(hub.state(0).links[1]!.state).toBe('off')
    const again = createSocket('udp4').bind(port, '127.0.0.1')
    await new Promise((done) => again.once('listening', done))
    again.close()
  })

  it('by TCP, with a sender that stops in the middle of a sentence and comes back', async () => {
    const port = await freePort()
    const hub = await hubWith({ tcp: { ...defaultClockConfig.tcp, enabled: true, port } })
    await new Promise<void>((done) => {
      const socket = connect(port, '127.0.0.1', () => socket.end('$GPRMC,1200', () => done()))
    })
    await standin({ kind: 'tcpTo', host: '127.0.0.1', port }, [], 9600)
    const state = await until(hub, (s) => s.readings.length > 0)
    expect(Math.abs(errorOf(state))).toBeLessThan(250)
    expect(state.links[2]!.receivers[0]!.gps.rejected).toBeGreaterThanOrEqual(1)
  })

  it('says that a port is taken', async () => {
    const port = await freePort()
    const squatter = createServer().listen(port, '127.0.0.1')
    await new Promise((done) => squatter.once('listening', done))
    const hub = await hubWith({ tcp: { ...defaultClockConfig.tcp, enabled: true, port } })
    expect(hub.state(0).links[2]).toMatchObject({ state: 'problem', detail: expect.stringMatching(/is taken by another program/) })
    squatter.close()
  })

  it('is not drowned by a flood, and says so', () => {
    const link = new ReceiverLink('udp', { receiverDelayMs: null })
    const line = Uint8Array.from('$GPGLL,,,,,,V*06\r\n', (c) => c.charCodeAt(0))
    for (let i = 0; i < 50_000; i++) link.push(`10.0.0.${i % 200}`, line, 1000 + i / 1000)
    expect(link.receivers(2000).length).toBeLessThanOrEqual(4)
    expect(link.droppedBytes).toBeGreaterThan(800_000)
    expect(link.floodedMs).toBeGreaterThan(0)
    // A quiet while later a new sender is heard.
    link.push('10.0.1.1', line, 200_000)
    expect(link.receivers(200_000).map((r) => r.source)).toContain('gps:udp:10.0.1.1')
  })

  it('survives a real flood of garbage datagrams', async () => {
    const port = await freePort()
    const hub = await hubWith({ udp: { ...defaultClockConfig.udp, enabled: true, port } })
    const socket = createSocket('udp4')
    const garbage = Uint8Array.from({ length: 1400 }, (_, i) => (i * 31) % 256)
    for (let i = 0; i < 400; i++) socket.send(garbage, port, '127.0.0.1')
    const state = await until(hub, (s) => s.links[1]!.droppedBytes > 0)
    expect(state.links[1]!.detail).toMatch(/more is sent than any receiver would/)
    expect(state.readings).toEqual([])
    socket.close()
  })
})

const hasSocat = (() => {
  try {
    execFileSync('socat', ['-V'], { stdio: 'ignore' })
    return true
  } catch {
    return false
  }
})()

describe('a receiver on a serial port', () => {
  // socat makes the pseudo-terminal; the test command installs it where it may.
  ;(hasSocat ? it : it.skip)(
    'through a pseudo-terminal: the speed is found, and the port may vanish',
    async () => {
      const folder = mkdtempSync(join(tmpdir(), 'zeptik-pty-'))
      const path = join(folder, 'gps')
      // No system lists a pseudo-terminal as a serial port: whoever starts the server names it.
      process.env.ZEPTIK_SERIAL = path
      const device = await standin({ kind: 'pty', path }, [], 9600)
      const hub = await hubWith({ serial: { enabled: true, path, serialBaud: null, receiverDelayMs: null } })
      const state = await until(hub, (s) => s.readings.length > 0, 25_000)
      expect(state.links[0]).toMatchObject({ state: 'hearing', serialBaud: 9600, receivers: [{ gps: { trusted: true } }] })
      expect(Math.abs(errorOf(state))).toBeLessThan(250)
      device.stop()
      await until(hub, (s) => s.links[0]!.state === 'problem')
      await standin({ kind: 'pty', path }, [], 9600)
      await until(hub, (s) => s.links[0]!.state === 'hearing', 25_000)
      await hub.close()
      delete process.env.ZEPTIK_SERIAL
      rmSync(folder, { recursive: true, force: true })
    },
    60_000,
  )

  it('that is not there is a problem with a next step', async () => {
    const hub = await hubWith({ serial: { enabled: true, path: '/dev/zeptik-nothing', serialBaud: 4800, receiverDelayMs: null } })
    const state = await until(hub, (s) => s.links[0]!.state === 'problem')
    expect(state.links[0]!.detail).toMatch(/none of the serial ports that this computer has now: plug the device in/)
    const port = createSerialBytePort('/dev/zeptik-nothing', 9600)
    expect(await port.write(Uint8Array.of(1))).toMatchObject({ ok: false })
    await port.close()
  })

  it.each([
    ['Error: Permission denied, cannot open /dev/ttyUSB0', /group that owns it/],
    ['Error Resource temporarily unavailable Cannot lock port', /held by another program/],
    ['Error: No such file or directory', /is not there/],
    ['Error: something else', /Unplug the device/],
  ])('explains "%s"', (message, words) => expect(explainSerialError('/dev/ttyUSB0', message)).toMatch(words))

  it('is listed, or looked up among the device files where the system cannot describe it', async () => {
    const described = await listSerialPorts(async () => [
      {
        path: '/dev/ttyUSB0',
        manufacturer: 'Made-up',
        serialNumber: 'A1',
        vendorId: '1',
        productId: '2',
        pnpId: undefined,
        locationId: undefined,
      },
    ])
    expect(described).toEqual([{ path: '/dev/ttyUSB0', name: '/dev/ttyUSB0, Made-up, 1:2, A1' }])
    const fallen = listSerialPorts(() => Promise.reject(new Error('spawn udevadm ENOENT')))
    if (process.platform === 'linux') expect(Array.isArray(await fallen)).toBe(true)
    else await expect(fallen).rejects.toThrow('udevadm')
  })
})

/** A serial port in memory with a receiver that talks at one speed; time is the test's own. */
function simulatedLine(talksAt: number) {
  let nowMs = 0
  const opened: { baud: number; events: BytePortEvents }[] = []
  const random = createRandom(3)
  const device = createGpsStandin({ seed: 2, position, serialBaud: talksAt })
  const sleepers: { atMs: number; wake: () => void }[] = []
  let nextSecond = 0
  let present = true
  const createPort = (_: string, baud: number): BytePort => {
    let mine: { baud: number; events: BytePortEvents } | undefined
    return {
      describe: () => `a simulated port at ${baud} baud`,
      open: async (events) => {
        if (!present) return { ok: false, error: 'gone' }
        opened.push((mine = { baud, events }))
        return { ok: true }
      },
      write: async () => ({ ok: true }),
      close: async () => void (mine && opened.splice(opened.indexOf(mine), 1)),
    }
  }
  /** Lets time pass in small steps, with the receiver talking. */
  const advance = async (ms: number) => {
    const end = nowMs + ms
    const queue: { atMs: number; bytes: Uint8Array }[] = []
    for (; nextSecond <= end; nextSecond += 1000)
      for (const { atMs, bytes } of device.burst(Date.UTC(2026, 5, 1, 12) + nextSecond, new Set()))
        queue.push({ atMs: nextSecond + atMs, bytes })
    for (; nowMs < end; nowMs += 10) {
      while (queue[0] && queue[0].atMs <= nowMs) {
        const { bytes } = queue.shift()!
        for (const { baud, events } of [...opened]) events.onBytes(baud === talksAt ? bytes : garbled(bytes, random))
      }
      for (const sleeper of sleepers.splice(0)) {
        if (sleeper.atMs <= nowMs) sleeper.wake()
        else sleepers.push(sleeper)
      }
      await Promise.resolve()
      await Promise.resolve()
    }
  }
  return {
    advance,
    createPort,
    monotonicMs: () => nowMs,
    sleep: (ms: number) => new Promise<void>((wake) => sleepers.push({ atMs: nowMs + ms, wake })),
    vanish: () => {
      present = false
      for (const { events } of opened.splice(0)) events.onClosed('vanished')
    },
    comeBack: () => (present = true),
    opened,
  }
}

describe('the serial receiver', () => {
  const start = (line: ReturnType<typeof simulatedLine>, serialBaud: number | null) => {
    const readings: number[] = []
    const receiver = new SerialReceiver({
      source: 'gps:serial',
      path: 'here',
      serialBaud,
      receiverDelayMs: null,
      createPort: line.createPort,
      monotonicMs: line.monotonicMs,
      sleep: line.sleep,
      onReading: (r) => readings.push(r.utcMs - r.monotonicMs - Date.UTC(2026, 5, 1, 12)),
      onChange: () => undefined,
    })
    return { receiver, readings }
  }

  it.each([4800, 9600, 19_200, 38_400, 57_600, 115_200])('finds %i baud in under ten seconds and reads the time', async (baud) => {
    const line = simulatedLine(baud)
    const { receiver, readings } = start(line, null)
    await line.advance(10_000)
    expect(receiver.status().serialBaud).toBe(baud)
    await line.advance(6000)
    expect(receiver.status().state).toBe('hearing')
    expect(Math.abs(readings.at(-1)!)).toBeLessThan(15)
    await receiver.stop()
    expect(line.opened).toEqual([])
  })

  it('opens the port again when it vanished, with growing patience', async () => {
    const line = simulatedLine(9600)
    const { receiver, readings } = start(line, 9600)
    await line.advance(5000)
    expect(readings.length).toBeGreaterThan(0)
    line.vanish()
    expect(receiver.status()).toMatchObject({ state: 'problem', detail: 'vanished' })
    await line.advance(3500)
    line.comeBack()
    await line.advance(9000)
    expect(receiver.status().state).toBe('hearing')
    await receiver.stop()
    const count = readings.length
    await line.advance(20_000)
    expect(readings.length).toBe(count)
  })

  it('says that a receiver fell silent', async () => {
    const line = simulatedLine(9600)
    const { receiver } = start(line, 4_000_000)
    expect(receiver.status().state).toBe('opening')
    await line.advance(2000)
    expect(receiver.status().state).toBe('waiting')
    await receiver.stop()
  })
})

describe('time servers', () => {
  const serve = async (...faults: TimeFault[]) => {
    const started = await runTimeServer({ host: '127.0.0.1', port: 0 }, () => new Set(faults))
    if (!started.ok) throw new Error(started.error)
    open.push(started.standin)
    return `127.0.0.1:${started.standin.port}`
  }
  const ask = (host: string) => askTimeServer(host, { monotonicMs, exchanges: 4, spacingMs: 5, timeoutMs: 300 })

  it('are asked several times, the best answer counts', async () => {
    const asked = await ask(await serve())
    if (!asked.ok) throw new Error(asked.error)
    const { estimate } = asked
    expect(estimate.samples).toBe(4)
    expect(Math.abs(estimate.offsetMs - (Date.now() - performance.now()))).toBeLessThan(estimate.uncertaintyMs + 5)
  })
  it.each<[TimeFault, RegExp]>([
    ['silent', /no answer from 127\.0\.0\.1:\d+ within 0\.3 s/],
    ['turnsAway', /sends us away \(RATE\)/],
    ['notSet', /its own clock is not set/],
    ['garbage', /31 bytes instead of 48/],
    ['denies', /sends us away \(DENY\)/],
    ['impossible', /it took 5000 ms to answer, but the answer was here/],
  ])('that are %s are explained', async (fault, words) => {
    const asked = await ask(await serve(fault))
    expect(asked).toMatchObject({ ok: false, error: expect.stringMatching(words) })
  })
  it('that contradict themselves are doubted, and the doubt is shown', async () => {
    const hub = await hubWith({ network: { hosts: [await serve('alternates')], automatic: false } })
    await hub.askNetwork()
    const { network, readings } = hub.state(0)
    expect(network.hosts[0]).toMatchObject({
      ok: true,
      detail: expect.stringMatching(/not followed: its answers contradict one another by 0\.\d+ s/),
    })
    expect(readings[0]!.reading.doubt).toMatch(/contradict one another/)
    expect(readings[0]!.reading.biasMs).toBeGreaterThan(240)
  })
  it('that send us away are left alone, whoever asks', async () => {
    let asked = 0
    const counting = createSocket('udp4')
    const denying = createTimeServerStandin()
    counting.on('message', (message, from) => {
      asked++
      counting.send(denying.answer(message, Date.now(), new Set(['denies']))!, from.port, from.address)
    })
    await new Promise<void>((done) => counting.bind(0, '127.0.0.1', done))
    open.push(counting)
    const host = `127.0.0.1:${counting.address().port}`
    const hub = await hubWith({ network: { hosts: [host], automatic: true } })
    await until(hub, (s) => !s.network.asking && s.network.hosts.length === 1)
    expect(asked).toBe(1)
    await hub.askNetwork()
    await hub.askNetwork()
    expect(asked).toBe(1)
    expect(hub.state(0).network.hosts[0]).toMatchObject({
      ok: false,
      detail: expect.stringMatching(/wants no more questions from here \(DENY\)/),
    })
    // Taken off the list and put on it again, it is asked anew.
    await hub.configure({ ...defaultClockConfig, network: { hosts: [], automatic: false } })
    await hub.configure({ ...defaultClockConfig, network: { hosts: [host], automatic: true } })
    await until(hub, (s) => !s.network.asking && s.network.hosts.length === 1)
    expect(asked).toBe(2)
  })
  it('whose names cannot be resolved point at the missing internet', async () => {
    const asked = await ask('no-such-host.invalid')
    expect(asked).toMatchObject({ ok: false, error: expect.stringMatching(/there is no internet here/) })
  })
  it.each([
    ['time.example.net', 'time.example.net', 123],
    ['10.0.0.1:1123', '10.0.0.1', 1123],
    ['[fe80::1]', 'fe80::1', 123],
    ['[fe80::1]:99', 'fe80::1', 99],
  ])('%s is %s at port %i', (text, host, port) => expect(splitHost(text)).toEqual({ host, port }))

  it('are asked by the hub; liars among them are told apart by the clock, not by the hub', async () => {
    const hosts = [await serve(), await serve('liesByADay'), await serve('silent')]
    const hub = await hubWith({ network: { hosts, automatic: false } })
    await hub.askNetwork()
    const { network, readings } = hub.state(0)
    expect(network.hosts.map((h) => h.ok)).toEqual([true, true, false])
    expect(readings.map((r) => r.reading.source)).toEqual([`network:${hosts[0]}`, `network:${hosts[1]}`])
    expect(Math.round((readings[1]!.reading.utcMs - readings[0]!.reading.utcMs) / 86_400_000)).toBe(1)
    let told = 0
    hub.subscribe(() => told++)
    await hub.configure({ ...defaultClockConfig, network: { hosts: [hosts[0]!], automatic: true } })
    await until(hub, (s) => !s.network.asking && s.network.hosts.length === 1)
    await sleep(700)
    expect(told).toBeGreaterThan(0)
  })
})
