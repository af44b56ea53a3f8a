import { expose, transfer } from 'comlink'
import { createPracticeBand, type PracticeBand } from '@/standins'
import type { PracticeApi } from './practice.api'

let band: PracticeBand | undefined

const api: PracticeApi = {
  start(options) {
    band = createPracticeBand(options)
  },
  renderSlot(slotIndex) {
    const samples = band!.renderSlot(slotIndex)
    return transfer(samples, [samples.buffer])
  },
  operatorSent: (slotIndex, audio) => band!.operatorSent(slotIndex, audio),
}

expose(api)
