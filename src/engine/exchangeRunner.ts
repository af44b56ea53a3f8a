import type { Activation } from '@/core/activation'
import {
  finishedByEvidence,
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
import { contactFromExchange, type Contact } from '@/core/log'
import type { Station } from '@/core/station'
import { allocationOf } from '@/core/place'
import { parityOf, uncertaintyAt, type Parity } from '@/core/time'
import type { GateNeed } from '@/core/transmit'
import type { StationClock } from './stationClock'
import type { StationState, WorkedPlaces } from './stationState'
import type { TransmitOutcome } from './transmitter'

export type StartResult = { ok: true } | { ok: false; why: string; need: GateNeed | 'source' }

/** A transmission is prepared this long before its slot. */
const AHEAD_MS = 350
/** How far into its slot a transmission waits for the decodes of the slot before. */
const WAIT_FOR_DECODES_MS = 2600
const LATEST_MS = 4000

/** After so many CQs the station listens in one of its own slots: someone may have come upon its lane. */
const LISTEN_EVERY = 5

/** Exchanges that broke off, kept over a reload of the page. */
export interface UnfinishedStore {
  load(): Unfinished[]
  save(kept: readonly Unfinished[]): void
}

export interface ExchangeHost {
  clock: StationClock
  newId: () => string
  state: () => StationState
  set: (change: Partial<StationState>) => void
  profile: () => Station
  dialFrequencyHz: () => number | null
  activation: () => Activation | undefined
  whyNot: () => { why: string; need: GateNeed | 'source' } | undefined
  /** A person begins something. */
  begun: () => void
  isDecoding: (slotIndex: number) => boolean
  transmit: (slotIndex: number, text: string, audioOffsetHz: number) => Promise<TransmitOutcome>
  keep: (contact: Contact) => Promise<void>
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
    const heard = stations.get(call)
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
    this.host.begun()
    this.host.set({ notice: undefined })
    this.send(event)
    return { ok: true }
  }

  private manner(): ExchangeManner {
    const { call, locator, finish, maxTries, maxCqTries, cqWord, opening, callerOrder } = this.host.profile()
    return { ownCall: call, ownLocator: locator, finish, maxTries, maxCqTries, opening, callerOrder, ...(cqWord && { cqWord }) }
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
    const { exchange, unfinished, source } = this.host.state()
    const now = this.host.clock.nowUtcMs()
    const kept = keepUnfinished(unfinished, ended ? unfinishedFrom(exchange, now) : undefined, now)
    if (kept !== unfinished) this.host.set({ unfinished: kept })
    if (source.kind !== 'microphone') return
    const underway = exchange.phase === 'underway' ? unfinishedFrom({ ...exchange, phase: 'ended', reason: 'stopped' }, now) : undefined
    this.host.unfinishedStore.save(keepUnfinished(kept, underway, now))
  }

  private contactMade(made: MadeContact): void {
    const { stations, worked: before, workedPlaces, source, unfinished } = this.host.state()
    const profile = this.host.profile()
    const activation = this.host.activation()
    const heardLocator = stations.get(made.call)?.locator
    const knownName = before.get(made.call)?.find((w) => w.name)?.name
    const clockUncertaintyMs = uncertaintyAt(this.host.clock.timebase, this.host.clock.nowUtcMs())
    const contact = contactFromExchange(made, {
      id: this.host.newId(),
      station: { ...profile, dialFrequencyHz: this.host.dialFrequencyHz() },
      source: source.kind === 'none' || source.kind === 'starting' ? 'microphone' : source.kind,
      // Practice and air never count together.
      ...(activation?.practice === (source.kind === 'practice') && { activation }),
      ...(heardLocator && { heardLocator }),
      ...(knownName && { knownName }),
      ...(clockUncertaintyMs !== undefined && { clockUncertaintyMs }),
    })
    const worked = new Map(before)
    const { call, band, mode, locator, name, startedUtcMs } = contact
    worked.set(call, [{ call, band, mode, locator, name, startedUtcMs }, ...(worked.get(call) ?? [])])
    this.host.set({
      workedPlaces: withPlace(workedPlaces, contact),
      worked,
      unfinished: unfinished.filter((u) => u.otherCall !== made.call),
    })
    void this.host.keep(contact)
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
    const { epoch } = this
    const outcome = await this.host.transmit(slotIndex, text, audioOffsetHz)
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

function withPlace(places: WorkedPlaces, { call, locator }: Contact): WorkedPlaces {
  const entity = allocationOf(call)
  return {
    locators: locator ? new Set(places.locators).add(locator.slice(0, 4).toUpperCase()) : places.locators,
    entities: entity ? new Set(places.entities).add(entity) : places.entities,
  }
}
