import { createStore, type StoreApi } from 'zustand/vanilla'
import { joinSamples, SAMPLE_RATE_HZ } from '@/core/dsp'
import { MODES } from '@/core/modes'
import { BAUD, contactFacts, StretchKeeper, sureValue, whoSays, type Psk31Stretch } from '@/core/psk31'
import type { Grant } from '../../station/air'
import type { AudioBlock } from '../../station/audioBlock'
import type { ModeHost, ModeRunner, SourceKind, StartResult } from '../runner'
import { Conversations } from './conversations'
import { afterCq, beginCq, type CqCalls, type CqEvent } from './cqCalls'
import { FocusKeeper, type FocusTarget, type UnfinishedContactStore } from './focusKeeper'
import { Over } from './over'
import type { Psk31Modem } from './psk31Modem.client'
import { initialPsk31State, type ContactDraft, type Psk31State } from './state'

/** What PSK31 needs from where it runs. */
export interface Psk31Resources {
  createModem: () => Psk31Modem
  unfinishedStore: UnfinishedContactStore
}

/** Sound goes to the worker in pieces of this length, as long as one spectrum: what is read must be seen at once. */
const PIECE_SAMPLES = 2048
/** Stamps scatter by less than this; a larger step is a gap, and a longer gap begins anew. */
const GAP_MS = 250
const LONGEST_GAP_MS = 5000
/** Somebody within this of where we called has come to us. */
const SAME_HZ = 20
const LEAST_TEXT = 3

/** PSK31 as it runs: all conversations are read at once, one is in focus, and overs are sent as they are typed. */
export class Psk31Runner implements ModeRunner<Psk31State> {
  readonly id = 'psk31'
  readonly state: StoreApi<Psk31State> = createStore<Psk31State>(() => initialPsk31State)
  private modem: Psk31Modem | undefined
  private blocks: Float32Array[] = []
  private gathered = 0
  /** The time of the first sample that the modem was given, and how many it has. */
  private stream: { startUtcMs: number; samples: number; endUtcMs: number } | undefined
  private readonly conversations = new Conversations()
  private stretches = new StretchKeeper()
  private over: { over: Over; grant: Grant } | undefined
  private cq: { calls: CqCalls; grant: Grant } | undefined
  /** Where anything is heard, also what idles and says nothing yet. */
  private present: readonly number[] = []
  private readonly focused: FocusKeeper
  private epoch = 0

  constructor(
    private readonly host: ModeHost,
    private readonly resources: Psk31Resources,
  ) {
    this.focused = new FocusKeeper(host, this.state, this.conversations, resources.unfinishedStore)
  }

  restart(what: SourceKind | undefined): void {
    this.epoch++
    this.begin()
    this.over = undefined
    this.cq = undefined
    this.present = []
    this.focused.leave()
    this.state.setState(initialPsk31State)
    this.focused.restart(what === 'practice')
    // The worker is there only while it is needed.
    if (what) this.modem ??= this.resources.createModem()
    else this.closeModem()
  }

  /** Reading begins anew. */
  private begin(): void {
    this.blocks = []
    this.gathered = 0
    this.stream = undefined
    this.conversations.clear()
    this.stretches = new StretchKeeper()
    void this.modem?.restart()
  }

  private closeModem(): void {
    this.modem?.close()
    this.modem = undefined
  }

  close(): void {
    this.epoch++
    this.closeModem()
  }

  busy(): boolean {
    return this.over !== undefined || this.cq !== undefined
  }

  settled(): boolean {
    return true
  }

  silence(): void {
    // The air has ended the over, and what waited with it.
    if (this.over) this.focused.practised({ type: 'silenced' })
    this.endCq()
  }

  // Receiving

  block({ samples, startUtcMs }: AudioBlock): void {
    const gapMs = this.stream ? startUtcMs - this.stream.endUtcMs : 0
    if (Math.abs(gapMs) > LONGEST_GAP_MS) this.begin()
    else if (gapMs > GAP_MS) this.add(new Float32Array(Math.round((gapMs / 1000) * SAMPLE_RATE_HZ)))
    const { samples: given } = (this.stream ??= { startUtcMs, samples: 0, endUtcMs: startUtcMs })
    // The sound device's own clock runs off over the hours: the newest stamp rules, and no sample is put in for it.
    this.stream.startUtcMs = startUtcMs - ((given + this.gathered) / SAMPLE_RATE_HZ) * 1000
    this.stream.endUtcMs = startUtcMs + (samples.length / SAMPLE_RATE_HZ) * 1000
    // A receiver hears nothing but its own station while it sends.
    this.add(this.host.station().onAir ? new Float32Array(samples.length) : samples)
    if (this.gathered >= PIECE_SAMPLES) void this.read()
  }

  private add(samples: Float32Array): void {
    this.blocks.push(samples)
    this.gathered += samples.length
  }

  private async read(): Promise<void> {
    const { epoch, modem, stream } = this
    if (!modem || !stream) return
    const piece = joinSamples(this.blocks)
    this.blocks = []
    this.gathered = 0
    stream.samples += piece.length
    try {
      const { texts, channels, occupancy, unread } = await modem.push(piece)
      if (epoch !== this.epoch || stream !== this.stream) return
      this.conversations.take(texts, channels, {
        utcOf: (atS) => stream.startUtcMs + atS * 1000,
        nowUtcMs: this.host.clock.nowUtcMs(),
        kept: this.focused.kept,
      })
      this.present = channels.flatMap(({ frequencyHz, doing }) => (doing === 'gone' ? [] : [frequencyHz]))
      this.keepHeard([...this.stretches.push(texts), ...this.stretches.ended(stream.samples / SAMPLE_RATE_HZ)], stream.startUtcMs)
      this.show({ occupancy, unread })
    } catch (error) {
      if (epoch === this.epoch) this.host.notify(`What was heard could not be read: ${(error as Error).message}`)
    }
  }

  private show(beside: Pick<Psk31State, 'occupancy' | 'unread'>): void {
    const ownCall = this.host.profile().call
    const conversations = this.conversations.view(ownCall, this.host.clock.nowUtcMs())
    this.state.setState({ conversations, ...beside })
    const calls = conversations.flatMap((one) => (one.from ? [one.from] : []))
    void this.host.worked.askCalls(calls, this.host.station().source.kind === 'practice')
    this.focused.follow()
  }

  private keepHeard(ended: readonly Psk31Stretch[], startUtcMs: number): void {
    const events = ended
      .filter(({ text }) => text.trim().length >= LEAST_TEXT)
      .map(({ channel, text, startS, endS, snrDb, frequencyHz }) => ({
        mode: 'psk31' as const,
        startUtcMs: startUtcMs + startS * 1000,
        endUtcMs: startUtcMs + endS * 1000,
        text: text.slice(0, 2000),
        call: whoSays(text).from?.slice(0, 15) ?? null,
        locator: sureValue(contactFacts({ text }).locator) ?? null,
        snrDb,
        audioOffsetHz: frequencyHz,
        details: { channel, ...(this.conversations.baudOf(channel) !== BAUD && { baud: this.conversations.baudOf(channel) }) },
      }))
    if (events.length > 0) void this.host.heard.keep(events)
  }

  // What a person does

  focus(target: FocusTarget): StartResult {
    return this.busyWith() ?? this.focused.take(target)
  }

  leaveFocus(): void {
    if (!this.busyWith()) this.focused.leave()
  }

  resume(id: string): StartResult {
    return this.busyWith() ?? this.focused.resume(id)
  }

  dropUnfinished(id: string): void {
    this.focused.drop(id)
  }

  private busyWith(): (StartResult & { ok: false }) | undefined {
    if (this.over) return { ok: false, why: 'An over is being sent. End it first.', need: 'wait' }
    return this.cq && { ok: false, why: 'A CQ is being called. Stop it first.', need: 'wait' }
  }

  fill(change: Partial<ContactDraft>): void {
    this.focused.fill(change)
  }

  split(sendHz: number | undefined): void {
    this.focused.split(sendHz)
  }

  /** Calls CQ, and again after a pause while nobody answers. Only a person calls this. */
  callCq(text: string, options: { tries: number; pauseMs: number }): StartResult {
    const busy = this.busyWith()
    if (busy) return busy
    const begun = this.say(text, true)
    if (!begun.ok) return begun
    this.cq = { calls: beginCq(text, options), grant: this.over!.grant }
    this.showCq()
    return begun
  }

  /** Calls no more; what goes out is ended. */
  stopCq(): void {
    if (!this.cq) return
    this.endCq()
    this.takeBack()
    this.endOver()
  }

  private endCq(): void {
    this.cq = undefined
    this.showCq()
  }

  private showCq(): void {
    const calls = this.cq?.calls
    this.state.setState({
      cq: calls && { called: calls.called, of: calls.of, ...(calls.nextUtcMs !== undefined && { nextUtcMs: calls.nextUtcMs }) },
    })
  }

  private stepCq(event: CqEvent): void {
    if (!this.cq) return
    const { cq, call, ended } = afterCq(this.cq.calls, event)
    if (ended === 'enough') this.host.notify(`CQ was called ${this.cq.calls.of} times and nobody was heard here.`)
    if (!cq) return this.endCq()
    this.cq = { ...this.cq, calls: cq }
    this.showCq()
    const focus = this.state.getState().focus
    if (!call || !focus) return
    const refusal = this.host.whyNot()
    if (refusal) {
      this.host.notify(`CQ is not called again. ${refusal.why}`)
      return this.endCq()
    }
    this.beginOver(cq.text, true, this.cq.grant)
  }

  /**
   * Sends a text on the frequency in focus, or adds it to the over that is being sent. Only a person calls this.
   * @param ends whether the over ends with it
   */
  say(text: string, ends: boolean): StartResult {
    const { focus } = this.state.getState()
    if (!focus) return { ok: false, why: 'No conversation and no frequency is in focus.', need: 'start' }
    if (this.over && this.over.over.isEnding) return { ok: false, why: 'The over is ending. Begin another one after it.', need: 'wait' }
    if (this.over) {
      this.over.over.type(text)
      if (ends) this.over.over.end()
      this.showOver()
      return { ok: true }
    }
    const refusal = this.host.whyNot()
    if (refusal) return { ok: false, ...refusal }
    return this.beginOver(text, ends, undefined)
  }

  /** @param given the grant of what it is part of; without one a person begins it now */
  private beginOver(text: string, ends: boolean, given: Grant | undefined): StartResult {
    const focus = this.state.getState().focus!
    const over = new Over(focus.sendHz ?? focus.frequencyHz, this.host.profile().transmitLevel, focus.fasterBaud)
    over.type(text)
    if (!over.text) return { ok: false, why: 'Nothing of that can be sent in PSK31.', need: 'start' }
    if (ends) over.end()
    this.over = { over, grant: given ?? this.host.begin('an over in PSK31') }
    void this.send(over, this.over.grant)
    return { ok: true }
  }

  /** Takes back what has not begun to go out. @returns it, to be sent otherwise */
  takeBack(): { ok: true; text: string } {
    const text = this.over?.over.takeBack() ?? ''
    this.showOver()
    return { ok: true, text }
  }

  /** Ends the over when everything is out. */
  endOver(): void {
    this.over?.over.end()
    this.showOver()
  }

  private async send(over: Over, grant: Grant): Promise<void> {
    const { epoch } = this
    this.showOver()
    const begunMs = this.host.clock.nowUtcMs()
    const outcome = await this.host.air.send(
      {
        ...{ mode: 'psk31', what: `PSK31 over at ${over.frequencyHz} Hz`, start: 'now' },
        length: { atMostMs: MODES.psk31.longestMs },
        open: (sampleRateHz) => ({ ok: true, stream: over.open(sampleRateHz) }),
      },
      grant,
    )
    if (epoch !== this.epoch) return
    this.over = undefined
    if (!outcome.sent) {
      this.host.notify(outcome.why)
      this.endCq()
    } else {
      const out = outcome.complete ? over.text : over.text.slice(0, over.sentAfter(this.host.clock.nowUtcMs() - outcome.startUtcMs))
      const utcMs = Math.max(begunMs, outcome.startUtcMs)
      if (out) this.sentText(out, utcMs)
      // What cut it off, a key that was lost perhaps, is not called into again.
      if (!outcome.complete) this.endCq()
      if (!outcome.complete && out.length < over.text.length) this.host.notify(`Cut off after "${out.slice(-30)}".`)
    }
    this.state.setState({ over: { phase: 'none' } })
    this.focused.follow()
    this.stepCq({ type: 'sent', nowUtcMs: this.host.clock.nowUtcMs() })
  }

  private sentText(text: string, utcMs: number): void {
    const sentUtcMs = this.host.clock.nowUtcMs()
    this.focused.said({ utcMs, mine: true, text }, sentUtcMs - utcMs)
    const { call } = this.host.profile()
    const isNamed =
      call !== '' &&
      text
        .toUpperCase()
        .split(/[^A-Z0-9/]+/)
        .includes(call)
    this.state.setState(({ identified }) => ({ identified: { ...identified, sentUtcMs, ...(isNamed && { callUtcMs: sentUtcMs }) } }))
  }

  tick(): void {
    const { onAir } = this.host.station()
    if (this.cq && !this.over) {
      const focus = this.state.getState().focus
      const isHeard = focus !== undefined && this.present.some((hz) => Math.abs(hz - focus.frequencyHz) < SAME_HZ)
      this.stepCq(isHeard ? { type: 'heard' } : { type: 'tick', nowUtcMs: this.host.clock.nowUtcMs() })
    }
    if (!this.over || !onAir) return
    const { over } = this.over
    over.watch(this.host.clock.nowUtcMs(), onAir.endUtcMs, over.sentAfter(this.host.clock.nowUtcMs() - onAir.startUtcMs))
    this.showOver()
  }

  private showOver(): void {
    if (!this.over) return
    const { over } = this.over
    const { onAir } = this.host.station()
    const sent = onAir ? over.sentAfter(this.host.clock.nowUtcMs() - onAir.startUtcMs) : 0
    const next = {
      ...{
        phase: over.isEnding ? ('ending' as const) : ('sending' as const),
        sent: over.text.slice(0, sent),
        waiting: over.text.slice(sent),
      },
      mustEndUtcMs: onAir?.endUtcMs ?? this.host.clock.nowUtcMs() + MODES.psk31.longestMs,
    }
    const { over: before } = this.state.getState()
    if (
      before.phase === next.phase &&
      before.sent === next.sent &&
      before.waiting === next.waiting &&
      before.mustEndUtcMs === next.mustEndUtcMs
    )
      return
    this.state.setState({ over: next })
  }

  /** Puts the contact in focus into the log. @returns what is still missing, when it cannot be kept */
  log(): { ok: true } | { ok: false; why: string } {
    return this.focused.log()
  }
}
