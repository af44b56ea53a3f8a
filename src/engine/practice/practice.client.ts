import { transfer, wrap } from 'comlink'
import type { OperatorAudio, ReceivedSlot, ReceiveFault } from '@/standins'
import type { PracticeApi, PracticeStart } from './practice.api'

/** The practice band in a worker of its own. */
export interface PracticeClient {
  start(options: PracticeStart): Promise<void>
  setFaults(faults: readonly ReceiveFault[]): Promise<void>
  renderSlot(slotIndex: number): Promise<ReceivedSlot>
  operatorSent(slotIndex: number, audio: OperatorAudio): Promise<string | undefined>
  close(): void
}

export function createPracticeClient(): PracticeClient {
  const worker = new Worker(new URL('./practice.worker.ts', import.meta.url), { type: 'module' })
  const remote = wrap<PracticeApi>(worker)
  return {
    start: (options) => remote.start(options),
    setFaults: (faults) => remote.setFaults(faults),
    renderSlot: (slotIndex) => remote.renderSlot(slotIndex),
    operatorSent: (slotIndex, audio) => remote.operatorSent(slotIndex, transfer(audio, [audio.samples.buffer])),
    close: () => worker.terminate(),
  }
}
