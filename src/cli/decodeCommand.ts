import { parseArgs } from 'node:util'
import {
  createCallMemory,
  createSlotCutter,
  decodeSlot,
  DEPTHS,
  isPlausibleCall,
  packMessage,
  SAMPLE_RATE_HZ,
  SLOT_MS,
  type Ft8Decode,
} from '@/core/ft8'
import { numberOption, requireMode, UsageError } from './errors'
import { readWavFile } from './wavFile'

const round = (value: number, digits: number) => {
  const rounded = Number(value.toFixed(digits))
  return rounded === 0 ? 0 : rounded
}

/** `zeptik decode`: messages of a recording, slot by slot. */
export async function decodeCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      mode: { type: 'string' },
      json: { type: 'boolean', default: false },
      start: { type: 'string' },
      'slot-utc': { type: 'string' },
      own: { type: 'string' },
      other: { type: 'string' },
      expect: { type: 'string', multiple: true },
      depth: { type: 'string' },
    },
  })
  requireMode(values.mode)
  if (positionals.length !== 1) throw new UsageError(positionals.length === 0 ? 'which file?' : 'one file at a time')
  const startS = numberOption('start', values.start, 0, { from: -1e6, to: 1e6 })
  const firstUtcMs = values['slot-utc'] === undefined ? undefined : Date.parse(values['slot-utc'])
  if (firstUtcMs !== undefined && Number.isNaN(firstUtcMs))
    throw new UsageError(`--slot-utc must be a time such as 2026-06-01T12:00:00Z, got "${values['slot-utc']}"`)

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
  const knowledge = knows ? { ...(ownCall && { ownCall }), ...(otherCall && { otherCall }), expect } : undefined

  const callMemory = createCallMemory(
    2000,
    [ownCall, otherCall].filter((c) => c !== undefined),
  )
  const print = values.json ? printJson : createTable()
  const cutter = createSlotCutter(startS)
  const decode = (piece: { slot: number; samples: Float32Array; slotStartS: number }) => {
    const decodes = decodeSlot(piece.samples, { slotStartS: piece.slotStartS, callMemory, depth, ...(knowledge && { knowledge }) })
    const utc = firstUtcMs === undefined ? undefined : new Date(firstUtcMs + piece.slot * SLOT_MS).toISOString()
    for (const found of decodes) print(piece.slot, utc, found)
  }
  for await (const block of readWavFile(positionals[0]!, SAMPLE_RATE_HZ)) for (const piece of cutter.push(block)) decode(piece)
  for (const piece of cutter.flush()) decode(piece)
}

function printJson(slot: number, utc: string | undefined, found: Ft8Decode): void {
  console.log(
    JSON.stringify({
      slot,
      ...(utc && { slotUtc: utc }),
      text: found.text,
      snrDb: round(found.snrDb, 1),
      timeOffsetS: round(found.timeOffsetS, 3),
      frequencyHz: round(found.frequencyHz, 1),
      // Found only because it was expected.
      ...(found.how === 'expected' && { helped: true }),
    }),
  )
}

function createTable(): (slot: number, utc: string | undefined, found: Ft8Decode) => void {
  let headed = false
  return (slot, utc, found) => {
    if (!headed) console.log(`${utc ? 'slot at UTC         ' : '  slot'}  snr dB  offset s  freq Hz  message`)
    headed = true
    const when = utc ? utc.slice(0, 19).replace('T', ' ').padEnd(20) : String(slot).padStart(6)
    const number = (value: number, digits: number, width: number) => round(value, digits).toFixed(digits).padStart(width)
    console.log(
      `${when}  ${number(found.snrDb, 1, 6)}  ${number(found.timeOffsetS, 2, 8)}  ${number(found.frequencyHz, 1, 7)}  ${found.text}${found.how === 'expected' ? '  (expected)' : ''}`,
    )
  }
}
