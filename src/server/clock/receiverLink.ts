import { GpsReceiver, type GpsStatus } from '@/core/nmea'
import type { ClockReading } from '@/core/time'

/** Receivers that send to one port; more are turned away. */
const MOST_SENDERS = 4
const SENDER_IDLE_MS = 60_000
/** Several receivers at ten fixes a second stay below this; a flood does not. */
const BYTES_PER_SECOND = 40_000
const BURST_BYTES = 80_000

interface Sender {
  receiver: GpsReceiver
  label: string
  lastMs: number
}

/**
 * Receivers that send over a network: each sender is a receiver of its own. A flood is cut to what receivers could send,
 * and the number of senders is bounded.
 */
export class ReceiverLink {
  private readonly senders = new Map<string, Sender>()
  private allowance = BURST_BYTES
  private lastMs = 0
  droppedBytes = 0
  floodedMs = -Infinity

  constructor(
    private readonly link: 'udp' | 'tcp',
    private readonly options: { receiverDelayMs: number | null; acceptUnchecked?: boolean | undefined },
  ) {}

  push(from: string, bytes: Uint8Array, monotonicMs: number): ClockReading[] {
    this.allowance = Math.min(BURST_BYTES, this.allowance + ((monotonicMs - this.lastMs) / 1000) * BYTES_PER_SECOND)
    this.lastMs = monotonicMs
    const flooded = this.allowance < bytes.length
    if (flooded) this.floodedMs = monotonicMs
    else this.allowance -= bytes.length
    const sender = flooded ? undefined : this.senderOf(from, monotonicMs)
    if (!sender) {
      this.droppedBytes += bytes.length
      return []
    }
    sender.lastMs = monotonicMs
    return sender.receiver.push(bytes, monotonicMs)
  }

  private senderOf(from: string, monotonicMs: number): Sender | undefined {
    const known = this.senders.get(from)
    if (known) return known
    for (const [key, sender] of this.senders) if (monotonicMs - sender.lastMs > SENDER_IDLE_MS) this.senders.delete(key)
    if (this.senders.size >= MOST_SENDERS) return undefined
    const label = `Receiver at ${from}`
    const { receiverDelayMs, acceptUnchecked = false } = this.options
    const delay = receiverDelayMs === null ? {} : { receiverDelayMs }
    const sender = {
      receiver: new GpsReceiver({ source: `gps:${this.link}:${from}`, label, acceptUnchecked, ...delay }),
      label,
      lastMs: monotonicMs,
    }
    this.senders.set(from, sender)
    return sender
  }

  receivers(monotonicMs: number): { source: string; label: string; gps: GpsStatus }[] {
    return [...this.senders].map(([from, { receiver, label }]) => ({
      source: `gps:${this.link}:${from}`,
      label,
      gps: receiver.status(monotonicMs),
    }))
  }
}
