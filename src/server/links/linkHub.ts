// Control and keying stand in one file on purpose: whatever befalls the one must unkey by way of the other.
import {
  defaultLinkConfig,
  describePort,
  hasSerialSpeed,
  PortKeeper,
  type BytePort,
  type DiagnoseRequest,
  type KeyRequest,
  type LinkConfig,
  type LinkState,
  type LinkTarget,
  type PortChoice,
  type SerialLines,
  type TriedLink,
  type Verdict,
} from '@/core/links'
import {
  BUILT_IN_DIALECTS,
  catAnswers,
  compileDialect,
  createCatSession,
  reduceCat,
  renderTemplate,
  type CatEvent,
  type CatRequest,
  type CatState,
  type CatDialect,
  type Dialect,
} from '@/core/links/cat'
import type { Done } from '../done'
import { ChangeFeed } from '../http/changeFeed'
import { createInOrder } from '../inOrder'
import { lineState, sleep } from './lineState'
import { LinkClimb } from './linkClimb'
import { TncLink } from './tncLink'
import { WireLog } from './wireLog'

export interface LinkHubOptions {
  monotonicMs: () => number
  utcMs: () => number
  createPort: (port: PortChoice, serialBaud: number) => BytePort
  listPorts: () => Promise<readonly string[]>
  /** Dialects that the operator added. */
  ownDialects?: () => readonly CatDialect[]
  /** A climb of the ladder ended. */
  onVerdict?: (link: TriedLink, verdict: Verdict) => void
}

/** Without a sign of life of the browser for this long, nothing stays keyed. */
export const WATCHDOG_MS = 2000
/** Nothing is keyed for longer, whatever says it is alive. */
const LONGEST_KEYED_MS = 16_000
const TICK_MS = 40
const CHANGE_EVERY_MS = 150
const LET_GO = 'The port is let go while the link is tried.'
const UNKEY_TRIES = 3

interface Keyed {
  id: string
  sinceMs: number
  aliveMs: number
}

/** All that the server does about links: the radio's control line, key lines, a TNC, and the ladder when one fails. */
export class LinkHub {
  private config: LinkConfig = defaultLinkConfig
  private control: PortKeeper | undefined
  private controlDetail = 'Off.'
  private cat: CatState | undefined
  private waiting: { request: CatRequest; done: (result: Done) => void }[] = []
  private lines: PortKeeper | undefined
  private linesDetail = ''
  private keyed: Keyed | undefined
  /** The control line was lost while the radio was keyed by it: unkeying comes first when it is back. */
  private mayBeKeyed = false
  private alarm: LinkState['alarm'] = null
  private readonly wire: WireLog
  private readonly tnc: TncLink
  private readonly climb: LinkClimb
  private standins: LinkState['standins'] = { radio: null, tnc: null }
  /** Two at once would each open the ports. */
  private readonly inOrder = createInOrder()
  /** The last bytes on their way to the radio. */
  private writing: Promise<unknown> = Promise.resolve()
  private readonly feed = new ChangeFeed(CHANGE_EVERY_MS)
  private readonly timer: ReturnType<typeof setInterval>

  constructor(private readonly options: LinkHubOptions) {
    const { monotonicMs, utcMs, createPort, listPorts } = options
    this.wire = new WireLog(utcMs())
    const changed = () => this.changed()
    this.tnc = new TncLink({ monotonicMs, utcMs, createPort, changed, wire: this.wire, config: () => this.config.tnc })
    this.climb = new LinkClimb({
      ...{ monotonicMs, listPorts, createPort, changed },
      targetOf: (link) => this.targetOf(link),
      restLines: () => (this.keyedByLine() ? this.idleLines() : undefined),
      letGo: (link) => this.letGo(link),
      takeUpAgain: (link) => this.inOrder(() => (link === 'control' ? this.openControl() : this.tnc.open())),
      onVerdict: (link, verdict) => options.onVerdict?.(link, verdict),
    })
    this.timer = setInterval(() => this.tick(), TICK_MS)
    this.timer.unref()
  }

  async close(): Promise<void> {
    this.feed.close()
    // The timer goes last: a radio that does not answer any more is given up by it.
    await this.unkey()
    clearInterval(this.timer)
    await Promise.all([this.control?.stop(), this.lines?.stop(), this.tnc.close()])
  }

  subscribe(listener: () => void): () => void {
    return this.feed.subscribe(listener)
  }

  /** A port may be there now that was not: no need to wait for the next attempt. */
  portAppeared(): void {
    for (const line of [this.control, this.lines, this.tnc]) line?.retryNow()
  }

  setStandins(standins: LinkState['standins']): void {
    this.standins = standins
    this.changed()
  }

  /** Opens and closes what has changed; the rest goes on undisturbed. */
  configure(config: LinkConfig): Promise<void> {
    return this.inOrder(() => this.apply(config))
  }

  private async apply(config: LinkConfig): Promise<void> {
    const before = this.config
    const changed = (part: keyof LinkConfig) => JSON.stringify(before[part]) !== JSON.stringify(config[part])
    const rekey = changed('control') || changed('keying')
    // By the line that keyed it, which may not be the one that is meant from now on.
    if (rekey) await this.unkey()
    this.config = config
    if (rekey) {
      await this.openControl()
      await this.openLines()
    }
    if (changed('tnc')) await this.tnc.open()
    this.changed()
  }

  // Control

  private async openControl(): Promise<void> {
    await this.control?.stop()
    this.control = undefined
    this.cat = undefined
    const { enabled, port, serialBaud } = this.config.control
    if (!enabled || !port) {
      this.controlDetail = 'Off.'
      return
    }
    const dialect = this.dialect()
    this.controlDetail = `Opening ${describePort(port)}.`
    this.control = new PortKeeper({
      createPort: () => this.options.createPort(port, serialBaud),
      sleep,
      onBytes: (bytes) => {
        this.wire.note('control', 'in', bytes)
        this.step({ type: 'bytes', bytes, nowMs: this.options.monotonicMs() })
      },
      onOpen: () => {
        this.cat = createCatSession(dialect, this.options.monotonicMs())
        this.controlDetail = `${describePort(port)} is open.`
        if (this.linesAreOnControl()) void this.control?.setLines(this.idleLines())
        if (this.config.keying.by !== 'vox') void this.control?.setLastWill(this.lastWill(dialect))
        if (this.mayBeKeyed) {
          this.mayBeKeyed = false
          this.step({ type: 'request', request: { command: 'keyOff' }, nowMs: this.options.monotonicMs() })
        }
        this.changed()
      },
      onLost: (why) => {
        this.controlDetail = why
        this.cat = undefined
        this.failWaiting(why)
        if (this.keyed && (this.config.keying.by === 'cat' || this.linesAreOnControl())) this.lostWhileKeyed(why)
        this.changed()
      },
    })
  }

  /** Begins the conversation anew, with the dialect as it is now. */
  reopenControl(): Promise<void> {
    return this.inOrder(async () => {
      await this.unkey()
      await this.openControl()
    })
  }

  private dialect(): Dialect {
    const { dialect, radioAddress } = this.config.control
    const known = [...BUILT_IN_DIALECTS, ...(this.options.ownDialects?.() ?? [])]
    return compileDialect(known.find((d) => d.id === dialect) ?? known[0]!, radioAddress ?? undefined)
  }

  /** What whoever holds the port for us does when it loses us: receive. */
  private lastWill(dialect: Dialect): { bytes: Uint8Array; lines: SerialLines } {
    const off = this.config.keying.by === 'cat' ? dialect.send.keyOff : undefined
    const bytes = off ? renderTemplate(off, {}, dialect.context) : new Uint8Array()
    return { bytes, lines: this.linesAreOnControl() ? this.idleLines() : {} }
  }

  /** Asks the radio for something. Resolves when it has answered, or not in time. */
  ask(request: CatRequest): Promise<Done> {
    if (!this.cat) return Promise.resolve({ ok: false, error: `The radio cannot be asked: ${this.controlDetail}` })
    return new Promise((done) => {
      this.waiting.push({ request, done })
      this.step({ type: 'request', request, nowMs: this.options.monotonicMs() })
    })
  }

  private failWaiting(error: string): void {
    for (const { done } of this.waiting.splice(0)) done({ ok: false, error })
  }

  private step(event: CatEvent): void {
    if (!this.cat) return
    const [state, actions] = reduceCat(this.cat, event)
    this.cat = state
    for (const action of actions) {
      if (action.type === 'write') {
        this.wire.note('control', 'out', action.bytes)
        this.writing = this.control?.write(action.bytes) ?? Promise.resolve()
      } else if (action.type === 'done') {
        const at = this.waiting.findIndex((w) => w.request === action.request)
        const [waiting] = at < 0 ? [] : this.waiting.splice(at, 1)
        waiting?.done(action.error === undefined ? { ok: true } : { ok: false, error: action.error })
      } else if (action.command === 'readSwr') this.guardSwr()
    }
    if (actions.length > 0) this.changed()
  }

  private guardSwr(): void {
    const swr = this.cat?.readings.swr
    if (!this.keyed || swr === null || swr === undefined || swr <= this.config.swrLimit) return
    this.raise(
      `SWR ${swr.toFixed(1)}, above the limit of ${this.config.swrLimit}: transmission was stopped. Check antenna and feed line, hands clear.`,
    )
    void this.unkey()
  }

  // Key lines

  private keyedByLine(): boolean {
    const { by } = this.config.keying
    return by === 'rts' || by === 'dtr'
  }

  private linesAreOnControl(): boolean {
    const { path } = this.config.keying
    const { port } = this.config.control
    return this.keyedByLine() && (path === null || (port?.kind === 'serial' && port.path === path))
  }

  /** Both lines as they are while receiving: the system raises them when a port is opened. */
  private idleLines(): { rts: boolean; dtr: boolean } {
    const { by, inverted } = this.config.keying
    return { rts: by === 'rts' && inverted, dtr: by === 'dtr' && inverted }
  }

  private async openLines(): Promise<void> {
    await this.lines?.stop()
    this.lines = undefined
    const { path } = this.config.keying
    if (!this.keyedByLine() || !path || this.linesAreOnControl()) return
    this.linesDetail = `Opening ${path}.`
    this.lines = new PortKeeper({
      createPort: () => this.options.createPort({ kind: 'serial', path }, this.config.control.serialBaud),
      sleep,
      onBytes: () => undefined,
      onOpen: () => {
        this.linesDetail = `${path} is open.`
        void this.lines?.setLines(this.idleLines())
        this.changed()
      },
      onLost: (why) => {
        this.linesDetail = why
        if (this.keyed) this.lostWhileKeyed(why)
        this.changed()
      },
    })
  }

  private lostWhileKeyed(why: string): void {
    this.mayBeKeyed = this.config.keying.by === 'cat'
    this.keyed = undefined
    this.raise(
      `${why} It was lost while transmitting.${this.mayBeKeyed ? ' If the transmit lamp is lit, switch the radio off.' : ' The key line has dropped.'}`,
    )
  }

  private raise(words: string): void {
    this.alarm = { sequence: this.wire.next(), utcMs: this.options.utcMs(), words }
    this.changed()
  }

  /** Keys and unkeys, for the gate alone. */
  async key(request: KeyRequest): Promise<Done> {
    const nowMs = this.options.monotonicMs()
    if (request.action === 'off') return this.unkey()
    if (request.action === 'alive') {
      if (this.keyed?.id !== request.id) return { ok: false, error: this.alarm?.words ?? 'It is not keyed.' }
      this.keyed.aliveMs = nowMs
      return { ok: true }
    }
    if (this.alarm && this.alarm.sequence > request.acknowledged) return { ok: false, error: this.alarm.words }
    this.alarm = null
    this.keyed = { id: request.id, sinceMs: nowMs, aliveMs: nowMs }
    const done = await this.setKey(true)
    if (!done.ok) await this.unkey()
    this.changed()
    return done
  }

  private async setKey(on: boolean): Promise<Done> {
    const { by, inverted } = this.config.keying
    if (by === 'cat') {
      const command = on ? 'keyOn' : 'keyOff'
      return this.ask({ command })
    }
    if (by !== 'rts' && by !== 'dtr') {
      // The radio keys itself by VOX: what is to be done here is to read its meters meanwhile.
      this.step({ type: 'keyed', on, nowMs: this.options.monotonicMs() })
      return { ok: true }
    }
    const port = this.linesAreOnControl() ? this.control : this.lines
    if (!port) return { ok: false, error: 'The port of the key line is not set up.' }
    this.step({ type: 'keyed', on, nowMs: this.options.monotonicMs() })
    return port.setLines({ ...this.idleLines(), [by]: on !== inverted })
  }

  /** Unkeys whatever is believed: it must never depend on that. A radio that was keyed and does not confirm it is told again. */
  private async unkey(): Promise<Done> {
    const { by } = this.config.keying
    const was = this.keyed !== undefined
    this.keyed = undefined
    this.changed()
    let done = await this.setKey(false)
    for (let again = 1; was && !done.ok && !this.keyed && again < UNKEY_TRIES; again++) done = await this.setKey(false)
    // Whoever closes the port next must not cut these bytes off.
    await this.writing
    if (!was) return { ok: true }
    if (!done.ok && !this.keyed) {
      this.mayBeKeyed = by === 'cat'
      const before = this.alarm ? `${this.alarm.words} ` : ''
      this.raise(`${before}It is not known whether the radio stopped: ${done.error} If the transmit lamp is lit, switch the radio off.`)
    }
    return done
  }

  // The ladder

  /** Starts, answers and stops a climb. */
  diagnose(request: DiagnoseRequest): Promise<Done> {
    return this.climb.diagnose(request)
  }

  private async letGo(link: TriedLink): Promise<void> {
    if (link === 'tnc') return this.tnc.letGo(LET_GO)
    await this.unkey()
    await this.control?.stop()
    this.cat = undefined
    this.controlDetail = LET_GO
  }

  private targetOf(link: TriedLink): LinkTarget | undefined {
    const { port, serialBaud } = this.config[link]
    if (!port) return undefined
    const line = { port, serialBaud: hasSerialSpeed(port) ? serialBaud : null }
    if (link === 'tnc') return { speaks: 'kiss', ...line }
    return { speaks: 'cat', ...line, dialect: this.dialect() }
  }

  // State

  /** @param afterSequence what crossed the wire after this is told */
  state(afterSequence: number): LinkState {
    const { keying } = this.config
    const readings = this.cat?.readings ?? { frequencyHz: null, mode: null, keyed: null, power: null, swr: null, alc: null }
    const talking = this.cat !== undefined && catAnswers(this.cat)
    const controlState = lineState(this.control, talking ? 'talking' : (this.cat?.missed ?? 0) > 2 ? 'silent' : 'open')
    const keyPort = keying.by === 'cat' || this.linesAreOnControl() ? this.control : this.lines
    const none = keying.by === 'none' || keying.by === 'vox'
    const ready = keying.by === 'cat' ? talking : keyPort?.isOpen === true
    return {
      control: {
        state: controlState,
        detail: controlState === 'silent' ? `${this.controlDetail} The radio does not answer.` : this.controlDetail,
        ...readings,
        swrMeter: this.cat?.dialect.send.readSwr !== undefined,
      },
      keying: {
        by: keying.by,
        state: none ? 'off' : this.keyed ? 'keyed' : ready ? 'ready' : 'problem',
        detail: none ? '' : keying.by === 'cat' || this.linesAreOnControl() ? this.controlDetail : this.linesDetail,
        leadMs: keying.leadMs,
        tailMs: keying.tailMs,
      },
      tnc: this.tnc.state(),
      diagnosis: this.climb.state(),
      alarm: this.alarm,
      wire: this.wire.after(afterSequence),
      standins: this.standins,
    }
  }

  private tick(): void {
    const nowMs = this.options.monotonicMs()
    this.step({ type: 'tick', nowMs })
    this.tnc.tick(nowMs)
    const { keyed } = this
    if (!keyed) return
    const { by } = this.config.keying
    if (by === 'vox' || by === 'none') {
      // With the page its audio is gone as well: there is nothing here to unkey.
      if (nowMs - keyed.aliveMs > WATCHDOG_MS || nowMs - keyed.sinceMs > LONGEST_KEYED_MS) void this.unkey()
    } else if (nowMs - keyed.aliveMs > WATCHDOG_MS) {
      this.raise('The page that was transmitting went away: the radio was unkeyed.')
      void this.unkey()
    } else if (nowMs - keyed.sinceMs > LONGEST_KEYED_MS) {
      this.raise('The radio was keyed for too long and was unkeyed.')
      void this.unkey()
    }
  }

  private changed(): void {
    this.feed.changed()
  }
}
