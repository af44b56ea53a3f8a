import { modeName } from '@/core/modes'
import { makeTestSignal, testLengthS, type TestKind } from '@/core/transmit'
import { assemble, type AudioBlock, type OnBlock } from './audioBlock'
import type { StationState } from './state'
import type { Refusal } from '../modes/runner'
import { streamOf, type AudioOutput } from './audioOutput'
import type { Air, Grant } from './air'

export interface TestOptions {
  /** Peak, share of full scale. */
  amplitude: number
  durationS: number
  goesOn?: boolean
}

export type TestResult = { sent: true; complete: boolean; heard: Float32Array } | { sent: false; why: string; need: Refusal['need'] }

const TEST_WORDS: Record<TestKind, string> = {
  tone: 'Test tone',
  twoTone: 'Test, two tones',
  mode: 'Test in',
  ramp: 'Test tone, rising',
  vox: 'Test of the VOX',
  latency: 'Test of the delay',
  carrier: 'Tuning carrier',
}
/** What comes back late is waited for this long. */
const TEST_TAIL_MS = 1200

export interface TestSenderHost {
  state: () => StationState
  air: Air
  output: () => AudioOutput | undefined
  /** Whether a mode is in the middle of something. */
  busy: () => boolean
  whyNot: () => Refusal | undefined
  begin: (what: string) => Grant
  ownCall: () => string
  /** @returns a function that ends listening */
  onBlock: (listener: OnBlock) => () => void
}

/** Sends test signals and gathers what comes back. */
export class TestSender {
  /** What the further tests of a sequence stand on. */
  private grant: Grant | undefined

  constructor(private readonly host: TestSenderHost) {}

  /**
   * Sends a test signal at once, and gathers what is heard of it. Only a person calls this.
   * @param options.goesOn for the further tests of a sequence that a person started: a Silence since then holds
   * @returns what came back, 12 kHz from the test's first sample on; empty when nothing is listened to meanwhile
   */
  async send(kind: TestKind, { amplitude, durationS, goesOn = false }: TestOptions): Promise<TestResult> {
    if (this.host.busy()) return { sent: false, why: 'An exchange is under way. Stop it first.', need: 'wait' }
    const refusal = this.host.whyNot()
    if (refusal) return { sent: false, ...refusal }
    const grant = goesOn && this.grant ? this.grant : this.host.begin('a test')
    this.grant = grant
    const { mode } = this.host.state()
    const heard: AudioBlock[] = []
    const stopListening = this.host.onBlock((block) => heard.push(block))
    try {
      const outcome = await this.host.air.send(
        {
          ...{ mode, what: kind === 'mode' ? `${TEST_WORDS.mode} ${modeName(mode)}` : TEST_WORDS[kind], start: 'now', test: true },
          length: { ms: testLengthS(kind, durationS) * 1000 },
          open: (sampleRateHz) => ({
            ok: true,
            stream: streamOf(makeTestSignal({ kind, mode, sampleRateHz, amplitude, durationS, ownCall: this.host.ownCall() })),
          }),
        },
        grant,
      )
      if (!outcome.sent)
        return { sent: false, why: outcome.why, need: outcome.need === 'message' || outcome.need === 'late' ? 'start' : outcome.need }
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
