import { correctedBits, type CheckBytes } from './correction'
import { burstBits, levelsOf, stuffedBits } from './hdlcBits'
import type { FrameReceiver } from './heardFrame'
import { modulatePulses, PULSE_BAUD, PULSE_RATE_HZ, PulseReceiver } from './pulseModem'
import { CUSTOMARY_HZ, Receiver300 } from './receiver300'
import { scramble } from './scrambler'
import { modulateTones, TONES_1200, tones300 } from './toneModulator'
import { createReceiver1200 } from './toneReceiver'
import { SAMPLE_RATE_HZ } from '../../dsp'

export const PACKET_MODEM_IDS = ['packet1200', 'packet300', 'packet9600'] as const
export type PacketModemId = (typeof PACKET_MODEM_IDS)[number]

/** What goes out, beside how it sounds. */
interface BurstContent {
  /** Flags before the first frame and after the last one, for so long. */
  txDelayMs?: number
  txTailMs?: number
  /** Check bytes for frames that fit into a block; longer ones go out without. */
  correction?: CheckBytes
}

export interface BurstOptions extends BurstContent {
  sampleRateHz: number
  /** Largest sample. */
  amplitude?: number
  /** Middle between the tones at 300 baud. */
  centreHz?: number
  twistDb?: number
  clockPpm?: number
}

export interface PacketModem {
  name: string
  /** On the air, in bits a second. */
  baud: number
  /** Rate of the samples that its receiver takes. */
  sampleRateHz: number
  /** Samples of one transmission with all frames. @throws RangeError for a sample rate that cannot carry it */
  modulate(frames: readonly Uint8Array[], options: BurstOptions): Float32Array
  createReceiver(): FrameReceiver
}

/** Enough for receivers to find the timing, and to let the last bits out of their filters. */
const LEAST_LEAD_FLAGS = 3
/** The scrambler's register must be full as well before a flag can be read. */
const LEAST_SCRAMBLED_FLAGS = 8
const LEAST_TAIL_FLAGS = 2

export const PACKET_MODEMS: Record<PacketModemId, PacketModem> = {
  packet1200: {
    name: '1200 baud',
    baud: 1200,
    sampleRateHz: SAMPLE_RATE_HZ,
    modulate: (frames, options) => modulateTones(levelsOf(bitsOfBurst(frames, 1200, options)), TONES_1200, options),
    createReceiver: () => createReceiver1200(TONES_1200),
  },
  packet300: {
    name: '300 baud',
    baud: 300,
    sampleRateHz: SAMPLE_RATE_HZ,
    modulate: (frames, options) =>
      modulateTones(levelsOf(bitsOfBurst(frames, 300, options)), tones300(options.centreHz ?? CUSTOMARY_HZ), options),
    createReceiver: () => new Receiver300(),
  },
  packet9600: {
    name: '9600 baud',
    baud: PULSE_BAUD,
    sampleRateHz: PULSE_RATE_HZ,
    modulate: (frames, options) => modulatePulses(scramble(levelsOf(bitsOfBurst(frames, PULSE_BAUD, options))), options),
    createReceiver: () => new PulseReceiver(),
  },
}

function bitsOfBurst(frames: readonly Uint8Array[], baud: number, { txDelayMs = 300, txTailMs = 20, correction }: BurstContent): number[] {
  const flags = (ms: number) => Math.ceil((ms * baud) / 8000)
  const pieces = frames.map((frame) => (correction && correctedBits(frame, correction)) ?? stuffedBits(frame))
  return burstBits(pieces, {
    leadFlags: Math.max(baud === PULSE_BAUD ? LEAST_SCRAMBLED_FLAGS : LEAST_LEAD_FLAGS, flags(txDelayMs)),
    tailFlags: Math.max(LEAST_TAIL_FLAGS, flags(txTailMs)),
  })
}

/** Seconds on the air for a burst. */
export function burstSeconds(id: PacketModemId, frames: readonly Uint8Array[], options: BurstContent): number {
  return bitsOfBurst(frames, PACKET_MODEMS[id].baud, options).length / PACKET_MODEMS[id].baud
}
