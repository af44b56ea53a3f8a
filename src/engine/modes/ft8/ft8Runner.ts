import { createStore, type StoreApi } from 'zustand/vanilla'
import { createLaneMeter, hearSlot, NOMINAL_START_S, SLOT_MS, tallySlot, TRANSMISSION_S, type Ft8Decode } from '@/core/ft8'
import type { Parity } from '@/core/time'
import type { OnAir } from '../../station/air'
import type { AudioBlock } from '../../station/audioBlock'
import { PICTURE_BIN_HZ, type PictureRow } from '../../station/bandPicture'
import type { HeardEvent } from '../../station/heardKeeper'
import type { ModeHost, ModeRunner, Refusal, SourceKind, StartResult } from '../runner'
import { BLIND_WANTED_S } from './blindCapture'
import { BlindSearch } from './blindSearch'
import { ExchangeRunner, type UnfinishedStore } from './exchangeRunner'
import { transmissionOf } from './ft8Audio'
import type { ModemClient } from './modem.client'
import { SlotReceiver } from './slotReceiver'
import { initialFt8State, type DecodedSlot, type Ft8State } from './state'

/** What FT8 needs from where it runs. */
export interface Ft8Resources {
  createModem: () => ModemClient
  unfinishedStore: UnfinishedStore
}

const KEPT_DECODED_SLOTS = 40
/** So many slots in which audio went out are remembered. */
const KEPT_TRANSMITTED_SLOTS = 20

/** FT8 as it runs: slots are decoded, exchanges conducted, lanes watched, and what is found goes to log, heard list and clock. */
export class Ft8Runner implements ModeRunner<Ft8State> {
  readonly id = 'ft8'
  readonly state: StoreApi<Ft8State> = createStore<Ft8State>(() => initialFt8State)
  private readonly decoder: ModemClient
  private readonly modulator: ModemClient
  private readonly receiver: SlotReceiver
  private readonly exchange: ExchangeRunner
  private readonly blind: BlindSearch
  private lanes = this.createLanes()
  /** Slots in which audio went out, so that nothing was heard. */
  private transmittedSlots = new Set<number>()

  constructor(
    private readonly host: ModeHost,
    resources: Ft8Resources,
  ) {
    this.decoder = resources.createModem()
    this.modulator = resources.createModem()
    const shared = {
      clock: host.clock,
      source: () => host.station().source,
      state: () => this.state.getState(),
      set: (change: Partial<Ft8State>) => this.state.setState(change),
    }
    this.blind = new BlindSearch(host.clock, resources.createModem, shared.set)
    this.receiver = new SlotReceiver({
      ...shared,
      decoder: this.decoder,
      ownCall: () => host.profile().call,
      depth: () => host.profile().modes.ft8.depth,
      transmittedIn: (slotIndex) => this.transmittedSlots.has(slotIndex),
      onEarly: (slotIndex, decodes) => this.exchange.heard(slotIndex, decodes, true),
      onDecoded: (slot, correctionMs) => this.decoded(slot, correctionMs),
      onProblem: host.notify,
    })
    this.exchange = new ExchangeRunner({
      ...shared,
      profile: host.profile,
      whyNot: () => this.whyNot(),
      begin: host.begin,
      isDecoding: (slotIndex) => this.receiver.isDecoding(slotIndex),
      transmit: (slotIndex, text, audioOffsetHz, grant) => host.air.send(this.transmission(slotIndex, text, audioOffsetHz), grant),
      made: (contact) => void host.contacts.made(contact),
      unfinishedStore: resources.unfinishedStore,
      notify: host.notify,
    })
  }

  restart(what: SourceKind | undefined): void {
    this.receiver.restart()
    this.lanes = this.createLanes()
    this.transmittedSlots.clear()
    this.blind.cancel()
    this.state.setState(initialFt8State)
    this.exchange.restart(what === 'microphone')
  }

  block(block: AudioBlock): void {
    this.receiver.push(block)
    this.blind.block(block)
  }

  row({ utcMs, levels }: PictureRow): void {
    this.lanes.push(utcMs, levels)
  }

  sending({ startUtcMs }: OnAir): void {
    const slotIndex = Math.floor(startUtcMs / SLOT_MS)
    this.transmittedSlots = new Set([...this.transmittedSlots].slice(-KEPT_TRANSMITTED_SLOTS)).add(slotIndex)
    this.lanes.forget(slotIndex)
  }

  tick(): void {
    this.exchange.tick()
  }

  upcoming() {
    return this.exchange.upcoming()
  }

  busy(): boolean {
    return this.state.getState().exchange.phase === 'underway'
  }

  settled(): boolean {
    return this.receiver.handedOver >= Math.floor(this.host.clock.nowUtcMs() / SLOT_MS)
  }

  silence(): void {
    this.exchange.send({ type: 'silence' })
  }

  close(): void {
    this.blind.cancel()
    this.decoder.close()
    this.modulator.close()
  }

  /** Why nothing could be sent now: every message of an exchange may carry the locator. */
  private whyNot(): Refusal | undefined {
    if (this.host.station().source.kind !== 'none' && !this.host.profile().locator) return { why: 'No locator is set.', need: 'ownCall' }
    return this.host.whyNot()
  }

  // What a person does

  /** Starts an exchange with a station that was heard, or takes up one that broke off. */
  answer(call: string, audioOffsetHz: number): StartResult {
    return this.exchange.answer(call, audioOffsetHz)
  }

  callCq(txParity: Parity, audioOffsetHz: number): StartResult {
    return this.exchange.callCq(txParity, audioOffsetHz)
  }

  /** Sends a free text once, within an exchange or on its own. */
  say(text: string, txParity: Parity, audioOffsetHz: number): StartResult {
    return this.exchange.say(text, txParity, audioOffsetHz)
  }

  /** Says the last words of an ended exchange once more. */
  sayAgain(): StartResult {
    return this.exchange.sayAgain()
  }

  /** Puts those who wait to be answered into an order. */
  arrangeCallers(calls: readonly string[]): void {
    this.exchange.send({ type: 'arrange', calls })
  }

  /** Ends the exchange after what is on the air now. */
  stopExchange(): void {
    this.exchange.send({ type: 'stop' })
  }

  /** Looks for the slots in what is heard, with the clock unknown. A recording is searched from its start. */
  findSlots(): void {
    if (this.host.station().source.kind !== 'none') this.blind.find(this.host.recording())
  }

  dropFound(): void {
    this.blind.cancel()
  }

  /** The operator confirms the slots that were found by ear. @param slots whole slots to add to what the application proposes */
  acceptFound(slots: number): void {
    const taken = this.blind.take(slots)
    if (taken) this.host.time.takeSlots({ ...taken, windowMs: BLIND_WANTED_S * 1000 })
  }

  // Receiving

  private decoded(slot: DecodedSlot, correctionMs: number): void {
    const { slotIndex, decodes } = slot
    const state = this.state.getState()
    const { spoiltSlots, source } = this.host.station()
    const stations = hearSlot(state.stations, slotIndex, decodes, this.host.profile().call)
    const spoilt = spoiltSlots.some((s) => s.slotIndex === slotIndex)
    const tally = tallySlot(state.tally, { ...slot, messages: decodes.length, spoilt })
    this.state.setState({ slots: [...state.slots, slot].slice(-KEPT_DECODED_SLOTS), stations, tally })
    this.exchange.heard(slotIndex, decodes, false)
    this.host.time.heard(slotIndex, offsetsOf(decodes), correctionMs)
    void this.host.worked.askCalls(Object.keys(stations), source.kind === 'practice')
    void this.host.heard.keep(decodes.map((decode) => eventOf(slotIndex, decode)))
  }

  private createLanes() {
    return createLaneMeter(PICTURE_BIN_HZ, (occupancy) => this.state.setState({ occupancy }))
  }

  private transmission(slotIndex: number, text: string, audioOffsetHz: number) {
    const { transmitLevel, voxLeadInMs } = this.host.profile()
    return transmissionOf(
      // A tone to trip a VOX is not needed by a radio that is keyed.
      { slotIndex, text, audioOffsetHz, amplitude: transmitLevel, voxLeadInMs: this.host.keyedByLink() ? 0 : voxLeadInMs },
      (words, options) => this.modulator.encode(words, options),
    )
  }
}

function offsetsOf(decodes: readonly Ft8Decode[]) {
  return decodes.flatMap(({ message, timeOffsetS, snrDb }) =>
    'from' in message && message.from ? [{ call: message.from, timeOffsetS, snrDb }] : [],
  )
}

function eventOf(slotIndex: number, d: Ft8Decode): HeardEvent {
  const startUtcMs = slotIndex * SLOT_MS + (NOMINAL_START_S + d.timeOffsetS) * 1000
  return {
    mode: 'ft8',
    startUtcMs,
    endUtcMs: startUtcMs + TRANSMISSION_S * 1000,
    text: d.text,
    call: 'from' in d.message ? (d.message.from ?? null) : null,
    locator: d.message.kind === 'standard' && d.message.info.kind === 'locator' ? d.message.info.locator : null,
    snrDb: d.snrDb,
    audioOffsetHz: d.frequencyHz,
    details: { timeOffsetS: d.timeOffsetS, pass: d.pass },
  }
}
