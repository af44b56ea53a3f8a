import { createResampler, joinSamples, SAMPLE_RATE_HZ, type Resampler } from '@/core/dsp'
import { PACKET_MODEMS, type PacketModemId } from '@/core/packet'
import { convertedOf, type AudioBlock } from '../../station/audioBlock'

/** A receiver is given pieces of this length: a frame must be seen soon after its end, and each piece is a message to the worker. */
const PIECE_MS = 50
/** Below that the sound device has not converted what 9600 baud needs. */
const LEAST_RATE_HZ = 44_100

/** What of a block a packet receiver takes: 12 kHz for tones; for pulses as it was converted, brought to the receiver's rate. */
export class ModemAudio {
  private readonly rateHz: number
  private resampler: { fromHz: number; stream: Resampler } | undefined
  private pieces: Float32Array[] = []
  private gathered = 0

  constructor(speed: PacketModemId) {
    this.rateHz = PACKET_MODEMS[speed].sampleRateHz
  }

  /** Why it cannot be heard in such blocks, in words. */
  problemOf(block: AudioBlock): string | undefined {
    const { rateHz } = convertedOf(block)
    if (this.rateHz === SAMPLE_RATE_HZ || rateHz >= LEAST_RATE_HZ) return undefined
    return `9600 baud needs sound that is converted at 44.1 or 48 kHz; this comes at ${rateHz / 1000} kHz.`
  }

  /** @param muted whether this station itself sends: it does not hear itself. @returns a piece once there is enough for one */
  push(block: AudioBlock, muted: boolean): Float32Array | undefined {
    const taken = this.taken(block)
    this.pieces.push(muted ? new Float32Array(taken.length) : taken)
    this.gathered += taken.length
    if (this.gathered < (PIECE_MS * this.rateHz) / 1000) return undefined
    const piece = joinSamples(this.pieces)
    this.pieces = []
    this.gathered = 0
    return piece
  }

  private taken(block: AudioBlock): Float32Array {
    if (this.rateHz === SAMPLE_RATE_HZ) return block.samples
    const { channels, rateHz } = convertedOf(block)
    const mono = Float32Array.from(channels[0] ?? [], (_, i) => channels.reduce((sum, channel) => sum + channel[i]!, 0) / channels.length)
    if (rateHz === this.rateHz) return mono
    if (this.resampler?.fromHz !== rateHz) this.resampler = { fromHz: rateHz, stream: createResampler(rateHz, this.rateHz) }
    return this.resampler.stream.push(mono)
  }
}
