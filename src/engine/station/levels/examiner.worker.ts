import { expose } from 'comlink'
import { createAudioExaminer, type AudioExaminer } from '@/core/audio'
import type { ExaminerApi } from './examiner.api'

let examiner: AudioExaminer | undefined
let rate = 0

const api: ExaminerApi = {
  examine({ channels, rateHz, mono }, wantReport) {
    if (!examiner || rate !== rateHz) {
      examiner = createAudioExaminer(rateHz)
      rate = rateHz
    }
    examiner.push(channels, mono)
    return wantReport ? examiner.report() : undefined
  },
  restart() {
    examiner = undefined
  },
}

expose(api)
