import { writeFile } from 'node:fs/promises'
import { parseArgs } from 'node:util'
import { encodeWav } from '@/core/audio/wav'
import { encodeFt8, NOMINAL_START_S, SLOT_S } from '@/core/ft8'
import { CommandError, fileProblem, numberOption, requireMode, UsageError } from './errors'

/** `zeptik encode`: one message as a slot of audio. */
export async function encodeCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      mode: { type: 'string' },
      frequency: { type: 'string' },
      rate: { type: 'string' },
      level: { type: 'string' },
      out: { type: 'string' },
    },
  })
  requireMode(values.mode)
  const sampleRateHz = numberOption('rate', values.rate, 48_000, { from: 8000, to: 192_000 })
  if (!Number.isInteger(sampleRateHz)) throw new UsageError('--rate must be a whole number')
  const audioOffsetHz = numberOption('frequency', values.frequency, 1500, { from: 1, to: sampleRateHz / 2 - 51 })
  const level = numberOption('level', values.level, 0.5, { from: 0.001, to: 1 })
  if (values.out === undefined) throw new UsageError('--out is missing: where should the audio go?')
  if (positionals.length !== 1) throw new UsageError('one message, in quotes')
  const encoded = encodeFt8(positionals[0]!, { sampleRateHz, audioOffsetHz, amplitude: level })
  if (!encoded.ok) throw new CommandError(encoded.error)
  const slot = new Float32Array(SLOT_S * sampleRateHz)
  slot.set(encoded.samples, Math.round(NOMINAL_START_S * sampleRateHz))
  try {
    await writeFile(values.out, encodeWav(slot, sampleRateHz))
  } catch (error) {
    throw fileProblem(values.out, error)
  }
  console.error(`${values.out}: "${encoded.message.text}" at ${audioOffsetHz} Hz`)
}
