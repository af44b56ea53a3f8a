// Control and keying stand in one file on purpose: whatever befalls the one must unkey by way of the other.
import {
  defaultLinkConfig,
  describePort,
  dropKey,
  hasSerialSpeed,
  keyRightEnded,
  PortKeeper,
  stillAlive,
  takeKey,
  type BytePort,
  type DiagnoseRequest,
  type KeyRight,
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
import type { Hub } from './hub'
import type { KeyMark, WayToUnkey } from './keyMark'
import { ChangeFeed } from '../http/changeFeed'
import { createInOrder } from '../inOrder'
import { lineState, sleep } from './lineState'
import { LinkClimb } from './linkClimb'
import { TncLink } from './tncLink'
import { WireLog } from './wireLog'

export interface LinkHubOptions {
  monotonicMs: () => number
  utcMs: () => number
  /** @param keepLines whether a serial port's lines stay as they are when it is closed */
  createPort: (port: PortChoice, serialBaud: number, keepLines: boolean) => BytePort
  listPorts: () => Promise<readonly string[]>
  /** A climb of the ladder ended. */
  onVerdict?: (link: TriedLink, verdict: Verdict) => void
  /** The TNC heard a frame. */
  onPacket?: (frame: Uint8Array) => void
  /** What outlives this process: a mark that the radio is keyed, and whoever unkeys it when we are gone. */
  keyMark?: KeyMark
}

const TICK_MS = 20
const CHANGE_EVERY_MS = 150
const UNKNOWN_STATE =
  'It is not known whether the radio transmits: it is told to stop again and again. If the transmit lamp is lit, switch the radio off.'
const LET_GO = 'The port is let go while the link is tried.'
const UNKEY_TRIES = 3
/** Instead of a count: it has answered. */
const ANSWERED = -1
/** How long after it stopped the radio is asked again whether it did. */
const CHECKED_AFTER_MS = [700, 2000, 4500, 9000]
const SUSPECT_MS = 11_000
/** A port that does not take an order within this time has not taken it. */
const LONGEST_WRITE_MS = 600
/** While nobody knows whether the radio is keyed it is told to stop this often. */
const UNKEY_AGAIN_MS = 1000

const STILL_LIT = 'If the transmit lamp is lit, switch the radio off.'

/** An order that a frozen port never answers is given up. */
const inTime = (order: Promise<Done>): Promise<Done> =>
  Promise.race([order, sleep(LONGEST_WRITE_MS).then((): Done => ({ ok: false, error: 'The port did not take the order in time.' }))])

/** Of a TNC, all but what it is told in KISS and how fast its air is. */
const lineOf = ({ tnc: { parameters: _, airBaud: __, ...line } }: LinkConfig) => JSON.stringify(line)

/** All that the server does about links: the radio's control line, key lines, a TNC, and the ladder when one fails. */
export class LinkHub implements Hub {
  private config: LinkConfig = defaultLinkConfig
  private control: PortKeeper | undefined
  private controlDetail = 'Off.'
  private ownDialects: readonly CatDialect[] = []
  private cat: CatState | undefined
  private waiting: { request: CatRequest; done: (result: Done) => void }[] = []
  private lines: PortKeeper | undefined
  private linesDetail = ''
  private right: KeyRight = {}
  /** Nobody knows whether the radio is keyed: it is told to stop until it says that it did, whatever else happens. */
  private mayBeKeyed = false
  /** The port of the key line has been opened. */
  private lineIsSet = false
  /** The control line has been told to stop transmitting since this process began. */
  private cleared = false
  private clearing: Promise<unknown> | undefined
  /** Questions whether it transmits that the radio has left unanswered, or that it has answered one, since the line was opened. */
  private unanswered = 0
  private cannotBeAsked = false
  private nextClearMs = 0
  /** It is being told to stop, and asked whether it did. */
  private stopping = false
  /** When it is asked again whether it really stopped, and until when its word for the opposite is taken for our doing. */
  private checks: number[] = []
  private suspectUntilMs = -Infinity
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
  private closing: Promise<void> | undefined

  constructor(private readonly options: LinkHubOptions) {
    const { monotonicMs, utcMs, createPort, listPorts } = options
    this.wire = new WireLog(utcMs())
    const changed = () => this.changed()
    const plainPort = (port: PortChoice, serialBaud: number) => createPort(port, serialBaud, false)
    this.tnc = new TncLink({
      monotonicMs,
      utcMs,
      createPort: plainPort,
      changed,
      wire: this.wire,
      config: () => this.config.tnc,
      onFrame: (frame) => options.onPacket?.(frame),
    })
    this.climb = new LinkClimb({
      ...{ monotonicMs, listPorts, changed },
      createPort: (port, serialBaud) => createPort(port, serialBaud, this.restsHigh()),
      targetOf: (link) => this.targetOf(link),
      restLines: () => (this.keyedByLine() ? this.idleLines() : undefined),
      heardBefore: (link) => (link === 'tnc' ? this.tnc.heardBefore() : undefined),
      letGo: (link) => this.letGo(link),
      takeUpAgain: (link) => this.inOrder(() => (link === 'control' ? this.openControl() : this.tnc.open())),
      onVerdict: (link, verdict) => options.onVerdict?.(link, verdict),
    })
    this.timer = setInterval(() => this.tick(), TICK_MS)
    this.timer.unref()
    const marked = options.keyMark?.found()
    if (marked === undefined) return
    this.mayBeKeyed = true
    this.raise(
      `The server ended while the radio was keyed${marked > 0 ? `, at ${new Date(marked).toISOString().slice(11, 19)} UTC` : ''}. It is told to stop as soon as it can be reached; if the transmit lamp is lit, switch the radio off.`,
    )
  }

  private get keyed(): KeyRight['held'] {
    return this.right.held
  }

  /** Whether the radio may be keyed after all: nobody could find out, or nobody could tell it. */
  get leavesKeyed(): boolean {
    return this.mayBeKeyed || this.keyed !== undefined
  }

  close(): Promise<void> {
    this.closing ??= this.end()
    return this.closing
  }

  private async end(): Promise<void> {
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

  async setDialects(own: readonly CatDialect[]): Promise<void> {
    this.ownDialects = own
  }

  configure(config: LinkConfig): Promise<void> {
    return this.inOrder(() => this.apply(config))
  }

  private async apply(config: LinkConfig): Promise<void> {
    const before = this.config
    const changed = (part: keyof LinkConfig) => JSON.stringify(before[part]) !== JSON.stringify(config[part])
    const rekey = changed('control') || changed('keying')
    if (rekey) this.climb.forget('control')
    if (changed('tnc')) this.climb.forget('tnc')
    // By the line that keyed it, which may not be the one that is meant from now on.
    const known = !rekey || (await this.unkey()).ok
    this.config = config
    if (rekey) {
      await this.openControl()
      await this.openLines()
    }
    // What a TNC is told in KISS needs no other line.
    if (changed('tnc') && lineOf(before) === lineOf(config)) this.tnc.tellParameters()
    else if (changed('tnc')) await this.tnc.open()
    // Nothing here keys the radio any more: what was said of it once need not be said at each start.
    if (known && this.mayBeKeyed && !this.marks()) this.settled()
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
      createPort: () => this.options.createPort(port, serialBaud, this.linesAreOnControl() && this.restsHigh()),
      sleep,
      onBytes: (bytes) => {
        this.wire.note('control', 'in', bytes)
        this.step({ type: 'bytes', bytes, nowMs: this.options.monotonicMs() })
      },
      onOpen: () => {
        this.cat = createCatSession(dialect, this.options.monotonicMs())
        this.unanswered = 0
        this.cannotBeAsked = false
        this.controlDetail = `${describePort(port)} is open.`
        if (this.linesAreOnControl()) this.dropLines(this.control)
        if (this.config.keying.by !== 'vox') void this.control?.setLastWill(this.lastWill(dialect))
        // A server before this one, or anybody else, may have left it keyed.
        if (this.config.keying.by === 'cat' && (this.mayBeKeyed || !this.cleared)) this.clear()
        this.changed()
      },
      onLost: (why) => {
        this.controlDetail = why
        this.cat = undefined
        this.failWaiting(why)
        if (this.config.keying.by === 'cat' || this.linesAreOnControl()) this.keyPortLost(why)
        this.changed()
      },
    })
  }

  /** Tells the radio to stop, and goes on until it is known to have. */
  private clear(): void {
    this.clearing ??= this.stopRadio().then((stopped) => {
      this.clearing = undefined
      this.nextClearMs = this.options.monotonicMs() + UNKEY_AGAIN_MS
      if (!stopped.ok) return
      this.cleared = true
      this.settled()
    })
  }

  /** It is known that the radio receives. */
  private settled(): void {
    if (this.keyed) return
    this.mayBeKeyed = false
    this.options.keyMark?.clear()
    this.changed()
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
    const known = [...BUILT_IN_DIALECTS, ...this.ownDialects]
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
        this.writing = this.control ? inTime(this.control.write(action.bytes)) : Promise.resolve()
      } else if (action.type === 'done') {
        const at = this.waiting.findIndex((w) => w.request === action.request)
        const [waiting] = at < 0 ? [] : this.waiting.splice(at, 1)
        waiting?.done(action.error === undefined ? { ok: true } : { ok: false, error: action.error })
        if (action.request.command === 'readKeyed' && action.error === undefined) this.guardKeyed()
      } else if (action.command === 'readSwr') this.guardSwr()
      else if (action.command === 'readKeyed') this.guardKeyed()
    }
    if (actions.length > 0) this.changed()
  }

  /**
   * On a line that is slow, an answer of before may have been taken for the proof that the radio stopped: what it says of
   * itself in the seconds after counts too. Later than that, whoever keys it by hand may.
   */
  private guardKeyed(): void {
    const nowMs = this.options.monotonicMs()
    if (this.stopping || this.keyed || this.mayBeKeyed || this.cat?.readings.keyed !== true || nowMs > this.suspectUntilMs) return
    this.mayBeKeyed = true
    this.nextClearMs = nowMs
    this.raise(`The radio says that it transmits after it was told to stop. It is told again. ${STILL_LIT}`)
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

  /** A key line that is high while receiving keys when its port lets it fall. */
  private restsHigh(): boolean {
    return this.keyedByLine() && this.config.keying.inverted
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
      createPort: () => this.options.createPort({ kind: 'serial', path }, this.config.control.serialBaud, this.restsHigh()),
      sleep,
      onBytes: () => undefined,
      onOpen: () => {
        this.linesDetail = `${path} is open.`
        this.dropLines(this.lines)
        this.changed()
      },
      onLost: (why) => {
        this.linesDetail = why
        this.keyPortLost(why)
        this.changed()
      },
    })
  }

  /** A port has been opened: its lines are put to rest, and with them the radio. */
  private dropLines(port: PortKeeper | undefined): void {
    if (!port) return
    this.lineIsSet = true
    void inTime(port.setLines(this.idleLines())).then((done) => {
      if (done.ok && this.mayBeKeyed && this.keyedByLine()) this.settled()
    })
  }

  private keyPortLost(why: string): void {
    const wasHigh = this.restsHigh() && this.lineIsSet
    this.lineIsSet = false
    if (!this.keyed && !(wasHigh && !this.mayBeKeyed)) return
    const was = this.keyed ? 'It was lost while transmitting.' : 'Its key line is high while receiving, and has dropped with it.'
    this.mayBeKeyed = this.config.keying.by === 'cat' || wasHigh
    this.right = dropKey(this.right, this.options.monotonicMs())
    if (!this.mayBeKeyed) this.settled()
    this.raise(`${why} ${was} ${this.mayBeKeyed ? STILL_LIT : 'The key line has dropped.'}`)
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
      const alive = stillAlive(this.right, request.id, nowMs)
      if (!alive) return { ok: false, error: this.alarm?.words ?? 'It is not keyed.' }
      this.right = alive
      return { ok: true }
    }
    if (request.acknowledged > this.wire.last)
      return { ok: false, error: 'An alarm was acknowledged that has not happened: load the page anew.' }
    if (this.alarm && this.alarm.sequence > request.acknowledged) return { ok: false, error: this.alarm.words }
    if (this.mayBeKeyed && this.marks()) return { ok: false, error: UNKNOWN_STATE }
    // By a line that is set up no more: a person has seen the alarm, and goes on all the same.
    if (this.mayBeKeyed) this.settled()
    const taken = takeKey(this.right, request.id, nowMs, request.longestMs)
    if (!taken.ok) return taken
    this.right = taken.right
    this.alarm = null
    // What outlives this process is told first: it may end in the middle of keying.
    if (this.marks()) this.options.keyMark?.set(this.options.utcMs(), this.wayToUnkey())
    const done = await this.setKey(true)
    if (!done.ok) await this.unkey()
    this.changed()
    return done
  }

  /** The port by which the radio is keyed. */
  private keyPort(): PortKeeper | undefined {
    return this.config.keying.by === 'cat' || this.linesAreOnControl() ? this.control : this.lines
  }

  private marks(): boolean {
    return this.config.keying.by === 'cat' || this.keyedByLine()
  }

  /** How somebody else can unkey the radio when this process is gone. */
  private wayToUnkey(): WayToUnkey | undefined {
    const { by, path } = this.config.keying
    const { port, serialBaud } = this.config.control
    if (this.keyedByLine() && !this.linesAreOnControl())
      return path === null ? undefined : { port: { kind: 'serial', path }, serialBaud, bytes: new Uint8Array(), lines: this.idleLines() }
    const bytes =
      by === 'cat' && this.cat?.dialect.send.keyOff
        ? renderTemplate(this.cat.dialect.send.keyOff, {}, this.cat.dialect.context)
        : new Uint8Array()
    if (!port || (port.kind !== 'serial' && port.kind !== 'tcp')) return undefined
    return { port, serialBaud, bytes, ...(this.linesAreOnControl() && { lines: this.idleLines() }) }
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
    const port = this.keyPort()
    if (!port) return { ok: false, error: 'The port of the key line is not set up.' }
    this.step({ type: 'keyed', on, nowMs: this.options.monotonicMs() })
    return inTime(port.setLines({ ...this.idleLines(), [by]: on !== inverted }))
  }

  /** Unkeys whatever is believed: it must never depend on that. A radio that was keyed and does not prove that it stopped is told again. */
  private async unkey(): Promise<Done> {
    const was = this.keyed !== undefined || this.mayBeKeyed
    this.right = dropKey(this.right, this.options.monotonicMs())
    this.changed()
    const done = was ? await this.stopRadio() : await this.setKey(false)
    // Whoever closes the port next must not cut these bytes off.
    await this.writing
    if (!was) return { ok: true }
    // Where nothing here keys it, nothing was told: what was found of a server before is not settled by that.
    if (done.ok && (this.marks() || !this.mayBeKeyed)) this.settled()
    else if (!done.ok && !this.keyed && !this.mayBeKeyed) {
      this.mayBeKeyed = true
      const before = this.alarm ? `${this.alarm.words} ` : ''
      this.raise(`${before}It is not known whether the radio stopped: ${done.error} ${STILL_LIT}`)
    }
    return done
  }

  /** Tells the radio to stop, and looks whether it did as far as it can be asked; tells it again when it did not. */
  private async stopRadio(): Promise<Done> {
    this.stopping = true
    try {
      return await this.tellToStop()
    } finally {
      this.stopping = false
      const nowMs = this.options.monotonicMs()
      this.suspectUntilMs = nowMs + SUSPECT_MS
      this.checks = CHECKED_AFTER_MS.map((ms) => nowMs + ms)
    }
  }

  private async tellToStop(): Promise<Done> {
    let done: Done = { ok: false, error: 'It was not told.' }
    for (let tries = 0; tries < UNKEY_TRIES; tries++) {
      // Somebody keyed it again meanwhile, rightly.
      if (this.keyed) return { ok: true }
      done = await this.setKey(false)
      if (this.config.keying.by !== 'cat') return done
      if (!done.ok) continue
      done = await this.readBack()
      if (done.ok) return done
    }
    // A radio that answers everything but this question cannot be asked; its word for the order has to do, and that is said.
    if (this.unanswered >= UNKEY_TRIES && this.cat && catAnswers(this.cat) && this.cat.readings.keyed !== true) {
      this.cannotBeAsked = true
      return { ok: true }
    }
    return done
  }

  /** Asks whether the radio transmits, where its dialect has a question for it. */
  private async readBack(): Promise<Done> {
    if (this.proof() !== 'readBack' || this.keyed) return { ok: true }
    const asked = await this.ask({ command: 'readKeyed' })
    if (!asked.ok) {
      if (this.unanswered !== ANSWERED) this.unanswered++
      return asked
    }
    this.unanswered = ANSWERED
    return this.cat?.readings.keyed === true ? { ok: false, error: 'It says that it still transmits.' } : { ok: true }
  }

  private proof(): LinkState['keying']['proof'] {
    if (this.keyedByLine()) return 'line'
    const { dialect } = this.cat ?? { dialect: this.dialect() }
    if (this.config.keying.by !== 'cat') return 'none'
    if (dialect.send.readKeyed && dialect.reply.readKeyed && !this.cannotBeAsked) return 'readBack'
    return dialect.reply.keyOff ? 'acknowledged' : 'none'
  }

  // The ladder

  sendPacket(frame: Uint8Array): Promise<Done> {
    return Promise.resolve(this.tnc.send(frame))
  }

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
    const keyPort = this.keyPort()
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
        state: none ? 'off' : this.keyed ? 'keyed' : this.mayBeKeyed ? 'problem' : ready ? 'ready' : 'problem',
        detail: none
          ? ''
          : this.mayBeKeyed
            ? UNKNOWN_STATE
            : keying.by === 'cat' || this.linesAreOnControl()
              ? this.controlDetail
              : this.linesDetail,
        proof: this.proof(),
        unknown: this.mayBeKeyed,
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
    if (this.checks[0] !== undefined && nowMs >= this.checks[0]) {
      this.checks.shift()
      if (!this.keyed && !this.mayBeKeyed && !this.stopping && this.cat && this.proof() === 'readBack')
        void this.ask({ command: 'readKeyed' })
    }
    const canBeTold = this.config.keying.by === 'cat' ? this.cat !== undefined : this.keyedByLine() && this.keyPort()?.isOpen === true
    if (this.mayBeKeyed && !this.keyed && canBeTold && nowMs >= this.nextClearMs) this.clear()
    const ended = keyRightEnded(this.right, nowMs)
    if (!ended) return
    // A radio that keys itself by VOX loses its audio with the page: there is nothing here to unkey.
    if (this.marks())
      this.raise(
        ended === 'away'
          ? 'The page that was transmitting went away: the radio was unkeyed.'
          : 'The radio was keyed for too long and was unkeyed.',
      )
    void this.unkey()
  }

  private changed(): void {
    this.feed.changed()
  }
}
