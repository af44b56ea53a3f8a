import type { SoundModeId } from '@/core/modes'
import type { OperatorAudio, ReceivedAudio, ReceiveFault } from '@/standins'

export interface PracticeStart {
  mode: SoundModeId
  /** Faults of the band itself, by their names. */
  bandFaults: readonly string[]
  seed: number
  stations: number
  faults: readonly ReceiveFault[]
}

/** What the practice worker does. */
export interface PracticeApi {
  start(options: PracticeStart): { label: string; stepMs: number }
  /** From the next stretch on the receiver has these faults and no others. */
  setFaults(faults: readonly ReceiveFault[]): void
  setVolume(db: number): void
  setBandFaults(faults: readonly string[]): void
  /** The operator has begun to send; times of the world. */
  keyed(startUtcMs: number, endUtcMs: number): void
  render(fromUtcMs: number, count: number): ReceivedAudio
  /** @returns when a transmission has ended: what the band copied, or null; undefined before */
  hear(audio: OperatorAudio): string | null | undefined
}
