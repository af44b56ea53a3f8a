import {
  defaultLinkConfig,
  describePort,
  hasSerialSpeed,
  idleDiagnosis,
  LinkProber,
  PortKeeper,
  quietRevival,
  reduceDiagnosis,
  reduceRevival,
  type BytePort,
  type DiagnoseRequest,
  type Diagnosis,
  type DiagnosisEvent,
  type KeyRequest,
  type LinkConfig,
  type LinkState,
  type LinkTarget,
  type PortChoice,
  type SerialLines,
  type RevivalAction,
  type TncRevival,
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
import { frameLine, KissDecoder, parameterFrames, parseAx25, textOf, type KissParameters } from '@/core/packet'
import { ChangeFeed } from '../http/changeFeed'

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

type Done = { ok: true } | { ok: false; error: string }

/** Without a sign of life of the browser for this long, nothing stays keyed. */
export const WATCHDOG_MS = 2000
/** Nothing is keyed for longer, whatever says it is alive. */
const LONGEST_KEYED_MS = 16_000
const TICK_MS = 40
const CHANGE_EVERY_MS = 150
const KEPT_WIRE = 60
const LET_GO = 'The port is let go while the link is tried.'
const KEPT_FRAMES = 50
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
  private tnc: PortKeeper | undefined
  private tncDetail = 'Off.'
  private tncBytes = 0
  private decoder = new KissDecoder()
  private revival: TncRevival = quietRevival
  private frames: LinkState['tnc']['frames'] = []
  private badFrames = 0
  private keyed: Keyed | undefined
  /** The control line was lost while the radio was keyed by it: unkeying comes first when it is back. */
  private mayBeKeyed = false
  private alarm: LinkState['alarm'] = null
  private wire: LinkState['wire'] = []
  /** Numbers alarms, frames and bytes. It goes on from the time of start, so that a restarted server's alarms are newer than all before. */
  private sequence: number
  private diagnosis: { link: TriedLink; now: Diagnosis; prober: LinkProber } | undefined
  private standins: LinkState['standins'] = { radio: null, tnc: null }
  private configuring = Promise.resolve()
  /** The last bytes on their way to the radio. */
  private writing: Promise<unknown> = Promise.resolve()
  private readonly feed = new ChangeFeed(CHANGE_EVERY_MS)
  private readonly timer: ReturnType<typeof setInterval>

  constructor(private readonly options: LinkHubOptions) {
    this.sequence = options.utcMs()
    this.timer = setInterval(() => this.tick(), TICK_MS)
    this.timer.unref()
  }

  async close(): Promise<void> {
    this.feed.close()
    // The timer goes last: a radio that does not answer any more is given up by it.
    await this.unkey()
    clearInterval(this.timer)
    await Promise.all([this.control?.stop(), this.lines?.stop(), this.tnc?.stop()])
  }

  subscribe(listener: () => void): () => void {
    return this.feed.subscribe(listener)
  }

  /** A port may be there now that was not: no need to wait for the next attempt. */
  portAppeared(): void {
    for (const keeper of [this.control, this.lines, this.tnc]) keeper?.retryNow()
  }

  setStandins(standins: LinkState['standins']): void {
    this.standins = standins
    this.changed()
  }

  /** Opens and closes what has changed; the rest goes on undisturbed. */
  configure(config: LinkConfig): Promise<void> {
    return this.inOrder(() => this.apply(config))
  }

  /** One after the other: two at once would each open the ports. */
  private inOrder(work: () => Promise<void>): Promise<void> {
    const done = this.configuring.then(work)
    this.configuring = done.catch(() => undefined)
    return done
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
    if (changed('tnc')) await this.openTnc()
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
        this.note('control', 'in', bytes)
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
        this.note('control', 'out', action.bytes)
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
    this.alarm = { sequence: ++this.sequence, utcMs: this.options.utcMs(), words }
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

  // TNC

  private async openTnc(): Promise<void> {
    await this.tnc?.stop()
    this.tnc = undefined
    const { enabled, port, serialBaud, parameters } = this.config.tnc
    this.decoder = new KissDecoder()
    this.revival = quietRevival
    this.tncBytes = 0
    if (!enabled || !port) {
      this.tncDetail = 'Off.'
      return
    }
    this.tncDetail = `Opening ${describePort(port)}.`
    this.tnc = new PortKeeper({
      createPort: () => this.options.createPort(port, serialBaud),
      sleep,
      onBytes: (bytes) => this.heardByTnc(bytes),
      onOpen: () => {
        this.tncDetail = `${describePort(port)} is open; its parameters were sent.`
        // A memory battery may be flat: what the TNC is to know is told at every start.
        this.sendParameters(parameters)
        this.changed()
      },
      onLost: (why) => {
        this.tncDetail = why
        this.changed()
      },
    })
  }

  private sendParameters(parameters: KissParameters): void {
    for (const frame of parameterFrames(parameters)) this.writeTnc(frame)
  }

  private writeTnc(bytes: Uint8Array): void {
    this.note('tnc', 'out', bytes)
    void this.tnc?.write(bytes)
  }

  /** Puts a TNC that shows its prompt, though it should be in KISS, back into it. */
  private revive(event: Parameters<typeof reduceRevival>[1]): void {
    const { startLines, parameters } = this.config.tnc
    const [state, actions]: [TncRevival, RevivalAction[]] = reduceRevival(
      this.revival,
      event,
      startLines.filter((line) => line !== ''),
    )
    this.revival = state
    for (const action of actions) {
      if (action.type === 'write') this.writeTnc(new TextEncoder().encode(action.words))
      else if (action.type === 'parameters') this.sendParameters(parameters)
      else this.tncDetail = action.words
    }
    if (actions.length > 0) this.changed()
  }

  private heardByTnc(bytes: Uint8Array): void {
    this.tncBytes += bytes.length
    this.note('tnc', 'in', bytes)
    this.revive({ type: 'bytes', bytes, nowMs: this.options.monotonicMs() })
    for (const event of this.decoder.push(bytes)) {
      if (event.type === 'bad') this.badFrames++
      if (event.type !== 'frame' || event.frame.command !== 0) continue
      const parsed = parseAx25(event.frame.data)
      if (!parsed.ok) {
        this.badFrames++
        continue
      }
      const entry = { sequence: ++this.sequence, utcMs: this.options.utcMs(), line: frameLine(parsed.value), kind: parsed.value.kind }
      this.frames = [...this.frames, { ...entry, text: textOf(parsed.value.info).slice(0, 300) }].slice(-KEPT_FRAMES)
    }
    this.changed()
  }

  // The ladder

  /** Starts, answers and stops a climb. The link is let go meanwhile, so that its port is free. */
  async diagnose(request: DiagnoseRequest): Promise<Done> {
    if (request.action === 'stop') {
      if (this.diagnosis) await this.climb({ type: 'stop' })
      return { ok: true }
    }
    if (request.action === 'answer') {
      if (!this.diagnosis) return { ok: false, error: 'Nothing is being tried.' }
      void this.climb({ type: 'answered', rung: request.rung, answer: request.answer })
      return { ok: true }
    }
    if (this.diagnosis?.now.at) return { ok: false, error: 'A link is being tried already.' }
    const target = this.targetOf(request.link)
    if (!target) return { ok: false, error: 'Choose the port first.' }
    if (request.link === 'control') {
      await this.unkey()
      await this.control?.stop()
      this.cat = undefined
      this.controlDetail = LET_GO
    } else {
      await this.tnc?.stop()
      this.tncDetail = LET_GO
    }
    const prober = new LinkProber(target, {
      listPorts: this.options.listPorts,
      createPort: this.options.createPort,
      ...(this.keyedByLine() && { restLines: this.idleLines() }),
      monotonicMs: this.options.monotonicMs,
      sleep,
    })
    this.diagnosis = { link: request.link, now: idleDiagnosis, prober }
    void this.climb({ type: 'start' })
    return { ok: true }
  }

  private targetOf(link: TriedLink): LinkTarget | undefined {
    const { port, serialBaud } = this.config[link]
    if (!port) return undefined
    const line = { port, serialBaud: hasSerialSpeed(port) ? serialBaud : null }
    if (link === 'tnc') return { speaks: 'kiss', ...line }
    return { speaks: 'cat', ...line, dialect: this.dialect() }
  }

  private async climb(event: DiagnosisEvent): Promise<void> {
    const { diagnosis } = this
    if (!diagnosis) return
    const [now, actions] = reduceDiagnosis(diagnosis.now, event)
    diagnosis.now = now
    this.changed()
    for (const action of actions) {
      if (action.type === 'ask') continue
      if (action.again) diagnosis.prober.forget()
      const finding = await diagnosis.prober.probe(action.rung)
      if (this.diagnosis === diagnosis) await this.climb({ type: 'found', rung: action.rung, finding })
    }
    // When it is over the link is taken up again.
    if (now.at === null && (now.verdict || event.type === 'stop')) {
      if (now.verdict) this.options.onVerdict?.(diagnosis.link, now.verdict)
      await this.inOrder(() => (diagnosis.link === 'control' ? this.openControl() : this.openTnc()))
    }
    this.changed()
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
    const diagnosed = this.diagnosis
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
      tnc: {
        state: lineState(this.tnc, this.frames.length > 0 ? 'talking' : this.tncBytes > 0 ? 'silent' : 'open'),
        detail: this.tncDetail,
        frames: this.frames,
        badFrames: this.badFrames,
      },
      diagnosis: diagnosed ? { link: diagnosed.link, now: diagnosed.now as NonNullable<LinkState['diagnosis']>['now'] } : null,
      alarm: this.alarm,
      wire: this.wire.filter((entry) => entry.sequence > afterSequence),
      standins: this.standins,
    }
  }

  private note(link: TriedLink, way: 'in' | 'out', bytes: Uint8Array): void {
    const shown = bytes.subarray(0, 64)
    const hex = [...shown].map((byte) => byte.toString(16).toUpperCase().padStart(2, '0')).join(' ')
    const text = [...shown].map((byte) => (byte >= 0x20 && byte < 0x7f ? String.fromCharCode(byte) : '·')).join('')
    this.wire = [...this.wire, { sequence: ++this.sequence, link, way, hex, text }].slice(-KEPT_WIRE)
  }

  private tick(): void {
    const nowMs = this.options.monotonicMs()
    this.step({ type: 'tick', nowMs })
    this.revive({ type: 'tick', nowMs })
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

function lineState(port: PortKeeper | undefined, open: 'talking' | 'silent' | 'open'): LinkState['tnc']['state'] {
  if (!port) return 'off'
  return port.isOpen ? open : port.isOpening ? 'opening' : 'problem'
}

const sleep = (ms: number) => new Promise<void>((done) => setTimeout(done, ms).unref())
