import { SAMPLE_RATE_HZ } from '@/core/dsp'
import { SLOT_MS } from '@/core/time'
import { MODES, type Mode, type SoundModeId } from '@/core/modes'
import type { ReceiveFault } from '@/standins'
import type { AudioBlock, AudioSource } from './audioBlock'
import type { AudioOutput } from './audioOutput'
import { PacedSource } from './pacedSource'
import type { PracticeClient } from './practice/practice.client'
import { PracticeOutput } from './practice/practiceOutput'
import type { StationClock } from './stationClock'
import type { StationHost } from './host'
import type { StationState } from './state'

/** What practice begins with; which band it is follows from the mode in front. */
export interface PracticeOptions {
  seed: number
  stations: number
  pace: number
  audible: boolean
  /** How far off the station's clock is to be, as an exercise; 0 for a perfect one. */
  clockErrorMs: number
  /** What is to be wrong with the receiver, as an exercise. */
  faults: readonly ReceiveFault[]
  /** What is to be wrong with the band itself, by names of the mode's practice band. */
  bandFaults?: readonly string[]
}

/** A recording as it is played into the station. */
export interface Recording {
  label: string
  /** Mono at 12 kHz. */
  samples: Float32Array
  /** A stretch of it as it was recorded, each channel at its own rate, for the level coach. */
  original?: { rateHz: number; channels(fromS: number, toS: number): Float32Array[] }
}

export interface SourcesHost extends Pick<StationHost, 'openMicrophone' | 'openOutput' | 'createPractice' | 'monotonicMs' | 'wallUtcMs'> {
  clock: StationClock
  set: (change: Partial<StationState>) => void
  /** Audio of the present source. */
  onBlock: (block: AudioBlock) => void
  /** Another source begins, or none: what was made of the old one is over. */
  onChange: (what: 'microphone' | 'recording' | 'practice' | undefined) => void
  /** Called before a source falls silent: without ears nothing may go on being said. */
  breakOff: (why: string) => void
  /** The simulated world has been set up, or has ended. */
  onWorld: () => void
  notify: (text: string) => void
}

/** Where audio comes from and goes to: one source at a time, with the output that belongs to it. */
export class Sources {
  private present: AudioSource | undefined
  private presentOutput: AudioOutput | undefined
  private practice: PracticeClient | undefined
  private played: { samples: Float32Array; startMonotonicMs: number } | undefined
  private changes = 0
  private lastBlockMs = -Infinity

  constructor(private readonly host: SourcesHost) {}

  get source(): AudioSource | undefined {
    return this.present
  }

  get output(): AudioOutput | undefined {
    return this.presentOutput
  }

  /** The recording that is being played, whole. */
  get recording(): { samples: Float32Array; startMonotonicMs: number } | undefined {
    return this.played
  }

  /** Grows with every change of source: results of work begun before it are dropped. */
  get epoch(): number {
    return this.changes
  }

  /** How long nothing has been heard. */
  get silentMs(): number {
    return this.host.monotonicMs() - this.lastBlockMs
  }

  async listenToMicrophone(deviceId: string | undefined, outputId: string | undefined): Promise<void> {
    const epoch = this.begin('microphone')
    const opened = await this.host.openMicrophone(
      deviceId,
      this.host.clock,
      (block) => this.receive(epoch, block),
      (why) => this.sourceLost(epoch, why),
    )
    if (epoch !== this.changes) {
      if (opened.ok) opened.source.stop()
      return
    }
    if (!opened.ok) {
      this.host.set({ source: { kind: 'none', problem: opened.error } })
      return
    }
    this.present = opened.source
    this.host.set({ source: { kind: 'microphone', label: opened.source.label, warnings: opened.warnings, pace: 1 } })
    const output = await this.host.openOutput(outputId, this.host.clock)
    if (epoch !== this.changes) return
    if (output.ok) this.presentOutput = output.output
    this.host.set({ outputProblem: output.ok ? undefined : output.error })
  }

  /** Plays a recording (12 kHz) into the station as consecutive slots from its start. */
  playRecording({ label, samples, original }: Recording, pace: number): void {
    const epoch = this.begin('recording')
    const startUtcMs = Math.floor(this.host.wallUtcMs() / SLOT_MS) * SLOT_MS
    this.host.clock.simulate({ startUtcMs, pace })
    this.played = { samples, startMonotonicMs: startUtcMs }
    const stretchLength = (SLOT_MS * SAMPLE_RATE_HZ) / 1000
    this.present = new PacedSource({
      kind: 'recording',
      label,
      clock: this.host.clock,
      stepMs: SLOT_MS,
      stretchAt: async (atUtcMs) => {
        const fromS = (atUtcMs - startUtcMs) / 1000
        const from = Math.round(fromS * SAMPLE_RATE_HZ)
        if (from >= samples.length) return undefined
        const stretch = { samples: samples.slice(from, from + stretchLength) }
        if (!original) return stretch
        return { ...stretch, raw: { rateHz: original.rateHz, channels: original.channels(fromS, fromS + SLOT_MS / 1000) } }
      },
      onBlock: (block) => this.receive(epoch, block),
      onEnd: () => this.sourceLost(epoch, `The recording "${label}" has ended.`),
      onProblem: (error) => this.sourceLost(epoch, error),
    })
    this.host.set({ source: { kind: 'recording', label, warnings: [], pace } })
    this.host.onWorld()
  }

  async startPractice(
    { mode, seed, stations, pace: wanted, audible, clockErrorMs, faults, bandFaults = [] }: PracticeOptions & { mode: SoundModeId },
    outputId: string | undefined,
  ): Promise<void> {
    const epoch = this.begin('practice')
    const pace = (MODES[mode] as Mode).realPace ? 1 : wanted
    const practice = this.host.createPractice()
    this.practice = practice
    const { label, stepMs } = await practice.start({ mode, seed, stations, faults, bandFaults })
    const opened = audible && pace === 1 ? await this.host.openOutput(outputId, this.host.clock) : undefined
    if (epoch !== this.changes) return
    this.host.clock.simulate({ startUtcMs: Math.ceil(this.host.wallUtcMs() / SLOT_MS) * SLOT_MS, pace, clockErrorMs })
    const output = new PracticeOutput(this.host.clock, practice, opened?.ok ? opened.output : undefined, (copied) => {
      if (copied === null && epoch === this.changes) this.host.notify('Nobody on the practice band could copy that transmission.')
    })
    this.presentOutput = output
    this.present = new PacedSource({
      kind: 'practice',
      label,
      clock: this.host.clock,
      stepMs,
      stretchAt: async (atUtcMs) => {
        const { samples, channels } = await practice.render(atUtcMs, (stepMs * SAMPLE_RATE_HZ) / 1000)
        return { samples, raw: { channels, rateHz: SAMPLE_RATE_HZ } }
      },
      // What the operator sends bears on who answers.
      unsettled: () => output.busy,
      onBlock: (block) => this.receive(epoch, block),
      onEnd: () => undefined,
      onProblem: (error) => this.sourceLost(epoch, `The practice band stopped: ${error}`),
    })
    const warnings = opened && !opened.ok ? [opened.error] : []
    this.host.set({
      source: { kind: 'practice', label: this.present.label, warnings, pace },
      ...{ practiceFaults: faults, practiceBandFaults: bandFaults, practiceVolumeDb: 0 },
    })
    this.host.onWorld()
  }

  /** Changes what is wrong with the practice receiver, from the next slot on. */
  setPracticeFaults(faults: readonly ReceiveFault[]): void {
    if (!this.practice) return
    this.host.set({ practiceFaults: faults })
    void this.practice.setFaults(faults)
  }

  /** Changes what is wrong with the practice band itself. */
  setPracticeBandFaults(faults: readonly string[]): void {
    if (!this.practice) return
    this.host.set({ practiceBandFaults: faults })
    void this.practice.setBandFaults(faults)
  }

  /** Turns the practice receiver's volume. */
  setPracticeVolume(db: number): void {
    if (!this.practice) return
    this.host.set({ practiceVolumeDb: db })
    void this.practice.setVolume(db)
  }

  stopListening(): void {
    this.begin(undefined)
  }

  /** Ends what plays and is heard. */
  close(): void {
    this.present?.stop()
    this.present = undefined
    this.presentOutput?.stop()
    this.presentOutput = undefined
    this.practice?.close()
    this.practice = undefined
  }

  private begin(what: 'microphone' | 'recording' | 'practice' | undefined): number {
    this.changes++
    this.host.breakOff('The source of audio was changed.')
    this.close()
    this.host.clock.endSimulation()
    this.played = undefined
    this.host.onChange(what)
    return this.changes
  }

  private sourceLost(epoch: number, why: string): void {
    if (epoch !== this.changes) return
    this.host.breakOff(why)
    this.close()
    this.host.set({ source: { kind: 'none', problem: why }, level: undefined })
  }

  private receive(epoch: number, block: AudioBlock): void {
    if (epoch !== this.changes) return
    this.lastBlockMs = this.host.monotonicMs()
    this.host.onBlock(block)
  }
}
