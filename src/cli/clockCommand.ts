import { open } from 'node:fs/promises'
import { parseArgs } from 'node:util'
import { findSlotPhase, LONGEST_BLIND_S, SAMPLE_RATE_HZ } from '@/core/ft8'
import { readNmeaRecording, type NmeaLineReport, type NmeaSummary } from '@/core/nmea'
import { CommandError, fileProblem, numberOption, UsageError } from './errors'
import { readWavFile } from './wavFile'

/** A recording of a whole day at one burst a second has about 40 MB. */
const LARGEST_NMEA_BYTES = 200_000_000

/** `zeptik clock`: time and place from a recording of a receiver, or the slots from a recording of the band. */
export async function clockCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      nmea: { type: 'string' },
      'from-band': { type: 'string' },
      'without-checksums': { type: 'boolean', default: false },
      // A recording carries no times of arrival, so a speed tells nothing of it; older scripts still name one.
      'serial-baud': { type: 'string' },
      json: { type: 'boolean', default: false },
    },
  })
  if (positionals.length > 0) throw new UsageError(`"${positionals[0]}" is not expected here`)
  const baud = values['serial-baud']
  if (baud !== undefined) numberOption('serial-baud', baud, 4800, { from: 300, to: 1_000_000 })
  if (values.nmea !== undefined && values['from-band'] === undefined) await fromNmea(values.nmea, values['without-checksums'], values.json)
  else if (values['from-band'] !== undefined && values.nmea === undefined) await fromBand(values['from-band'], values.json)
  else throw new UsageError('clock needs either --nmea FILE or --from-band FILE.wav')
}

async function fromNmea(path: string, acceptUnchecked: boolean, json: boolean): Promise<void> {
  const bytes = await readFileLimited(path)
  const summary = readNmeaRecording(bytes, { notAfterUtcMs: Date.now() + 86_400_000, acceptUnchecked }, (line) => {
    if (json) console.log(JSON.stringify(line))
    else printLine(line)
  })
  if (json) console.log(JSON.stringify(summary))
  else printSummary(summary)
}

async function readFileLimited(path: string): Promise<Uint8Array> {
  try {
    const file = await open(path, 'r')
    try {
      const { size } = await file.stat()
      if (size > LARGEST_NMEA_BYTES)
        throw new CommandError(
          `${path}: ${Math.round(size / 1e6)} MB are more than the ${LARGEST_NMEA_BYTES / 1e6} MB that are read; cut the recording`,
        )
      return await file.readFile()
    } finally {
      await file.close()
    }
  } catch (error) {
    throw error instanceof CommandError ? error : fileProblem(path, error)
  }
}

function printLine(line: NmeaLineReport): void {
  const what = line.ok
    ? [
        line.type,
        line.utc,
        line.latitude !== undefined && `${line.latitude.toFixed(5)} ${line.longitude!.toFixed(5)}`,
        line.satellites !== undefined && `${line.satellites} satellites`,
        line.reason !== undefined && `(left out: ${line.reason})`,
      ]
    : ['not accepted:', line.reason]
  console.log(`${String(line.line).padStart(6)}  ${what.filter(Boolean).join('  ')}`)
}

function printSummary(s: NmeaSummary): void {
  console.log(`\n${s.accepted} sentences accepted, ${s.rejected} lines not, ${s.badChecksums} of them for their checksum`)
  console.log(`last time   ${s.utc ?? 'none'}${s.trusted ? '' : `, doubtful: ${s.doubt}`}`)
  console.log(`place       ${s.locator === null ? 'none' : `${s.locator} (${s.latitude!.toFixed(6)}, ${s.longitude!.toFixed(6)})`}`)
  console.log(`satellites  ${s.satellitesUsed ?? 'not told'}`)
  for (const remark of s.remarks) console.log(`note        ${remark}`)
}

async function fromBand(path: string, json: boolean): Promise<void> {
  const audio = new Float32Array(LONGEST_BLIND_S * SAMPLE_RATE_HZ)
  let filled = 0
  for await (const block of readWavFile(path, SAMPLE_RATE_HZ)) {
    const part = block.subarray(0, audio.length - filled)
    audio.set(part, filled)
    filled += part.length
    if (filled === audio.length) break
  }
  const phase = findSlotPhase(audio.subarray(0, filled))
  if (!phase.found) {
    if (json) console.log(JSON.stringify({ slotPhaseS: null, uncertaintyS: null, stations: 0, reason: phase.why }))
    throw new CommandError(`${path}: slots not found: ${phase.why}`)
  }
  const slotPhaseS = Number(phase.slotPhaseS.toFixed(3))
  const uncertaintyS = Number(phase.uncertaintyS.toFixed(3))
  if (json) console.log(JSON.stringify({ slotPhaseS, uncertaintyS, stations: phase.stations }))
  else
    console.log(
      `slots begin ${slotPhaseS.toFixed(2)} s into the file, and every 15 s; ±${uncertaintyS.toFixed(2)} s, from ${phase.stations} stations`,
    )
}
