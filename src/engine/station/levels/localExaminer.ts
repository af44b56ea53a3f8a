import { createAudioExaminer, type AudioExaminer } from '@/core/audio'
import type { ExaminerClient } from './examiner.client'

/** The level coach without a worker: where there is none, as in tests. */
export function createLocalExaminer(): ExaminerClient {
  let examiner: AudioExaminer | undefined
  return {
    examine: async ({ channels, rateHz, mono }, wantReport) => {
      examiner ??= createAudioExaminer(rateHz)
      examiner.push(channels, mono)
      return wantReport ? examiner.report() : undefined
    },
    restart: async () => {
      examiner = undefined
    },
    close: () => undefined,
  }
}
