import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { performance } from 'node:perf_hooks'
import { BUILT_IN_DIALECTS, compileDialect } from '@/core/links/cat'
import { LinkProber, type BytePort, type LinkTarget, type PortChoice, type ProberHost } from '@/core/links'
import { RadioStandin, TncStandin } from '@/standins'
import { runDevice } from '@/standins/node/deviceRunner'
import type { RunningStandin } from '@/standins/node/gpsRunner'
import { createSerialBytePort } from '../ports/serialBytePort'
import { createTcpBytePort, explainTcpError } from '../ports/tcpBytePort'

const running: RunningStandin[] = []
afterEach(() => running.splice(0).forEach((standin) => standin.stop()))
async function run(...args: Parameters<typeof runDevice>): Promise<RunningStandin> {
  const started = await runDevice(...args)
  if (!started.ok) throw new Error(started.error)
  running.push(started.standin)
  return started.standin
}

const createPort = (port: PortChoice, serialBaud: number): BytePort =>
  port.kind === 'tcp' ? createTcpBytePort(port.host, port.port) : createSerialBytePort((port as { path: string }).path, serialBaud)
const host = (ports: string[]): ProberHost => ({
  listPorts: async () => ports,
  createPort,
  monotonicMs: () => performance.now(),
  sleep: (ms) => new Promise((done) => setTimeout(done, ms)),
})
const dialect = compileDialect(BUILT_IN_DIALECTS.find((d) => d.id === 'framed-bcd')!)

const hasSocat = (() => {
  try {
    execFileSync('socat', ['-V'], { stdio: 'ignore' })
    return true
  } catch {
    return false
  }
})()

describe('a TCP port', () => {
  it('carries a radio’s answers and a TNC’s frames', async () => {
    const radio = await run(new RadioStandin({ voice: 'framed-bcd', serialBaud: 9600 }), { kind: 'tcp', host: '127.0.0.1', port: 0 })
    const target: LinkTarget = { speaks: 'cat', port: { kind: 'tcp', host: '127.0.0.1', port: radio.port! }, serialBaud: null, dialect }
    expect(await new LinkProber(target, host([])).probe('answers')).toMatchObject({
      outcome: 'good',
      evidence: expect.stringMatching(/14\u202f074\.0 kHz/),
    })
    const tnc = await run(new TncStandin({ seed: 1, serialBaud: 9600, startsIn: 'kiss' }), { kind: 'tcp', host: '127.0.0.1', port: 0 })
    const kiss: LinkTarget = { speaks: 'kiss', port: { kind: 'tcp', host: '127.0.0.1', port: tnc.port! }, serialBaud: null }
    expect(await new LinkProber(kiss, host([])).probe('hears')).toMatchObject({
      outcome: 'good',
      evidence: expect.stringMatching(/^It hears: Q\d/),
    })
  })

  it('says why it cannot be opened, and when it is closed by the other side', async () => {
    const free = createServer()
    await new Promise<void>((done) => free.listen(0, '127.0.0.1', done))
    const { port } = free.address() as { port: number }
    let closed = ''
    const held = createTcpBytePort('127.0.0.1', port)
    expect(await held.open({ onBytes: () => undefined, onClosed: (why) => (closed = why) })).toEqual({ ok: true })
    const sockets: { destroy(): void }[] = []
    free.on('connection', (socket) => sockets.push(socket))
    free.close()
    const other = createTcpBytePort('127.0.0.1', port)
    await held.close()
    await new Promise((done) => setTimeout(done, 50))
    expect(closed).toBe('')
    expect(await other.open({ onBytes: () => undefined, onClosed: () => undefined })).toMatchObject({ ok: false, fault: 'refused' })
    expect(await other.write(Uint8Array.of(1))).toMatchObject({ ok: false, error: expect.stringMatching(/not open/) })
    const dying = createServer((socket) => setTimeout(() => socket.destroy(), 30))
    await new Promise<void>((done) => dying.listen(0, '127.0.0.1', done))
    const why = await new Promise<string>((done) => {
      void createTcpBytePort('127.0.0.1', (dying.address() as { port: number }).port).open({ onBytes: () => undefined, onClosed: done })
    })
    expect(why).toMatch(/closed the connection/)
    dying.close()
    sockets.forEach((socket) => socket.destroy())
  })

  it.each([
    ['ENOTFOUND', 'unknownHost'],
    ['EAI_AGAIN', 'unknownHost'],
    ['ECONNREFUSED', 'refused'],
    ['EHOSTUNREACH', 'unreachable'],
    ['ENETUNREACH', 'unreachable'],
    ['ETIMEDOUT', 'timeout'],
    ['EPIPE', 'other'],
  ])('explains %s', (code, fault) => {
    const told = explainTcpError('192.168.4.1', 8001, Object.assign(new Error('broken'), { code }))
    expect(told.fault).toBe(fault)
    expect(told.error).toMatch(/192\.168\.4\.1|8001/)
  })
})

describe('a serial port', () => {
  // socat makes the pseudo-terminal; the test command installs it where it may.
  ;(hasSocat ? it : it.skip)(
    'carries bytes at its own speed: another speed is found out, and which of two ports it is',
    async () => {
      const folder = mkdtempSync(join(tmpdir(), 'zeptik-links-'))
      const [a, b] = [join(folder, 'radio'), join(folder, 'tnc')]
      await run(new RadioStandin({ voice: 'framed-bcd', serialBaud: 19_200 }), { kind: 'pty', path: a })
      await run(new TncStandin({ seed: 1, serialBaud: 4800, startsIn: 'command' }), { kind: 'pty', path: b })
      const cat = (path: string, serialBaud: number): LinkTarget => ({ speaks: 'cat', port: { kind: 'serial', path }, serialBaud, dialect })
      const both = host([a, b])
      expect(await new LinkProber(cat(a, 9600), both).probe('speed')).toMatchObject({ code: 'wrong-speed', fix: { serialBaud: 19_200 } })
      expect(await new LinkProber(cat(a, 19_200), both).probe('answers')).toMatchObject({ outcome: 'good' })
      const tnc: LinkTarget = { speaks: 'commands', port: { kind: 'serial', path: b }, serialBaud: 9600, ownCall: 'Q5RVR' }
      expect(await new LinkProber(tnc, both).probe('speed')).toMatchObject({ code: 'wrong-speed', fix: { serialBaud: 4800 } })
      rmSync(folder, { recursive: true, force: true })
    },
    60_000,
  )

  ;(hasSocat ? it : it.skip)(
    'is known to have vanished when its file is gone, though the system says nothing',
    async () => {
      const folder = mkdtempSync(join(tmpdir(), 'zeptik-links-'))
      const path = join(folder, 'radio')
      await run(new RadioStandin({ voice: 'ascii-9', serialBaud: 9600 }), { kind: 'pty', path })
      const port = createSerialBytePort(path, 9600)
      let onClosed!: (why: string) => void
      const closed = new Promise<string>((done) => (onClosed = done))
      expect(await port.open({ onBytes: () => undefined, onClosed })).toEqual({ ok: true })
      // The terminal behind it lives on.
      rmSync(path)
      expect(await closed).toMatch(/vanished: plug the device in again/)
      expect(await port.write(Uint8Array.of(1))).toMatchObject({ ok: false })
      await port.close()
      rmSync(folder, { recursive: true, force: true })
    },
    60_000,
  )

  it('that cannot be opened says what kind of fault it is', async () => {
    const port = createSerialBytePort('/dev/zeptik-nothing', 9600)
    expect(await port.open({ onBytes: () => undefined, onClosed: () => undefined })).toMatchObject({ ok: false, fault: 'missing' })
    expect(await port.setLines!({ rts: false })).toMatchObject({ ok: false })
  })
})
