import { parseArgs } from 'node:util'
import { CommandError, UsageError } from './errors'
import { requireMode } from './modes'
import type { DecodeValues } from './modes/mode'
import { readWavFile } from './wavFile'

/** `zeptik decode`: what is said in recordings. */
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
      plain: { type: 'boolean' },
    },
  })
  const mode = requireMode(values.mode)
  const { mode: _mode, ...given } = values
  for (const name of Object.keys(given) as (keyof DecodeValues)[])
    if (name !== 'json' && !mode.decodeOptions.includes(name)) throw new UsageError(`--${name} is not for mode ${values.mode}`)
  if (positionals.length === 0) throw new UsageError('which file?')
  // Options that cannot be are said before the first file is read.
  mode.openDecoder(given, undefined)
  const failed: CommandError[] = []
  for (const path of positionals) {
    const decoder = mode.openDecoder(given, positionals.length > 1 ? path : undefined)
    try {
      for await (const block of readWavFile(path, mode.sampleRateHz)) decoder.push(block)
      const remark = decoder.flush()
      if (remark !== undefined) console.error(`zeptik: ${path}: ${remark}`)
    } catch (error) {
      if (!(error instanceof CommandError)) throw error
      failed.push(error)
      // The others are read all the same.
      if (failed.length < positionals.length && positionals.length > 1) console.error(`zeptik: ${error.message}`)
    }
  }
  if (positionals.length === 1 && failed[0]) throw failed[0]
  if (failed.length > 0) throw new CommandError(`${failed.length} of ${positionals.length} files could not be read`)
}
