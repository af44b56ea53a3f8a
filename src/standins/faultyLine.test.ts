import { createServer, connect, type Socket } from 'node:net'
import { FaultyLine, type LineFault } from './faultyLine'
import { runFaultyProxy } from './node/faultyProxy'

const bytes = (...list: number[]) => Uint8Array.from(list)

describe('a line with faults', () => {
  const faults = new Set<LineFault>()
  afterEach(() => faults.clear())
  const line = () => new FaultyLine(() => faults)

  it('passes everything on at once, and loses, delays or holds it as it is told', () => {
    const one = line()
    expect(one.pass('out', bytes(1), 0)).toBe(0)
    faults.add('late')
    expect(one.pass('in', bytes(1), 10)).toBe(1500)
    faults.clear()
    faults.add('drops')
    expect([1, 2, 3, 4].map((n) => one.pass('out', bytes(n), 20))).toEqual([undefined, 0, undefined, 0])
    faults.clear()
    faults.add('halfOpen')
    expect(one.pass('out', bytes(1), 30)).toBeUndefined()
    expect(one.deaf).toBe(true)
    faults.clear()
    expect(one.thawed(40)).toEqual([])
  })

  it('holds what comes while it is frozen, and gives it back in its order', () => {
    const one = line()
    faults.add('frozen')
    expect(one.pass('out', bytes(1), 0)).toBeUndefined()
    expect(one.pass('in', bytes(2), 0)).toBeUndefined()
    expect(one.thawed(5)).toEqual([])
    faults.clear()
    // What comes before the held has been taken waits behind it.
    expect(one.pass('out', bytes(3), 10)).toBeUndefined()
    expect(one.thawed(10).map(({ way, bytes: b, laterMs }) => [way, b[0], laterMs])).toEqual([
      ['out', 1, 0],
      ['in', 2, 0],
      ['out', 3, 0],
    ])
    expect(one.pass('out', bytes(4), 11)).toBe(0)
  })

  it('never lets a piece overtake another', () => {
    const one = line()
    faults.add('late')
    expect(one.pass('out', bytes(1), 0)).toBe(1500)
    faults.clear()
    expect(one.pass('out', bytes(2), 500)).toBe(1000)
    expect(one.pass('in', bytes(3), 500)).toBe(0)
  })
})

describe('the same between two real ports', () => {
  it('carries, holds, thaws, and hangs up', async () => {
    const faults = new Set<LineFault>()
    const far: Socket[] = []
    const device = createServer((socket) => {
      far.push(socket)
      socket.on('error', () => undefined)
      socket.on('data', (data) => socket.write(data))
    })
    await new Promise<void>((done) => device.listen(0, '127.0.0.1', done))
    const to = { host: '127.0.0.1', port: (device.address() as { port: number }).port }
    const started = await runFaultyProxy({ host: '127.0.0.1', port: 0 }, to, () => faults)
    if (!started.ok) throw new Error(started.error)
    const call = connect(started.standin.port!, '127.0.0.1')
    let heard = ''
    let closed = false
    call.on('data', (data) => (heard += data.toString()))
    call.on('error', () => undefined)
    call.on('close', () => (closed = true))
    const until = async (holds: () => boolean) => {
      while (!holds()) await new Promise((done) => setTimeout(done, 5))
    }
    call.write('a')
    await until(() => heard === 'a')
    faults.add('frozen')
    call.write('b')
    await new Promise((done) => setTimeout(done, 100))
    expect(heard).toBe('a')
    faults.clear()
    await until(() => heard === 'ab')
    // The device goes away, and on a half-open line nobody is told.
    faults.add('halfOpen')
    far.forEach((socket) => socket.destroy())
    await new Promise((done) => setTimeout(done, 100))
    expect(closed).toBe(false)
    faults.clear()
    faults.add('hangsUp')
    await until(() => closed)
    const again = connect(started.standin.port!, '127.0.0.1')
    await new Promise((done) => again.on('error', () => undefined).on('close', done))
    expect(await runFaultyProxy(to, to, () => faults)).toMatchObject({ ok: false, error: expect.stringMatching(/cannot listen/) })
    started.standin.stop()
    device.close()
  })
})
