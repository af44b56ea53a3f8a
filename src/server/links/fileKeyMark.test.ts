import { spawn, spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { createServer, type AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { FileKeyMark } from './fileKeyMark'

const hasSocat = spawnSync('socat', ['-V']).status === 0
const folder = mkdtempSync(join(tmpdir(), 'zeptik-mark-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))
const script = join(process.cwd(), 'scripts', 'key-watch.mjs')

/** What a radio on a port hears. */
async function listen() {
  const heard: string[] = []
  const server = createServer((socket) => {
    socket.on('data', (bytes) => heard.push(bytes.toString('hex')))
    socket.on('error', () => undefined)
  })
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
  return { heard, port: (server.address() as AddressInfo).port, close: () => server.close() }
}
async function until(holds: () => boolean): Promise<void> {
  const end = Date.now() + 20_000
  while (!holds()) {
    if (Date.now() > end) throw new Error('not in time')
    await new Promise((done) => setTimeout(done, 20))
  }
}

describe('the mark that the radio is keyed', () => {
  it('outlives whoever made it, and is gone when the radio receives', () => {
    const mark = new FileKeyMark({ folder })
    expect(mark.found()).toBeUndefined()
    mark.set(123_456, undefined)
    expect(new FileKeyMark({ folder }).found()).toBe(123_456)
    expect(statSync(join(folder, 'keyed.json')).mode & 0o777).toBe(0o600)
    mark.clear()
    expect(new FileKeyMark({ folder }).found()).toBeUndefined()
    mark.clear()
  })
  it.each(['', 'garbage', '{"utcMs":"x"}', '{"utcMs":1e99}'])('that cannot be read (%j) is one all the same', (text) => {
    writeFileSync(join(folder, 'keyed.json'), text)
    const mark = new FileKeyMark({ folder })
    expect(mark.found()).toBe(0)
    mark.clear()
  })
  it('says when it cannot be written', () => {
    const problems: string[] = []
    new FileKeyMark({ folder: join(folder, 'not-there'), onProblem: (words) => problems.push(words) }).set(1, undefined)
    expect(problems).toEqual([expect.stringMatching(/could not be written/)])
  })
})

describe('the process that unkeys after us', () => {
  /** A server that arms the watch in one way or another, and is then killed. */
  const killed = async (orders: string) => {
    const parent = spawn(
      process.execPath,
      [
        '-e',
        `const { fork } = require('node:child_process'); const watch = fork(${JSON.stringify(script)}, { stdio: 'ignore', detached: true });
       const tell = (way) => new Promise((done) => watch.send({ way }, done)); (async () => { await new Promise((done) => watch.once('message', done)); ${orders}; console.log('ready'); setInterval(() => {}, 1000) })()`,
      ],
      { stdio: ['ignore', 'pipe', 'inherit'] },
    )
    await new Promise((done) => parent.stdout.once('data', done))
    // What was sent to the watch is read by it in order; it need not have been when the server dies.
    parent.kill('SIGKILL')
    await new Promise((done) => parent.once('exit', done))
  }

  it('tells the radio to stop when the server is killed', async () => {
    const radio = await listen()
    await killed(`await tell({ port: { kind: 'tcp', host: '127.0.0.1', port: ${radio.port} }, serialBaud: 9600, bytes: '5458303b' })`)
    await until(() => radio.heard.length >= 3)
    expect(new Set(radio.heard)).toEqual(new Set(['5458303b']))
    radio.close()
  })
  ;(hasSocat ? it : it.skip)('does so on a serial port, which the server has held until then', async () => {
    const path = join(folder, 'radio')
    const radio = spawn('socat', ['-d', '-d', `PTY,raw,echo=0,link=${path}`, 'STDIO'], { stdio: ['pipe', 'pipe', 'pipe'] })
    let heard = ''
    radio.stdout.on('data', (bytes: Buffer) => (heard += bytes.toString('latin1')))
    radio.stderr.resume()
    await until(() => existsSync(path))
    await killed(
      `const { SerialPort } = require(${JSON.stringify(join(process.cwd(), 'node_modules', 'serialport'))})
       const held = new SerialPort({ path: ${JSON.stringify(path)}, baudRate: 9600 })
       await new Promise((done) => held.once('open', done))
       await tell({ port: { kind: 'serial', path: ${JSON.stringify(path)} }, serialBaud: 9600, bytes: '5458303b' })`,
    )
    await until(() => heard.includes('TX0;TX0;TX0;'))
    radio.kill()
  })
  it('does nothing when the radio was unkeyed before', async () => {
    const radio = await listen()
    const way = `{ port: { kind: 'tcp', host: '127.0.0.1', port: ${radio.port} }, serialBaud: 9600, bytes: '5458303b' }`
    await killed(`await tell(${way}); await tell(undefined)`)
    await new Promise((done) => setTimeout(done, 800))
    expect(radio.heard).toEqual([])
    radio.close()
  })
  it('is told by the mark, and let go when the server ends in order', async () => {
    const radio = await listen()
    const mark = new FileKeyMark({ folder, watchScript: script })
    mark.set(1, { port: { kind: 'tcp', host: '127.0.0.1', port: radio.port }, serialBaud: 9600, bytes: Uint8Array.from([1, 2]) })
    mark.clear()
    mark.close()
    await new Promise((done) => setTimeout(done, 800))
    expect(radio.heard).toEqual([])
    expect(existsSync(join(folder, 'keyed.json'))).toBe(false)
    radio.close()
  })
})
