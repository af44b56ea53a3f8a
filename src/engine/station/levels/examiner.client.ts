import { transfer, wrap } from 'comlink'
import type { AudioReport } from '@/core/audio'
import type { AudioPiece, ExaminerApi } from './examiner.api'

/** The level coach in a worker of its own. Buffers are handed over. */
export interface ExaminerClient {
  examine(piece: AudioPiece, wantReport: boolean): Promise<AudioReport | undefined>
  restart(): Promise<void>
  close(): void
}

export function createExaminerClient(): ExaminerClient {
  const worker = new Worker(new URL('./examiner.worker.ts', import.meta.url), { type: 'module' })
  const remote = wrap<ExaminerApi>(worker)
  return {
    examine: (piece, wantReport) =>
      remote.examine(transfer(piece, [piece.mono.buffer, ...piece.channels.map((samples) => samples.buffer)]), wantReport),
    restart: () => remote.restart(),
    close: () => worker.terminate(),
  }
}
