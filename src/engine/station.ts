// The one place where all parts of the running station meet; each part itself stands in a file of its own.
import { createStore, type StoreApi } from 'zustand/vanilla'
import type { Activation } from '@/core/activation'
import { hearSlot, SLOT_MS, tallySlot, type Ft8Decode } from '@/core/ft8'
import { emptyStation, type Station } from '@/core/station'
import { uncertaintyAt, type Occupancy, type Parity } from '@/core/time'
import { whyRefused, type GateNeed, type TestKind } from '@/core/transmit'
import type { ReceiveFault } from '@/standins'
import type { AudioBlock } from './audioBlock'
import type { PictureRow } from './bandPicture'
import { BandWatch } from './bandWatch'
import { ExchangeRunner, type StartResult } from './exchangeRunner'
import { HeardKeeper } from './heardKeeper'
import { LevelKeeper } from './levels/levelKeeper'
import { LevelTap } from './levelTap'
import type { ModemClient } from './modem/modem.client'
import { Outbox } from './outbox'
import { SlotReceiver } from './slotReceiver'
import { Sources, type PracticeOptions, type Recording } from './sources'
import { StationClock } from './stationClock'
import type { StationHost } from './stationHost'
import { StationLinks } from './stationLinks'
import { initialState, type DecodedSlot, type StationState } from './stationState'
import { TestSender, type TestOptions, type TestResult } from './testSender'
import { TimeKeeper } from './timeKeeper'
import { Transmitter, type Authority, type TransmitOutcome } from './transmitter'
import { WorkedKeeper } from './workedKeeper'

export type { StartResult } from './exchangeRunner'
export type { ServerClockListener, StationHost } from './stationHost'
export type { TestOptions, TestResult } from './testSender'

const TICK_MS = 40
/** Without audio for this long no more of the slot is expected. */
const STALLED_MS = 2000
const KEPT_DECODED_SLOTS = 40
/** So many slots in which audio went out are remembered. */
const KEPT_TRANSMITTED_SLOTS = 20

/** A running station: hears, decodes, conducts exchanges and transmits, and shows what it does in a store. */
export class RunningStation {
  readonly store: StoreApi<StationState> = createStore<StationState>(() => initialState)
  readonly clock: StationClock
  /** Sources of time, the band's opinion, the blind search. */
  readonly time: TimeKeeper
  /** What the level coach hears. */
  readonly levels: LevelKeeper
  private readonly sources: Sources
  private readonly band: BandWatch
  private readonly links: StationLinks
  private readonly transmitter: Transmitter
  private readonly tests: TestSender
  private readonly receiver: SlotReceiver
  private readonly runner: ExchangeRunner
  private readonly decoder: ModemClient
  private readonly modulator: ModemClient
  private readonly outbox: Outbox
  private readonly heardKeeper: HeardKeeper
  private readonly worked: WorkedKeeper
  private readonly blockListeners = new Set<(block: AudioBlock) => void>()
  private readonly timer: ReturnType<typeof setInterval>
  private readonly closeServerClock: () => void
  private readonly closeServerLinks: () => void
  private levelTap: LevelTap
  private profile: Station = emptyStation
  private activation: Activation | undefined
  /** Slots in which audio went out, so that nothing was heard. */
  private transmittedSlots = new Set<number>()

  constructor(private readonly host: StationHost) {
    this.clock = new StationClock(host.monotonicMs, host.wallUtcMs)
    const shared = {
      clock: this.clock,
      state: () => this.store.getState(),
      set: (change: Partial<StationState>) => this.store.setState(change),
      profile: () => this.profile,
      notify: (text: string) => this.notify(text),
    }
    this.time = new TimeKeeper(this.clock, host, shared.state, shared.set)
    this.levelTap = this.createLevelTap()
    this.levels = new LevelKeeper({ ...host, source: () => this.sources.source, set: shared.set })
    this.band = new BandWatch((occupancy) => this.store.setState({ occupancy }))
    this.heardKeeper = new HeardKeeper(host.newId, host.sendHeard)
    this.decoder = host.createModem()
    this.modulator = host.createModem()
    this.sources = new Sources({
      ...host,
      ...shared,
      onBlock: (block) => this.receive(block),
      onChange: (what) => this.sourceChanged(what),
      breakOff: (why) => this.breakOff(why),
      onWorld: () => this.time.sourceChanged(),
    })
    this.worked = new WorkedKeeper({ ...host, ...shared, epoch: () => this.sources.epoch })
    this.links = new StationLinks({ ...host, ...shared, silence: (why) => this.silence(why) })
    this.transmitter = new Transmitter({
      clock: this.clock,
      monotonicMs: host.monotonicMs,
      newId: host.newId,
      encode: (text, options) => this.modulator.encode(text, options),
      output: () => this.sources.output,
      keyer: () => this.links.keyer(),
      onChange: (gate, onAir) => {
        if (onAir) {
          this.transmittedSlots = new Set([...this.transmittedSlots].slice(-KEPT_TRANSMITTED_SLOTS)).add(onAir.slotIndex)
          this.band.forget(onAir.slotIndex)
        }
        const { onAir: before, keyedMs } = this.store.getState()
        const ended = before && !onAir ? Math.max(0, Math.min(this.clock.nowUtcMs(), before.endUtcMs) - before.startUtcMs) : 0
        this.store.setState({ gate, onAir, keyedMs: keyedMs + ended })
      },
    })
    this.tests = new TestSender({
      ...shared,
      transmitter: this.transmitter,
      output: () => this.sources.output,
      whyNot: () => this.whyNot(),
      begun: () => this.begun(),
      authority: () => this.authority(),
      onBlock: (listener) => this.onBlock(listener),
    })
    this.receiver = new SlotReceiver({
      ...shared,
      decoder: this.decoder,
      transmittedIn: (slotIndex) => this.transmittedSlots.has(slotIndex),
      onEarly: (slotIndex, decodes) => this.runner.heard(slotIndex, decodes, true),
      onDecoded: (slot, correctionMs) => this.decoded(slot, correctionMs),
      onProblem: shared.notify,
    })
    this.runner = new ExchangeRunner({
      ...shared,
      newId: host.newId,
      dialFrequencyHz: () => this.links.dialFrequencyHz(),
      activation: () => this.activation,
      whyNot: () => this.whyNot(),
      begun: () => this.begun(),
      isDecoding: (slotIndex) => this.receiver.isDecoding(slotIndex),
      transmit: (slotIndex, text, audioOffsetHz) => this.transmit(slotIndex, text, audioOffsetHz),
      keep: (contact) => this.outbox.add(contact),
      unfinishedStore: host.unfinishedStore,
    })
    this.outbox = new Outbox(host.outboxStore, host.sendContacts, ({ waiting, problem, stored }) =>
      this.store.setState({ waitingContacts: waiting, storeProblem: problem, storedCount: stored }),
    )
    this.store.setState({ gate: this.transmitter.state })
    this.closeServerClock = host.openServerClock({
      onReadings: (readings) => readings.forEach((reading) => this.time.read(reading)),
      onState: shared.set,
    })
    this.closeServerLinks = host.openServerLinks((links) => this.links.changed(links))
    this.timer = setInterval(() => this.tick(), TICK_MS)
    void this.outbox.flush()
  }

  close(): void {
    clearInterval(this.timer)
    this.silence('The station was closed.')
    this.sources.close()
    this.closeServerClock()
    this.closeServerLinks()
    this.time.close()
    this.levels.close()
    this.outbox.stop()
    this.decoder.close()
    this.modulator.close()
  }

  setProfile(profile: Station): void {
    this.profile = profile
  }

  /** Contacts made from now on carry its references. */
  setActivation(activation: Activation | undefined): void {
    this.activation = activation
  }

  /** Hands over the rows of the last minute at once, then each new one. @returns a function that ends it */
  onPicture(listener: (row: PictureRow) => void): () => void {
    return this.band.onPicture(listener)
  }

  /** A sign of life of the operator, for the watchdog on unattended operation. */
  personActed(): void {
    this.transmitter.send({ type: 'personActed', nowMs: this.host.monotonicMs() })
  }

  retryStoring(): void {
    void this.outbox.flush()
  }

  // Sources

  listenToMicrophone(deviceId: string | undefined, outputId: string | undefined): Promise<void> {
    return this.sources.listenToMicrophone(deviceId, outputId)
  }

  /** Plays a recording (12 kHz) into the station as consecutive slots from its start. */
  playRecording(recording: Recording, pace: number): void {
    this.sources.playRecording(recording, pace)
  }

  startPractice(options: PracticeOptions, outputId: string | undefined): Promise<void> {
    return this.sources.startPractice(options, outputId)
  }

  /** Changes what is wrong with the practice receiver, from the next slot on. */
  setPracticeFaults(faults: readonly ReceiveFault[]): void {
    this.sources.setPracticeFaults(faults)
  }

  stopListening(): void {
    this.sources.stopListening()
  }

  private sourceChanged(what: 'microphone' | 'recording' | 'practice' | undefined): void {
    this.receiver.restart()
    this.band.restart()
    this.levelTap = this.createLevelTap()
    this.levels.restart(true)
    this.transmittedSlots.clear()
    const { holder, gate, waitingContacts, storeProblem, storedCount } = this.store.getState()
    const { clockNotes, clockPoints, clockSimulated, serverClock, serverLink, browserReceiver, links } = this.store.getState()
    this.store.setState({
      ...initialState,
      ...{ holder, gate, waitingContacts, storeProblem, storedCount },
      ...{ clockNotes, serverClock, serverLink, browserReceiver, links },
      // Points of a simulated clock end with its world.
      clockPoints: clockSimulated ? [] : clockPoints,
      source: what ? { kind: 'starting', what } : { kind: 'none' },
    })
    this.runner.restart(what === 'microphone')
    if (what) void this.worked.askPlaces(what === 'practice')
    this.time.sourceChanged()
  }

  private createLevelTap(): LevelTap {
    return new LevelTap(this.host.monotonicMs, (level) => this.store.setState({ level, lastBlockUtcMs: level.utcMs }))
  }

  /** Without ears nothing may go on being said. */
  private breakOff(why: string): void {
    const { exchange, onAir } = this.store.getState()
    if (exchange.phase === 'underway' || onAir) this.silence(why)
  }

  // Receiving

  private receive(block: AudioBlock): void {
    this.receiver.push(block)
    this.band.push(block)
    this.levelTap.push(block)
    this.levels.push(block)
    this.blockListeners.forEach((listener) => listener(block))
    this.time.blind.block(block)
  }

  private decoded(slot: DecodedSlot, correctionMs: number): void {
    const { slotIndex, decodes } = slot
    const state = this.store.getState()
    const stations = hearSlot(state.stations, slotIndex, decodes, this.profile.call)
    const spoilt = state.spoiltSlots.some((s) => s.slotIndex === slotIndex)
    const tally = tallySlot(state.tally, { ...slot, messages: decodes.length, spoilt })
    this.store.setState({ slots: [...state.slots, slot].slice(-KEPT_DECODED_SLOTS), stations, tally })
    this.runner.heard(slotIndex, decodes, false)
    this.time.heard(slotIndex, decodes, correctionMs)
    void this.worked.askCalls(stations, this.sources.source?.kind === 'practice')
    this.keepHeard(slotIndex, decodes)
  }

  private keepHeard(slotIndex: number, decodes: readonly Ft8Decode[]): void {
    const source = this.sources.source?.kind
    if (!source) return
    const clockUncertaintyMs = uncertaintyAt(this.clock.timebase, this.clock.nowUtcMs()) ?? null
    void this.heardKeeper.keep(decodes, { slotIndex, source, dialFrequencyHz: this.links.dialFrequencyHz(), clockUncertaintyMs })
  }

  // Clock

  /** Looks for the slots in what is heard, with the clock unknown. A recording is searched from its start. */
  findSlots(): void {
    if (this.sources.source) this.time.blind.find(this.sources.recording)
  }

  /** Whether nothing more of the present slot's audio is on its way to the decoder. */
  private slotOver(): boolean {
    return this.sources.silentMs > STALLED_MS || this.receiver.handedOver >= Math.floor(this.clock.nowUtcMs() / SLOT_MS)
  }

  private occupancy(): Occupancy {
    const { exchange, onAir } = this.store.getState()
    if (onAir || exchange.phase === 'underway') return 'contact'
    return this.sources.source ? 'listening' : 'free'
  }

  // Exchanges

  /** A person begins something: alarms so far have been seen. */
  private begun(): void {
    this.links.acknowledge()
    this.transmitter.send({ type: 'started', nowMs: this.host.monotonicMs() })
  }

  /** Why nothing could be sent now, or undefined when it could. */
  whyNot(): { why: string; need: GateNeed | 'source' } | undefined {
    if (!this.sources.output)
      return {
        why: this.sources.source?.kind === 'recording' ? 'A recording cannot be answered.' : 'Nothing is being listened to.',
        need: 'source',
      }
    if (!this.profile.locator) return { why: 'No locator is set.', need: 'ownCall' }
    const nowMs = this.host.monotonicMs()
    const transmission = { id: '', what: '', startMs: nowMs, endMs: nowMs + 13_000 }
    const refusal = whyRefused(
      { ...this.transmitter.state, silenced: null, lastPersonMs: nowMs, keyed: null },
      { nowMs, transmission, ...this.authority() },
    )
    return refusal
  }

  /** The operator has made the first-transmission check. */
  passCheck(): void {
    this.transmitter.send({ type: 'checkPassed', nowMs: this.host.monotonicMs(), ...this.links.unmeteredBand() })
  }

  /** Starts an exchange with a station that was heard, or takes up one that broke off. Only a person calls this. */
  answer(call: string, audioOffsetHz: number): StartResult {
    return this.runner.answer(call, audioOffsetHz)
  }

  /** Starts calling CQ. Only a person calls this. */
  callCq(txParity: Parity, audioOffsetHz: number): StartResult {
    return this.runner.callCq(txParity, audioOffsetHz)
  }

  /** Sends a free text once, within an exchange or on its own. Only a person calls this. */
  say(text: string, txParity: Parity, audioOffsetHz: number): StartResult {
    return this.runner.say(text, txParity, audioOffsetHz)
  }

  /** Says the last words of an ended exchange once more. Only a person calls this. */
  sayAgain(): StartResult {
    return this.runner.sayAgain()
  }

  /** Puts those who wait to be answered into an order. */
  arrangeCallers(calls: readonly string[]): void {
    this.runner.send({ type: 'arrange', calls })
  }

  /** Sends a test signal at once, and gathers what is heard of it. Only a person calls this. */
  sendTest(kind: TestKind, options: TestOptions): Promise<TestResult> {
    return this.tests.send(kind, options)
  }

  private onBlock(listener: (block: AudioBlock) => void): () => void {
    this.blockListeners.add(listener)
    return () => this.blockListeners.delete(listener)
  }

  /** Corrects the output by a measured delay, from the next transmission on. */
  setOutputDelayMs(delayMs: number): void {
    this.sources.output?.setDelayMs?.(delayMs)
  }

  /** Ends the exchange after what is on the air now. */
  stopExchange(): void {
    this.runner.send({ type: 'stop' })
  }

  /** Everything silent at once. */
  silence(why = 'Silenced by the operator.'): void {
    this.transmitter.silence(why)
    this.runner.send({ type: 'silence' })
  }

  private tick(): void {
    this.time.tick(this.occupancy(), this.slotOver())
    this.transmitter.send({ type: 'tick', nowMs: this.host.monotonicMs() })
    this.runner.tick()
  }

  /** In whose name is sent, and what the gate asks of it. */
  private authority(): Authority {
    const { call, licenceConfirmedUtcMs } = this.profile
    return { ownCall: call, licenceConfirmed: licenceConfirmedUtcMs !== null, ...this.links.unmeteredBand() }
  }

  private transmit(slotIndex: number, text: string, audioOffsetHz: number): Promise<TransmitOutcome> {
    return this.transmitter.transmit({
      slotIndex,
      text,
      audioOffsetHz,
      amplitude: this.profile.transmitLevel,
      // A tone to trip a VOX is not needed by a radio that is keyed.
      voxLeadInMs: this.links.keys ? 0 : this.profile.voxLeadInMs,
      ...this.authority(),
    })
  }

  private notify(text: string): void {
    this.store.setState({ notice: { text, utcMs: this.clock.nowUtcMs() } })
  }
}
