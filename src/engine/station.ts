// The one place where all parts of the running station meet; each part itself stands in a file of its own.
import { createStore, type StoreApi } from 'zustand/vanilla'
import {
  hearSlot,
  nextTransmission,
  reduceExchange,
  SAMPLE_RATE_HZ,
  SLOT_MS,
  type ExchangeEvent,
  type ExchangeManner,
  type Ft8Decode,
  type HeardStation,
  type MadeContact,
} from '@/core/ft8'
import { contactFromExchange } from '@/core/log'
import type { HeardReport } from '@/core/station/heardContract'
import { emptyStation, type Station } from '@/core/station'
import { estimateFromBand, parityOf, uncertaintyAt, type OffsetReading, type Parity } from '@/core/time'
import { whyRefused, type GateNeed } from '@/core/transmit'
import type { AudioBlock, AudioSource, OnBlock } from './audioBlock'
import type { AudioOutput } from './audioOutput'
import { BandPicture, type PictureRow } from './bandPicture'
import { HeardKeeper } from './heardKeeper'
import { LevelTap } from './levelTap'
import type { ModemClient } from './modem/modem.client'
import { Outbox, type OutboxStore, type SendContacts } from './outbox'
import { PacedSource } from './pacedSource'
import type { PracticeClient } from './practice/practice.client'
import { PracticeOutput } from './practice/practiceOutput'
import { SlotCollector, type CollectedSlot } from './slotCollector'
import { StationClock } from './stationClock'
import { initialState, type DecodedSlot, type StationState, type WorkedBefore } from './stationState'
import { Transmitter } from './transmitter'

/** What a station needs from where it runs; a browser gives it, and tests do. */
export interface StationHost {
  monotonicMs: () => number
  wallUtcMs: () => number
  newId: () => string
  createModem: () => ModemClient
  createPractice: () => PracticeClient
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
}

export interface PracticeOptions {
  seed: number
  stations: number
  pace: number
  audible: boolean
}

export type StartResult = { ok: true } | { ok: false; why: string; need: GateNeed | 'source' }

const TICK_MS = 40
/** A transmission is prepared this long before its slot. */
const AHEAD_MS = 350
/** How far into its slot a transmission waits for the decodes of the slot before. */
const WAIT_FOR_DECODES_MS = 2600
const LATEST_MS = 4000
const KEPT_DECODED_SLOTS = 40
/** One minute of the band picture, six rows a second, so that it is there when its screen is opened. */
const KEPT_PICTURE_ROWS = 375
/** The band's opinion of the clock comes from these many slots. */
const CLOCK_SLOTS = 8

/** A running station: hears, decodes, conducts exchanges and transmits, and shows what it does in a store. */
export class RunningStation {
  readonly store: StoreApi<StationState> = createStore<StationState>(() => initialState)
  readonly clock: StationClock
  private readonly transmitter: Transmitter
  private readonly decoder: ModemClient
  private readonly modulator: ModemClient
  private readonly outbox: Outbox
  private readonly heardKeeper: HeardKeeper
  private readonly pictureListeners = new Set<(row: PictureRow) => void>()
  private readonly timer: ReturnType<typeof setInterval>
  private pictureRows: PictureRow[] = []
  private picture = this.createPicture()
  private collector = new SlotCollector((slot) => void this.decode(slot))
  private levelTap: LevelTap
  private profile: Station = emptyStation
  private source: AudioSource | undefined
  private output: AudioOutput | undefined
  private practice: PracticeClient | undefined
  private offsets: { slotIndex: number; readings: OffsetReading[] }[] = []
  private decoding = new Set<number>()
  /** Slots in which audio went out, so that nothing was heard. */
  private transmittedSlots = new Set<number>()
  /** Slots in which a transmission was tried, with or without success: none is tried twice. */
  private triedSlots = new Set<number>()
  /** Grows with every change of source: results of work begun before it are dropped. */
  private epoch = 0

  constructor(private readonly host: StationHost) {
    this.clock = new StationClock(host.monotonicMs, host.wallUtcMs())
    this.levelTap = this.createLevelTap()
    this.heardKeeper = new HeardKeeper(host.newId, host.sendHeard)
    this.decoder = host.createModem()
    this.modulator = host.createModem()
    this.transmitter = new Transmitter({
      clock: this.clock,
      monotonicMs: host.monotonicMs,
      newId: host.newId,
      encode: (text, options) => this.modulator.encode(text, options),
      output: () => this.output,
      onChange: (gate, onAir) => {
        if (onAir) this.transmittedSlots.add(onAir.slotIndex)
        this.store.setState({ gate, onAir })
      },
    })
    this.outbox = new Outbox(host.outboxStore, host.sendContacts, ({ waiting, problem, stored }) =>
      this.store.setState({ waitingContacts: waiting, storeProblem: problem, storedCount: stored }),
    )
    this.store.setState({ timebase: this.clock.timebase, gate: this.transmitter.state })
    this.timer = setInterval(() => this.tick(), TICK_MS)
    void this.outbox.flush()
  }

  close(): void {
    clearInterval(this.timer)
    this.silence('The station was closed.')
    this.stopSource()
    this.outbox.stop()
    this.decoder.close()
    this.modulator.close()
  }

  setProfile(profile: Station): void {
    this.profile = profile
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
  playRecording(label: string, samples: Float32Array, pace: number): void {
    const epoch = this.beginSource('recording')
    const startUtcMs = Math.floor(this.host.wallUtcMs() / SLOT_MS) * SLOT_MS
    const firstSlot = startUtcMs / SLOT_MS
    this.clock.simulate(startUtcMs, pace)
    const slotLength = (SLOT_MS * SAMPLE_RATE_HZ) / 1000
    this.source = new PacedSource({
      kind: 'recording',
      label,
      clock: this.clock,
      slotAudio: (slotIndex) => {
        const from = (slotIndex - firstSlot) * slotLength
        return Promise.resolve(from >= samples.length ? undefined : samples.slice(from, from + slotLength))
      },
      onBlock: (block) => this.receive(epoch, block),
      onEnd: () => this.sourceLost(epoch, `The recording "${label}" has ended.`),
      onProblem: (error) => this.sourceLost(epoch, error),
    })
    this.store.setState({ source: { kind: 'recording', label, warnings: [], pace }, timebase: this.clock.timebase })
  }

  async startPractice({ seed, stations, pace, audible }: PracticeOptions, outputId: string | undefined): Promise<void> {
    const epoch = this.beginSource('practice')
    const practice = this.host.createPractice()
    this.practice = practice
    await practice.start({ seed, stations })
    const opened = audible && pace === 1 ? await this.host.openOutput(outputId, this.clock) : undefined
    if (epoch !== this.epoch) return
    this.clock.simulate(Math.ceil(this.host.wallUtcMs() / SLOT_MS) * SLOT_MS, pace)
    this.output = new PracticeOutput(this.clock, practice, opened?.ok ? opened.output : undefined, (copied) => {
      if (!copied && epoch === this.epoch) this.notify('Nobody on the practice band could copy that transmission.')
    })
    this.source = new PacedSource({
      kind: 'practice',
      label: `Practice band, ${stations} stations`,
      clock: this.clock,
      slotAudio: (slotIndex) => practice.renderSlot(slotIndex),
      onBlock: (block) => this.receive(epoch, block),
      onEnd: () => undefined,
      onProblem: (error) => this.sourceLost(epoch, `The practice band stopped: ${error}`),
    })
    const warnings = opened && !opened.ok ? [opened.error] : []
    this.store.setState({ source: { kind: 'practice', label: this.source.label, warnings, pace }, timebase: this.clock.timebase })
  }

  stopListening(): void {
    this.beginSource(undefined)
  }

  private beginSource(what: 'microphone' | 'recording' | 'practice' | undefined): number {
    this.epoch++
    this.breakOff('The source of audio was changed.')
    this.stopSource()
    this.clock.endSimulation()
    this.collector = new SlotCollector((slot) => void this.decode(slot))
    this.pictureRows = []
    this.picture = this.createPicture()
    this.offsets = []
    this.levelTap = this.createLevelTap()
    this.decoding.clear()
    this.transmittedSlots.clear()
    this.triedSlots.clear()
    const { holder, gate, waitingContacts, storeProblem, storedCount } = this.store.getState()
    this.store.setState({
      ...initialState,
      ...{ holder, gate, waitingContacts, storeProblem, storedCount },
      source: what ? { kind: 'starting', what } : { kind: 'none' },
      timebase: this.clock.timebase,
    })
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
    })
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
    this.collector.push(block)
    this.picture.push(block)
    this.levelTap.push(block)
  }

  private async decode(slot: CollectedSlot): Promise<void> {
    const { epoch } = this
    // While transmitting, a receiver hears nothing but its own station.
    if (this.transmittedSlots.has(slot.slotIndex)) {
      this.decoded({ slotIndex: slot.slotIndex, missingMs: slot.missingMs, decodes: [], decodeMs: 0, transmitted: true })
      return
    }
    this.decoding.add(slot.slotIndex)
    this.clock.hold(`decode ${slot.slotIndex}`)
    this.store.setState({ decodingSlot: slot.slotIndex })
    const calls = this.profile.call ? [this.profile.call] : []
    const result = await this.decoder.decode({ samples: slot.samples, slotStartS: slot.slotStartS, calls })
    this.clock.release(`decode ${slot.slotIndex}`)
    if (epoch !== this.epoch) return
    this.decoding.delete(slot.slotIndex)
    this.store.setState({ decodingSlot: undefined })
    if (!result.ok) {
      this.notify(`A slot could not be decoded: ${result.error}`)
      return
    }
    this.decoded({ slotIndex: slot.slotIndex, missingMs: slot.missingMs, transmitted: false, ...result.value })
  }

  private decoded(slot: DecodedSlot): void {
    const { slotIndex, decodes } = slot
    const state = this.store.getState()
    const stations = hearSlot(state.stations, slotIndex, decodes, this.profile.call)
    this.store.setState({ slots: [...state.slots, slot].slice(-KEPT_DECODED_SLOTS), stations })
    this.exchange({ type: 'heard', slotIndex, slotUtcMs: slotIndex * SLOT_MS, decodes })
    this.judgeClock(slotIndex, decodes)
    void this.askWorked(stations)
    this.keepHeard(slotIndex, decodes)
  }

  private judgeClock(slotIndex: number, decodes: readonly Ft8Decode[]): void {
    const readings = decodes.flatMap((d) =>
      'from' in d.message && d.message.from ? [{ call: d.message.from, timeOffsetS: d.timeOffsetS, snrDb: d.snrDb }] : [],
    )
    this.offsets = [...this.offsets, { slotIndex, readings }].slice(-CLOCK_SLOTS)
    const estimate = estimateFromBand(this.offsets.flatMap((o) => o.readings))
    this.store.setState({ bandClock: estimate && { ...estimate, utcMs: slotIndex * SLOT_MS } })
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

  private keepHeard(slotIndex: number, decodes: readonly Ft8Decode[]): void {
    const source = this.source?.kind
    if (!source) return
    const clockUncertaintyMs = uncertaintyAt(this.clock.timebase, this.clock.nowUtcMs()) ?? null
    void this.heardKeeper.keep(decodes, { slotIndex, source, dialFrequencyHz: this.profile.dialFrequencyHz, clockUncertaintyMs })
  }

  // Clock

  /** Moves the clock by hand. */
  correctClock(byMs: number): void {
    this.clock.correct(byMs, 'hand', undefined)
    this.clockMoved()
  }

  /** Moves the clock by what the stations heard say. */
  useBandClock(): void {
    const estimate = this.store.getState().bandClock
    if (!estimate || this.clock.timebase.source === 'practice') return
    this.clock.correct(-estimate.offsetMs, 'band', estimate.uncertaintyMs)
    this.clockMoved()
  }

  private clockMoved(): void {
    this.offsets = []
    this.store.setState({ timebase: this.clock.timebase, bandClock: undefined })
  }

  // Exchanges

  private manner(): ExchangeManner {
    const { call, locator, finish, maxTries, maxCqTries, cqWord } = this.profile
    return { ownCall: call, ownLocator: locator, finish, maxTries, maxCqTries, ...(cqWord && { cqWord }) }
  }

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
      { nowMs, transmission, ownCall: this.profile.call, licenceConfirmed: this.profile.licenceConfirmedUtcMs !== null },
    )
    return refusal
  }

  /** The operator has made the first-transmission check. */
  passCheck(): void {
    this.transmitter.send({ type: 'checkPassed', nowMs: this.host.monotonicMs() })
  }

  /** Starts an exchange with a station that was heard. Only a person calls this. */
  answer(call: string, audioOffsetHz: number): StartResult {
    const heard = this.store.getState().stations.get(call)
    if (!heard) return { ok: false, why: `${call} is no longer heard.`, need: 'start' }
    return this.start({
      type: 'answer',
      manner: this.manner(),
      decode: heard.lastDecode,
      slotIndex: heard.lastSlotIndex,
      slotUtcMs: heard.lastSlotIndex * SLOT_MS,
      audioOffsetHz,
    })
  }

  /** Starts calling CQ. Only a person calls this. */
  callCq(txParity: Parity, audioOffsetHz: number): StartResult {
    return this.start({ type: 'callCq', manner: this.manner(), txParity, audioOffsetHz })
  }

  private start(event: ExchangeEvent): StartResult {
    const refusal = this.whyNot()
    if (refusal) return { ok: false, ...refusal }
    this.transmitter.send({ type: 'started', nowMs: this.host.monotonicMs() })
    this.store.setState({ notice: undefined })
    this.exchange(event)
    return { ok: true }
  }

  /** Ends the exchange after what is on the air now. */
  stopExchange(): void {
    this.exchange({ type: 'stop' })
  }

  /** Everything silent at once. */
  silence(why = 'Silenced by the operator.'): void {
    this.transmitter.silence(why)
    this.exchange({ type: 'silence' })
  }

  private exchange(event: ExchangeEvent): void {
    const [exchange, effects] = reduceExchange(this.store.getState().exchange, event)
    this.store.setState({ exchange })
    for (const effect of effects) void this.keepContact(effect.contact)
  }

  private async keepContact(made: MadeContact): Promise<void> {
    const { stations, worked: before } = this.store.getState()
    const heardLocator = stations.get(made.call)?.locator
    const knownName = before.get(made.call)?.find((w) => w.name)?.name
    const clockUncertaintyMs = uncertaintyAt(this.clock.timebase, this.clock.nowUtcMs())
    const contact = contactFromExchange(made, {
      id: this.host.newId(),
      station: this.profile,
      source: this.source?.kind ?? 'microphone',
      ...(heardLocator && { heardLocator }),
      ...(knownName && { knownName }),
      ...(clockUncertaintyMs !== undefined && { clockUncertaintyMs }),
    })
    await this.outbox.add(contact)
    const worked = new Map(this.store.getState().worked)
    const { call, band, mode, locator, name, startedUtcMs } = contact
    worked.set(call, [{ call, band, mode, locator, name, startedUtcMs }, ...(worked.get(call) ?? [])])
    this.store.setState({ worked })
  }

  private tick(): void {
    this.transmitter.send({ type: 'tick', nowMs: this.host.monotonicMs() })
    const plan = nextTransmission(this.store.getState().exchange)
    if (!plan) return
    const nowUtcMs = this.clock.nowUtcMs()
    const slotIndex = Math.floor((nowUtcMs + AHEAD_MS) / SLOT_MS)
    const intoMs = nowUtcMs - slotIndex * SLOT_MS
    if (parityOf(slotIndex) !== plan.parity || intoMs > LATEST_MS || this.triedSlots.has(slotIndex)) return
    if (this.decoding.has(slotIndex - 1) && intoMs < WAIT_FOR_DECODES_MS) return
    this.triedSlots = new Set([...this.triedSlots].slice(-20)).add(slotIndex)
    this.transmittedSlots = new Set([...this.transmittedSlots].slice(-20))
    void this.transmit(slotIndex, plan.text, plan.audioOffsetHz)
  }

  private async transmit(slotIndex: number, text: string, audioOffsetHz: number): Promise<void> {
    const { epoch } = this
    const outcome = await this.transmitter.transmit({
      slotIndex,
      text,
      audioOffsetHz,
      amplitude: this.profile.transmitLevel,
      voxLeadInMs: this.profile.voxLeadInMs,
      ownCall: this.profile.call,
      licenceConfirmed: this.profile.licenceConfirmedUtcMs !== null,
    })
    if (epoch !== this.epoch) return
    if (outcome.sent) {
      this.exchange({ type: 'sent', slotIndex, slotUtcMs: slotIndex * SLOT_MS, text, complete: outcome.complete })
      return
    }
    if (outcome.need === 'late') return
    this.notify(outcome.why)
    if (outcome.need !== 'wait') this.exchange({ type: 'stop' })
  }

  private notify(text: string): void {
    this.store.setState({ notice: { text, utcMs: this.clock.nowUtcMs() } })
  }
}
