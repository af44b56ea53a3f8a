import { PACKET_MODEMS, PulsePath, type FrameReceiver } from '@/core/packet'
import type { PacketModemApi } from './packetModem.api'

/** Reads frames out of pieces of sound; it runs in a worker. */
export function createPacketReader(): PacketModemApi {
  let receiver: FrameReceiver = PACKET_MODEMS.packet1200.createReceiver()
  /** What passes a voice filter is of no use at 9600 baud. */
  let path: PulsePath | undefined
  return {
    restart(speed) {
      receiver = PACKET_MODEMS[speed].createReceiver()
      path = speed === 'packet9600' ? new PulsePath() : undefined
    },
    push(samples) {
      path?.push(samples)
      const frames = receiver.push(samples)
      const problem = path?.problem
      return { frames, carrier: receiver.carrier, ...(problem !== undefined && { problem }) }
    },
  }
}
