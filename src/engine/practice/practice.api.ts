import type { OperatorAudio, ReceivedSlot, ReceiveFault } from '@/standins'

export interface PracticeStart {
  seed: number
  stations: number
  faults: readonly ReceiveFault[]
}

/** What the practice worker does. */
export interface PracticeApi {
  start(options: PracticeStart): void
  /** From the next slot on the receiver has these faults and no others. */
  setFaults(faults: readonly ReceiveFault[]): void
  renderSlot(slotIndex: number): ReceivedSlot
  /** @returns what the band copied, if anything */
  operatorSent(slotIndex: number, audio: OperatorAudio): string | undefined
}
