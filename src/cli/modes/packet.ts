import {
  CHECK_BYTES,
  frameOfLine,
  monitorLine,
  PACKET_MODEMS,
  parseAx25,
  PulsePath,
  type HeardFrame,
  type PacketModemId,
} from '@/core/packet'
import { CommandError, UsageError } from '../errors'
import { rounded, type CliMode, type DecodeValues } from './mode'

/** Silence before and after an encoded transmission, in seconds. */
const MARGIN_S = 0.3
const CENTRE_300_HZ = 1700

/** Frames of packet at one speed. */
export function packetMode(id: PacketModemId): CliMode {
  const modem = PACKET_MODEMS[id]
  return {
    sampleRateHz: modem.sampleRateHz,
    decodeOptions: [],
    widthHz: id === 'packet300' ? 200 : 0,
    usualHz: id === 'packet300' ? CENTRE_300_HZ : undefined,
    openDecoder(values, file) {
      const receiver = modem.createReceiver()
      const path = id === 'packet9600' ? new PulsePath() : undefined
      let count = 0
      const push = (block: Float32Array) => {
        path?.push(block)
        for (const frame of receiver.push(block)) {
          count++
          tell(frame, values, file)
        }
      }
      return {
        push,
        flush() {
          // What the filters and the look ahead still hold comes out behind silence.
          push(new Float32Array(modem.sampleRateHz))
          return count === 0 ? path?.problem : undefined
        },
      }
    },
    encode(text, { sampleRateHz, frequencyHz, level, correction }) {
      const frame = frameOfLine(text)
      if (!frame.ok) throw new CommandError(frame.error)
      const check = CHECK_BYTES.find((bytes) => bytes === correction)
      if (correction !== undefined && !check)
        throw new UsageError(`--correction must be one of ${CHECK_BYTES.join(', ')}, got ${correction}`)
      const options = { sampleRateHz, amplitude: level, centreHz: frequencyHz, ...(check && { correction: check }) }
      try {
        const signal = modem.modulate([frame.value], options)
        const margin = Math.round(MARGIN_S * sampleRateHz)
        const samples = new Float32Array(signal.length + 2 * margin)
        samples.set(signal, margin)
        return samples
      } catch (error) {
        if (error instanceof RangeError) throw new CommandError(error.message)
        throw error
      }
    },
  }
}

function tell(frame: HeardFrame, { json }: DecodeValues, file: string | undefined): void {
  const parsed = parseAx25(frame.bytes)
  if (!parsed.ok) return
  const line = monitorLine(parsed.value)
  if (!json) {
    const number = (value: number, digits: number, width: number) => rounded(value, digits).toFixed(digits).padStart(width)
    // Bytes of a stranger must not move the cursor of this terminal.
    const shown = line.replace(/[^\x20-\x7e\u00a0-\uffff]/g, '.')
    console.log(
      `${file === undefined ? '' : `${file}  `}${number(frame.startS, 2, 8)} s  ${number(frame.snrDb, 0, 3)} dB  ${shown}${remark(frame)}`,
    )
    return
  }
  console.log(
    JSON.stringify({
      ...(file !== undefined && { file }),
      timeS: rounded(frame.startS, 3),
      frame: line,
      hex: Buffer.from(frame.bytes).toString('hex'),
      mended: frame.mended,
      ...(frame.corrected !== undefined && { corrected: frame.corrected }),
      snrDb: rounded(frame.snrDb, 1),
      levelDb: rounded(frame.levelDb, 1),
      ...(frame.offsetHz !== undefined && { offsetHz: rounded(frame.offsetHz, 1) }),
      ...(frame.twistDb !== undefined && { twistDb: rounded(frame.twistDb, 1) }),
    }),
  )
}

function remark({ mended, corrected }: HeardFrame): string {
  if (mended > 0) return `  (${mended} ${mended === 1 ? 'bit' : 'bits'} mended)`
  return corrected === undefined ? '' : `  (${corrected} ${corrected === 1 ? 'byte' : 'bytes'} corrected)`
}
