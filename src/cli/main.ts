import { decodeCommand } from './decodeCommand'
import { encodeCommand } from './encodeCommand'
import { benchCommand } from './benchCommand'
import { CommandError, UsageError } from './errors'

const USAGE = `zeptik: FT8 on recordings

  zeptik decode --mode ft8 [--json] [--start SECONDS] [--slot-utc ISO] FILE.wav
      Decodes a recording as consecutive 15 s slots from its start. --start says where in the
      file the first slot begins (negative: before it), --slot-utc names that slot.

  zeptik encode --mode ft8 --frequency HZ [--rate 48000] [--level 0.5] --out FILE.wav "TEXT"
      Writes one slot: half a second of silence, the message, silence to 15 s.

  zeptik bench [slots | sensitivity | noise] [--seed N] [--trials N] [--slots N] [--snr A,B,...]
      slots        decode time, real-time factor and memory on quiet, usual and busy slots
      sensitivity  share decoded at each signal-to-noise ratio, and where it is one half
      noise        false decodes in slots of noise alone

Errors leave exit code 1, wrong usage 2.`

const COMMANDS: Record<string, (args: string[]) => Promise<void> | void> = {
  decode: decodeCommand,
  encode: encodeCommand,
  bench: benchCommand,
}

/** Lets `--start -3` be written with a space: a number after an option is its value, not another option. */
function joinNegatives(words: string[]): string[] {
  const joined: string[] = []
  for (const word of words) {
    const before = joined[joined.length - 1]
    if (/^-[\d.]/.test(word) && before !== undefined && /^--[a-z-]+$/.test(before)) joined[joined.length - 1] = `${before}=${word}`
    else joined.push(word)
  }
  return joined
}

async function main(): Promise<number> {
  const [name, ...args] = joinNegatives(process.argv.slice(2))
  if (name === '--help' || name === '-h' || name === 'help') {
    console.log(USAGE)
    return 0
  }
  const command = name === undefined ? undefined : COMMANDS[name]
  try {
    if (!command) throw new UsageError(name === undefined ? 'which command?' : `there is no command "${name}"`)
    await command(args)
    return 0
  } catch (error) {
    if (error instanceof UsageError || (error as { code?: string }).code?.startsWith('ERR_PARSE_ARGS')) {
      console.error(`zeptik: ${(error as Error).message}\n\n${USAGE}`)
      return 2
    }
    if (error instanceof CommandError) {
      console.error(`zeptik: ${error.message}`)
      return 1
    }
    throw error
  }
}

// A reader that stops early (head, less) is no error of ours.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EPIPE') process.exit(0)
  throw error
})
process.exitCode = await main()
