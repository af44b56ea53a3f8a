import { jest } from '@jest/globals'
import { createServer, type Server, type Socket } from 'node:net'
import { performance } from 'node:perf_hooks'
import { defaultLinkConfig, fromBase64, toBase64, type BytePort, type LinkConfig, type RelayOrder } from '@/core/links'
import { RadioStandin } from '@/standins'
import { LinkHub } from '../links/linkHub'
import { withLogin } from './loginBytePort'
import { PortRelay } from './portRelay'
import { createTcpBytePort } from './tcpBytePort'

const later = (ms: number) => new Promise((done) => setTimeout(done, ms))

describe('a login before the bytes', () => {
  let server: Server
  afterEach(() => server.close())

  async function openAgainst(talk: (socket: Socket) => void, login = { user: 'rowan', password: 'reach' }) {
    server = createServer((socket) => {
      socket.on('error', () => undefined)
      talk(socket)
    })
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
    const port = withLogin(createTcpBytePort('127.0.0.1', (server.address() as { port: number }).port), login, {
      promptMs: 300,
      verdictMs: 150,
    })
    let heard = ''
    const opened = await port.open({ onBytes: (bytes) => (heard += String.fromCharCode(...bytes)), onClosed: () => undefined })
    await later(250)
    await port.close()
    return { opened, heard }
  }

  /** A serial server that knows one user. */
  const guarded = (socket: Socket) => {
    let step = 0
    socket.write('Landing box\r\nlogin: ')
    socket.on('data', (data) => {
      const said = data.toString().trim()
      if (step++ === 0) socket.write('Password: ')
      else if (said === 'reach') setTimeout(() => socket.write('ID;'), 250)
      else socket.write('\r\nLogin incorrect\r\n')
    })
  }

  it('is answered, and what comes after it is handed on', async () => {
    expect(await openAgainst(guarded)).toEqual({ opened: { ok: true }, heard: 'ID;' })
  })

  it('that is refused says so', async () => {
    const { opened } = await openAgainst(guarded, { user: 'rowan', password: 'wrong' })
    expect(opened).toMatchObject({ ok: false, fault: 'login', error: expect.stringMatching(/does not accept user and password/) })
  })

  it('that hangs up is refused as well', async () => {
    const { opened } = await openAgainst((socket) => {
      socket.write('Password: ')
      socket.on('data', () => socket.end())
    })
    expect(opened).toMatchObject({ ok: false, fault: 'login' })
  })

  it('is not waited for where there is none: what was said meanwhile is not lost', async () => {
    const { opened, heard } = await openAgainst((socket) => socket.write('FA00014074000;'))
    expect(opened).toEqual({ ok: true })
    expect(heard).toBe('FA00014074000;')
  })
})

describe('a port that a browser lends', () => {
  /** A page that holds a radio: carries out orders, reports back. */
  function page(relay: PortRelay, radio: RadioStandin) {
    const log: RelayOrder[] = []
    const lent = relay.attach('serial')
    let session = ''
    const report = (part: object) => relay.report({ by: 'serial', session, ...part } as never)
    const look = () => {
      const { session: mine, orders } = lent.read()
      session = mine
      for (const order of orders) {
        log.push(order)
        if (order.type === 'write')
          for (const { delayMs, bytes } of radio.receive(fromBase64(order.bytes), 9600))
            setTimeout(() => report({ type: 'bytes', bytes: toBase64(bytes) }), delayMs)
        queueMicrotask(() => report({ type: 'done', n: order.n, ok: true }))
      }
    }
    look()
    const leave = lent.subscribe(() => queueMicrotask(look))
    return { log, leave, report }
  }
  const config: LinkConfig = {
    ...defaultLinkConfig,
    control: { ...defaultLinkConfig.control, enabled: true, port: { kind: 'browser', by: 'serial' }, dialect: 'ascii-9' },
    keying: { ...defaultLinkConfig.keying, by: 'cat' },
  }
  function station(relay: PortRelay) {
    const createPort = (): BytePort => relay.createPort('serial', 9600)
    return new LinkHub({ monotonicMs: () => performance.now(), utcMs: () => 0, createPort, listPorts: async () => [] })
  }
  const until = async (holds: () => boolean) => {
    const end = performance.now() + 5000
    while (!holds()) {
      if (performance.now() > end) throw new Error('not in time')
      await later(10)
    }
  }

  it('carries control and keying, leaves a will, and is missed when its page goes away while keyed', async () => {
    const relay = new PortRelay()
    const hub = station(relay)
    await hub.configure(config)
    await until(() => hub.state(0).control.state === 'problem')
    expect(hub.state(0).control.detail).toMatch(/is not attached\. Open Connect on the device that holds it/)
    const radio = new RadioStandin({ voice: 'ascii-9', serialBaud: 9600 })
    const { log, leave } = page(relay, radio)
    hub.portAppeared()
    // The first answer is that the radio does not transmit; its dial follows.
    await until(() => hub.state(0).control.state === 'talking' && hub.state(0).control.frequencyHz === 14_074_000)
    const will = log.find((order) => order.type === 'will')
    expect(will && String.fromCharCode(...fromBase64(will.bytes))).toBe('TX0;')
    expect(await hub.key({ action: 'on', id: 'a', acknowledged: 0 })).toEqual({ ok: true })
    await until(() => radio.keyed)
    leave()
    expect(hub.state(0).alarm?.words).toMatch(/its page was closed or went to sleep\. It was lost while transmitting/)
    expect(hub.state(0).keying.state).toBe('problem')
    await hub.close()
  })

  it('goes to the newest tab, and reports of the older are passed over', async () => {
    const relay = new PortRelay()
    const radio = new RadioStandin({ voice: 'ascii-9', serialBaud: 9600 })
    const first = page(relay, radio)
    const port = relay.createPort('serial', 9600)
    const closed = jest.fn()
    expect(await port.open({ onBytes: () => undefined, onClosed: closed })).toEqual({ ok: true })
    page(relay, radio)
    expect(closed).toHaveBeenCalledWith(expect.stringMatching(/taken over by another tab/))
    await later(5)
    expect(first.log.at(-1)).toMatchObject({ type: 'close' })
    expect(first.report({ type: 'bytes', bytes: '' })).toBe(false)
    expect(await port.write(Uint8Array.of(1))).toMatchObject({ ok: false })
    first.leave()
    expect(await port.open({ onBytes: () => undefined, onClosed: closed })).toEqual({ ok: true })
  })

  it('that does not answer is given up', async () => {
    const relay = new PortRelay()
    relay.attach('bluetooth').subscribe(() => undefined)
    const port = relay.createPort('bluetooth', 0)
    expect(port.setLines).toBeUndefined()
    jest.useFakeTimers()
    const opened = port.open({ onBytes: () => undefined, onClosed: () => undefined })
    jest.advanceTimersByTime(9000)
    jest.useRealTimers()
    expect(await opened).toMatchObject({ ok: false, fault: 'timeout' })
  })
})
