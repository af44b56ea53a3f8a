import { createRandom } from '@/core/dsp'
import { KISS_COMMANDS, type KissFrame } from '@/core/packet'
import { usualLinkSettings } from '@/core/packet/link/linkState'
import { Beacon, Digipeater, PacketNode, type ChannelActor } from './channelStations'
import { PacketChannel, usualSender, type ChannelFault, type ChannelSender, type ChannelTransmission } from './packetChannel'

export interface PacketWorldOptions {
  airBaud: number
  loss: number
  seed: number
  /** KISS ports for stations from outside. */
  ports: number
  nodes: readonly string[]
  digipeaters: readonly string[]
  /** Stations that say now and then where they are. */
  beacons?: readonly { call: string; words: string }[]
}

const BEACON_EVERY_MS = 60_000
/** Who begins to listen need not wait for long. */
const FIRST_BEACON_MS = 3000
/** Digipeaters send at once. */
const DIGIPEATER: ChannelSender = { ...usualSender, persistence: 1, slotTimeMs: 20 }

/** A channel with stations that act by themselves, and KISS ports for those from outside. */
export class PacketWorld {
  readonly channel: PacketChannel
  private readonly actors: ChannelActor[] = []
  private readonly senders: ChannelSender[]
  private nowMs = 0

  constructor(
    options: PacketWorldOptions,
    faults: () => ReadonlySet<ChannelFault> = () => new Set(),
    onBegin?: (transmission: ChannelTransmission) => void,
  ) {
    const { airBaud, loss, seed, ports, nodes, digipeaters, beacons = [] } = options
    this.channel = new PacketChannel({ airBaud, loss, random: createRandom(seed) }, faults, onBegin)
    this.senders = Array.from({ length: ports }, () => ({ ...usualSender }))
    this.senders.forEach((sender, port) => this.channel.join(portName(port), sender))
    const sends = (call: string) => (frame: Uint8Array) => this.channel.send(call, frame)
    const isSilent = () => faults().has('nobody')
    for (const call of nodes) {
      this.channel.join(call)
      const neighbours = nodes.filter((other) => other !== call)
      this.actors.push(new PacketNode(call, sends(call), { settings: { ...usualLinkSettings, airBaud }, neighbours, isSilent }))
    }
    for (const call of digipeaters) {
      this.channel.join(call, DIGIPEATER)
      this.actors.push(new Digipeater(call, sends(call), () => faults().has('deafDigipeater')))
    }
    beacons.forEach(({ call, words }, k) => {
      this.channel.join(call)
      this.actors.push(new Beacon(call, sends(call), words, BEACON_EVERY_MS, FIRST_BEACON_MS * (2 * k + 1)))
    })
  }

  /** Takes what a computer gives a port over KISS: frames to send, and how to send them. */
  take(port: number, { command, data }: KissFrame): void {
    const sender = this.senders[port]
    if (!sender) return
    const value = data[0] ?? 0
    if (command === KISS_COMMANDS.data) this.channel.send(portName(port), data)
    else if (command === KISS_COMMANDS.txDelay) sender.txDelayMs = 10 * value
    else if (command === KISS_COMMANDS.persistence) sender.persistence = (value + 1) / 256
    else if (command === KISS_COMMANDS.slotTime) sender.slotTimeMs = 10 * value
    else if (command === KISS_COMMANDS.txTail) sender.txTailMs = 10 * value
    else if (command === KISS_COMMANDS.fullDuplex) sender.fullDuplex = value !== 0
  }

  /** When something happens next. */
  get nextMs(): number {
    return Math.min(this.channel.nextMs, ...this.actors.map(({ nextMs }) => nextMs))
  }

  /** Goes on to an instant. @returns what the ports heard until then */
  advance(toMs: number): { port: number; frame: Uint8Array }[] {
    const out: { port: number; frame: Uint8Array }[] = []
    for (;;) {
      const nextMs = Math.min(toMs, this.nextMs)
      for (const { hearer, frame, atMs } of this.channel.advance(nextMs)) {
        const port = Number(/^port (\d+)$/.exec(hearer)?.[1] ?? -1)
        if (port >= 0) out.push({ port, frame })
        else this.actors.find(({ call }) => call === hearer)?.heard(frame, atMs)
      }
      this.nowMs = Math.max(this.nowMs, nextMs)
      for (const actor of this.actors) if (actor.nextMs <= this.nowMs) actor.tick(this.nowMs)
      if (this.nowMs >= toMs && this.nextMs > toMs) return out
    }
  }
}

/** How a port is called on the channel. */
export const portName = (port: number) => `port ${port}`
