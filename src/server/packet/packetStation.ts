import { burstSeconds, parseAx25, textOf, uiFrame, type PacketModemId } from '@/core/packet'
import { LinkSessions, type LinkSession } from '@/core/packet/link/linkSessions'
import { parseLinkFrame, type LinkFrame } from '@/core/packet/link/linkFrame'
import { pendingBytes, usualLinkSettings, type LinkAction } from '@/core/packet/link/linkState'
import type { KeptSession, LadderFrame, MonitorFrame, PacketAct, PacketState, SessionView } from '@/core/packet/station/contracts'
import {
  beginKeyUpSearch,
  breakOffKeyUpSearch,
  stepKeyUpSearch,
  type KeyUpAction,
  type KeyUpSearch,
} from '@/core/packet/station/keyUpFinder'
import { pathsTo } from '@/core/packet/station/pathFinder'
import { sessionWords } from '@/core/packet/station/sessionWords'
import { createGate, reduceGate, whyRefused, type GateState } from '@/core/transmit'
import type { Done } from '../done'
import { ChangeFeed } from '../http/changeFeed'
import { PacketMonitor } from './packetMonitor'
import { Transcript } from './transcript'

export interface PacketStationHost {
  monotonicMs: () => number
  utcMs: () => number
  /** Who may send: read anew for each act. */
  station: () => Promise<{ call: string; licenceConfirmed: boolean }>
  airBaud: () => number
  txDelayMs: () => number
  /** Whether frames can be handed over, in words why not. */
  problem: () => string | undefined
  /** Hands a frame to the TNC. */
  send: (frame: Uint8Array) => Promise<Done>
  newId: () => string
  /** Sets how long it keys before a frame. Resolves when the TNC has been told. */
  setTxDelay: (ms: number) => Promise<void>
  /** Keeps what was said in a session; the same one again replaces it. */
  keepSession: (session: KeptSession) => Promise<void>
  /** Keeps a frame that was heard. */
  keepFrame: (frame: MonitorFrame) => void
}

const TICK_MS = 50
const CHANGE_EVERY_MS = 200
const LONGEST_FRAME_MS = 30_000
/** Lines of a session that screens are told. */
const TOLD_LINES = 400
const KEPT_FRAMES = 60
const KEPT_CLOSED = 12
const BUSY_WINDOW_MS = 120_000
const WHO_EVERY_MS = 5000
/** Sessions that go on are kept so often, so that a server that is killed loses little of them. */
const KEEP_EVERY_MS = 10_000
/** How often each of several ways is called before the next one is tried. */
const TRIES_EACH = 3

interface Kept {
  /** Of its text, wherever it is kept. */
  id: string
  session: LinkSession
  practice: boolean
  beganUtcMs: number
  said: Transcript
  ladder: (LadderFrame & { ns?: number })[]
  /** What was acknowledged, to tell how fast it goes. */
  marks: { atMs: number; bytes: number }[]
  /** Ways that are still to be tried, and whether one brought an answer. */
  ways: string[][]
  answered: boolean
  keptSequence: number
}

interface BeaconPlan {
  to: string
  via: string[]
  text: string
  everyMin: number
  left: number
  nextMs: number
  /** Why the last one did not go out. */
  problem: string | null
}

/** The packet station: sessions, what is heard, and the gate that all it sends passes. It lives on the server, so that sessions outlive tabs. */
export class PacketStation {
  private readonly sessions: LinkSessions
  private readonly kept: Kept[] = []
  private readonly monitor: PacketMonitor
  private beacon: BeaconPlan | undefined
  private accepting: { untilMs: number; greeting: string; practice: boolean } | undefined
  private keptMs = -Infinity
  private keyUp: KeyUpSearch | undefined
  /** A new key-up time is on its way to the TNC. */
  private isTelling = false
  private readonly feed = new ChangeFeed(CHANGE_EVERY_MS)
  private readonly timer: ReturnType<typeof setInterval>
  private gate: GateState
  private who = { call: '', licenceConfirmed: false }
  private sequence = 0
  private airFreeMs = -Infinity
  private countedMs = -Infinity
  private askedWhoMs = -Infinity
  /** Times at which the channel was in use. */
  private busy: { fromMs: number; toMs: number }[] = []

  constructor(private readonly host: PacketStationHost) {
    this.gate = createGate(host.monotonicMs())
    this.monitor = new PacketMonitor(host.utcMs, () => ++this.sequence)
    this.sessions = new LinkSessions({
      get settings() {
        return { ...usualLinkSettings, airBaud: host.airBaud(), txDelayMs: host.txDelayMs() }
      },
      send: (frame, session) => this.transmit(frame, session),
      // Nobody is told that they are connected where no answer could go out.
      accepts: (own) => this.accepting !== undefined && own === this.who.call && this.whyNot() === undefined,
      tell: (session, action) => this.told(session, action),
    })
    this.timer = setInterval(() => this.tick(), TICK_MS)
    this.timer.unref()
  }

  subscribe(listener: () => void): () => void {
    return this.feed.subscribe(listener)
  }

  /** Resolves when what was said has been kept. */
  async close(): Promise<void> {
    clearInterval(this.timer)
    this.feed.close()
    await this.keepTexts()
  }

  /** Does what a person asked for. Only what is stopped needs no gate. */
  async act(act: PacketAct): Promise<Done> {
    const { host } = this
    const nowMs = host.monotonicMs()
    if (act.act === 'silence') {
      this.silence()
      return { ok: true }
    }
    if (act.act === 'cut' || act.act === 'dismiss') return this.end(act.id, act.act)
    if (act.act === 'endKeyUp') {
      this.breakOffKeyUp('Broken off: the key-up time is as before.')
      return { ok: true }
    }
    if (act.act === 'endBeacon' || act.act === 'endAccept') {
      if (act.act === 'endBeacon') this.beacon = undefined
      else this.accepting = undefined
      this.feed.changed()
      return { ok: true }
    }
    await this.learnWho()
    if (act.act === 'checked') {
      ;[this.gate] = reduceGate(this.gate, { type: 'checkPassed', nowMs })
      this.feed.changed()
      return { ok: true }
    }
    ;[this.gate] = reduceGate(this.gate, { type: 'started', nowMs })
    const problem = this.whyNot()
    this.feed.changed()
    if (problem !== undefined) return { ok: false, error: problem }
    if (act.act === 'connect') return this.connect(act)
    if (act.act === 'beacon') {
      const { to, via, text, everyMin, times } = act
      this.beacon = { to, via, text, everyMin, left: times, nextMs: nowMs, problem: null }
      return { ok: true }
    }
    if (act.act === 'findKeyUp') {
      this.keyUp = beginKeyUpSearch(act.digipeater, host.txDelayMs())
      return { ok: true }
    }
    if (act.act === 'accept') {
      this.accepting = { untilMs: nowMs + 60_000 * act.minutes, greeting: act.greeting, practice: act.practice ?? false }
      return { ok: true }
    }
    if (act.act === 'unproto') {
      const refused = this.transmit(uiFrame(this.who.call, act.to, act.via, act.text), undefined)
      return refused === undefined ? { ok: true } : { ok: false, error: refused }
    }
    const kept = this.kept.find(({ session }) => session.id === act.id)
    if (!kept || kept.session.state.phase === 'closed') return { ok: false, error: 'That session has ended.' }
    if (act.act === 'disconnect') {
      kept.ways = []
      this.sessions.do(kept.session, { type: 'disconnect' }, nowMs)
    } else {
      kept.said.add('out', act.text)
      this.sessions.do(kept.session, { type: 'send', bytes: new TextEncoder().encode(`${act.text}\r`) }, nowMs)
    }
    return { ok: true }
  }

  private async learnWho(): Promise<void> {
    this.who = await this.host.station()
    this.feed.changed()
  }

  private connect({ peer, via, find, practice = false }: Extract<PacketAct, { act: 'connect' }>): Done {
    if (peer === this.who.call) return { ok: false, error: 'That is your own call.' }
    const ways = find ? pathsTo(peer, this.monitor.stations) : [via]
    const begun = this.call(peer, ways, undefined)
    if ('error' in begun) return { ok: false, error: begun.error }
    begun.practice = practice
    return { ok: true }
  }

  /** Calls a station by the first of several ways. @param kept what it goes on from, when another way was tried before */
  private call(peer: string, [via = [], ...ways]: string[][], kept: Kept | undefined): Kept | { error: string } {
    const isOneOfSeveral = kept !== undefined || ways.length > 0
    const begun = this.sessions.connect(
      { own: this.who.call, peer, via, ...(isOneOfSeveral && { callTries: TRIES_EACH }) },
      this.host.monotonicMs(),
    )
    if ('error' in begun) return begun
    // Its first frame has gone out by now, and made a place for it.
    const fresh = this.keptOf(begun)
    if (kept) {
      this.kept.splice(this.kept.indexOf(fresh), 1)
      kept.session = begun
      kept.ladder = [...kept.ladder, ...fresh.ladder].slice(-KEPT_FRAMES)
    }
    const now = kept ?? fresh
    now.ways = ways
    now.said.add(
      'note',
      via.length > 0 ? `Calling ${peer} by ${via.join(', ')}.` : isOneOfSeveral ? `Calling ${peer} directly.` : `Calling ${peer}.`,
    )
    return now
  }

  private end(id: number, how: 'cut' | 'dismiss'): Done {
    const kept = this.kept.find(({ session }) => session.id === id)
    if (!kept) return { ok: false, error: 'That session is not known any more.' }
    if (how === 'cut') {
      kept.ways = []
      this.sessions.do(kept.session, { type: 'cut', why: 'Cut off.' }, this.host.monotonicMs())
    } else if (kept.session.state.phase === 'closed') {
      void this.keepTexts()
      this.kept.splice(this.kept.indexOf(kept), 1)
    } else return { ok: false, error: 'It goes on: disconnect it first.' }
    this.feed.changed()
    return { ok: true }
  }

  /** Nothing goes out any more until a person begins something. */
  silence(): void {
    ;[this.gate] = reduceGate(this.gate, { type: 'silence', nowMs: this.host.monotonicMs(), why: 'Silenced.' })
    const why = 'Silenced. What the TNC was given before cannot be called back.'
    this.beacon = undefined
    this.accepting = undefined
    this.breakOffKeyUp('Silenced: the key-up time is as before.')
    for (const kept of this.kept) kept.ways = []
    for (const { session } of [...this.kept])
      if (session.state.phase !== 'closed') this.sessions.do(session, { type: 'cut', why }, this.host.monotonicMs())
    this.feed.changed()
  }

  /** Takes a frame that the TNC heard. */
  heard(bytes: Uint8Array): void {
    const frame = this.monitor.note('in', bytes)
    if (!frame) return
    this.host.keepFrame(frame)
    this.noteRepeated(bytes)
    this.noteBusy(bytes, 0)
    this.noteHeard(bytes)
    this.sessions.heard(bytes, this.host.monotonicMs())
    this.kept.forEach((kept) => this.markAcknowledged(kept))
    this.feed.changed()
  }

  private noteHeard(bytes: Uint8Array): void {
    for (const kept of this.kept) {
      const { own, peer, state } = kept.session
      const read = state.phase === 'closed' ? undefined : parseLinkFrame(bytes, state.modulo)
      if (read?.addresses.source !== peer || read.addresses.destination !== own || read.addresses.path.some(({ repeated }) => !repeated))
        continue
      this.addFrame(kept, 'in', read.frame, 'heard')
    }
  }

  /** The last frames on the channel, the newest first. */
  get frames(): readonly MonitorFrame[] {
    return this.monitor.frames
  }

  state(): PacketState {
    const nowMs = this.host.monotonicMs()
    const usedMs = this.busy.reduce(
      (sum, { fromMs, toMs }) => sum + Math.max(0, Math.min(nowMs, toMs) - Math.max(nowMs - BUSY_WINDOW_MS, fromMs)),
      0,
    )
    const problem = this.host.problem()
    return {
      sessions: this.kept.map((kept) => this.viewOf(kept, nowMs)),
      heard: this.monitor.stations,
      beacon: this.beacon ? beaconView(this.beacon, (ms) => this.utcOf(ms)) : null,
      keyUp: this.keyUp ? keyUpView(this.keyUp) : null,
      txDelayMs: this.host.txDelayMs(),
      accepting: this.accepting ? { untilUtcMs: this.utcOf(this.accepting.untilMs), greeting: this.accepting.greeting } : null,
      refusal: problem === undefined ? (this.refusal() ?? null) : { why: problem, need: 'tnc' },
      busyShare: Math.min(1, usedMs / BUSY_WINDOW_MS),
    }
  }

  private utcOf(monotonicMs: number): number {
    return this.host.utcMs() + monotonicMs - this.host.monotonicMs()
  }

  private viewOf({ session, beganUtcMs, said, ladder, marks }: Kept, nowMs: number): SessionView {
    const { id, own, peer, via, by, state } = session
    const { counters, phase, window, length, modulo, roundTripMs } = state
    const first = marks[0]
    const last = marks.at(-1)
    const bytesPerS = first && last && last.atMs > first.atMs ? (1000 * (last.bytes - first.bytes)) / (last.atMs - first.atMs) : undefined
    return {
      ...{ id, own, peer, via: [...via], by, phase, beganUtcMs, lines: said.lines.slice(-TOLD_LINES), window, length, modulo, ...counters },
      words: sessionWords(state, nowMs, bytesPerS),
      ladder: ladder.map(({ ns: _ns, ...frame }) => frame),
      pendingBytes: pendingBytes(state),
      roundTripMs: roundTripMs ?? null,
    }
  }

  /** Lets timers end; its own clock calls it. */
  tick(): void {
    const nowMs = this.host.monotonicMs()
    if (this.sessions.nextTickMs <= nowMs) this.sessions.tick(nowMs)
    this.goOnCalling()
    this.goOnWithKeyUp({ type: 'tick', nowMs })
    this.sendBeacon(nowMs)
    if (this.accepting && this.accepting.untilMs <= nowMs) this.accepting = undefined
    if (nowMs - this.keptMs > KEEP_EVERY_MS) {
      this.keptMs = nowMs
      void this.keepTexts()
    }
    if (nowMs - this.askedWhoMs > WHO_EVERY_MS) {
      this.askedWhoMs = nowMs
      // The station may have been set up meanwhile. A database that is closing has nothing to say.
      void this.learnWho().catch(() => undefined)
    }
    // Seconds in the words go on by themselves.
    if (nowMs - this.countedMs < 1000 || this.kept.every(({ session }) => session.state.phase === 'closed')) return
    this.countedMs = nowMs
    this.feed.changed()
  }

  /** Another way is tried when one brought no answer. */
  private goOnCalling(): void {
    for (const kept of this.kept) {
      const { session, ways } = kept
      if (ways.length === 0 || session.state.phase !== 'closed') continue
      kept.ways = []
      // One that had answered was not lost for want of a way.
      if (kept.answered) continue
      const begun = this.call(session.peer, ways, kept)
      if ('error' in begun) kept.said.add('note', begun.error)
    }
  }

  /** A test of ours comes back by the digipeater. */
  private noteRepeated(bytes: Uint8Array): void {
    const parsed = this.keyUp && parseAx25(bytes)
    if (!parsed?.ok || parsed.value.source !== this.who.call) return
    const { path, info } = parsed.value
    if (path.some(({ call, repeated }) => repeated && call === this.keyUp!.by)) this.goOnWithKeyUp({ type: 'repeated', text: textOf(info) })
  }

  private goOnWithKeyUp(event: Parameters<typeof stepKeyUpSearch>[1]): void {
    if (!this.keyUp || this.isTelling) return
    const { search, actions } = stepKeyUpSearch(this.keyUp, event)
    if (search === this.keyUp) return
    this.keyUp = search
    this.doKeyUp(actions)
    this.feed.changed()
  }

  private doKeyUp(actions: readonly KeyUpAction[]): void {
    this.isTelling = true
    void this.doEach(actions)
      .catch((error: Error) => this.breakOffKeyUp(`The key-up time could not be set: ${error.message}`))
      .finally(() => (this.isTelling = false))
  }

  private async doEach(actions: readonly KeyUpAction[]): Promise<void> {
    for (const action of actions) {
      if (action.type === 'keyUp') await this.host.setTxDelay(action.ms)
      // Meanwhile it may have been broken off. A frame that the gate kept back says nothing of the digipeater.
      else if (this.keyUp && !this.keyUp.result) {
        const refused = this.transmit(uiFrame(this.who.call, 'TEST', [this.keyUp.by], action.text), undefined)
        if (refused !== undefined) this.breakOffKeyUp(`${refused} The key-up time is as before.`)
      }
    }
  }

  private breakOffKeyUp(words: string): void {
    if (!this.keyUp || this.keyUp.result) return
    const { search, actions } = breakOffKeyUpSearch(this.keyUp, words)
    this.keyUp = search
    this.doKeyUp(actions)
    this.feed.changed()
  }

  private sendBeacon(nowMs: number): void {
    const { beacon } = this
    if (!beacon || beacon.nextMs > nowMs) return
    beacon.problem = this.transmit(uiFrame(this.who.call, beacon.to, beacon.via, beacon.text), undefined) ?? null
    beacon.left--
    beacon.nextMs = nowMs + 60_000 * beacon.everyMin
    if (beacon.left <= 0) this.beacon = undefined
    this.feed.changed()
  }

  /** Keeps what was said since it was kept last. */
  private async keepTexts(): Promise<void> {
    const keeping: Promise<void>[] = []
    for (const kept of this.kept) {
      const { id, session: link, practice, beganUtcMs, said } = kept
      const last = said.lines.at(-1)?.sequence ?? 0
      if (last <= kept.keptSequence) continue
      kept.keptSequence = last
      const { own, peer, via, by } = link
      const endedUtcMs = said.lines.at(-1)!.utcMs
      const session = { ...{ id, own, peer, via: [...via], by, practice, beganUtcMs, endedUtcMs }, lines: [...said.lines] }
      // What could not be kept is tried again; a database that is closing keeps nothing any more.
      keeping.push(this.host.keepSession(session).catch(() => void (kept.keptSequence = 0)))
    }
    await Promise.all(keeping)
  }

  /** Why nothing could be sent now, in words. */
  private whyNot(): string | undefined {
    return this.host.problem() ?? this.refusal()?.why
  }

  private refusal(): { why: string; need: string } | undefined {
    const nowMs = this.nextStartMs
    const transmission = { id: 'packet', what: 'packet', startMs: nowMs, endMs: nowMs + 1000, longestMs: LONGEST_FRAME_MS }
    return whyRefused(this.gate, { nowMs, transmission, ownCall: this.who.call, licenceConfirmed: this.who.licenceConfirmed })
  }

  /** When what is given to the TNC now can begin at the earliest: it sends one after the other. */
  private get nextStartMs(): number {
    return Math.max(this.host.monotonicMs(), this.airFreeMs)
  }

  /** Every frame passes the gate, also those that a session sends by itself. @returns why it did not go out */
  private transmit(frame: Uint8Array, session: LinkSession | undefined): string | undefined {
    const { host } = this
    const nowMs = this.nextStartMs
    const ms = this.airMs(frame)
    const transmission = { id: `packet-${++this.sequence}`, what: 'packet', startMs: nowMs, endMs: nowMs + ms, longestMs: LONGEST_FRAME_MS }
    const [gate, effects] = reduceGate(this.gate, {
      ...{ type: 'request', nowMs, transmission },
      ...{ ownCall: this.who.call, licenceConfirmed: this.who.licenceConfirmed },
    })
    this.gate = gate
    const problem = host.problem() ?? effects.flatMap((effect) => (effect.type === 'refuse' ? [effect.why] : []))[0]
    // The TNC keys by itself: it is reckoned from when what it had before is out.
    ;[this.gate] = reduceGate(this.gate, { type: 'ended', nowMs: nowMs + ms, id: transmission.id })
    const kept = session && this.keptOf(session)
    if (problem !== undefined) {
      // A session that has just ended says itself why.
      if (kept && kept.session.state.phase !== 'closed' && kept.said.lines.at(-1)?.text !== problem) kept.said.add('note', problem)
      return problem
    }
    void host.send(frame).then((done) => {
      if (!done.ok && kept) kept.said.add('note', `The TNC did not take a frame: ${done.error}`)
    })
    this.airFreeMs = nowMs + ms
    this.monitor.note('out', frame)
    this.noteBusy(frame, host.txDelayMs())
    const read = kept && parseLinkFrame(frame, kept.session.state.modulo)
    if (kept && read) this.addFrame(kept, 'out', read.frame, read.frame.kind === 'I' ? 'waits' : 'sent')
    this.feed.changed()
    return undefined
  }

  private airMs(frame: Uint8Array): number {
    const id: PacketModemId = this.host.airBaud() === 9600 ? 'packet9600' : this.host.airBaud() === 300 ? 'packet300' : 'packet1200'
    return 1000 * burstSeconds(id, [frame], { txDelayMs: this.host.txDelayMs() })
  }

  private noteBusy(frame: Uint8Array, keyUpMs: number): void {
    const nowMs = this.host.monotonicMs()
    const ms = keyUpMs + (frame.length * 8000) / this.host.airBaud()
    this.busy = [...this.busy.filter(({ toMs }) => toMs > nowMs - BUSY_WINDOW_MS), { fromMs: nowMs - ms, toMs: nowMs }]
  }

  private told(session: LinkSession, action: Exclude<LinkAction, { type: 'transmit' }>): void {
    const kept = this.keptOf(session)
    if (action.type === 'opened') this.opened(kept)
    else if (action.type === 'deliver') kept.said.take(action.bytes)
    else if (action.type === 'retry') kept.said.add('note', `${action.reason} Try ${action.attempt} of ${action.of}.`)
    else if (action.type === 'note') kept.said.add('note', action.words)
    else kept.said.add('note', action.left > 0 ? `${action.reason} ${action.left} bytes have no acknowledgement.` : action.reason)
    this.feed.changed()
  }

  private opened(kept: Kept): void {
    const { session } = kept
    kept.answered = true
    const isTheirs = session.by === 'them'
    kept.said.add('note', isTheirs ? `${session.peer} has connected to ${session.own}.` : `Connected to ${session.peer}.`)
    if (!isTheirs || !this.accepting) return
    kept.practice = this.accepting.practice
    const { greeting } = this.accepting
    if (greeting === '') return
    kept.said.add('out', greeting)
    this.sessions.do(session, { type: 'send', bytes: new TextEncoder().encode(`${greeting}\r`) }, this.host.monotonicMs())
  }

  private keptOf(session: LinkSession): Kept {
    const known = this.kept.find((one) => one.session === session)
    if (known) return known
    const { utcMs, newId } = this.host
    const kept: Kept = {
      ...{ id: newId(), session, practice: false, beganUtcMs: utcMs(), ladder: [], marks: [], ways: [], answered: false, keptSequence: 0 },
      said: new Transcript(utcMs, () => ++this.sequence),
    }
    this.kept.push(kept)
    const closed = this.kept.filter((one) => one.session.state.phase === 'closed')
    void this.keepTexts()
    for (const one of closed.slice(0, -KEPT_CLOSED)) this.kept.splice(this.kept.indexOf(one), 1)
    return kept
  }

  private addFrame(kept: Kept, way: 'in' | 'out', frame: LinkFrame, state: LadderFrame['state']): void {
    const again =
      way === 'out' &&
      frame.kind === 'I' &&
      kept.ladder.some((one) => one.ns === frame.ns && one.way === 'out' && one.state !== 'acknowledged')
    const entry = {
      ...{ sequence: ++this.sequence, utcMs: this.host.utcMs(), way, bytes: frame.info.length },
      what: whatOf(frame),
      state: again ? ('again' as const) : state,
      ...(frame.kind === 'I' && { ns: frame.ns }),
    }
    kept.ladder = [...kept.ladder, entry].slice(-KEPT_FRAMES)
  }

  /** What is no more among those on the way has been acknowledged. */
  private markAcknowledged(kept: Kept): void {
    const { phase, va, sent, modulo, counters } = kept.session.state
    // A session that has ended holds nothing any more, acknowledged or not.
    if (phase === 'closed') return
    const isOnTheWay = (ns: number) => (ns - va + modulo) % modulo < sent.length
    kept.ladder = kept.ladder.map((one) =>
      one.way === 'out' && one.ns !== undefined && one.state !== 'acknowledged' && !isOnTheWay(one.ns)
        ? { ...one, state: 'acknowledged' }
        : one,
    )
    const last = kept.marks.at(-1)
    if (last?.bytes !== counters.acknowledgedBytes)
      kept.marks = [...kept.marks, { atMs: this.host.monotonicMs(), bytes: counters.acknowledgedBytes }].slice(-8)
  }
}

function whatOf({ kind, role, pf, ns, nr }: LinkFrame): string {
  const words = [kind as string]
  if (pf) words.push(role === 'response' ? 'F' : 'P')
  if (kind === 'I') words.push(`S${ns}`)
  if (['I', 'RR', 'RNR', 'REJ', 'SREJ'].includes(kind)) words.push(`R${nr}`)
  return words.join(' ')
}

const beaconView = ({ nextMs, ...plan }: BeaconPlan, utcOf: (ms: number) => number) => ({ ...plan, nextUtcMs: utcOf(nextMs) })

const keyUpView = ({ by, nowMs, sent, repeated, result }: KeyUpSearch) => ({ by, nowMs, sent, repeated, words: result?.words ?? null })
