import { createStore, type StoreApi } from 'zustand/vanilla'
import { joinSamples, SAMPLE_RATE_HZ } from '@/core/dsp'
import { contactSchema } from '@/core/log'
import { MODES } from '@/core/modes'
import { StretchKeeper, whoSays, type Psk31Stretch } from '@/core/psk31'
import type { Grant } from '../../station/air'
import type { AudioBlock } from '../../station/audioBlock'
import type { ModeHost, ModeRunner, SourceKind, StartResult } from '../runner'
import { Conversations, draftFrom } from './conversations'
import { Over } from './over'
import type { Psk31Modem } from './psk31Modem.client'
import { emptyDraft, initialPsk31State, type ContactDraft, type FocusView, type Psk31State, type TranscriptLine } from './state'

/** What PSK31 needs from where it runs. */
export interface Psk31Resources {
  createModem: () => Psk31Modem
}

/** Sound goes to the worker in pieces of this length, as long as one spectrum: what is read must be seen at once. */
const PIECE_SAMPLES = 2048
/** Stamps scatter by less than this; a larger step is a gap, and a longer gap begins anew. */
const GAP_MS = 250
const LONGEST_GAP_MS = 5000
/** A conversation within this of our frequency is the one in focus. */
const SAME_HZ = 20
const MOST_LINES = 60
const MOST_EVIDENCE = 40
const LEAST_TEXT = 3

const draftSchema = contactSchema.pick({ call: true, locator: true, name: true, place: true, reportSent: true, reportReceived: true })

/** What the log would not take of it, in words: it would wait for the server for ever. */
function draftProblem(draft: ContactDraft): string | undefined {
  const filled = Object.fromEntries(Object.entries(draft).map(([field, value]) => [field, value || null]))
  const issue = draftSchema.safeParse(filled).error?.issues[0]
  return issue && `It cannot be logged: ${issue.message} (${String(issue.path[0])}).`
}

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
  /** Own lines of the conversation in focus, and the channels it was heard on: after a long over of ours it may be counted anew. */
  private ownLines: TranscriptLine[] = []
  private focusChannels: readonly number[] = []
  private epoch = 0

  constructor(
    private readonly host: ModeHost,
    private readonly resources: Psk31Resources,
  ) {}

  restart(what: SourceKind | undefined): void {
    this.epoch++
    this.begin()
    this.over = undefined
    this.ownLines = []
    this.focusChannels = []
    this.state.setState(initialPsk31State)
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
    return this.over !== undefined
  }

  settled(): boolean {
    return true
  }

  silence(): void {
    // The air has ended the over, and what waited with it.
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
      const { texts, channels } = await modem.push(piece)
      if (epoch !== this.epoch || stream !== this.stream) return
      this.conversations.take(texts, channels, {
        utcOf: (atS) => stream.startUtcMs + atS * 1000,
        nowUtcMs: this.host.clock.nowUtcMs(),
        kept: this.focusChannels,
      })
      this.keepHeard([...this.stretches.push(texts), ...this.stretches.ended(stream.samples / SAMPLE_RATE_HZ)], stream.startUtcMs)
      this.show()
    } catch (error) {
      if (epoch === this.epoch) this.host.notify(`What was heard could not be read: ${(error as Error).message}`)
    }
  }

  private show(): void {
    const ownCall = this.host.profile().call
    const conversations = this.conversations.view(ownCall)
    this.state.setState({ conversations })
    const calls = conversations.flatMap((one) => (one.from ? [one.from] : []))
    void this.host.worked.askCalls(calls, this.host.station().source.kind === 'practice')
    this.followFocus()
  }

  /** What was heard of the one in focus goes into its transcript and its draft. */
  private followFocus(): void {
    const { focus } = this.state.getState()
    if (!focus) return
    const heard = this.conversations.at(focus.frequencyHz, SAME_HZ)
    if (heard !== undefined && !this.focusChannels.includes(heard)) this.focusChannels = [...this.focusChannels, heard]
    const channel = heard ?? this.focusChannels.at(-1)
    const theirs = this.focusChannels.flatMap((one) => this.conversations.lines(one))
    const transcript = [...theirs, ...this.ownLines].sort((a, b) => a.utcMs - b.utcMs).slice(-MOST_LINES)
    const draft = draftFrom(focus.draft, focus.byHand, transcript, this.host.profile().call)
    const { channel: _, ...rest } = focus
    this.state.setState({ focus: { ...rest, ...(channel !== undefined && { channel }), transcript, draft } })
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
        locator: null,
        snrDb,
        audioOffsetHz: frequencyHz,
        details: { channel },
      }))
    if (events.length > 0) void this.host.heard.keep(events)
  }

  // What a person does

  /** Puts a conversation in focus, or a free frequency. What was typed for another one is not taken along. */
  focus(target: { channel: number } | { frequencyHz: number }): StartResult {
    if (this.over) return { ok: false, why: 'An over is being sent. End it first.', need: 'wait' }
    const channel = 'channel' in target ? target.channel : this.conversations.at(target.frequencyHz, SAME_HZ)
    const frequencyHz =
      channel === undefined ? ('frequencyHz' in target ? target.frequencyHz : undefined) : this.conversations.frequencyOf(channel)
    if (frequencyHz === undefined) return { ok: false, why: 'That conversation is no longer heard.', need: 'start' }
    this.ownLines = []
    this.focusChannels = channel === undefined ? [] : [channel]
    const call = channel === undefined ? undefined : this.conversations.callIn(channel)
    const draft: ContactDraft = { ...emptyDraft, ...(call && { call }), reportSent: this.usualReport() }
    const focus: FocusView = {
      ...{ frequencyHz: Math.round(frequencyHz), transcript: [], draft, byHand: [], startedUtcMs: this.host.clock.nowUtcMs() },
      ...(channel !== undefined && { channel }),
    }
    this.state.setState({ focus })
    this.followFocus()
    return { ok: true }
  }

  private usualReport(): string {
    return this.host.profile().modes.psk31.reports === 'rst' ? '599' : '9579'
  }

  leaveFocus(): void {
    if (this.over) return
    this.focusChannels = []
    this.state.setState({ focus: undefined })
  }

  /** The operator fills in what is known of the other one. */
  fill(change: Partial<ContactDraft>): void {
    const { focus } = this.state.getState()
    if (!focus) return
    const byHand = [...new Set([...focus.byHand, ...(Object.keys(change) as (keyof ContactDraft)[])])]
    this.state.setState({ focus: { ...focus, draft: { ...focus.draft, ...change }, byHand } })
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
    const over = new Over(focus.frequencyHz, this.host.profile().transmitLevel)
    over.type(text)
    if (!over.text) return { ok: false, why: 'Nothing of that can be sent in PSK31.', need: 'start' }
    if (ends) over.end()
    this.over = { over, grant: this.host.begin('an over in PSK31') }
    void this.send(over, this.over.grant)
    return { ok: true }
  }

  /** Takes back what has not begun to go out. */
  takeBack(): void {
    this.over?.over.takeBack()
    this.showOver()
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
    if (!outcome.sent) this.host.notify(outcome.why)
    else {
      const out = outcome.complete ? over.text : over.text.slice(0, over.sentAfter(this.host.clock.nowUtcMs() - outcome.startUtcMs))
      if (out)
        this.ownLines = [...this.ownLines, { utcMs: Math.max(begunMs, outcome.startUtcMs), mine: true, text: out }].slice(-MOST_LINES)
      if (!outcome.complete && out.length < over.text.length) this.host.notify(`Cut off after "${out.slice(-30)}".`)
    }
    this.state.setState({ over: { phase: 'none' } })
    this.followFocus()
  }

  tick(): void {
    const { onAir } = this.host.station()
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
    const { focus } = this.state.getState()
    if (!focus || !focus.draft.call) return { ok: false, why: 'Whose contact is it? Fill in the call.' }
    if (focus.loggedUtcMs !== undefined) return { ok: false, why: 'It is in the log already: change it there.' }
    const { call, name, place, locator, reportSent, reportReceived } = focus.draft
    const wrong = draftProblem(focus.draft)
    if (wrong) return { ok: false, why: wrong }
    const nowUtcMs = this.host.clock.nowUtcMs()
    // It began with the first that was sent, and ended with the last that was said.
    const startedUtcMs = focus.transcript.find((line) => line.mine)?.utcMs ?? focus.startedUtcMs
    const endedUtcMs = Math.max(startedUtcMs, focus.transcript.at(-1)?.utcMs ?? nowUtcMs)
    this.host.contacts.made({
      ...{ mode: 'psk31', call, startedUtcMs, endedUtcMs, audioOffsetHz: focus.frequencyHz },
      ...(name && { name }),
      ...(place && { place }),
      ...(locator && { locator }),
      ...(reportSent && { reportSent }),
      ...(reportReceived && { reportReceived }),
      evidence: focus.transcript.slice(-MOST_EVIDENCE).map(({ utcMs, mine, text }) => ({
        ...{ utcMs, direction: mine ? ('sent' as const) : ('heard' as const), text: text.slice(0, 200), frequencyHz: focus.frequencyHz },
      })),
    })
    this.state.setState({ focus: { ...focus, loggedUtcMs: nowUtcMs } })
    return { ok: true }
  }
}
