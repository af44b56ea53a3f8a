import {
  createCallMemory,
  createSlotCutter,
  decodeSlot,
  DEPTHS,
  encodeFt8,
  isPlausibleCall,
  NOMINAL_START_S,
  OCCUPIED_HZ,
  packMessage,
  SAMPLE_RATE_HZ,
  SLOT_MS,
  SLOT_S,
  type Ft8Decode,
  type SlotPiece,
} from '@/core/ft8'
import { CommandError, numberOption, UsageError } from '../errors'
import { rounded, type CliMode, type DecodeValues, type FileDecoder } from './mode'

type Print = (slot: number, utc: string | undefined, found: Ft8Decode) => void

export const ft8: CliMode = {
  sampleRateHz: SAMPLE_RATE_HZ,
  decodeOptions: ['start', 'slot-utc', 'own', 'other', 'expect', 'depth'],
  widthHz: OCCUPIED_HZ,
  usualHz: 1500,
  openDecoder(values, file) {
    const firstUtcMs = values['slot-utc'] === undefined ? undefined : Date.parse(values['slot-utc'])
    if (firstUtcMs !== undefined && Number.isNaN(firstUtcMs))
      throw new UsageError(`--slot-utc must be a time such as 2026-06-01T12:00:00Z, got "${values['slot-utc']}"`)
    const startS = numberOption('start', values.start, 0, { from: -1e6, to: 1e6 })
    return slots(startS, firstUtcMs, optionsOf(values), values.json ? printJson(file) : createTable(file))
  },
  encode(text, { sampleRateHz, frequencyHz, level }) {
    const encoded = encodeFt8(text, { sampleRateHz, audioOffsetHz: frequencyHz, amplitude: level })
    if (!encoded.ok) throw new CommandError(encoded.error)
    const slot = new Float32Array(SLOT_S * sampleRateHz)
    slot.set(encoded.samples, Math.round(NOMINAL_START_S * sampleRateHz))
    return slot
  },
}

/** What the decoder is told, checked. */
function optionsOf(values: DecodeValues) {
  const depth = DEPTHS.find((d) => d === (values.depth ?? 'usual'))
  if (!depth) throw new UsageError(`--depth must be one of ${DEPTHS.join(', ')}, got "${values.depth}"`)
  const call = (name: 'own' | 'other') => {
    const text = values[name]?.toUpperCase()
    if (text !== undefined && !isPlausibleCall(text)) throw new UsageError(`--${name} must be a call such as Q5RVR, got "${values[name]}"`)
    return text
  }
  const ownCall = call('own')
  const otherCall = call('other')
  const expect = values.expect ?? []
  for (const text of expect) {
    const packed = packMessage(text)
    if (!packed.ok) throw new UsageError(`--expect "${text}": ${packed.error}`)
  }
  const knows = ownCall !== undefined || otherCall !== undefined || expect.length > 0
  const callMemory = createCallMemory(
    2000,
    [ownCall, otherCall].filter((c) => c !== undefined),
  )
  return {
    callMemory,
    depth,
    ...(knows && { knowledge: { ...(ownCall && { ownCall }), ...(otherCall && { otherCall }), expect } }),
  }
}

function slots(startS: number, firstUtcMs: number | undefined, options: ReturnType<typeof optionsOf>, print: Print): FileDecoder {
  const cutter = createSlotCutter(startS)
  let seconds = 0
  let slotsSeen = 0
  const decode = (piece: SlotPiece) => {
    slotsSeen++
    const utc = firstUtcMs === undefined ? undefined : new Date(firstUtcMs + piece.slot * SLOT_MS).toISOString()
    for (const found of decodeSlot(piece.samples, { slotStartS: piece.slotStartS, ...options })) print(piece.slot, utc, found)
  }
  return {
    push(block) {
      seconds += block.length / SAMPLE_RATE_HZ
      cutter.push(block).forEach(decode)
    },
    flush() {
      cutter.flush().forEach(decode)
      if (slotsSeen > 0) return undefined
      return `it is ${seconds.toFixed(1)} s long, and no slot lies in it${startS > 0 ? ` from --start ${startS} on` : ''}`
    },
  }
}

function printJson(file: string | undefined): Print {
  return (slot, utc, found) =>
    console.log(
      JSON.stringify({
        ...(file !== undefined && { file }),
        slot,
        ...(utc && { slotUtc: utc }),
        text: found.text,
        snrDb: rounded(found.snrDb, 1),
        timeOffsetS: rounded(found.timeOffsetS, 3),
        frequencyHz: rounded(found.frequencyHz, 1),
        // Found only because it was expected.
        ...(found.how === 'expected' && { helped: true }),
      }),
    )
}

function createTable(file: string | undefined): Print {
  let headed = false
  return (slot, utc, found) => {
    if (!headed && file !== undefined) console.log(file)
    if (!headed) console.log(`${utc ? 'slot at UTC         ' : '  slot'}  snr dB  offset s  freq Hz  message`)
    headed = true
    const when = utc ? utc.slice(0, 19).replace('T', ' ').padEnd(20) : String(slot).padStart(6)
    const number = (value: number, digits: number, width: number) => rounded(value, digits).toFixed(digits).padStart(width)
    console.log(
      `${when}  ${number(found.snrDb, 1, 6)}  ${number(found.timeOffsetS, 2, 8)}  ${number(found.frequencyHz, 1, 7)}  ${found.text}${found.how === 'expected' ? '  (expected)' : ''}`,
    )
  }
}
