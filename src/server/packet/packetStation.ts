import { burstSeconds, parseAx25, textOf, TextStream, uiFrame } from '@/core/packet'
import { LinkSessions, type LinkSession } from '@/core/packet/link/linkSessions'
import { parseLinkFrame, type LinkFrame } from '@/core/packet/link/linkFrame'
import { pendingBytes, usualLinkSettings, type LinkAction } from '@/core/packet/link/linkState'
import type { HeardStation, LadderFrame, PacketAct, PacketState, SessionLine, SessionView } from '@/core/packet/station/contracts'
import { sessionWords } from '@/core/packet/station/sessionWords'
import { createGate, reduceGate, whyRefused, type GateState } from '@/core/transmit'
import type { Done } from '../done'
import { ChangeFeed } from '../http/changeFeed'

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
}

const TICK_MS = 50
const CHANGE_EVERY_MS = 200
const LONGEST_FRAME_MS = 30_000
const KEPT_LINES = 400
const LONGEST_LINE = 1000
const KEPT_FRAMES = 60
const KEPT_HEARD = 200
const KEPT_CLOSED = 12
const BUSY_WINDOW_MS = 120_000
const WHO_EVERY_MS = 5000

interface Kept {
  session: LinkSession
  beganUtcMs: number
  lines: SessionLine[]
  text: TextStream
  /** Of what they send, a line that has not ended yet. */
  partial: string
  ladder: (LadderFrame & { ns?: number })[]
  /** What was acknowledged, to tell how fast it goes. */
  marks: { atMs: number; bytes: number }[]
}

/** The packet station: sessions, what is heard, and the gate that all it sends passes. It lives on the server, so that sessions outlive tabs. */
export class PacketStation {
  private readonly sessions: LinkSessions
  private readonly kept: Kept[] = []
  private readonly heardStations = new Map<string, HeardStation>()
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
    this.sessions = new LinkSessions({
      settings: usualLinkSettings,
      send: (frame, session) => this.transmit(frame, session),
      accepts: () => false,
      tell: (session, action) => this.told(session, action),
    })
    this.timer = setInterval(() => this.tick(), TICK_MS)
    this.timer.unref()
  }

  subscribe(listener: () => void): () => void {
    return this.feed.subscribe(listener)
  }

  close(): void {
    clearInterval(this.timer)
    this.feed.close()
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
    await this.learnWho()
    if (act.act === 'checked') {
      ;[this.gate] = reduceGate(this.gate, { type: 'checkPassed', nowMs })
      this.feed.changed()
      return { ok: true }
    }
    ;[this.gate] = reduceGate(this.gate, { type: 'started', nowMs })
    const problem = host.problem() ?? this.refusal()?.why
    this.feed.changed()
    if (problem !== undefined) return { ok: false, error: problem }
    if (act.act === 'connect') return this.connect(act.peer, act.via)
    if (act.act === 'unproto') {
      this.transmit(uiFrame(this.who.call, act.to, act.via, act.text), undefined)
      return { ok: true }
    }
    const kept = this.kept.find(({ session }) => session.id === act.id)
    if (!kept || kept.session.state.phase === 'closed') return { ok: false, error: 'That session has ended.' }
    if (act.act === 'disconnect') this.sessions.do(kept.session, { type: 'disconnect' }, nowMs)
    else {
      this.addLine(kept, 'out', act.text)
      this.sessions.do(kept.session, { type: 'send', bytes: new TextEncoder().encode(`${act.text}\r`) }, nowMs)
    }
    return { ok: true }
  }

  private async learnWho(): Promise<void> {
    this.who = await this.host.station()
    this.feed.changed()
  }

  private connect(peer: string, via: readonly string[]): Done {
    const nowMs = this.host.monotonicMs()
    if (peer === this.who.call) return { ok: false, error: 'That is your own call.' }
    const begun = this.sessions.connect({ own: this.who.call, peer, via }, nowMs)
    if ('error' in begun) return { ok: false, error: begun.error }
    const kept = this.keptOf(begun)
    this.addLine(kept, 'note', via.length > 0 ? `Calling ${peer} by ${via.join(', ')}.` : `Calling ${peer}.`)
    return { ok: true }
  }

  private end(id: number, how: 'cut' | 'dismiss'): Done {
    const kept = this.kept.find(({ session }) => session.id === id)
    if (!kept) return { ok: false, error: 'That session is not known any more.' }
    if (how === 'cut') this.sessions.do(kept.session, { type: 'cut', why: 'Cut off.' }, this.host.monotonicMs())
    else if (kept.session.state.phase === 'closed') this.kept.splice(this.kept.indexOf(kept), 1)
    else return { ok: false, error: 'It goes on: disconnect it first.' }
    this.feed.changed()
    return { ok: true }
  }

  /** Nothing goes out any more until a person begins something. */
  silence(): void {
    ;[this.gate] = reduceGate(this.gate, { type: 'silence', nowMs: this.host.monotonicMs(), why: 'Silenced.' })
    const why = 'Silenced. What the TNC was given before cannot be called back.'
    for (const { session } of [...this.kept])
      if (session.state.phase !== 'closed') this.sessions.do(session, { type: 'cut', why }, this.host.monotonicMs())
    this.feed.changed()
  }

  /** Takes a frame that the TNC heard. */
  heard(bytes: Uint8Array): void {
    const parsed = parseAx25(bytes)
    if (!parsed.ok) return
    const { source, path, kind, info } = parsed.value
    const by = path.findLast(({ repeated }) => repeated)?.call ?? null
    const before = this.heardStations.get(source)
    this.heardStations.delete(source)
    this.heardStations.set(source, {
      call: source,
      lastUtcMs: this.host.utcMs(),
      by,
      frames: (before?.frames ?? 0) + 1,
      text: kind === 'UI' ? textOf(info).slice(0, 120) : (before?.text ?? null),
    })
    for (const call of [...this.heardStations.keys()].slice(0, -KEPT_HEARD)) this.heardStations.delete(call)
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

  state(): PacketState {
    const nowMs = this.host.monotonicMs()
    const usedMs = this.busy.reduce(
      (sum, { fromMs, toMs }) => sum + Math.max(0, Math.min(nowMs, toMs) - Math.max(nowMs - BUSY_WINDOW_MS, fromMs)),
      0,
    )
    const problem = this.host.problem()
    return {
      sessions: this.kept.map((kept) => this.viewOf(kept, nowMs)),
      heard: [...this.heardStations.values()].reverse(),
      refusal: problem === undefined ? (this.refusal() ?? null) : { why: problem, need: 'tnc' },
      busyShare: Math.min(1, usedMs / BUSY_WINDOW_MS),
    }
  }

  private viewOf({ session, beganUtcMs, lines, ladder, marks }: Kept, nowMs: number): SessionView {
    const { id, own, peer, via, by, state } = session
    const { counters, phase, window, length, modulo, roundTripMs } = state
    const first = marks[0]
    const last = marks.at(-1)
    const bytesPerS = first && last && last.atMs > first.atMs ? (1000 * (last.bytes - first.bytes)) / (last.atMs - first.atMs) : undefined
    return {
      ...{ id, own, peer, via: [...via], by, phase, beganUtcMs, lines, window, length, modulo, ...counters },
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

  private refusal(): { why: string; need: string } | undefined {
    const nowMs = this.nextStartMs
    const transmission = { id: 'packet', what: 'packet', startMs: nowMs, endMs: nowMs + 1000, longestMs: LONGEST_FRAME_MS }
    return whyRefused(this.gate, { nowMs, transmission, ownCall: this.who.call, licenceConfirmed: this.who.licenceConfirmed })
  }

  /** When what is given to the TNC now can begin at the earliest: it sends one after the other. */
  private get nextStartMs(): number {
    return Math.max(this.host.monotonicMs(), this.airFreeMs)
  }

  /** Every frame passes the gate, also those that a session sends by itself. */
  private transmit(frame: Uint8Array, session: LinkSession | undefined): void {
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
      if (kept && kept.session.state.phase !== 'closed' && kept.lines.at(-1)?.text !== problem) this.addLine(kept, 'note', problem)
      return
    }
    void host.send(frame).then((done) => {
      if (!done.ok && kept) this.addLine(kept, 'note', `The TNC did not take a frame: ${done.error}`)
    })
    this.airFreeMs = nowMs + ms
    this.noteBusy(frame, host.txDelayMs())
    const read = kept && parseLinkFrame(frame, kept.session.state.modulo)
    if (kept && read) this.addFrame(kept, 'out', read.frame, read.frame.kind === 'I' ? 'waits' : 'sent')
    this.feed.changed()
  }

  private airMs(frame: Uint8Array): number {
    const id = this.host.airBaud() === 9600 ? 'packet9600' : this.host.airBaud() === 300 ? 'packet300' : 'packet1200'
    return 1000 * burstSeconds(id, [frame], { txDelayMs: this.host.txDelayMs() })
  }

  private noteBusy(frame: Uint8Array, keyUpMs: number): void {
    const nowMs = this.host.monotonicMs()
    const ms = keyUpMs + (frame.length * 8000) / this.host.airBaud()
    this.busy = [...this.busy.filter(({ toMs }) => toMs > nowMs - BUSY_WINDOW_MS), { fromMs: nowMs - ms, toMs: nowMs }]
  }

  private told(session: LinkSession, action: Exclude<LinkAction, { type: 'transmit' }>): void {
    const kept = this.keptOf(session)
    if (action.type === 'opened') this.addLine(kept, 'note', `Connected to ${session.peer}.`)
    else if (action.type === 'deliver') this.addText(kept, kept.text.push(action.bytes))
    else if (action.type === 'retry') this.addLine(kept, 'note', `${action.reason} Try ${action.attempt} of ${action.of}.`)
    else if (action.type === 'note') this.addLine(kept, 'note', action.words)
    else this.addLine(kept, 'note', action.left > 0 ? `${action.reason} ${action.left} bytes have no acknowledgement.` : action.reason)
    this.feed.changed()
  }

  private keptOf(session: LinkSession): Kept {
    const known = this.kept.find((one) => one.session === session)
    if (known) return known
    const kept: Kept = { session, beganUtcMs: this.host.utcMs(), lines: [], text: new TextStream(), partial: '', ladder: [], marks: [] }
    this.kept.push(kept)
    const closed = this.kept.filter((one) => one.session.state.phase === 'closed')
    for (const one of closed.slice(0, -KEPT_CLOSED)) this.kept.splice(this.kept.indexOf(one), 1)
    return kept
  }

  /** Text comes in pieces; lines end by CR, LF or both. */
  private addText(kept: Kept, text: string): void {
    const parts = (kept.partial + text.replace(/\r\n?|\n/g, '\n')).split('\n')
    // One who never ends a line fills no memory with it.
    for (let last = parts.at(-1)!; last.length > LONGEST_LINE; last = parts.at(-1)!)
      parts.splice(-1, 1, last.slice(0, LONGEST_LINE), last.slice(LONGEST_LINE))
    const rest = parts.pop()!
    const isOngoing = kept.partial !== ''
    parts.forEach((line, k) => (k === 0 && isOngoing ? this.replaceLast(kept, line) : this.addLine(kept, 'in', line)))
    if (rest !== '') {
      if (parts.length === 0 && isOngoing) this.replaceLast(kept, rest)
      else this.addLine(kept, 'in', rest)
    }
    kept.partial = rest
  }

  private replaceLast(kept: Kept, text: string): void {
    const at = kept.lines.findLastIndex(({ way }) => way === 'in')
    kept.lines = kept.lines.map((line, k) => (k === at ? { ...line, text } : line))
  }

  private addLine(kept: Kept, way: SessionLine['way'], text: string): void {
    kept.lines = [...kept.lines, { sequence: ++this.sequence, utcMs: this.host.utcMs(), way, text }].slice(-KEPT_LINES)
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
