import { createConnection, type Socket } from 'node:net'
import { createInterface } from 'node:readline'
import { parseArgs } from 'node:util'
import { encodeKiss, KissDecoder, TextStream } from '@/core/packet'
import { LinkSessions, type LinkSession } from '@/core/packet/link/linkSessions'
import { nextTickMs, pendingBytes, usualLinkSettings, type LinkAction } from '@/core/packet/link/linkState'
import { CommandError, numberOption, UsageError } from './errors'

const CALL = /^[A-Z0-9]{1,6}(-([0-9]|1[0-5]))?$/
/** When the input has ended and all is acknowledged, what they still say is waited for so long, on the channel's clock. */
const QUIET_MS = 6000
/** And so long by the clock, however much timers are shortened: a simulated channel on a busy machine answers late. */
const QUIET_REAL_MS = 1500
const TICK_MS = 20

/** `zeptik session`: a connected session over a KISS port, line by line. */
export async function sessionCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      kiss: { type: 'string' },
      call: { type: 'string' },
      to: { type: 'string' },
      via: { type: 'string' },
      pace: { type: 'string' },
      'air-baud': { type: 'string' },
      wide: { type: 'boolean', default: false },
      json: { type: 'boolean', default: false },
    },
  })
  if (positionals.length > 0)
    throw new UsageError(`"${positionals[0]}" is not expected here: what is to be said comes on the standard input`)
  const own = callOf('call', values.call)
  const peer = callOf('to', values.to)
  const via = (values.via ?? '')
    .split(',')
    .filter(Boolean)
    .map((hop) => callOf('via', hop))
  if (via.length > 8) throw new UsageError(`--via takes at most 8 digipeaters, not ${via.length}`)
  const kiss = /^(?:(.+):)?(\d{1,5})$/.exec(values.kiss ?? '')
  if (!kiss || Number(kiss[2]) > 65_535) throw new UsageError(`--kiss must be HOST:PORT, got "${values.kiss ?? ''}"`)
  const pace = numberOption('pace', values.pace, 1, { from: 0.1, to: 10_000 })
  const airBaud = numberOption('air-baud', values['air-baud'], 1200, { from: 50, to: 1_000_000 })
  const socket = await open(kiss[1] ?? '127.0.0.1', Number(kiss[2]))
  const tell = values.json ? tellJson : tellText
  await new Session({ own, peer, via, pace, airBaud, wide: values.wide }, socket, tell).run()
}

function callOf(option: string, text: string | undefined): string {
  const call = (text ?? '').toUpperCase()
  if (!CALL.test(call)) throw new UsageError(`--${option} must be a call such as Q5RVR or Q5CTL-7, got "${text ?? ''}"`)
  return call
}

function open(host: string, port: number): Promise<Socket> {
  return new Promise((done, fail) => {
    const socket = createConnection({ host, port })
    socket.setNoDelay(true)
    socket.once('error', (error) => fail(new CommandError(`no KISS port at ${host}:${port}: ${error.message}`)))
    socket.once('connect', () => done(socket))
  })
}

type Told =
  | { event: 'connected'; to: string }
  | { event: 'text'; text: string }
  | { event: 'retry'; attempt: number; of: number; reason: string }
  | { event: 'note'; reason: string }
  | { event: 'disconnected' | 'failed'; reason: string; unacknowledgedBytes: number }

const tellJson = (told: Told) => console.log(JSON.stringify(told))

function tellText(told: Told): void {
  if (told.event === 'text') process.stdout.write(told.text.replace(/\r\n?/g, '\n').replace(/[^\x20-\x7e\n\t\u00a0-\uffff]/g, '.'))
  else if (told.event === 'connected') console.error(`connected to ${told.to}`)
  else if (told.event === 'retry') console.error(`${told.reason} Try ${told.attempt} of ${told.of}.`)
  else if (told.event === 'note') console.error(told.reason)
  else if (told.event === 'disconnected') console.error(`disconnected: ${told.reason}`)
}

interface SessionOptions {
  own: string
  peer: string
  via: string[]
  pace: number
  airBaud: number
  wide: boolean
}

class Session {
  private readonly sessions: LinkSessions
  private session: LinkSession | undefined
  private readonly began = performance.now()
  private readonly decoder = new KissDecoder()
  private readonly text = new TextStream()
  private isOpen = false
  private inputEnded = false
  private quietSinceMs = 0
  private timer: ReturnType<typeof setInterval> | undefined
  private end: (problem?: string) => void = () => undefined

  constructor(
    private readonly options: SessionOptions,
    private readonly socket: Socket,
    private readonly tell: (told: Told) => void,
  ) {
    const { airBaud, wide } = options
    this.sessions = new LinkSessions({
      settings: { ...usualLinkSettings, airBaud, wide },
      send: (frame) => socket.write(encodeKiss({ port: 0, command: 0, data: frame })),
      accepts: () => false,
      tell: (_, action) => this.told(action),
    })
  }

  private get nowMs(): number {
    return (performance.now() - this.began) * this.options.pace
  }

  /** Resolves when it has ended in order. @throws {CommandError} when not */
  async run(): Promise<void> {
    const { own, peer, via } = this.options
    const ended = new Promise<string | undefined>((done) => (this.end = done))
    this.socket.on('data', (data: Buffer) => this.hear(new Uint8Array(data)))
    this.socket.on('error', () => this.socket.destroy())
    this.socket.on('close', () => this.end('the KISS port is gone'))
    const session = this.sessions.connect({ own, peer, via }, this.nowMs)
    if ('error' in session) throw new CommandError(session.error)
    this.session = session
    const lines = createInterface({ input: process.stdin })
    lines.on('line', (line) => this.type(line))
    lines.on('close', () => (this.inputEnded = true))
    const interrupted = () => this.sessions.do(session, { type: 'cut', why: 'Cut off.' }, this.nowMs)
    process.once('SIGINT', interrupted)
    this.timer = setInterval(() => this.tick(), Math.max(1, TICK_MS / this.options.pace))
    const problem = await ended
    clearInterval(this.timer)
    process.off('SIGINT', interrupted)
    lines.close()
    process.stdin.destroy()
    // What was written last goes out before the port closes.
    await new Promise<void>((done) => (this.socket.destroyed ? done() : this.socket.end(() => done())))
    this.socket.destroy()
    if (problem !== undefined) throw new CommandError(problem)
  }

  private type(line: string): void {
    this.quietSinceMs = this.nowMs
    this.sessions.do(this.session!, { type: 'send', bytes: new TextEncoder().encode(`${line}\r`) }, this.nowMs)
  }

  private hear(bytes: Uint8Array): void {
    for (const event of this.decoder.push(bytes))
      if (event.type === 'frame' && event.frame.command === 0) this.sessions.heard(event.frame.data, this.nowMs)
    this.tick()
  }

  private tick(): void {
    const { nowMs, session } = this
    if (!session) return
    if (nextTickMs(session.state) <= nowMs) this.sessions.tick(nowMs)
    if (!this.inputEnded || !this.isOpen || session.state.ending || session.state.phase !== 'open') return
    if (pendingBytes(session.state) > 0) this.quietSinceMs = nowMs
    else if (nowMs - this.quietSinceMs > Math.max(QUIET_MS, QUIET_REAL_MS * this.options.pace))
      this.sessions.do(session, { type: 'disconnect' }, nowMs)
  }

  private told(action: Exclude<LinkAction, { type: 'transmit' }>): void {
    if (action.type === 'opened') {
      this.isOpen = true
      this.quietSinceMs = this.nowMs
      this.tell({ event: 'connected', to: this.options.peer })
    } else if (action.type === 'deliver') {
      this.quietSinceMs = this.nowMs
      this.tell({ event: 'text', text: this.text.push(action.bytes) })
    } else if (action.type === 'retry') this.tell({ event: 'retry', attempt: action.attempt, of: action.of, reason: action.reason })
    else if (action.type === 'note') this.tell({ event: 'note', reason: action.words })
    else {
      const { reason, inOrder, left } = action
      this.tell({ event: inOrder ? 'disconnected' : 'failed', reason, unacknowledgedBytes: left })
      this.end(inOrder ? undefined : `${this.options.peer}: ${reason}${left > 0 ? ` ${left} bytes have no acknowledgement.` : ''}`)
    }
  }
}
