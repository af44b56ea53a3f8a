import type { OperatorAudio } from '@/standins'

/** What the practice worker does. */
export interface PracticeApi {
  start(options: { seed: number; stations: number }): void
  renderSlot(slotIndex: number): Float32Array
  /** @returns what the band copied, if anything */
  operatorSent(slotIndex: number, audio: OperatorAudio): string | undefined
}
