import { performance } from 'node:perf_hooks'
import type { KissFrame } from '@/core/packet'
import { PacketWorld } from '@/standins/packet/packetWorld'
import type { TncAir } from '@/standins/tncStandin'

const TICK_MS = 20
/** Made-up stations around the practice TNC. */
const NEIGHBOURS = {
  nodes: ['Q5CTL-7', 'Q6NOD-1'],
  digipeaters: ['Q8TOP'],
  beacons: [
    { call: 'Q4HUT', words: 'hut at the lake, warden on duty' },
    { call: 'Q7FEN-9', words: 'on the way to the ridge' },
  ],
}

/** The channel of the practice TNC, in real time. */
export class PracticeAir implements TncAir {
  private readonly world = new PacketWorld({ airBaud: 1200, loss: 0.03, seed: 8, ports: 1, ...NEIGHBOURS })
  private readonly beganMs = performance.now()
  private readonly listeners = new Set<(frame: Uint8Array) => void>()
  private readonly timer = setInterval(() => this.goOn(), TICK_MS)

  constructor() {
    this.timer.unref()
  }

  take(frame: KissFrame): void {
    this.goOn()
    this.world.take(0, frame)
  }

  listen(onFrame: (frame: Uint8Array) => void): () => void {
    this.listeners.add(onFrame)
    return () => this.listeners.delete(onFrame)
  }

  stop(): void {
    clearInterval(this.timer)
  }

  private goOn(): void {
    for (const { frame } of this.world.advance(performance.now() - this.beganMs)) this.listeners.forEach((tell) => tell(frame))
  }
}
