import {
  finishedByEvidence,
  formatReport,
  isWaitingForTheirEnd,
  keepUnfinished,
  nextTransmission,
  packMessage,
  reduceExchange,
  SLOT_MS,
  unfinishedFrom,
  type ExchangeEvent,
  type ExchangeManner,
  type Ft8Decode,
  type MadeContact,
  type Unfinished,
} from '@/core/ft8'
import type { MadeContact as LoggedContact } from '@/core/log'
import type { Station } from '@/core/station'
import { parityOf, type Parity } from '@/core/time'
import type { StationClock } from '../../station/stationClock'
import type { StationState } from '../../station/state'
import type { Grant, Outcome } from '../../station/air'
import type { Refusal, StartResult, Upcoming } from '../runner'
import type { Ft8State } from './state'
/** A transmission is prepared this long before its slot. */
const AHEAD_MS = 350
/** How far into its slot a transmission waits for the decodes of the slot before. */
const WAIT_FOR_DECODES_MS = 2600
const LATEST_MS = 4000

/** After so many CQs the station listens in one of its own slots: someone may have come upon its lane. */
const LISTEN_EVERY = 5

/** Exchanges that broke off, kept over a reload of the page. */
export interface UnfinishedStore {
  load(): readonly Unfinished[]
  save(kept: readonly Unfinished[]): unknown
}

export interface ExchangeHost {
  clock: StationClock
  source: () => StationState['source']
  state: () => Ft8State
  set: (change: Partial<Ft8State>) => void
  profile: () => Station
  whyNot: () => Refusal | undefined
  /** A person begins something. */
  begin: (what: string) => Grant
  isDecoding: (slotIndex: number) => boolean
  transmit: (slotIndex: number, text: string, audioOffsetHz: number, grant: Grant) => Promise<Outcome>
  made: (contact: LoggedContact) => void
  unfinishedStore: UnfinishedStore
  notify: (text: string) => void
}

/** Runs the exchange: starts it when a person says so, says each step in its slot, and hands the contact to the log. */
export class ExchangeRunner {
  /** Slots in which a transmission was tried, with or without success: none is tried twice. */
  private triedSlots = new Set<number>()
  /** How many CQs had been sent when it last listened to its own lane. */
  private listenedAfter = 0
  /** Grows with every change of source: what was begun before it is dropped. */
  private epoch = 0
  /** What a person has begun: everything that is said stands on it. */
  private grant: Grant | undefined

  constructor(private readonly host: ExchangeHost) {}

  /** Begins anew with another source. What broke off on the air is taken up from where it was kept. */
  restart(onAir: boolean): void {
    this.epoch++
    this.triedSlots.clear()
    this.listenedAfter = 0
    if (onAir) this.host.set({ unfinished: this.host.unfinishedStore.load() })
  }

  /** Starts an exchange with a station that was heard, or takes up one that broke off. Only a person calls this. */
  answer(call: string, audioOffsetHz: number): StartResult {
    const { stations, exchange, unfinished } = this.host.state()
    const heard = stations[call]
    const waiting = exchange.phase === 'idle' ? undefined : exchange.queue.find((caller) => caller.call === call)
    // What a caller said to us counts, even if it has called someone else since.
    const last = waiting ?? (heard && { decode: heard.lastDecode, slotIndex: heard.lastSlotIndex })
    if (!last) return { ok: false, why: `${call} is no longer heard.`, need: 'start' }
    const said = { decode: last.decode, slotIndex: last.slotIndex, slotUtcMs: last.slotIndex * SLOT_MS, audioOffsetHz }
    const open = unfinished.find((u) => u.otherCall === call)
    return this.start(open ? { type: 'resume', unfinished: open, ...said } : { type: 'answer', manner: this.manner(), ...said })
  }

  /** Starts calling CQ. Only a person calls this. */
  callCq(txParity: Parity, audioOffsetHz: number): StartResult {
    return this.start({ type: 'callCq', manner: this.manner(), txParity, audioOffsetHz })
  }

  /** Sends a free text once. Only a person calls this. */
  say(text: string, txParity: Parity, audioOffsetHz: number): StartResult {
    const packed = packMessage(text)
    if (!packed.ok) return { ok: false, why: packed.error, need: 'start' }
    return this.start({ type: 'say', manner: this.manner(), text: text.trim().toUpperCase(), txParity, audioOffsetHz })
  }

  /** Says the last words once more. Only a person calls this. */
  sayAgain(): StartResult {
    return this.start({ type: 'again' })
  }

  private start(event: ExchangeEvent): StartResult {
    const refusal = this.host.whyNot()
    if (refusal) return { ok: false, ...refusal }
    this.grant = this.host.begin('FT8 exchange')
    this.send(event)
    return { ok: true }
  }

  private manner(): ExchangeManner {
    const { call, locator, finish, maxTries, maxCqTries, cqAgain, cqWord, opening, callerOrder } = {
      ...this.host.profile(),
      ...this.host.profile().modes.ft8,
    }
    return { ownCall: call, ownLocator: locator, finish, maxTries, maxCqTries, cqAgain, opening, callerOrder, ...(cqWord && { cqWord }) }
  }

  heard(slotIndex: number, decodes: readonly Ft8Decode[], early: boolean): void {
    const slotUtcMs = slotIndex * SLOT_MS
    this.send({ type: 'heard', slotIndex, slotUtcMs, decodes, ...(early && { early }) })
    if (early) return
    // They roger what had been given up: the contact is made, and nothing needs to be sent.
    for (const open of this.host.state().unfinished) {
      const made = finishedByEvidence(open, decodes, slotUtcMs)
      if (!made) continue
      this.host.notify(`${made.call} has rogered your report after all: the contact is in the log.`)
      this.contactMade(made)
    }
  }

  send(event: ExchangeEvent): void {
    const before = this.host.state()
    const [exchange, effects] = reduceExchange(before.exchange, event)
    this.host.set({ exchange })
    for (const effect of effects) this.contactMade(effect.contact)
    const ended = exchange.phase === 'ended' && before.exchange.phase !== 'ended'
    if (exchange.phase !== before.exchange.phase || event.type === 'heard') this.keepWhatBrokeOff(ended)
  }

  /**
   * An exchange under way is kept too, in case the page is closed in the middle of it.
   * @param ended whether it has ended just now: it is added once, for when it ended counts
   */
  private keepWhatBrokeOff(ended: boolean): void {
    const { exchange, unfinished } = this.host.state()
    const now = this.host.clock.nowUtcMs()
    const kept = keepUnfinished(unfinished, ended ? unfinishedFrom(exchange, now) : undefined, now)
    if (kept !== unfinished) this.host.set({ unfinished: kept })
    if (this.host.source().kind !== 'microphone') return
    const underway = exchange.phase === 'underway' ? unfinishedFrom({ ...exchange, phase: 'ended', reason: 'stopped' }, now) : undefined
    this.host.unfinishedStore.save(keepUnfinished(kept, underway, now))
  }

  private contactMade(made: MadeContact): void {
    const { stations, unfinished } = this.host.state()
    // What they said in other messages counts too.
    const locator = made.locator ?? stations[made.call]?.locator
    this.host.set({ unfinished: unfinished.filter((u) => u.otherCall !== made.call) })
    this.host.made({
      ...{ mode: 'ft8', call: made.call, startedUtcMs: made.startedUtcMs, endedUtcMs: made.endedUtcMs },
      ...{ audioOffsetHz: made.audioOffsetHz, evidence: made.evidence },
      ...(made.reportSentDb !== undefined && { reportSent: formatReport(made.reportSentDb) }),
      ...(made.reportReceivedDb !== undefined && { reportReceived: formatReport(made.reportReceivedDb) }),
      ...(locator && { locator }),
    })
  }

  /** Sends what is next when its slot begins. */
  tick(): void {
    const plan = nextTransmission(this.host.state().exchange)
    if (!plan) return
    const nowUtcMs = this.host.clock.nowUtcMs()
    const slotIndex = Math.floor((nowUtcMs + AHEAD_MS) / SLOT_MS)
    const intoMs = nowUtcMs - slotIndex * SLOT_MS
    if (parityOf(slotIndex) !== plan.parity || intoMs > LATEST_MS || this.triedSlots.has(slotIndex)) return
    if (this.host.isDecoding(slotIndex - 1) && !this.answeredEarly(slotIndex - 1) && intoMs < WAIT_FOR_DECODES_MS) return
    this.triedSlots = new Set([...this.triedSlots].slice(-20)).add(slotIndex)
    if (this.listensIn(slotIndex)) return
    void this.transmit(slotIndex, plan.text, plan.audioOffsetHz)
  }

  /** What will be sent next, and in which slot: as it stands now, for what is heard until then may change it. */
  upcoming(): Upcoming | undefined {
    const { exchange } = this.host.state()
    const plan = nextTransmission(exchange)
    if (!plan) return undefined
    const nowUtcMs = this.host.clock.nowUtcMs()
    const slotNow = Math.floor(nowUtcMs / SLOT_MS)
    const gone = this.triedSlots.has(slotNow) || nowUtcMs - slotNow * SLOT_MS > LATEST_MS
    const slotIndex = parityOf(slotNow) !== plan.parity ? slotNow + 1 : gone ? slotNow + 2 : slotNow
    return {
      ...{ text: plan.text, startUtcMs: slotIndex * SLOT_MS, audioOffsetHz: plan.audioOffsetHz },
      onlyIfAsked: isWaitingForTheirEnd(exchange),
    }
  }

  /** Whether this slot is one to listen in, and not to call CQ. */
  private listensIn(slotIndex: number): boolean {
    const { exchange } = this.host.state()
    if (exchange.phase !== 'underway' || exchange.step !== 'cq') return false
    if (exchange.tries < this.listenedAfter) this.listenedAfter = 0
    if (exchange.tries - this.listenedAfter < LISTEN_EVERY) return false
    this.listenedAfter = exchange.tries
    this.host.set({ listeningSlot: slotIndex })
    return true
  }

  /** What the first look found has decided what comes next: the second need not be waited for. */
  private answeredEarly(slotIndex: number): boolean {
    const { exchange } = this.host.state()
    return exchange.phase === 'underway' && exchange.answeredSlot === slotIndex
  }

  private async transmit(slotIndex: number, text: string, audioOffsetHz: number): Promise<void> {
    const { epoch, grant } = this
    if (!grant) return
    const outcome = await this.host.transmit(slotIndex, text, audioOffsetHz, grant)
    if (epoch !== this.epoch) return
    if (outcome.sent) {
      this.send({ type: 'sent', slotIndex, slotUtcMs: slotIndex * SLOT_MS, text, complete: outcome.complete })
      return
    }
    if (outcome.need === 'late') return
    this.host.notify(outcome.why)
    if (outcome.need !== 'wait') this.send({ type: 'stop' })
  }
}
