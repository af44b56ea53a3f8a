import type { StoreApi } from 'zustand/vanilla'
import { contactSchema } from '@/core/log'
import {
  BAUD,
  clearNear,
  contactFacts,
  copyTrouble,
  exercisesDone,
  isSure,
  measuredReport,
  repeatPhrase,
  saysThrice,
  sureValue,
  type Baud,
  type CopyTrouble,
  type PracticeEvent,
} from '@/core/psk31'
import type { ModeHost, StartResult } from '../runner'
import type { Conversations } from './conversations'
import { readContact, shownLines, type SpokenLine } from './readContact'
import { emptyDraft, type ContactDraft, type FocusView, type Psk31State, type UnfinishedContact } from './state'

/** Where contacts that were begun and left are kept. */
export interface UnfinishedContactStore {
  load: () => readonly UnfinishedContact[]
  save: (list: readonly UnfinishedContact[]) => unknown
}

export type FocusTarget = { channel: number } | { frequencyHz: number }

/** A conversation within this of our frequency is the one in focus. */
const SAME_HZ = 20
const MOST_LINES = 60
const MOST_EVIDENCE = 40
const MOST_UNFINISHED = 12
/** Who has not been heard for a day is another contact. */
const UNFINISHED_KEPT_MS = 24 * 3_600_000
/** A clearer place is looked for no further away than this: they would not find us there. */
const CLEARER_WITHIN_HZ = 300

/** As ADIF names them. */
const SUBMODES: Readonly<Record<Baud, string>> = { 31.25: 'PSK31', 62.5: 'PSK63', 125: 'PSK125' }

const draftSchema = contactSchema.pick({ call: true, locator: true, name: true, place: true, reportSent: true, reportReceived: true })

/** What the log would not take of it, in words: it would wait for the server for ever. */
function draftProblem(draft: ContactDraft): string | undefined {
  const filled = Object.fromEntries(Object.entries(draft).map(([field, value]) => [field, value || null]))
  const issue = draftSchema.safeParse(filled).error?.issues[0]
  return issue && `It cannot be logged: ${issue.message} (${String(issue.path[0])}).`
}

/** The conversation in focus: what was said in it, what is known, and those that were left in the middle. */
export class FocusKeeper {
  /** Own lines, and lines of before it was left. */
  private ownLines: readonly SpokenLine[] = []
  private earlierLines: readonly SpokenLine[] = []
  /** The channels it was heard on: after a long over of ours it may be counted anew. */
  private channels: readonly number[] = []
  /** Whether we go where they go. Where we called they come to us. */
  private follows = false
  private practice = false
  /** Contacts that were begun where we are not now. */
  private elsewhere: readonly UnfinishedContact[] = []
  private id = ''
  /** Whether they asked again, and were told three times what they had lost. */
  private saidAgain = false

  constructor(
    private readonly host: ModeHost,
    private readonly state: StoreApi<Psk31State>,
    private readonly conversations: Conversations,
    private readonly store: UnfinishedContactStore,
  ) {}

  /** Conversations that are not forgotten. */
  get kept(): readonly number[] {
    return this.channels
  }

  private get view(): FocusView | undefined {
    return this.state.getState().focus
  }

  /** @param practice contacts of the practice band stay there, and those of the air on the air */
  restart(practice: boolean): void {
    this.empty()
    const nowUtcMs = this.host.clock.nowUtcMs()
    const kept = this.store.load()
    const isOurs = (one: UnfinishedContact) => one.practice === practice
    this.practice = practice
    this.elsewhere = kept.filter((one) => !isOurs(one))
    this.state.setState({ begun: kept.filter((one) => isOurs(one) && Math.abs(nowUtcMs - one.leftUtcMs) < UNFINISHED_KEPT_MS) })
  }

  private empty(): void {
    this.ownLines = []
    this.earlierLines = []
    this.channels = []
    this.follows = false
    this.saidAgain = false
  }

  /** Puts a conversation in focus, or a free frequency. What was typed for another one is not taken along. */
  take(target: FocusTarget): StartResult {
    const channel = 'channel' in target ? target.channel : this.conversations.at(target.frequencyHz, SAME_HZ)
    const frequencyHz =
      channel === undefined ? ('frequencyHz' in target ? target.frequencyHz : undefined) : this.conversations.frequencyOf(channel)
    if (frequencyHz === undefined) return { ok: false, why: 'That conversation is no longer heard.', need: 'start' }
    this.leave()
    const call = channel === undefined ? undefined : this.conversations.callIn(channel)
    this.begin(frequencyHz, channel, { draft: { ...emptyDraft, ...(call && { call }) } })
    return { ok: true }
  }

  private begin(frequencyHz: number, channel: number | undefined, known: Pick<FocusView, 'draft'> & Partial<FocusView>): void {
    this.id = this.host.newId()
    this.channels = channel === undefined ? [] : [channel]
    this.follows = channel !== undefined
    const focus: FocusView = {
      ...{ frequencyHz: Math.round(frequencyHz), transcript: [], byHand: [], facts: {} },
      startedUtcMs: this.host.clock.nowUtcMs(),
      ...known,
      ...(channel !== undefined && { channel }),
    }
    this.state.setState({ focus })
    this.follow()
  }

  /** Leaves it; a contact that was begun is kept. */
  leave(): void {
    const one = this.unfinished()
    if (one) this.keepAll(this.withIt(one))
    this.empty()
    this.state.setState({ focus: undefined })
  }

  /** What is in focus, as it is kept: if something was sent, and it is not in the log. */
  private unfinished(): UnfinishedContact | undefined {
    const { view } = this
    if (!view || view.loggedUtcMs !== undefined || !view.transcript.some(({ mine }) => mine)) return undefined
    const { draft, byHand, frequencyHz, startedUtcMs, transcript } = view
    return {
      ...{ id: this.id, practice: this.practice, draft, byHand: [...byHand], frequencyHz, startedUtcMs },
      leftUtcMs: this.host.clock.nowUtcMs(),
      lines: transcript.map(({ utcMs, mine, text }) => ({ utcMs, mine, text })),
    }
  }

  /** Keeps it as it stands, for the page may be closed at any time. */
  private saveUnfinished(): void {
    const one = this.unfinished()
    if (one) this.save(this.withIt(one))
  }

  private withIt(one: UnfinishedContact): UnfinishedContact[] {
    const others = this.state.getState().begun.filter(({ draft }) => one.draft.call === '' || draft.call !== one.draft.call)
    return [one, ...others].slice(0, MOST_UNFINISHED)
  }

  private keepAll(unfinished: readonly UnfinishedContact[]): void {
    this.state.setState({ begun: unfinished })
    this.save(unfinished)
  }

  private save(unfinished: readonly UnfinishedContact[]): void {
    this.store.save([...unfinished, ...this.elsewhere])
  }

  /** Takes one up again that was left, where they are now if they are heard. */
  resume(id: string): StartResult {
    const one = this.state.getState().begun.find((other) => other.id === id)
    if (!one) return { ok: false, why: 'That contact is no longer kept.', need: 'start' }
    this.leave()
    const channel = this.conversations.ofCall(one.draft.call) ?? this.conversations.at(one.frequencyHz, SAME_HZ)
    const frequencyHz = channel === undefined ? one.frequencyHz : this.conversations.frequencyOf(channel)!
    this.drop(id)
    this.earlierLines = one.lines
    this.begin(frequencyHz, channel, { draft: one.draft, byHand: one.byHand, startedUtcMs: one.startedUtcMs })
    this.saveUnfinished()
    return { ok: true }
  }

  drop(id: string): void {
    this.keepAll(this.state.getState().begun.filter((one) => one.id !== id))
  }

  /** The operator fills in what is known of the other one. */
  fill(change: Partial<ContactDraft>): void {
    const { view } = this
    if (!view) return
    const byHand = [...new Set([...view.byHand, ...(Object.keys(change) as (keyof ContactDraft)[])])]
    this.state.setState({ focus: { ...view, draft: { ...view.draft, ...change }, byHand } })
  }

  /** Sends elsewhere than they are, or where they are again. */
  split(sendHz: number | undefined): void {
    const { view } = this
    if (!view) return
    const { sendHz: _, ...rest } = view
    this.state.setState({ focus: { ...rest, ...(sendHz !== undefined && { sendHz: Math.round(sendHz) }) } })
  }

  /** What we sent. */
  said(line: SpokenLine, lengthMs: number): void {
    if (this.view?.trouble && saysThrice(line.text)) this.saidAgain = true
    const { signal } = this.view ?? {}
    this.practised({
      ...{ type: 'sent', text: line.text, lengthMs },
      ...(signal?.fading && { fading: signal.fading }),
      ...(signal?.linearity && { linearity: signal.linearity }),
    })
    this.ownLines = [...this.ownLines, line].slice(-MOST_LINES)
    // A report that was given stands in the log as it went out, whatever is measured by then.
    const given = sureValue(contactFacts({ text: line.text }).report)
    if (given && !this.view?.byHand.includes('reportSent')) this.fill({ reportSent: given })
    this.follow()
    this.saveUnfinished()
  }

  /** What was heard of the one in focus goes into its transcript and its draft. */
  follow(): void {
    const { view } = this
    if (!view) return
    const heard = this.conversations.at(view.frequencyHz, SAME_HZ)
    if (heard !== undefined && !this.channels.includes(heard)) this.channels = [...this.channels, heard]
    const channel = heard ?? this.channels.at(-1)
    const theirs = this.channels.flatMap((one) => this.conversations.lines(one))
    const fromBefore = this.earlierLines.filter((line) => !theirs.some((other) => other.utcMs === line.utcMs))
    const lines = [...fromBefore, ...theirs, ...this.ownLines].sort((a, b) => a.utcMs - b.utcMs).slice(-MOST_LINES)
    const ownCall = this.host.profile().call
    const { draft, facts, told } = readContact(view.draft, view.byHand, lines, ownCall)
    const signal = channel === undefined ? undefined : this.conversations.signalOf(channel)
    const frequencyHz =
      this.follows && heard !== undefined && this.state.getState().over.phase === 'none'
        ? this.conversations.frequencyOf(heard)!
        : view.frequencyHz
    const { channel: _channel, trouble: _trouble, clearHz: _clear, signal: _signal, fasterBaud: _speed, ...rest } = view
    const report = view.byHand.includes('reportSent') ? draft.reportSent : this.reportFor(channel)
    const trouble = this.troubleIn(lines, { ...draft, reportSent: report })
    this.practised({ type: 'read', name: isSure(facts.name), locator: isSure(facts.locator) })
    this.state.setState({
      focus: {
        ...rest,
        ...{ frequencyHz: Math.round(frequencyHz), transcript: shownLines(lines, told), draft: { ...draft, reportSent: report }, facts },
        ...(channel !== undefined && { channel }),
        ...(signal && { signal }),
        ...(channel !== undefined && this.speedOf(channel)),
        ...(trouble && { trouble, ...this.clearer(frequencyHz, heard !== undefined) }),
      },
    })
  }

  private speedOf(channel: number): { fasterBaud?: Baud } {
    const baud = this.conversations.baudOf(channel)
    return baud === BAUD ? {} : { fasterBaud: baud }
  }

  /** On the practice band: which exercises this has done. */
  practised(event: PracticeEvent): void {
    if (this.host.station().source.kind !== 'practice') return
    const { exercises } = this.state.getState()
    const done = exercisesDone(event).filter((id) => !exercises.includes(id))
    if (done.length > 0) this.state.setState({ exercises: [...exercises, ...done] })
  }

  /** Where it is clearer, if somebody is in the way of what they should copy. */
  private clearer(frequencyHz: number, theirs: boolean): { clearHz?: number } {
    const clearHz = clearNear(this.state.getState().occupancy, frequencyHz, { withinHz: CLEARER_WITHIN_HZ, theirs })
    return clearHz === undefined ? {} : { clearHz }
  }

  /** A report from what is measured of them; the usual one until they are heard. */
  private reportFor(channel: number | undefined): string {
    const { reports } = this.host.profile().modes.psk31
    const signal = channel === undefined ? undefined : this.conversations.signalOf(channel)
    if (channel === undefined || !signal) return reports === 'rst' ? '599' : '9599'
    const sure = this.conversations.surenessOf(channel)
    return measuredReport(reports, { snrDb: signal.snrDb, sure, ...(signal.linearity && { linearity: signal.linearity }) })
  }

  /** Whether they have said since our last words that they do not copy us. */
  private troubleIn(lines: readonly SpokenLine[], draft: ContactDraft): (CopyTrouble & { again: string }) | undefined {
    const last = lines.findLastIndex((line) => line.mine)
    const { call: me, operatorName, place, locator } = this.host.profile()
    if (last < 0 || me === '') return undefined
    const text = lines
      .slice(last + 1)
      .map((line) => line.text)
      .join('\n')
    const trouble = copyTrouble(text, me)
    // Who has given us a report knows who we are, and asks for the next one.
    if (!trouble || (trouble.kind === 'who' && draft.reportReceived !== '')) return undefined
    const own = { name: operatorName.split(' ')[0] ?? '', place, locator, report: draft.reportSent }
    return { ...trouble, again: repeatPhrase(trouble.lost, { me, them: draft.call, ...own }) }
  }

  /** Puts the contact into the log. @returns what is still missing, when it cannot be kept */
  log(): { ok: true } | { ok: false; why: string } {
    const { view } = this
    if (!view || !view.draft.call) return { ok: false, why: 'Whose contact is it? Fill in the call.' }
    if (view.loggedUtcMs !== undefined) return { ok: false, why: 'It is in the log already: change it there.' }
    const { call, name, place, locator, reportSent, reportReceived } = view.draft
    const wrong = draftProblem(view.draft)
    if (wrong) return { ok: false, why: wrong }
    const nowUtcMs = this.host.clock.nowUtcMs()
    // It began with the first that was sent, and ended with the last that was said.
    const startedUtcMs = view.transcript.find((line) => line.mine)?.utcMs ?? view.startedUtcMs
    const endedUtcMs = Math.max(startedUtcMs, view.transcript.at(-1)?.utcMs ?? nowUtcMs)
    this.host.contacts.made({
      ...{ mode: 'psk31', call, startedUtcMs, endedUtcMs, audioOffsetHz: view.frequencyHz },
      ...(view.fasterBaud && { submode: SUBMODES[view.fasterBaud] }),
      ...(name && { name }),
      ...(place && { place }),
      ...(locator && { locator }),
      ...(reportSent && { reportSent }),
      ...(reportReceived && { reportReceived }),
      evidence: view.transcript.slice(-MOST_EVIDENCE).map(({ utcMs, mine, text }) => ({
        ...{ utcMs, direction: mine ? ('sent' as const) : ('heard' as const), text: text.slice(0, 200), frequencyHz: view.frequencyHz },
      })),
    })
    this.state.setState({ focus: { ...view, loggedUtcMs: nowUtcMs } })
    this.save(this.state.getState().begun)
    const [first] = view.transcript.filter(({ mine }) => mine)
    this.practised({
      ...{ type: 'logged', sent: first !== undefined, calledCq: /\bcq\b/i.test(first?.text ?? '') },
      ...{ reportSent, reportReceived, saidAgain: this.saidAgain },
      ...(view.signal && { snrDb: view.signal.snrDb }),
    })
    return { ok: true }
  }
}
