/**
 * @jest-environment jsdom
 */
import { jest } from '@jest/globals'
import { frameSentence } from '@/core/nmea'
import type { ClockReading } from '@/core/time'
import { heardAs, reduceExchange, unfinishedFrom } from '@/core/ft8'
import type { Command } from '../port/commands'
import type { StationPort } from '../port/stationPort'
import { initialState, type StationState } from '../station/state'
import { browserReceiverOf } from './browserReceiver'
import { browserDriftStore } from './driftStore'
import { openServerClock } from './serverClock'
import { browserUnfinishedStore } from './unfinishedStore'
import { createWebSerialBytePort, pickPort, webSerial, type WebSerialPort } from './webSerialPort'

const noon = Date.UTC(2026, 5, 1, 12)

describe('what is learned of the device', () => {
  it('is kept by the browser, and nonsense is not taken up', () => {
    expect(browserDriftStore.load()).toBeUndefined()
    browserDriftStore.save({ ppm: 12, uncertaintyPpm: 1, wanderPpm: 5 })
    expect(browserDriftStore.load()).toEqual({ ppm: 12, uncertaintyPpm: 1, wanderPpm: 5 })
    for (const text of ['{"ppm":1e9}', 'not json']) {
      localStorage.setItem('zeptik-drift', text)
      expect(browserDriftStore.load()).toBeUndefined()
    }
  })
})

describe('exchanges that broke off', () => {
  it('outlive the page, and nonsense is not taken up', () => {
    expect(browserUnfinishedStore.load()).toEqual([])
    const manner = { ownCall: 'Q5RVR', ownLocator: 'JN97LK', finish: 'RR73' as const, maxTries: 6, maxCqTries: 6 }
    const decode = heardAs('Q5RVR Q1ABC -05')!
    const begun = reduceExchange(
      { phase: 'idle' },
      { type: 'answer', manner, decode, slotIndex: 2, slotUtcMs: 30_000, audioOffsetHz: 1500 },
    )[0]
    const open = unfinishedFrom(reduceExchange(begun, { type: 'stop' })[0], noon)!
    expect(open).toMatchObject({ otherCall: 'Q1ABC', reportReceivedDb: -5 })
    browserUnfinishedStore.save([open])
    expect(browserUnfinishedStore.load()).toEqual([open])
    for (const text of ['[{}]', 'not json', JSON.stringify([{ ...open, contactMade: true }])]) {
      localStorage.setItem('zeptik-unfinished', text)
      expect(browserUnfinishedStore.load()).toEqual([])
    }
  })
})

describe('the server’s clock', () => {
  class FakeEvents {
    static latest: FakeEvents
    onmessage: ((event: { data: string }) => void) | undefined
    onerror: (() => void) | undefined
    closed = false
    constructor() {
      FakeEvents.latest = this
    }
    close() {
      this.closed = true
    }
  }
  const reading: ClockReading = {
    source: 'gps:udp:10.0.0.7',
    kind: 'gps',
    label: 'Phone',
    monotonicMs: 905_000,
    utcMs: noon,
    randomMs: 5,
    biasMs: 100,
    windowMs: 0,
  }
  const state = (readings: ClockReading[]) => ({
    monotonicMs: 1,
    links: [],
    network: { asking: false, hosts: [] },
    readings: readings.map((r, sequence) => ({ sequence, reading: r })),
    standins: { gps: null, time: null },
  })

  it('is carried over to this device’s, with what the way may cost', async () => {
    // The server's monotonic clock is 900 s ahead; each way takes 10 ms.
    let local = 1000
    jest.spyOn(performance, 'now').mockImplementation(() => local)
    const wall = Date.now()
    jest.spyOn(Date, 'now').mockImplementation(() => wall + local)
    globalThis.EventSource = FakeEvents as never
    globalThis.fetch = (async () => {
      local += 10
      const body = { receivedMonotonicMs: local + 900_000, repliedMonotonicMs: local + 900_000, wallUtcMs: wall + local + 5000 }
      local += 10
      return { ok: true, json: async () => body }
    }) as never
    AbortSignal.timeout ??= () => new AbortController().signal
    const readings: ClockReading[] = []
    const states: object[] = []
    const close = openServerClock({ onReadings: (list) => readings.push(...list), onState: (change) => states.push(change) })
    FakeEvents.latest.onmessage!({ data: JSON.stringify(state([reading])) })
    FakeEvents.latest.onmessage!({ data: 'not json' })
    FakeEvents.latest.onmessage!({ data: '{"links":7}' })
    await new Promise((done) => setTimeout(done, 20))
    const gps = readings.find((r) => r.kind === 'gps')!
    expect(gps.monotonicMs).toBeCloseTo(5000, 6)
    expect(gps.biasMs).toBeGreaterThan(109)
    expect(gps.biasMs).toBeLessThan(115)
    // The field computer's own clock is five seconds ahead: offered as what it is.
    expect(readings.find((r) => r.kind === 'server')).toMatchObject({ biasMs: 1000, utcMs: expect.closeTo(wall + local + 5000, -2) })
    expect(states).toContainEqual({ serverLink: { roundTripMs: 20, wallAheadMs: expect.closeTo(5000, 0) } })
    FakeEvents.latest.onerror!()
    expect(states.at(-1)).toEqual({ serverClock: undefined })
    close()
    expect(FakeEvents.latest.closed).toBe(true)
    jest.restoreAllMocks()
  })
})

/** A Web Serial port in memory. */
function fakePort() {
  let controller: { enqueue(bytes: Uint8Array): void; close(): void; error(error: unknown): void } | undefined
  const log: string[] = []
  const waiting: ((result: { value?: Uint8Array; done: boolean }) => void)[] = []
  const failing: ((error: unknown) => void)[] = []
  const open = () => {
    const queue: Uint8Array[] = []
    let over = false
    controller = {
      enqueue: (bytes) => (waiting.length > 0 ? waiting.shift()!({ value: bytes, done: false }) : void queue.push(bytes)),
      close: () => {
        over = true
        waiting.splice(0).forEach((wake) => wake({ done: true }))
      },
      error: (error) => {
        waiting.splice(0)
        failing.splice(0).forEach((fail) => fail(error))
      },
    }
    return {
      getReader: () => ({
        read: () =>
          new Promise((done, fail) => {
            if (queue.length > 0) done({ value: queue.shift()!, done: false })
            else if (over) done({ done: true })
            else {
              waiting.push(done as never)
              failing.push(fail)
            }
          }),
        cancel: async () => controller!.close(),
        releaseLock: () => undefined,
      }),
    }
  }
  const port = {
    readable: null as unknown,
    writable: { getWriter: () => ({ write: async (b: Uint8Array) => void log.push(`write ${b.length}`), releaseLock: () => undefined }) },
    async open({ baudRate }: { baudRate: number }) {
      log.push(`open ${baudRate}`)
      this.readable = open()
    },
    async close() {
      log.push('close')
      this.readable = null
    },
  }
  return {
    port: port as unknown as WebSerialPort,
    log,
    send: (text: string) => controller!.enqueue(Uint8Array.from(text, (c) => c.charCodeAt(0))),
    lose: (name: string) => {
      if (name !== 'FramingError') (port as { readable: unknown }).readable = null
      controller!.error(Object.assign(new Error('lost'), { name }))
    },
  }
}
const settle = () => new Promise((done) => setTimeout(done, 5))

describe('a serial port of the browser', () => {
  it('gives bytes, takes bytes, and lets go', async () => {
    const { port, log, send } = fakePort()
    const bytes: number[] = []
    const closed = jest.fn()
    const link = createWebSerialBytePort(port, 4800)
    expect(link.describe()).toBe('the picked port at 4800 baud')
    expect(await link.open({ onBytes: (b) => bytes.push(...b), onClosed: closed })).toEqual({ ok: true })
    send('abc')
    await settle()
    expect(bytes).toEqual([97, 98, 99])
    expect(await link.write(Uint8Array.of(1, 2))).toEqual({ ok: true })
    await link.close()
    expect(log).toEqual(['open 4800', 'write 2', 'close'])
    expect(closed).not.toHaveBeenCalled()
  })

  it('lives through a framing error and says when the device is gone', async () => {
    const { port, send, lose } = fakePort()
    const closed = jest.fn()
    const bytes: number[] = []
    await createWebSerialBytePort(port, 9600).open({ onBytes: (b) => bytes.push(...b), onClosed: closed })
    await settle()
    lose('FramingError')
    await settle()
    send('x')
    await settle()
    expect(bytes).toEqual([120])
    lose('NetworkError')
    await settle()
    expect(closed).toHaveBeenCalledWith(expect.stringMatching(/vanished/))
  })

  it('that cannot be opened says why', async () => {
    const refusing = {
      open: async () => Promise.reject(Object.assign(new Error('no'), { name: 'NetworkError' })),
    } as unknown as WebSerialPort
    expect(await createWebSerialBytePort(refusing, 9600).open({ onBytes: () => undefined, onClosed: () => undefined })).toMatchObject({
      ok: false,
      error: expect.stringMatching(/another program or tab holds it/),
    })
  })

  it('is picked by the operator, or not', async () => {
    expect(webSerial()).toBeUndefined()
    expect(await pickPort()).toBeUndefined()
    const { port } = fakePort()
    let answer: () => Promise<WebSerialPort> = async () => port
    Object.defineProperty(navigator, 'serial', { configurable: true, value: { requestPort: () => answer(), getPorts: async () => [] } })
    expect(await pickPort()).toBe(port)
    answer = async () => Promise.reject(Object.assign(new Error('none'), { name: 'NotFoundError' }))
    expect(await pickPort()).toBeUndefined()
  })

  it('carries a receiver for the station, until it is let go', async () => {
    const { port, log, send } = fakePort()
    Object.defineProperty(navigator, 'serial', { configurable: true, value: { requestPort: async () => port, getPorts: async () => [] } })
    let state: StationState = initialState
    const read: Command[] = []
    const forget = jest.fn()
    const station = {
      do: async (command: Command) => {
        if (command.type === 'clock.receiver') state = { ...state, browserReceiver: command.receiver }
        else if (command.type === 'clock.forget') forget(command.source)
        else read.push(command)
        return { ok: true }
      },
    } as unknown as StationPort
    const link = browserReceiverOf(station)
    expect(browserReceiverOf(station)).toBe(link)
    await link.connect({ serialBaud: 9600, receiverDelayMs: null })
    await settle()
    for (let s = 0; s < 4; s++) {
      send(
        `${frameSentence(`GPGGA,12000${s},4726.3750,N,01857.2500,E,1,08,1.0,100,M,40,M,,`)}\r\n${frameSentence(`GPRMC,12000${s},A,4726.3750,N,01857.2500,E,0,0,010626,,,A`)}\r\n`,
      )
      await new Promise((done) => setTimeout(done, 120))
    }
    await new Promise((done) => setTimeout(done, 600))
    expect(state.browserReceiver).toMatchObject({ state: 'hearing', serialBaud: 9600, gps: { locator: 'JN97LK45', satellitesUsed: 8 } })
    await link.disconnect()
    expect(state.browserReceiver.state).toBe('off')
    expect(forget).toHaveBeenCalledWith('gps:browser')
    expect(log.at(-1)).toBe('close')
    expect(read).toEqual([])
  })
})
