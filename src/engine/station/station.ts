// The one place where all parts of the running station meet; each part itself stands in a file of its own. It knows no mode.
import { createStore, type StoreApi } from 'zustand/vanilla'
import type { Activation } from '@/core/activation'
import { FIRST_MODE_IDS, MODE_IDS, MODES, SOUND_MODE_IDS, type Mode, type SoundModeId } from '@/core/modes'
import { emptyStation, type Station } from '@/core/station'
import { uncertaintyAt, type Occupancy } from '@/core/time'
import { whyRefused, type TestKind } from '@/core/transmit'
import type { ReceiveFault } from '@/standins'
import { createRunners, type ModeResources, type Runners } from '../modes'
import type { ModeHost, ModeRunner, Refusal, SourceKind } from '../modes/runner'
import { Air, type Authority, type Grant, type OnAir } from './air'
import type { AudioBlock } from './audioBlock'
import type { PictureRow } from './bandPicture'
import { BandWatch } from './bandWatch'
import { ContactKeeper } from './contactKeeper'
import { HeardKeeper, type HeardCircumstances } from './heardKeeper'
import type { StationHost } from './host'
import { LevelKeeper } from './levels/levelKeeper'
import { LevelTap } from './levelTap'
import { Outbox } from './outbox'
import { readinessOf, type ReadinessAlso } from './readinessOf'
import { Sources, type PracticeOptions, type Recording } from './sources'
import { initialState, type StationState } from './state'
import { StationClock } from './stationClock'
import { StationLinks } from './stationLinks'
import { TestSender, type TestOptions, type TestResult } from './testSender'
import { TimeKeeper } from './timeKeeper'
import { WorkedKeeper } from './workedKeeper'

export type { StartResult } from '../modes/runner'
export type { ServerClockListener, StationHost } from './host'
export type { TestOptions, TestResult } from './testSender'

const modeOf = (id: SoundModeId): Mode => MODES[id]
const TICK_MS = 40
const READINESS_EVERY_MS = 500
/** Without audio for this long no more of what is heard is expected. */
const STALLED_MS = 2000

/** A running station: what is shared by all modes, and the modes themselves. */
export class RunningStation {
  readonly store: StoreApi<StationState> = createStore<StationState>(() => initialState)
  readonly clock: StationClock
  /** Sources of time and the band's opinion. */
  readonly time: TimeKeeper
  /** What the level coach hears. */
  readonly levels: LevelKeeper
  readonly modes: Runners
  private readonly sources: Sources
  private readonly band: BandWatch
  private readonly links: StationLinks
  private readonly air: Air
  private readonly tests: TestSender
  private readonly outbox: Outbox
  private readonly worked: WorkedKeeper
  private readonly blockListeners = new Set<(block: AudioBlock) => void>()
  private readonly timer: ReturnType<typeof setInterval>
  private readonly closeServerClock: () => void
  private readonly closeServerLinks: () => void
  private levelTap: LevelTap
  private profile: Station = emptyStation
  private activation: Activation | undefined
  private also: ReadinessAlso = { modesInUse: FIRST_MODE_IDS }
  private lastReadinessMs = -Infinity

  /** @param create what runs each mode; a test may add one of its own */
  constructor(
    private readonly host: StationHost,
    create: (host: ModeHost, resources: ModeResources, usual: typeof createRunners) => Runners = createRunners,
  ) {
    this.clock = new StationClock(host.monotonicMs, host.wallUtcMs)
    const shared = {
      clock: this.clock,
      newId: host.newId,
      state: () => this.store.getState(),
      set: (change: Partial<StationState>) => this.store.setState(change),
      profile: () => this.profile,
      notify: (text: string) => this.notify(text),
    }
    this.time = new TimeKeeper(this.clock, host, shared.state, shared.set)
    this.levelTap = this.createLevelTap()
    this.levels = new LevelKeeper({
      ...host,
      source: () => this.sources.source,
      noFault: () => modeOf(this.store.getState().mode).noFault ?? [],
      set: shared.set,
    })
    this.band = new BandWatch((row) => this.front.row?.(row))
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
    this.air = new Air({
      clock: this.clock,
      monotonicMs: host.monotonicMs,
      newId: host.newId,
      output: () => this.sources.output,
      authority: () => this.authority(),
      keyer: () => this.links.keyer(),
      onChange: (gate, onAir) => this.airChanged(gate, onAir),
    })
    this.outbox = new Outbox(host.outboxStore, host.sendContacts, ({ waiting, problem, stored }) =>
      this.store.setState({ waitingContacts: waiting, storeProblem: problem, storedCount: stored }),
    )
    this.modes = create(
      {
        ...shared,
        station: shared.state,
        air: this.air,
        contacts: new ContactKeeper({
          ...shared,
          dialFrequencyHz: () => this.links.dialFrequencyHz(),
          activation: () => this.activation,
          keep: (contact) => this.outbox.add(contact),
        }),
        heard: new HeardKeeper(
          host.newId,
          host.sendHeard,
          () => this.heardWith(),
          (utcMs) => this.clock.realUtcAt(utcMs),
        ),
        time: this.time,
        worked: this.worked,
        whyNot: () => this.whyNotWork(),
        begin: (what) => this.begin(what),
        keyedByLink: () => this.links.keys,
        recording: () => this.sources.recording,
      },
      host.modes,
      createRunners,
    )
    this.tests = new TestSender({
      ...shared,
      air: this.air,
      output: () => this.sources.output,
      busy: () => this.front.busy(),
      whyNot: () => this.whyNot(),
      begin: (what) => this.begin(what),
      ownCall: () => this.profile.call,
      onBlock: (listener) => this.onBlock(listener),
    })
    this.store.setState({ gate: this.air.state })
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
    this.runners.forEach((runner) => runner.close())
    this.levels.close()
    this.outbox.stop()
  }

  setProfile(profile: Station): void {
    this.profile = profile
  }

  /** What readiness needs and only the server knows. */
  readinessAlso(modesInUse: readonly string[], levelChanges?: number): void {
    const known = MODE_IDS.filter((mode) => modesInUse.includes(mode))
    this.also = { modesInUse: known, ...(levelChanges !== undefined && { levelChanges }) }
    this.lastReadinessMs = -Infinity
    const { mode, source } = this.store.getState()
    const first = SOUND_MODE_IDS.find((id) => known.includes(id))
    if (!known.includes(mode) && first && source.kind === 'none') this.bringToFront(first)
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
    this.air.event({ type: 'personActed', nowMs: this.host.monotonicMs() })
  }

  retryStoring(): void {
    void this.outbox.flush()
  }

  // Modes

  private get runners(): readonly ModeRunner[] {
    return SOUND_MODE_IDS.map((id) => this.modes[id])
  }

  /** The mode that hears and may send. */
  private get front(): ModeRunner {
    return this.modes[this.store.getState().mode]
  }

  /**
   * Brings a mode to the front. What is heard goes on where it comes from outside; a practice band is of one mode and ends.
   * @returns why not, while the one in front is in the middle of something
   */
  bringToFront(mode: SoundModeId): { ok: true } | { ok: false; why: string } {
    const { mode: before, source, onAir } = this.store.getState()
    if (mode === before) return { ok: true }
    if (onAir || this.front.busy())
      return { ok: false, why: `${MODES[before].name} is in the middle of something. End it first, or silence it.` }
    if (source.kind === 'practice' || (source.kind === 'starting' && source.what === 'practice')) this.sources.stopListening()
    this.front.restart(undefined)
    this.store.setState({ mode, notice: undefined })
    const { source: now } = this.store.getState()
    // What is being opened will be heard by the one that is in front then.
    this.front.restart(now.kind === 'none' ? undefined : now.kind === 'starting' ? now.what : now.kind)
    return { ok: true }
  }

  // Sources

  listenToMicrophone(deviceId: string | undefined, outputId: string | undefined): Promise<void> {
    return this.sources.listenToMicrophone(deviceId, outputId)
  }

  /** Plays a recording (12 kHz) into the station from its start, which is the start of a slot. */
  playRecording(recording: Recording, pace: number): void {
    this.sources.playRecording(recording, pace)
  }

  /** Starts the practice band of the mode in front. */
  startPractice(options: PracticeOptions, outputId: string | undefined): Promise<void> {
    return this.sources.startPractice({ ...options, mode: this.store.getState().mode }, outputId)
  }

  /** Turns the practice receiver's volume. @param db from where it belongs */
  setPracticeVolume(db: number): void {
    this.sources.setPracticeVolume(db)
  }

  /** Changes what is wrong with the practice receiver, from the next stretch on. */
  setPracticeFaults(faults: readonly ReceiveFault[]): void {
    this.sources.setPracticeFaults(faults)
  }

  /** Changes what is wrong with the practice band itself, where its mode knows such faults. */
  setPracticeBandFaults(faults: readonly string[]): void {
    this.sources.setPracticeBandFaults(faults)
  }

  stopListening(): void {
    this.sources.stopListening()
  }

  private sourceChanged(what: SourceKind | undefined): void {
    this.band.restart()
    this.levelTap = this.createLevelTap()
    this.levels.restart(true)
    const { mode, holder, gate, waitingContacts, storeProblem, storedCount } = this.store.getState()
    const { clockNotes, clockPoints, clockSimulated, serverClock, serverLink, browserReceiver, links } = this.store.getState()
    this.store.setState({
      ...initialState,
      ...{ mode, holder, gate, waitingContacts, storeProblem, storedCount },
      ...{ clockNotes, serverClock, serverLink, browserReceiver, links },
      // Points of a simulated clock end with its world.
      clockPoints: clockSimulated ? [] : clockPoints,
      source: what ? { kind: 'starting', what } : { kind: 'none' },
    })
    this.runners.forEach((runner) => runner.restart(runner === this.front ? what : undefined))
    if (what) void this.worked.askPlaces(what === 'practice')
    this.time.sourceChanged()
  }

  private createLevelTap(): LevelTap {
    return new LevelTap(this.host.monotonicMs, (level) => this.store.setState({ level, lastBlockUtcMs: level.utcMs }))
  }

  /** Without ears nothing may go on being said. */
  private breakOff(why: string): void {
    if (this.front.busy() || this.store.getState().onAir) this.silence(why)
  }

  // Receiving

  private receive(block: AudioBlock): void {
    this.front.block(block)
    this.band.push(block)
    this.levelTap.push(block)
    this.levels.push(block)
    this.blockListeners.forEach((listener) => listener(block))
  }

  private heardWith(): HeardCircumstances | undefined {
    const source = this.sources.source?.kind
    if (!source) return undefined
    const clockUncertaintyMs = uncertaintyAt(this.clock.timebase, this.clock.nowUtcMs()) ?? null
    return { source, dialFrequencyHz: this.links.dialFrequencyHz(), clockUncertaintyMs }
  }

  private onBlock(listener: (block: AudioBlock) => void): () => void {
    this.blockListeners.add(listener)
    return () => this.blockListeners.delete(listener)
  }

  // Clock

  private occupancy(): Occupancy {
    if (this.store.getState().onAir || this.front.busy()) return 'contact'
    return this.sources.source ? 'listening' : 'free'
  }

  // Sending

  /** A person begins something: alarms so far have been seen. */
  private begin(what: string): Grant {
    this.links.acknowledge()
    this.store.setState({ notice: undefined })
    return this.air.begin(what)
  }

  /** Why nothing could be sent now, or undefined when it could. */
  whyNot(): Refusal | undefined {
    if (!this.sources.output)
      return {
        why: this.sources.source?.kind === 'recording' ? 'A recording cannot be answered.' : 'Nothing is being listened to.',
        need: 'source',
      }
    const nowMs = this.host.monotonicMs()
    const { longestMs } = MODES[this.store.getState().mode]
    const transmission = { id: '', what: '', startMs: nowMs, endMs: nowMs + longestMs, longestMs, open: true }
    return whyRefused({ ...this.air.state, silenced: null, lastPersonMs: nowMs, keyed: null }, { nowMs, transmission, ...this.authority() })
  }

  /** Why nobody could be worked now: a contact has a band. */
  private whyNotWork(): Refusal | undefined {
    const refusal = this.whyNot()
    if (refusal?.need === 'source' || this.links.dialFrequencyHz() !== null) return refusal
    return { why: 'The frequency is not set, and a contact without a band could not be logged.', need: 'dial' }
  }

  /** The operator has made the first-transmission check. */
  passCheck(): void {
    this.air.event({ type: 'checkPassed', nowMs: this.host.monotonicMs(), ...this.links.unmeteredBand() })
  }

  /** Sends a test signal at once, and gathers what is heard of it. Only a person calls this. */
  sendTest(kind: TestKind, options: TestOptions): Promise<TestResult> {
    return this.tests.send(kind, options)
  }

  /** Corrects the output by a measured delay, from the next transmission on. */
  setOutputDelayMs(delayMs: number): void {
    this.sources.output?.setDelayMs?.(delayMs)
  }

  /** Everything silent at once. */
  silence(why = 'Silenced by the operator.'): void {
    this.air.silence(why)
    this.runners.forEach((runner) => runner.silence())
  }

  private airChanged(gate: StationState['gate'], onAir: OnAir | undefined): void {
    const { onAir: before, gate: gateBefore, keyedMs } = this.store.getState()
    if (onAir && onAir !== before) this.front.sending?.(onAir)
    const ended = before && !onAir ? Math.max(0, Math.min(this.clock.nowUtcMs(), before.endUtcMs) - before.startUtcMs) : 0
    if (gate === gateBefore && onAir === before) return
    this.store.setState({ gate, onAir, keyedMs: keyedMs + ended })
  }

  private tick(): void {
    this.time.tick(this.occupancy(), this.sources.silentMs > STALLED_MS || this.front.settled())
    this.air.event({ type: 'tick', nowMs: this.host.monotonicMs() })
    this.front.tick()
    this.tellNext()
    this.judge()
  }

  /** Tells what goes out next by itself, when that has changed. */
  private tellNext(): void {
    const { next, onAir } = this.store.getState()
    const now = onAir ? undefined : this.front.upcoming?.()
    if (JSON.stringify(now) !== JSON.stringify(next)) this.store.setState({ next: now })
  }

  /** Tells what stands in the way, when that has changed. */
  private judge(): void {
    const nowMs = this.host.monotonicMs()
    if (nowMs - this.lastReadinessMs < READINESS_EVERY_MS) return
    this.lastReadinessMs = nowMs
    const state = this.store.getState()
    const moment = { nowUtcMs: this.clock.nowUtcMs(), monotonicMs: this.clock.monotonicMs(), station: this.profile }
    const next = { refusal: this.whyNot(), readiness: readinessOf(state, moment, this.also) }
    if (JSON.stringify(next) !== JSON.stringify({ refusal: state.refusal, readiness: state.readiness })) this.store.setState(next)
  }

  /** In whose name is sent, and what the gate asks of it. */
  private authority(): Authority {
    const { call, licenceConfirmedUtcMs } = this.profile
    return { ownCall: call, licenceConfirmed: licenceConfirmedUtcMs !== null, ...this.links.unmeteredBand() }
  }

  private notify(text: string): void {
    this.store.setState({ notice: { text, utcMs: this.clock.nowUtcMs() } })
  }
}
