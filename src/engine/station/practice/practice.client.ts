import { transfer, wrap } from 'comlink'
import type { OperatorAudio, ReceivedAudio, ReceiveFault } from '@/standins'
import type { PracticeApi, PracticeStart } from './practice.api'

/** The practice band in a worker of its own. */
export interface PracticeClient {
  start(options: PracticeStart): Promise<{ label: string; stepMs: number }>
  setFaults(faults: readonly ReceiveFault[]): Promise<void>
  setVolume(db: number): Promise<void>
  setBandFaults(faults: readonly string[]): Promise<void>
  keyed(startUtcMs: number, endUtcMs: number): Promise<void>
  render(fromUtcMs: number, count: number): Promise<ReceivedAudio>
  hear(audio: OperatorAudio): Promise<string | null | undefined>
  close(): void
}

export function createPracticeClient(): PracticeClient {
  const worker = new Worker(new URL('./practice.worker.ts', import.meta.url), { type: 'module' })
  const remote = wrap<PracticeApi>(worker)
  return {
    start: (options) => remote.start(options),
    setFaults: (faults) => remote.setFaults(faults),
    setVolume: (db) => remote.setVolume(db),
    setBandFaults: (faults) => remote.setBandFaults(faults),
    keyed: (startUtcMs, endUtcMs) => remote.keyed(startUtcMs, endUtcMs),
    render: (fromUtcMs, count) => remote.render(fromUtcMs, count),
    hear: (audio) => remote.hear(transfer(audio, [audio.samples.buffer])),
    close: () => worker.terminate(),
  }
}
