import { transfer, wrap } from 'comlink'
import type { PacketModemId } from '@/core/packet'
import type { PacketHeard, PacketModemApi } from './packetModem.api'

/** The reader of frames, in a worker of its own. */
export interface PacketModemClient {
  restart(speed: PacketModemId): Promise<void>
  push(samples: Float32Array): Promise<PacketHeard>
  close(): void
}

export function createPacketModem(): PacketModemClient {
  const worker = new Worker(new URL('./packetModem.worker.ts', import.meta.url), { type: 'module' })
  const remote = wrap<PacketModemApi>(worker)
  return {
    restart: (speed) => remote.restart(speed),
    push: (samples) => remote.push(transfer(samples, [samples.buffer])),
    close: () => worker.terminate(),
  }
}
