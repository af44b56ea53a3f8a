/**
 * The connected link of AX.25: version 2.0 counted modulo 8, version 2.2 modulo 128 with selective rejection where both can, and patience
 * with stations that answer otherwise. Source: "AX.25 Link Access Protocol for Amateur Packet Radio", version 2.2, sections 4 and 6.
 *
 * On a shared channel each burst ends with a poll, so that the answer comes at once and says what was lost; until it comes nothing new
 * goes out, for it would meet the answer.
 */
import { isSupervisory, linkFrame, type LinkFrame } from './linkFrame'
import { closedLink, pendingBytes, type LinkAction, type LinkEvent, type LinkSettings, type LinkState } from './linkState'
import { encodeXid, parseXid } from './xid'

/** Addresses, control, check sequence and flags of a frame, in bytes, with stuffing. */
const FRAME_BYTES = 22
const STUFFING = 1 + 1 / 62
/** SABME is tried so often before the old way: stations that do not know it may be silent. */
const WIDE_TRIES = 2
/** T1 is never learned to be shorter, and never waits longer. */
const SHORTEST_ANSWER_MS = 800
const LONGEST_ANSWER_MS = 90_000
/** T1 grows by so much each time that nothing came. */
const BACK_OFF = 1.25
const SHORTEST_LENGTH = 32
/** The share of lost frames is a mean over about so many. */
const LOSS_FRAMES = 16
/** Beyond this share fewer and shorter frames bring more through; below the least one more is tried; after a change it is seen anew. */
const MUCH_LOST = 0.35
const SOME_LOST = 0.15
const LITTLE_LOST = 0.06
/** So many frames with counts that cannot be end a link. */
const MOST_NONSENSE = 8
/** A burst lasts so long at most: others wait. */
const LONGEST_BURST_MS = 12_000
const LONGEST_WIDE = 256
/** Bytes that may wait: half an hour and more at 1200 baud. */
export const MOST_WAITING = 256 * 1024

/** One step of a link. @param nowMs any clock that only goes on */
export function reduceLink(state: LinkState, event: LinkEvent, nowMs: number): [LinkState, LinkAction[]] {
  const step = new Step({ ...state, counters: { ...state.counters } }, nowMs)
  step.take(event)
  return [step.state, step.actions]
}

/** A link that the other side has begun. */
export function answeredLink(settings: LinkSettings, frame: LinkFrame, nowMs: number): [LinkState, LinkAction[]] {
  return reduceLink(closedLink(settings), { type: 'frame', frame }, nowMs)
}

class Step {
  readonly actions: LinkAction[] = []

  constructor(
    readonly state: LinkState,
    private readonly nowMs: number,
  ) {}

  take(event: LinkEvent): void {
    const { state } = this
    if (event.type === 'connect') this.connect()
    else if (event.type === 'send') this.enqueue(event.bytes)
    else if (event.type === 'disconnect') this.disconnect()
    else if (event.type === 'cut') this.cut(event.why)
    else if (event.type === 'busy') this.setBusy(event.busy)
    else if (event.type === 'frame') this.frame(event.frame)
    else if (event.type === 'channel') {
      if (state.answerBy !== undefined) state.answerBy += event.busyMs
    } else this.tick()
  }

  // What a person does

  private connect(): void {
    const { state } = this
    if (state.phase !== 'closed') return
    Object.assign(state, { ...closedLink(state.settings), waiting: state.waiting, airFreeMs: state.airFreeMs })
    state.phase = 'calling'
    state.modulo = state.settings.wide ? 128 : 8
    this.call()
  }

  private call(): void {
    this.state.tries++
    this.command(this.state.modulo === 128 ? 'SABME' : 'SABM', true)
    this.awaitAnswer()
  }

  private enqueue(bytes: Uint8Array): void {
    const { state } = this
    if (bytes.length === 0 || state.ending || state.phase === 'closing') return
    if (pendingBytes(state) + bytes.length > MOST_WAITING) {
      this.actions.push({ type: 'note', words: `Not taken: more than ${MOST_WAITING >> 10} kB would wait to be sent.` })
      return
    }
    state.waiting = [...state.waiting, bytes]
    this.sendWhatMay()
  }

  private disconnect(): void {
    const { state } = this
    if (state.phase === 'calling') {
      // Perhaps the other side has heard us.
      this.command('DISC', true)
      return this.close('Given up while calling.', false)
    }
    if (state.phase !== 'open') return
    state.ending = true
    this.sendWhatMay()
  }

  private cut(why: string): void {
    const { state } = this
    if (state.phase === 'closed') return
    if (state.phase !== 'calling') this.command('DISC', true)
    this.close(why, false)
  }

  private setBusy(busy: boolean): void {
    const { state } = this
    if (state.weAreBusy === busy) return
    state.weAreBusy = busy
    if (state.phase === 'open') this.supervise('response', false)
  }

  // Frames

  private frame(frame: LinkFrame): void {
    const { state } = this
    if (frame.role === 'old') state.isOld = true
    if (frame.kind === 'SABM' || frame.kind === 'SABME') this.theyCall(frame)
    else if (frame.kind === 'DISC') this.theyEnd(frame)
    else if (frame.kind === 'UA') this.agreed()
    else if (frame.kind === 'DM') this.refused()
    else if (frame.kind === 'FRMR') this.frameRejected()
    else if (frame.kind === 'XID') this.negotiate(frame)
    else if (state.phase === 'open') this.counted(frame)
    // A station that thinks it is connected is told that it is not.
    else if (state.phase === 'closed' && isPoll(frame, state)) this.respond('DM', true)
  }

  private theyCall({ kind, pf }: LinkFrame): void {
    const { state } = this
    const modulo = kind === 'SABME' ? 128 : 8
    const { acknowledgedBytes, receivedBytes } = state.counters
    if (state.phase === 'open' && (acknowledgedBytes > 0 || receivedBytes > 0)) {
      this.close('The other side began anew.', false)
      return this.respond('DM', pf)
    }
    if (state.phase === 'closing') return this.respond('DM', pf)
    const wasOpen = state.phase === 'open'
    if (!wasOpen) Object.assign(state, { ...closedLink(state.settings), waiting: state.waiting, airFreeMs: state.airFreeMs })
    // Our agreement was lost; what went out since nobody took, and goes out again as it was.
    Object.assign(state, { ...{ vs: 0, va: 0, vr: 0 }, ...{ early: [], wanted: [] }, asked: false, recovering: false })
    // Counted otherwise, other frames than before bear those numbers.
    if (state.modulo !== modulo)
      Object.assign(state, { modulo, waiting: [...state.sent.map(({ info }) => info), ...state.waiting], sent: [] })
    state.phase = 'open'
    state.window = this.mostWindow()
    state.answerBy = undefined
    this.respond('UA', pf)
    this.heard()
    if (!wasOpen) this.actions.push({ type: 'opened', by: 'them' })
    this.sendWhatMay()
  }

  private theyEnd({ pf }: LinkFrame): void {
    const { phase } = this.state
    this.respond(phase === 'open' || phase === 'closing' ? 'UA' : 'DM', pf)
    if (phase === 'closing') this.close('Disconnected.', true)
    else if (phase === 'open') this.close('The other side disconnected.', true)
    else if (phase === 'calling') this.close('The other side does not want to connect now.', false)
  }

  private agreed(): void {
    const { state } = this
    if (state.phase === 'closing') return this.close('Disconnected.', true)
    if (state.phase !== 'calling') return
    state.phase = 'open'
    state.tries = 0
    state.answerBy = undefined
    state.window = this.mostWindow()
    this.heard()
    this.actions.push({ type: 'opened', by: 'us' })
    if (state.modulo === 128) {
      state.negotiating = true
      this.transmit(linkFrame({ kind: 'XID', role: 'command', pf: true, info: this.abilities() }))
      this.awaitAnswer()
    } else this.sendWhatMay()
  }

  private refused(): void {
    const { state } = this
    if (state.phase === 'closing') return this.close('Disconnected.', true)
    if (state.phase === 'open') return this.close('The other side has no connection with us any more.', false)
    if (state.phase !== 'calling') return
    if (state.modulo === 128) this.callTheOldWay()
    else this.close('The other side is busy or does not take connections.', false)
  }

  private frameRejected(): void {
    const { state } = this
    if (state.phase === 'calling' && state.modulo === 128) this.callTheOldWay()
    else if (state.phase === 'open' && state.negotiating) this.goOn()
    else if (state.phase === 'open') {
      this.command('DISC', true)
      this.close('The other side could not make sense of a frame and gave up.', false)
    }
  }

  private callTheOldWay(): void {
    this.state.modulo = 8
    this.state.tries = 0
    this.actions.push({ type: 'note', words: 'It does not know version 2.2: called the old way.' })
    this.call()
  }

  private abilities(): Uint8Array {
    const { length, wideWindow } = this.state.settings
    return encodeXid({ selectiveReject: true, longest: Math.max(LONGEST_WIDE, length), window: wideWindow })
  }

  private negotiate(frame: LinkFrame): void {
    const { state } = this
    const theirs = parseXid(frame.info)
    if (state.phase !== 'open' || state.modulo === 8) {
      if (frame.role === 'command' && frame.pf) this.respond('DM', true)
      return
    }
    if (theirs) {
      state.selective = theirs.selectiveReject ?? false
      if (theirs.window !== undefined) state.window = Math.max(1, Math.min(state.window, theirs.window))
      if (theirs.longest !== undefined) state.length = Math.max(1, Math.min(state.length, theirs.longest))
    }
    if (frame.role === 'command') this.transmit(linkFrame({ kind: 'XID', role: 'response', pf: frame.pf, info: this.abilities() }))
    else if (state.negotiating) this.goOn()
  }

  /** What waited for the negotiation goes out. */
  private goOn(): void {
    this.state.negotiating = false
    this.state.tries = 0
    this.state.answerBy = undefined
    this.heard()
    this.sendWhatMay()
  }

  private counted(frame: LinkFrame): void {
    const { state } = this
    if (state.negotiating) this.goOn()
    const isFinal = frame.pf && (frame.role === 'response' || (frame.role === 'old' && state.asked)) && frame.kind !== 'I'
    const { va } = state
    if (!this.acknowledged(frame)) return
    this.heard()
    if (frame.kind === 'I') this.information(frame)
    else if (isSupervisory(frame.kind)) {
      // What came while they were busy they did not take.
      if (state.theyAreBusy && frame.kind !== 'RNR') state.vs = state.va
      state.theyAreBusy = frame.kind === 'RNR'
      if (frame.kind === 'SREJ') this.theyWant(frame.nr)
      if (isFinal) this.answered(frame, va !== state.va)
      else {
        if (frame.kind === 'REJ') this.goBack()
        if (isPoll(frame, state)) this.answerPoll()
      }
    }
    this.sendWhatMay()
  }

  /** What N(R) says is done. @returns whether it can be */
  private acknowledged({ kind, nr, pf }: LinkFrame): boolean {
    const { state } = this
    // An SREJ acknowledges only as an answer: others may be missing below it.
    if (kind === 'SREJ' && !pf) return true
    const count = this.distance(state.va, nr)
    if (count > state.sent.length) {
      if (++state.nonsense >= MOST_NONSENSE) {
        this.command('DISC', true)
        this.close('The other side counts otherwise than we do.', false)
      }
      return false
    }
    if (count === 0) return true
    const done = state.sent.slice(0, count)
    for (const { info, leftMs, again } of done) {
      this.learnLoss(false)
      state.counters.acknowledgedBytes += info.length
      if (again === 0) this.learnRoundTrip(this.nowMs - leftMs)
    }
    const onTheWay = Math.max(0, this.distance(state.va, state.vs) - count)
    state.sent = state.sent.slice(count)
    state.va = nr
    state.vs = (nr + onTheWay) % state.modulo
    state.wanted = state.wanted.filter((ns) => this.distance(state.va, ns) < state.sent.length)
    state.tries = 0
    if (state.sent.length === 0) Object.assign(state, { asked: false, recovering: false, answerBy: undefined })
    else this.awaitAnswer()
    return true
  }

  private information({ ns, pf, role, info }: LinkFrame): void {
    const { state } = this
    const poll = pf && role !== 'response'
    if (state.weAreBusy) {
      if (poll) this.answerPoll()
      return
    }
    const ahead = this.distance(state.vr, ns)
    const most = state.modulo === 8 ? 7 : 127
    if (ahead === 0) {
      this.deliver(info)
      this.deliverEarly()
      state.gap = state.early.length > 0
      state.rejected = state.rejected && state.gap
      state.acknowledgeDue = true
    } else if (ahead <= most >> 1) {
      state.gap = true
      if (state.selective && !state.early.some((one) => one.ns === ns)) state.early = [...state.early, { ns, info }]
    } else state.acknowledgeDue = true
    if (poll) this.answerPoll()
    else this.acknowledgeSoon()
  }

  private deliver(info: Uint8Array): void {
    const { state } = this
    state.vr = (state.vr + 1) % state.modulo
    state.counters.receivedBytes += info.length
    this.actions.push({ type: 'deliver', bytes: info })
  }

  private deliverEarly(): void {
    const { state } = this
    for (;;) {
      const next = state.early.find(({ ns }) => ns === state.vr)
      if (!next) return
      state.early = state.early.filter((one) => one !== next)
      this.deliver(next.info)
    }
  }

  private acknowledgeSoon(): void {
    this.state.acknowledgeBy = this.nowMs + this.state.settings.acknowledgeMs
  }

  /** What is here, and what is missing, as an answer to a poll. */
  private answerPoll(): void {
    this.tellWhatIsHere(true)
  }

  private tellWhatIsHere(isFinal: boolean): void {
    const { state } = this
    if (!state.gap || state.weAreBusy || (!isFinal && state.rejected)) return this.supervise('response', isFinal)
    if (!state.selective) {
      this.supervise('response', isFinal, 'REJ')
      state.rejected = true
      return
    }
    const missing: number[] = []
    const last = Math.max(...state.early.map(({ ns }) => this.distance(state.vr, ns)))
    for (let k = last - 1; k >= 0; k--) {
      const ns = (state.vr + k) % state.modulo
      if (!state.early.some((one) => one.ns === ns)) missing.push(ns)
    }
    // The lowest one is the answer; it acknowledges all below it.
    missing.forEach((nr, i) => {
      const pf = isFinal && i === missing.length - 1
      this.transmit(linkFrame({ kind: 'SREJ', role: 'response', pf, nr }))
    })
    state.rejected = true
    this.acknowledgementWent()
  }

  private theyWant(ns: number): void {
    const { state } = this
    if (this.distance(state.va, ns) < state.sent.length && !state.wanted.includes(ns)) state.wanted = [...state.wanted, ns]
  }

  /** A final bit: the answer to what was asked last. What it does not acknowledge was lost. */
  private answered(frame: LinkFrame, progress: boolean): void {
    const { state } = this
    // An answer that comes before the question has left is one to an earlier question.
    if (!state.asked || (this.nowMs < state.airFreeMs && !progress)) return
    Object.assign(state, { asked: false, recovering: false, answerBy: undefined })
    if (frame.kind === 'RNR' || state.sent.length === 0) {
      state.tries = 0
      return
    }
    if (frame.kind === 'SREJ') this.learnLoss(true)
    else this.goBack()
    if (!progress && ++state.tries > state.settings.tries) this.giveUp()
  }

  /** All that is not acknowledged goes out again. */
  private goBack(): void {
    const { state } = this
    if (state.sent.length === 0) return
    // A rejection that crossed the poll says the same as the answer that comes.
    state.vs = state.va
    state.asked = false
    this.learnLoss(true)
  }

  // Loss

  /** A frame came through, or the first of those that were lost did not. */
  private learnLoss(lost: boolean): void {
    const { state } = this
    state.loss += ((lost ? 1 : 0) - state.loss) / LOSS_FRAMES
    const most = this.mostWindow()
    if (lost && state.loss > MUCH_LOST) {
      if (state.window > 1) {
        state.window = Math.ceil(state.window / 2)
        this.actions.push({
          type: 'note',
          words: `Much is lost: ${state.window} ${state.window === 1 ? 'frame' : 'frames'} at once from now on.`,
        })
      } else if (state.length > SHORTEST_LENGTH) {
        state.length = Math.max(SHORTEST_LENGTH, state.length >> 1)
        this.actions.push({ type: 'note', words: `Much is lost: ${state.length} bytes in a frame from now on.` })
      }
      state.loss = SOME_LOST
    } else if (!lost && state.loss < LITTLE_LOST) {
      if (state.length < state.settings.length) state.length = Math.min(state.settings.length, state.length * 2)
      else if (state.window < most) state.window = Math.min(most, state.window * 2)
      else return
      state.loss = SOME_LOST
    }
  }

  private mostWindow(): number {
    const { modulo, settings } = this.state
    return modulo === 128 ? Math.min(settings.wideWindow, 63) : Math.min(settings.window, 7)
  }

  // Time

  private tick(): void {
    const { state, nowMs } = this
    if (state.answerBy !== undefined && nowMs >= state.answerBy) this.noAnswer()
    if (state.acknowledgeBy !== undefined && nowMs >= state.acknowledgeBy) {
      state.acknowledgeBy = undefined
      if (state.phase === 'open' && (state.acknowledgeDue || state.gap)) this.tellWhatIsHere(false)
    }
    if (state.idleBy !== undefined && nowMs >= state.idleBy) {
      state.idleBy = undefined
      if (state.phase === 'open' && state.answerBy === undefined) this.ask()
    }
  }

  private noAnswer(): void {
    const { state } = this
    const { tries } = state.settings
    state.answerBy = undefined
    if (state.phase === 'closed') return
    if (state.negotiating) {
      this.actions.push({ type: 'note', words: 'It does not say what it can do: the least is taken.' })
      return this.goOn()
    }
    if (state.phase === 'calling' && state.modulo === 128 && state.tries >= WIDE_TRIES) return this.callTheOldWay()
    if (state.tries >= tries) {
      if (state.phase === 'open') return this.giveUp()
      if (state.phase === 'closing') return this.close('Disconnected; the other side did not confirm it.', true)
      return this.close(`No answer to ${tries} calls.`, false)
    }
    state.answerMs = Math.min(LONGEST_ANSWER_MS, state.answerMs * BACK_OFF)
    const waitedS = Math.max(1, Math.round((this.nowMs - Math.min(this.nowMs, state.airFreeMs)) / 1000))
    this.actions.push({ type: 'retry', attempt: state.tries + 1, of: tries, reason: `No answer for ${waitedS} s.` })
    if (state.phase === 'calling') this.call()
    else if (state.phase === 'closing') {
      state.tries++
      this.command('DISC', true)
      this.awaitAnswer()
    } else this.ask()
  }

  private giveUp(): void {
    this.command('DISC', true)
    this.close(`No answer to ${this.state.settings.tries} tries.`, false)
  }

  /** Asks the other side what it has. */
  private ask(): void {
    const { state } = this
    state.tries++
    state.recovering = true
    this.supervise('command', true)
    state.asked = true
    this.awaitAnswer()
  }

  private learnRoundTrip(ms: number): void {
    const { state } = this
    const took = Math.max(0, ms)
    if (state.roundTripMs === undefined) {
      state.roundTripMs = took
      state.scatterMs = took / 2
    } else {
      state.scatterMs += (Math.abs(took - state.roundTripMs) - state.scatterMs) / 4
      state.roundTripMs += (took - state.roundTripMs) / 8
    }
    const learned = state.roundTripMs + 4 * state.scatterMs + SHORTEST_ANSWER_MS
    state.answerMs = Math.min(LONGEST_ANSWER_MS, Math.max(SHORTEST_ANSWER_MS, learned))
  }

  private awaitAnswer(): void {
    const { state, nowMs } = this
    state.answerBy = Math.max(nowMs, state.airFreeMs) + state.answerMs
    state.idleBy = undefined
  }

  private heard(): void {
    this.state.idleBy = this.nowMs + this.state.settings.idleMs
  }

  // Sending

  private sendWhatMay(): void {
    const { state } = this
    if (state.phase !== 'open' || state.negotiating) return
    if (!state.asked && !state.theyAreBusy) {
      const burst = this.nextBurst()
      burst.forEach((ns, i) => this.sendInformation(ns, i === burst.length - 1))
      if (burst.length > 0) return
    }
    if (state.theyAreBusy && state.answerBy === undefined && (state.sent.length > 0 || state.waiting.length > 0)) this.awaitAnswer()
    if (state.ending && state.sent.length === 0 && state.waiting.length === 0) this.beginEnd()
  }

  /** N(S) of what may go out now, in order. */
  private nextBurst(): number[] {
    const { state } = this
    const out = [...state.wanted].sort((a, b) => this.distance(state.va, a) - this.distance(state.va, b))
    state.wanted = []
    let ms = out.reduce((sum, ns) => sum + this.airMs(state.sent[this.distance(state.va, ns)]!.info.length), 0)
    while (this.distance(state.va, state.vs) < state.window && ms < LONGEST_BURST_MS) {
      const place = this.distance(state.va, state.vs)
      if (place === state.sent.length) {
        const info = this.nextSegment()
        if (!info) break
        state.sent = [...state.sent, { info, leftMs: 0, again: -1 }]
      }
      ms += this.airMs(state.sent[place]!.info.length)
      if (!out.includes(state.vs)) out.push(state.vs)
      state.vs = (state.vs + 1) % state.modulo
    }
    return out
  }

  /** The next bytes that wait, as many as go into a frame. */
  private nextSegment(): Uint8Array | undefined {
    const { state } = this
    const parts: Uint8Array[] = []
    let rest = state.length
    let used = 0
    for (const bytes of state.waiting) {
      if (bytes.length > rest) {
        if (rest > 0) parts.push(bytes.subarray(0, rest))
        break
      }
      parts.push(bytes)
      rest -= bytes.length
      used++
    }
    const cut = used < state.waiting.length && rest > 0 ? [state.waiting[used]!.subarray(rest)] : []
    const after = cut.length > 0 ? used + 1 : used
    state.waiting = [...cut, ...state.waiting.slice(after)]
    if (parts.length === 0) return undefined
    const out = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0))
    let at = 0
    for (const part of parts) {
      out.set(part, at)
      at += part.length
    }
    return out
  }

  private sendInformation(ns: number, isLast: boolean): void {
    const { state } = this
    const place = this.distance(state.va, ns)
    const segment = state.sent[place]!
    this.transmit(linkFrame({ kind: 'I', role: 'command', pf: isLast, ns, nr: state.vr, info: segment.info }))
    const sent = { ...segment, leftMs: state.airFreeMs, again: segment.again + 1 }
    state.sent = state.sent.map((one, k) => (k === place ? sent : one))
    state.counters.sentFrames++
    if (sent.again > 0) state.counters.sentAgain++
    else state.counters.sentBytes += sent.info.length
    state.acknowledgeDue = false
    if (!isLast) return
    state.asked = true
    this.awaitAnswer()
  }

  private beginEnd(): void {
    this.state.phase = 'closing'
    this.state.tries = 1
    this.state.acknowledgeBy = undefined
    this.command('DISC', true)
    this.awaitAnswer()
  }

  private close(reason: string, inOrder: boolean): void {
    const left = pendingBytes(this.state)
    Object.assign(this.state, {
      phase: 'closed',
      reason,
      waiting: [],
      sent: [],
      early: [],
      wanted: [],
      ...{ answerBy: undefined, acknowledgeBy: undefined, idleBy: undefined },
    })
    Object.assign(this.state, { ...{ negotiating: false, asked: false, recovering: false, ending: false }, tries: 0 })
    this.actions.push({ type: 'closed', reason, inOrder: inOrder && left === 0, left })
  }

  private command(kind: 'SABM' | 'SABME' | 'DISC', pf: boolean): void {
    this.transmit(linkFrame({ kind, role: 'command', pf }))
  }

  private respond(kind: 'UA' | 'DM', pf: boolean): void {
    this.transmit(linkFrame({ kind, role: 'response', pf }))
  }

  /** Says how far frames have come here. */
  private supervise(role: 'command' | 'response', pf: boolean, kind: 'RR' | 'REJ' = 'RR'): void {
    const { state } = this
    this.transmit(linkFrame({ kind: state.weAreBusy ? 'RNR' : kind, role, pf, nr: state.vr }))
    this.acknowledgementWent()
  }

  private acknowledgementWent(): void {
    this.state.acknowledgeDue = false
    this.state.acknowledgeBy = undefined
  }

  private transmit(frame: LinkFrame): void {
    const { state, nowMs } = this
    if (state.airFreeMs <= nowMs) state.airFreeMs = nowMs + state.settings.txDelayMs
    state.airFreeMs += this.airMs(frame.info.length)
    this.actions.push({ type: 'transmit', frame, modulo: state.modulo })
  }

  private airMs(infoBytes: number): number {
    const { airBaud, hops } = this.state.settings
    return (((FRAME_BYTES + 7 * hops + infoBytes) * 8 * STUFFING) / airBaud) * 1000 * (hops + 1)
  }

  private distance(from: number, to: number): number {
    const { modulo } = this.state
    return (to - from + modulo) % modulo
  }
}

/** Whether a frame asks for an answer. Of old stations' frames those do that come while none is awaited. */
const isPoll = ({ pf, role, kind }: LinkFrame, { asked }: LinkState) =>
  pf && (role === 'command' || (role === 'old' && (kind === 'I' || !asked)))
