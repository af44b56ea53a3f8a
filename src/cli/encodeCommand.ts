import { writeFile } from 'node:fs/promises'
import { parseArgs } from 'node:util'
import { encodeWav } from '@/core/audio/wav'
import { fileProblem, numberOption, UsageError } from './errors'
import { requireMode } from './modes'

/** `zeptik encode`: a text as audio. */
export async function encodeCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      mode: { type: 'string' },
      frequency: { type: 'string' },
      rate: { type: 'string' },
      level: { type: 'string' },
      correction: { type: 'string' },
      out: { type: 'string' },
    },
  })
  const mode = requireMode(values.mode)
  const sampleRateHz = numberOption('rate', values.rate, 48_000, { from: 8000, to: 192_000 })
  if (!Number.isInteger(sampleRateHz)) throw new UsageError('--rate must be a whole number')
  const highest = sampleRateHz / 2 - Math.ceil(mode.widthHz) - 1
  const { usualHz } = mode
  if (usualHz === undefined && values.frequency !== undefined) throw new UsageError(`--frequency is not for mode ${values.mode}`)
  const frequencyHz = usualHz === undefined ? 0 : numberOption('frequency', values.frequency, usualHz, { from: 1, to: highest })
  if (values.correction !== undefined && !values.mode!.startsWith('packet'))
    throw new UsageError(`--correction is not for mode ${values.mode}`)
  const level = numberOption('level', values.level, 0.5, { from: 0.001, to: 1 })
  if (values.out === undefined) throw new UsageError('--out is missing: where should the audio go?')
  if (positionals.length !== 1) throw new UsageError('one text, in quotes')
  const samples = mode.encode(positionals[0]!, {
    ...{ sampleRateHz, frequencyHz, level },
    ...(values.correction !== undefined && { correction: numberOption('correction', values.correction, 0, { from: 1, to: 64 }) }),
  })
  try {
    await writeFile(values.out, encodeWav(samples, sampleRateHz))
  } catch (error) {
    throw fileProblem(values.out, error)
  }
  console.error(`${values.out}: "${positionals[0]!}"${usualHz === undefined ? '' : ` at ${frequencyHz} Hz`}`)
}
