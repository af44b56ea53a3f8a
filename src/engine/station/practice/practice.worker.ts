import { expose, transfer } from 'comlink'
import { createPracticeReceiver, PRACTICE_WORLDS, type PracticeReceiver, type PracticeWorld } from '@/standins'
import type { PracticeApi } from './practice.api'

let world: PracticeWorld | undefined
let receiver: PracticeReceiver | undefined

const api: PracticeApi = {
  start({ mode, faults, bandFaults, ...options }) {
    world = PRACTICE_WORLDS[mode](options)
    world.setFaults?.(bandFaults)
    receiver = createPracticeReceiver(options.seed)
    receiver.setFaults(faults)
    const { label, stepMs } = world
    return { label, stepMs }
  },
  setFaults: (faults) => receiver?.setFaults(faults),
  setVolume: (db) => receiver?.setVolume(db),
  setBandFaults: (faults) => world?.setFaults?.(faults),
  keyed: (startUtcMs, endUtcMs) => world?.keyed?.(startUtcMs, endUtcMs),
  render(fromUtcMs, count) {
    const audio = receiver!.receive(world!.render(fromUtcMs, count))
    return transfer(audio, [audio.samples.buffer, ...audio.channels.map((channel) => channel.buffer)])
  },
  hear: (audio) => world!.hear(audio),
}

expose(api)
