import { makeTestSignal, type GateNeed, type TestKind } from '@/core/transmit'
import { assemble, type AudioBlock, type OnBlock } from './audioBlock'
import type { AudioOutput } from './audioOutput'
import type { StationState } from './stationState'
import type { Authority, Transmitter } from './transmitter'

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

export interface TestSenderHost {
  state: () => StationState
  set: (change: Partial<StationState>) => void
  transmitter: Transmitter
  output: () => AudioOutput | undefined
  whyNot: () => { why: string; need: GateNeed | 'source' } | undefined
  begun: () => void
  authority: () => Authority
  /** @returns a function that ends listening */
  onBlock: (listener: OnBlock) => () => void
}

/** Sends test signals and gathers what comes back. */
export class TestSender {
  constructor(private readonly host: TestSenderHost) {}

  /**
   * Sends a test signal at once, and gathers what is heard of it. Only a person calls this.
   * @param options.goesOn for the further tests of a sequence that a person started: a Silence since then holds
   * @returns what came back, 12 kHz from the test's first sample on; empty when nothing is listened to meanwhile
   */
  async send(kind: TestKind, { amplitude, durationS, goesOn = false }: TestOptions): Promise<TestResult> {
    if (this.host.state().exchange.phase === 'underway')
      return { sent: false, why: 'An exchange is under way. Stop it first.', need: 'wait' }
    const refusal = this.host.whyNot()
    if (refusal) return { sent: false, ...refusal }
    if (!goesOn) this.host.begun()
    this.host.set({ notice: undefined })
    const heard: AudioBlock[] = []
    const stopListening = this.host.onBlock((block) => heard.push(block))
    try {
      const outcome = await this.host.transmitter.test({
        what: TEST_WORDS[kind],
        makeSamples: (sampleRateHz) => makeTestSignal({ kind, sampleRateHz, amplitude, durationS, ownCall: this.host.authority().ownCall }),
        ...this.host.authority(),
      })
      if (!outcome.sent) return outcome
      const { complete, startUtcMs } = outcome
      const monitored = this.host.output()?.monitor?.()
      if (monitored) return { sent: true, complete, heard: monitored }
      await new Promise((done) => setTimeout(done, TEST_TAIL_MS))
      return { sent: true, complete, heard: assemble(heard, startUtcMs) }
    } finally {
      stopListening()
    }
  }
}
