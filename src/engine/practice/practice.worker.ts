import { expose, transfer } from 'comlink'
import { createPracticeBand, createPracticeReceiver, type PracticeBand, type PracticeReceiver } from '@/standins'
import type { PracticeApi } from './practice.api'

let band: PracticeBand | undefined
let receiver: PracticeReceiver | undefined

const api: PracticeApi = {
  start({ faults, ...options }) {
    band = createPracticeBand(options)
    receiver = createPracticeReceiver(options.seed)
    receiver.setFaults(faults)
  },
  setFaults: (faults) => receiver?.setFaults(faults),
  renderSlot(slotIndex) {
    const slot = receiver!.receive(band!.renderSlot(slotIndex))
    return transfer(slot, [slot.samples.buffer, ...slot.channels.map((channel) => channel.buffer)])
  },
  operatorSent: (slotIndex, audio) => band!.operatorSent(slotIndex, audio),
}

expose(api)
