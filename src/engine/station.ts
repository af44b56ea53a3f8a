// The one place where all parts of the running station meet; each part itself stands in a file of its own.
import { createStore, type StoreApi } from 'zustand/vanilla'
import type { Activation } from '@/core/activation'
import { createLaneMeter, hearSlot, SAMPLE_RATE_HZ, SLOT_MS, tallySlot, type Ft8Decode, type HeardStation } from '@/core/ft8'
import type { HeardReport } from '@/core/station/heardContract'
import { emptyStation, type Station } from '@/core/station'
import type { LevelHistoryEntry } from '@/core/levels'
import { bandWithoutMeter, dialOfRadio, type ClockHistoryEntry, type LinkState } from '@/core/links'
import { uncertaintyAt, type ClockReading, type Drift, type Occupancy, type Parity } from '@/core/time'
import { makeTestSignal, whyRefused, type GateNeed, type TestKind } from '@/core/transmit'
import { assemble, type AudioBlock, type AudioSource, type OnBlock } from './audioBlock'
import type { AudioOutput } from './audioOutput'
import { BandPicture, PICTURE_BIN_HZ, type PictureRow } from './bandPicture'
import { ExchangeRunner, type StartResult, type UnfinishedStore } from './exchangeRunner'
import { HeardKeeper } from './heardKeeper'
import { LinkKeyer, LinkWatch, type Keyer, type SendKey } from './keyer'
import type { ExaminerClient } from './levels/examiner.client'
import { LevelKeeper } from './levels/levelKeeper'
import { LevelTap } from './levelTap'
import type { ModemClient } from './modem/modem.client'
import { Outbox, type OutboxStore, type SendContacts } from './outbox'
import { PacedSource, type SlotOfAudio } from './pacedSource'
import type { ReceiveFault } from '@/standins'
import type { PracticeClient } from './practice/practice.client'
import { PracticeOutput } from './practice/practiceOutput'
import { SlotReceiver } from './slotReceiver'
import { StationClock } from './stationClock'
import { initialState, type DecodedSlot, type StationState, type WorkedBefore, type WorkedPlaces } from './stationState'
import { TimeKeeper } from './timeKeeper'
import { Transmitter, type TransmitOutcome } from './transmitter'

/** What a station needs from where it runs; a browser gives it, and tests do. */
export interface StationHost {
  monotonicMs: () => number
  wallUtcMs: () => number
  newId: () => string
  createModem: () => ModemClient
  createPractice: () => PracticeClient
  createExaminer: () => ExaminerClient
  openMicrophone: (
    deviceId: string | undefined,
    clock: StationClock,
    onBlock: OnBlock,
    onLost: (why: string) => void,
  ) => Promise<{ ok: true; source: AudioSource; warnings: string[] } | { ok: false; error: string }>
  openOutput: (
    deviceId: string | undefined,
    clock: StationClock,
  ) => Promise<{ ok: true; output: AudioOutput } | { ok: false; error: string }>
  outboxStore: OutboxStore
  sendContacts: SendContacts
  sendHeard: (reports: HeardReport[]) => Promise<boolean>
  askWorked: (calls: string[], practice: boolean) => Promise<WorkedBefore[] | undefined>
  askPlaces: (practice: boolean) => Promise<WorkedPlaces | undefined>
  sendLevelHistory: (entries: LevelHistoryEntry[]) => Promise<boolean>
  sendClockHistory: (entries: ClockHistoryEntry[]) => Promise<boolean>
  driftStore: { load(): Drift | undefined; save(drift: Drift): void }
  unfinishedStore: UnfinishedStore
  /** Listens to what the server knows of time. @returns a function that ends it */
  openServerClock: (listener: ServerClockListener) => () => void
  /** Listens to what the server knows of its links. @returns a function that ends it */
  openServerLinks: (onState: (links: LinkState | undefined) => void) => () => void
  sendKey: SendKey
}

/** Who is told what the server knows of time. */
export interface ServerClockListener {
  /** Readings, carried over to this device's monotonic clock. */
  onReadings(readings: readonly ClockReading[]): void
  onState(change: Partial<Pick<StationState, 'serverClock' | 'serverLink'>>): void
}

export interface PracticeOptions {
  seed: number
  stations: number
  pace: number
  audible: boolean
  /** How far off the station's clock is to be, as an exercise; 0 for a perfect one. */
  clockErrorMs: number
  /** What is to be wrong with the receiver, as an exercise. */
  faults: readonly ReceiveFault[]
}

/** A recording as it is played into the station. */
export interface Recording {
  label: string
  /** Mono at 12 kHz. */
  samples: Float32Array
  /** A stretch of it as it was recorded, each channel at its own rate, for the level coach. */
  original?: { rateHz: number; channels(fromS: number, toS: number): Float32Array[] }
}

export interface TestOptions {
  /** Peak, share of full scale. */
  amplitude: number
  durationS: number
  goesOn?: boolean
}

export type TestResult = { sent: true; complete: boolean; heard: Float32Array } | { sent: false; why: string; need: GateNeed | 'source' }

const TEST_WORDS: Record<TestKind, string> = {
  tone: 'Test tone',
  twoTone: 'Test, two tones',
  mode: 'Test in FT8',
  ramp: 'Test tone, rising',
  vox: 'Test of the VOX',
  latency: 'Test of the delay',
  carrier: 'Tuning carrier',
}
/** What comes back late is waited for this long. */
const TEST_TAIL_MS = 1200

export type { StartResult } from './exchangeRunner'

const TICK_MS = 40
/** Without audio for this long no more of the slot is expected. */
const STALLED_MS = 2000
const KEPT_DECODED_SLOTS = 40
/** One minute of the band picture, six rows a second, so that it is there when its screen is opened. */
const KEPT_PICTURE_ROWS = 375
/** A running station: hears, decodes, conducts exchanges and transmits, and shows what it does in a store. */
export class RunningStation {
  readonly store: StoreApi<StationState> = createStore<StationState>(() => initialState)
  readonly clock: StationClock
  /** Sources of time, the band's opinion, the blind search. */
  readonly time: TimeKeeper
  /** What the level coach hears. */
  readonly levels: LevelKeeper
  private readonly transmitter: Transmitter
  private readonly receiver: SlotReceiver
  private readonly runner: ExchangeRunner
  private readonly decoder: ModemClient
  private readonly modulator: ModemClient
  private readonly outbox: Outbox
  private readonly heardKeeper: HeardKeeper
  private readonly blockListeners = new Set<(block: AudioBlock) => void>()
  private readonly pictureListeners = new Set<(row: PictureRow) => void>()
  private readonly timer: ReturnType<typeof setInterval>
  private readonly closeServerClock: () => void
  private readonly closeServerLinks: () => void
  private readonly linkKeyer: LinkKeyer
  private readonly linkWatch: LinkWatch
  /** Number of the last alarm of the links after which a person has begun anew. */
  private acknowledgedAlarm = 0
  private pictureRows: PictureRow[] = []
  private picture = this.createPicture()
  private laneMeter = this.createLaneMeter()
  private levelTap: LevelTap
  private profile: Station = emptyStation
  private activation: Activation | undefined
  private source: AudioSource | undefined
  private output: AudioOutput | undefined
  private practice: PracticeClient | undefined
  private recording: { samples: Float32Array; startMonotonicMs: number } | undefined
  private lastBlockMs = -Infinity
  /** Slots in which audio went out, so that nothing was heard. */
  private transmittedSlots = new Set<number>()
  /** Grows with every change of source: results of work begun before it are dropped. */
  private epoch = 0

  constructor(private readonly host: StationHost) {
    this.clock = new StationClock(host.monotonicMs, host.wallUtcMs)
    this.time = new TimeKeeper(
      this.clock,
      host,
      () => this.store.getState(),
      (change) => this.store.setState(change),
    )
    this.levelTap = this.createLevelTap()
    this.levels = new LevelKeeper({
      ...host,
      source: () => this.source,
      set: (change) => this.store.setState(change),
    })
    this.heardKeeper = new HeardKeeper(host.newId, host.sendHeard)
    this.decoder = host.createModem()
    this.modulator = host.createModem()
    this.transmitter = new Transmitter({
      clock: this.clock,
      monotonicMs: host.monotonicMs,
      newId: host.newId,
      encode: (text, options) => this.modulator.encode(text, options),
      output: () => this.output,
      keyer: () => this.keyer(),
      onChange: (gate, onAir) => {
        if (onAir) {
          this.transmittedSlots = new Set([...this.transmittedSlots].slice(-20)).add(onAir.slotIndex)
          this.laneMeter.forget(onAir.slotIndex)
        }
        const { onAir: before, keyedMs } = this.store.getState()
        const ended = before && !onAir ? Math.max(0, Math.min(this.clock.nowUtcMs(), before.endUtcMs) - before.startUtcMs) : 0
        this.store.setState({ gate, onAir, keyedMs: keyedMs + ended })
      },
    })
    const shared = {
      clock: this.clock,
      state: () => this.store.getState(),
      set: (change: Partial<StationState>) => this.store.setState(change),
      profile: () => this.profile,
    }
    this.receiver = new SlotReceiver({
      ...shared,
      decoder: this.decoder,
      transmittedIn: (slotIndex) => this.transmittedSlots.has(slotIndex),
      onEarly: (slotIndex, decodes) => this.runner.heard(slotIndex, decodes, true),
      onDecoded: (slot, correctionMs) => this.decoded(slot, correctionMs),
      onProblem: (what) => this.notify(what),
    })
    this.runner = new ExchangeRunner({
      ...shared,
      newId: host.newId,
      dialFrequencyHz: () => this.dialFrequencyHz(),
      activation: () => this.activation,
      whyNot: () => this.whyNot(),
      begun: () => this.begun(),
      isDecoding: (slotIndex) => this.receiver.isDecoding(slotIndex),
      transmit: (slotIndex, text, audioOffsetHz) => this.transmit(slotIndex, text, audioOffsetHz),
      keep: (contact) => this.outbox.add(contact),
      unfinishedStore: host.unfinishedStore,
      notify: (text) => this.notify(text),
    })
    this.outbox = new Outbox(host.outboxStore, host.sendContacts, ({ waiting, problem, stored }) =>
      this.store.setState({ waitingContacts: waiting, storeProblem: problem, storedCount: stored }),
    )
    this.store.setState({ gate: this.transmitter.state })
    this.closeServerClock = host.openServerClock({
      onReadings: (readings) => readings.forEach((reading) => this.time.read(reading)),
      onState: (change) => this.store.setState(change),
    })
    this.linkKeyer = new LinkKeyer({
      links: () => this.store.getState().links,
      send: host.sendKey,
      acknowledged: () => this.acknowledgedAlarm,
      onLost: (why) => this.silence(why),
    })
    this.linkWatch = new LinkWatch({ send: host.sendKey, acknowledged: () => this.acknowledgedAlarm })
    this.closeServerLinks = host.openServerLinks((links) => this.linksChanged(links))
    this.timer = setInterval(() => this.tick(), TICK_MS)
    void this.outbox.flush()
  }

  close(): void {
    clearInterval(this.timer)
    this.silence('The station was closed.')
    this.stopSource()
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
    this.pictureRows.forEach(listener)
    this.pictureListeners.add(listener)
    return () => this.pictureListeners.delete(listener)
  }

  /** A sign of life of the operator, for the watchdog on unattended operation. */
  personActed(): void {
    this.transmitter.send({ type: 'personActed', nowMs: this.host.monotonicMs() })
  }

  retryStoring(): void {
    void this.outbox.flush()
  }

  // Sources

  async listenToMicrophone(deviceId: string | undefined, outputId: string | undefined): Promise<void> {
    const epoch = this.beginSource('microphone')
    const opened = await this.host.openMicrophone(
      deviceId,
      this.clock,
      (block) => this.receive(epoch, block),
      (why) => this.sourceLost(epoch, why),
    )
    if (epoch !== this.epoch) {
      if (opened.ok) opened.source.stop()
      return
    }
    if (!opened.ok) {
      this.store.setState({ source: { kind: 'none', problem: opened.error } })
      return
    }
    this.source = opened.source
    this.store.setState({ source: { kind: 'microphone', label: opened.source.label, warnings: opened.warnings, pace: 1 } })
    const output = await this.host.openOutput(outputId, this.clock)
    if (epoch !== this.epoch) return
    if (output.ok) this.output = output.output
    this.store.setState({ outputProblem: output.ok ? undefined : output.error })
  }

  /** Plays a recording (12 kHz) into the station as consecutive slots from its start. */
  playRecording({ label, samples, original }: Recording, pace: number): void {
    const epoch = this.beginSource('recording')
    const startUtcMs = Math.floor(this.host.wallUtcMs() / SLOT_MS) * SLOT_MS
    const firstSlot = startUtcMs / SLOT_MS
    this.clock.simulate({ startUtcMs, pace })
    this.recording = { samples, startMonotonicMs: startUtcMs }
    const slotLength = (SLOT_MS * SAMPLE_RATE_HZ) / 1000
    this.source = new PacedSource({
      kind: 'recording',
      label,
      clock: this.clock,
      slotAudio: (slotIndex) => {
        const from = (slotIndex - firstSlot) * slotLength
        if (from >= samples.length) return Promise.resolve(undefined)
        const slot: SlotOfAudio = { samples: samples.slice(from, from + slotLength) }
        if (!original) return Promise.resolve(slot)
        const fromS = ((slotIndex - firstSlot) * SLOT_MS) / 1000
        return Promise.resolve({ ...slot, raw: { rateHz: original.rateHz, channels: original.channels(fromS, fromS + SLOT_MS / 1000) } })
      },
      onBlock: (block) => this.receive(epoch, block),
      onEnd: () => this.sourceLost(epoch, `The recording "${label}" has ended.`),
      onProblem: (error) => this.sourceLost(epoch, error),
    })
    this.store.setState({ source: { kind: 'recording', label, warnings: [], pace } })
    this.time.sourceChanged()
  }

  async startPractice(
    { seed, stations, pace, audible, clockErrorMs, faults }: PracticeOptions,
    outputId: string | undefined,
  ): Promise<void> {
    const epoch = this.beginSource('practice')
    const practice = this.host.createPractice()
    this.practice = practice
    await practice.start({ seed, stations, faults })
    const opened = audible && pace === 1 ? await this.host.openOutput(outputId, this.clock) : undefined
    if (epoch !== this.epoch) return
    this.clock.simulate({ startUtcMs: Math.ceil(this.host.wallUtcMs() / SLOT_MS) * SLOT_MS, pace, clockErrorMs })
    const output = new PracticeOutput(this.clock, practice, opened?.ok ? opened.output : undefined, (copied) => {
      if (!copied && epoch === this.epoch) this.notify('Nobody on the practice band could copy that transmission.')
    })
    this.output = output
    this.source = new PacedSource({
      kind: 'practice',
      label: `Practice band, ${stations} stations`,
      clock: this.clock,
      slotAudio: async (slotIndex) => {
        const { samples, channels } = await practice.renderSlot(slotIndex)
        return { samples, raw: { channels, rateHz: SAMPLE_RATE_HZ } }
      },
      // What the operator sends bears on who answers.
      unsettled: () => output.busy,
      onBlock: (block) => this.receive(epoch, block),
      onEnd: () => undefined,
      onProblem: (error) => this.sourceLost(epoch, `The practice band stopped: ${error}`),
    })
    const warnings = opened && !opened.ok ? [opened.error] : []
    this.store.setState({ source: { kind: 'practice', label: this.source.label, warnings, pace }, practiceFaults: faults })
    this.time.sourceChanged()
  }

  /** Changes what is wrong with the practice receiver, from the next slot on. */
  setPracticeFaults(faults: readonly ReceiveFault[]): void {
    if (!this.practice) return
    this.store.setState({ practiceFaults: faults })
    void this.practice.setFaults(faults)
  }

  stopListening(): void {
    this.beginSource(undefined)
  }

  private beginSource(what: 'microphone' | 'recording' | 'practice' | undefined): number {
    this.epoch++
    this.breakOff('The source of audio was changed.')
    this.stopSource()
    this.clock.endSimulation()
    this.receiver.restart()
    this.pictureRows = []
    this.picture = this.createPicture()
    this.laneMeter = this.createLaneMeter()
    this.recording = undefined
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
    if (what) void this.askPlaces(what === 'practice')
    this.time.sourceChanged()
    return this.epoch
  }

  private createLevelTap(): LevelTap {
    return new LevelTap(this.host.monotonicMs, (level) => this.store.setState({ level, lastBlockUtcMs: level.utcMs }))
  }

  private createPicture(): BandPicture {
    return new BandPicture((row) => {
      this.pictureRows.push(row)
      if (this.pictureRows.length > KEPT_PICTURE_ROWS) this.pictureRows.shift()
      this.pictureListeners.forEach((listener) => listener(row))
      this.laneMeter.push(row.utcMs, row.levels)
    })
  }

  private createLaneMeter() {
    return createLaneMeter(PICTURE_BIN_HZ, (occupancy) => this.store.setState({ occupancy }))
  }

  private stopSource(): void {
    this.source?.stop()
    this.source = undefined
    this.output?.stop()
    this.output = undefined
    this.practice?.close()
    this.practice = undefined
  }

  /** Without ears nothing may go on being said. */
  private breakOff(why: string): void {
    const { exchange, onAir } = this.store.getState()
    if (exchange.phase === 'underway' || onAir) this.silence(why)
  }

  private sourceLost(epoch: number, why: string): void {
    if (epoch !== this.epoch) return
    this.breakOff(why)
    this.stopSource()
    this.store.setState({ source: { kind: 'none', problem: why }, level: undefined })
  }

  // Receiving

  private receive(epoch: number, block: AudioBlock): void {
    if (epoch !== this.epoch) return
    this.lastBlockMs = this.host.monotonicMs()
    this.receiver.push(block)
    this.picture.push(block)
    this.levelTap.push(block)
    this.levels.push(block)
    this.blockListeners.forEach((listener) => listener(block))
    this.time.block(block)
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
    void this.askWorked(stations)
    this.keepHeard(slotIndex, decodes)
  }

  private async askWorked(stations: ReadonlyMap<string, HeardStation>): Promise<void> {
    const { epoch } = this
    const known = this.store.getState().worked
    const calls = [...stations.keys()].filter((call) => !known.has(call)).slice(0, 500)
    if (calls.length === 0) return
    const rows = await this.host.askWorked(calls, this.source?.kind === 'practice')
    if (!rows || epoch !== this.epoch) return
    const worked = new Map(this.store.getState().worked)
    for (const call of calls)
      worked.set(
        call,
        rows.filter((row) => row.call === call),
      )
    this.store.setState({ worked })
  }

  private async askPlaces(practice: boolean): Promise<void> {
    const { epoch } = this
    const workedPlaces = await this.host.askPlaces(practice)
    if (workedPlaces && epoch === this.epoch) this.store.setState({ workedPlaces })
  }

  private keepHeard(slotIndex: number, decodes: readonly Ft8Decode[]): void {
    const source = this.source?.kind
    if (!source) return
    const clockUncertaintyMs = uncertaintyAt(this.clock.timebase, this.clock.nowUtcMs()) ?? null
    void this.heardKeeper.keep(decodes, { slotIndex, source, dialFrequencyHz: this.dialFrequencyHz(), clockUncertaintyMs })
  }

  // Clock

  /** Looks for the slots in what is heard, with the clock unknown. A recording is searched from its start. */
  findSlots(): void {
    if (this.source) this.time.find(this.recording)
  }

  /** Whether nothing more of the present slot's audio is on its way to the decoder. */
  private slotOver(): boolean {
    const stalled = this.host.monotonicMs() - this.lastBlockMs > STALLED_MS
    return stalled || this.receiver.handedOver >= Math.floor(this.clock.nowUtcMs() / SLOT_MS)
  }

  private occupancy(): Occupancy {
    const { exchange, onAir } = this.store.getState()
    if (onAir || exchange.phase === 'underway') return 'contact'
    return this.source ? 'listening' : 'free'
  }

  // Links

  private linksChanged(links: LinkState | undefined): void {
    const before = this.store.getState().links?.alarm?.sequence ?? 0
    this.store.setState({ links })
    if (links?.alarm && links.alarm.sequence > Math.max(before, this.acknowledgedAlarm)) this.silence(links.alarm.words)
  }

  /** What keys the radio over a link, or watches its meters meanwhile. In practice there is no radio. */
  private keyer(): Keyer | undefined {
    const { links } = this.store.getState()
    if (this.source?.kind !== 'microphone' || !links) return undefined
    if (links.keying.by !== 'none' && links.keying.by !== 'vox') return this.linkKeyer
    return links.control.state === 'talking' && links.control.swrMeter ? this.linkWatch : undefined
  }

  /** The dial as the radio says it is, else as it was set by hand. */
  private dialFrequencyHz(): number | null {
    const { links, source } = this.store.getState()
    return dialOfRadio(links?.control, source.kind) ?? this.profile.dialFrequencyHz
  }

  /** The band on which the operator must look at the SWR, because nobody else does. */
  private unmeteredBand(): { band?: string } {
    const { links, source } = this.store.getState()
    const band = bandWithoutMeter(links?.control, source.kind, this.dialFrequencyHz())
    return band === undefined ? {} : { band }
  }

  /** A person begins something: alarms so far have been seen. */
  private begun(): void {
    this.acknowledgedAlarm = this.store.getState().links?.alarm?.sequence ?? this.acknowledgedAlarm
    this.transmitter.send({ type: 'started', nowMs: this.host.monotonicMs() })
  }

  // Exchanges

  /** Why nothing could be sent now, or undefined when it could. */
  whyNot(): { why: string; need: GateNeed | 'source' } | undefined {
    if (!this.output)
      return {
        why: this.source?.kind === 'recording' ? 'A recording cannot be answered.' : 'Nothing is being listened to.',
        need: 'source',
      }
    if (!this.profile.locator) return { why: 'No locator is set.', need: 'ownCall' }
    const nowMs = this.host.monotonicMs()
    const transmission = { id: '', what: '', startMs: nowMs, endMs: nowMs + 13_000 }
    const refusal = whyRefused(
      { ...this.transmitter.state, silenced: null, lastPersonMs: nowMs, keyed: null },
      {
        nowMs,
        transmission,
        ownCall: this.profile.call,
        licenceConfirmed: this.profile.licenceConfirmedUtcMs !== null,
        ...this.unmeteredBand(),
      },
    )
    return refusal
  }

  /** The operator has made the first-transmission check. */
  passCheck(): void {
    this.transmitter.send({ type: 'checkPassed', nowMs: this.host.monotonicMs(), ...this.unmeteredBand() })
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

  /**
   * Sends a test signal at once, and gathers what is heard of it. Only a person calls this.
   * @param options.goesOn for the further tests of a sequence that a person started: a Silence since then holds
   * @returns what came back, 12 kHz from the test's first sample on; empty when nothing is listened to meanwhile
   */
  async sendTest(kind: TestKind, { amplitude, durationS, goesOn = false }: TestOptions): Promise<TestResult> {
    if (this.store.getState().exchange.phase === 'underway')
      return { sent: false, why: 'An exchange is under way. Stop it first.', need: 'wait' }
    const refusal = this.whyNot()
    if (refusal) return { sent: false, ...refusal }
    if (!goesOn) this.begun()
    this.store.setState({ notice: undefined })
    const heard: AudioBlock[] = []
    const stopListening = this.onBlock((block) => heard.push(block))
    try {
      const outcome = await this.transmitter.test({
        what: TEST_WORDS[kind],
        makeSamples: (sampleRateHz) => makeTestSignal({ kind, sampleRateHz, amplitude, durationS, ownCall: this.profile.call }),
        ownCall: this.profile.call,
        licenceConfirmed: this.profile.licenceConfirmedUtcMs !== null,
        ...this.unmeteredBand(),
      })
      if (!outcome.sent) return outcome
      const { complete, startUtcMs } = outcome
      const monitored = this.output?.monitor?.()
      if (monitored) return { sent: true, complete, heard: monitored }
      await new Promise((done) => setTimeout(done, TEST_TAIL_MS))
      return { sent: true, complete, heard: assemble(heard, startUtcMs) }
    } finally {
      stopListening()
    }
  }

  private onBlock(listener: (block: AudioBlock) => void): () => void {
    this.blockListeners.add(listener)
    return () => this.blockListeners.delete(listener)
  }

  /** Corrects the output by a measured delay, from the next transmission on. */
  setOutputDelayMs(delayMs: number): void {
    this.output?.setDelayMs?.(delayMs)
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

  private transmit(slotIndex: number, text: string, audioOffsetHz: number): Promise<TransmitOutcome> {
    return this.transmitter.transmit({
      slotIndex,
      text,
      audioOffsetHz,
      amplitude: this.profile.transmitLevel,
      // A tone to trip a VOX is not needed by a radio that is keyed.
      voxLeadInMs: this.keyer() === this.linkKeyer ? 0 : this.profile.voxLeadInMs,
      ownCall: this.profile.call,
      licenceConfirmed: this.profile.licenceConfirmedUtcMs !== null,
      ...this.unmeteredBand(),
    })
  }

  private notify(text: string): void {
    this.store.setState({ notice: { text, utcMs: this.clock.nowUtcMs() } })
  }
}
