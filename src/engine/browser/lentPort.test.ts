/** @jest-environment jsdom */
import { jest } from '@jest/globals'
import { toBase64, type BytePort, type BytePortEvents } from '@/core/links'
import { LentPort } from './lentPort'
import { createBluetoothBytePort, pickBluetooth, type BluetoothDevice } from './webBluetoothPort'

class FakeEvents {
  static latest: FakeEvents
  onmessage: ((event: { data: string }) => void) | undefined
  onerror: (() => void) | undefined
  closed = false
  constructor(readonly path: string) {
    FakeEvents.latest = this
  }
  close(): void {
    this.closed = true
  }
}
const settle = () => new Promise((done) => setTimeout(done, 10))

describe('a port that is lent to the field computer', () => {
  const opened = async (over: Partial<BytePort> = {}) => {
    globalThis.EventSource = FakeEvents as never
    const log: string[] = []
    const reports: Record<string, unknown>[] = []
    let events: BytePortEvents | undefined
    const createPort = (serialBaud: number): BytePort => ({
      describe: () => `port at ${serialBaud}`,
      open: async (e) => {
        events = e
        log.push(`open ${serialBaud}`)
        return { ok: true }
      },
      write: async (bytes) => {
        log.push(`write ${String.fromCharCode(...bytes)}`)
        return { ok: true }
      },
      setLines: async (lines) => {
        log.push(JSON.stringify(lines))
        return { ok: true }
      },
      close: async () => void log.push('close'),
      ...over,
    })
    const states: string[] = []
    const lent = new LentPort({
      by: 'serial',
      createPort,
      onState: (words) => states.push(words),
      send: async (report) => {
        reports.push(report as Record<string, unknown>)
        return { ok: true }
      },
    })
    const order = async (...orders: object[]) => {
      FakeEvents.latest.onmessage!({ data: JSON.stringify({ session: 's', orders }) })
      await settle()
    }
    return { lent, log, reports, states, order, events: () => events! }
  }
  const bytes = (text: string) => toBase64(Uint8Array.from(text, (c) => c.charCodeAt(0)))

  it('carries out orders in turn and reports each, and what comes back', async () => {
    const { log, reports, order, events, states } = await opened()
    expect(FakeEvents.latest.path).toBe('/api/links/relay?by=serial')
    await order({ type: 'write', n: 1, bytes: bytes('x') })
    expect(reports).toEqual([{ by: 'serial', session: 's', type: 'done', n: 1, ok: false, error: 'The port is not open in the browser.' }])
    await order({ type: 'open', n: 2, serialBaud: 4800 }, { type: 'write', n: 3, bytes: bytes('ID;') }, { type: 'lines', n: 4, rts: true })
    expect(log).toEqual(['open 4800', 'write ID;', '{"rts":true}'])
    events().onBytes(Uint8Array.of(65))
    await settle()
    expect(reports.slice(1)).toMatchObject([
      { n: 2, ok: true },
      { n: 3, ok: true },
      { n: 4, ok: true },
      { type: 'bytes', bytes: 'QQ==' },
    ])
    expect(states.at(-1)).toBe('In use: port at 4800.')
    events().onClosed('Unplugged.')
    await settle()
    expect(reports.at(-1)).toMatchObject({ type: 'closed', why: 'Unplugged.' })
  })

  it('carries out the last will when the field computer is lost, and when it is taken back', async () => {
    const { log, order, states, lent } = await opened()
    await order({ type: 'open', n: 1, serialBaud: 9600 }, { type: 'will', n: 2, bytes: bytes('RX;'), lines: { rts: false } })
    FakeEvents.latest.onerror!()
    await settle()
    expect(log).toEqual(['open 9600', 'write RX;', '{"rts":false}', 'close'])
    expect(states.at(-1)).toMatch(/out of reach; the port was let go/)
    await order({ type: 'open', n: 3, serialBaud: 9600 })
    await lent.stop()
    expect(log.slice(4)).toEqual(['open 9600', 'close'])
    expect(FakeEvents.latest.closed).toBe(true)
  })

  it('reports why it could not be opened, and lives through a port that throws', async () => {
    const refused = await opened({ open: async () => ({ ok: false, error: 'Held elsewhere.', fault: 'busy' }) })
    await refused.order({ type: 'open', n: 1, serialBaud: 9600 })
    expect(refused.reports).toMatchObject([{ n: 1, ok: false, error: 'Held elsewhere.', fault: 'busy' }])
    const thrown = await opened({ open: async () => Promise.reject(new Error('boom')) })
    await thrown.order({ type: 'open', n: 1, serialBaud: 9600 }, { type: 'close', n: 2 })
    expect(thrown.reports).toMatchObject([
      { n: 1, ok: false, error: 'boom' },
      { n: 2, ok: false },
    ])
  })
})

describe('a Bluetooth device', () => {
  function fakeDevice(service: string, failing?: { name: string }) {
    const written: number[][] = []
    let notify: (event: { target: { value: DataView } }) => void = () => undefined
    let dropped: () => void = () => undefined
    const characteristic = {
      startNotifications: async () => undefined,
      writeValueWithoutResponse: async (value: Uint8Array) => void written.push([...value]),
      addEventListener: (_type: string, listener: typeof notify) => (notify = listener),
    }
    const device = {
      name: 'Reed Box',
      gatt: {
        connect: async () => {
          if (failing) throw Object.assign(new Error('authentication'), failing)
          return {
            getPrimaryService: async (id: string) => {
              if (!id.startsWith(service)) throw new Error('no such service')
              return { getCharacteristic: async () => characteristic }
            },
          }
        },
        disconnect: jest.fn(),
      },
      addEventListener: (_type: string, listener: () => void) => (dropped = listener),
    }
    return {
      device: device as unknown as BluetoothDevice,
      written,
      say: (n: number) => notify({ target: { value: new DataView(Uint8Array.of(n).buffer) } }),
      drop: () => dropped(),
    }
  }

  it.each(['00000001-ba2a', '6e400001'])('with service %s carries bytes in pieces of twenty', async (service) => {
    const { device, written, say, drop } = fakeDevice(service)
    const port = createBluetoothBytePort(device)
    const got: number[] = []
    const closed = jest.fn()
    expect(await port.open({ onBytes: (b) => got.push(...b), onClosed: closed })).toEqual({ ok: true })
    await port.write(new Uint8Array(45))
    expect(written.map((piece) => piece.length)).toEqual([20, 20, 5])
    say(7)
    expect(got).toEqual([7])
    drop()
    expect(closed).toHaveBeenCalledWith(expect.stringMatching(/Reed Box went away/))
    expect(await port.write(new Uint8Array(1))).toMatchObject({ ok: false })
  })

  it('tells a forgotten pairing from a device that carries no bytes', async () => {
    const open = (device: BluetoothDevice) => createBluetoothBytePort(device).open({ onBytes: () => undefined, onClosed: () => undefined })
    expect(await open(fakeDevice('6e400001', { name: 'NetworkError' }).device)).toMatchObject({ ok: false, fault: 'pairing' })
    expect(await open(fakeDevice('1234').device)).toMatchObject({
      ok: false,
      fault: 'unsupported',
      error: expect.stringMatching(/no service/),
    })
    expect(await open({ addEventListener: () => undefined })).toMatchObject({ ok: false, fault: 'unsupported' })
  })

  it('is picked by the operator, or not', async () => {
    expect(await pickBluetooth()).toBeUndefined()
    const requestDevice = jest.fn<(options: unknown) => Promise<unknown>>(async () =>
      Promise.reject(Object.assign(new Error('none'), { name: 'NotFoundError' })),
    )
    Object.defineProperty(navigator, 'bluetooth', { configurable: true, value: { requestDevice } })
    expect(await pickBluetooth()).toBeUndefined()
    expect(requestDevice.mock.calls[0]![0]).toMatchObject({
      filters: [{ services: [expect.stringMatching(/^00000001/)] }, { services: [expect.stringMatching(/^6e4/)] }],
    })
  })
})
