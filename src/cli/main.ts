import { decodeCommand } from './decodeCommand'
import { encodeCommand } from './encodeCommand'
import { benchCommand } from './benchCommand'
import { clockCommand } from './clockCommand'
import { kissCommand } from './kissCommand'
import { levelCommand } from './levelCommand'
import { CommandError, UsageError } from './errors'
import { sessionCommand } from './sessionCommand'
import { standinCommand } from './standinCommand'

const USAGE = `zeptik: FT8, PSK31 and levels on recordings, time and place from a receiver, packet sessions, stand-ins for devices

  zeptik decode --mode ft8 [--json] [--start SECONDS] [--slot-utc ISO] [--depth quick|usual|deep]
                [--own CALL] [--other CALL] [--expect TEXT]... FILE.wav...
      Decodes a recording as consecutive 15 s slots from its start. --start says where in the
      file the first slot begins (negative: before it), --slot-utc names that slot. With --own and
      --other all that the other could say to you is found some 3 dB weaker, and so is each
      --expect; what was found only so is marked (helped in JSON).
  zeptik decode --mode psk31 [--json] [--plain] FILE.wav...
      Reads every conversation of a recording at once: an object or a line for each stretch of
      text on one frequency. Of several files each finding names its own.

  zeptik decode --mode packet1200|packet300|packet9600 [--json] FILE.wav...
      Reads the frames of a recording: an object or a line for each. 300 baud is looked for in the
      whole passband; 9600 needs a recording at 44.1 or 48 kHz.

  zeptik encode --mode ft8 --frequency HZ [--rate 48000] [--level 0.5] --out FILE.wav "TEXT"
      Writes one slot: half a second of silence, the message, silence to 15 s.
  zeptik encode --mode psk31 --frequency HZ [--rate 48000] [--level 0.5] --out FILE.wav "TEXT"
      Writes one transmission, from its first reversals to its last carrier.
  zeptik encode --mode packet1200|packet300|packet9600 [--frequency HZ] [--correction 16|32|64] [--rate 48000]
                [--level 0.5] --out FILE.wav "SOURCE>DESTINATION,PATH:text"
      Writes one frame. --frequency is for 300 baud alone; --correction adds check bytes that
      stations without it pass over.

  zeptik clock --nmea FILE [--without-checksums] [--json]
      Reads what a GPS receiver sent: each line, then time, place and how far to trust them.
  zeptik clock --from-band FILE.wav [--json]
      Finds where the 15 s slots begin in a recording about which nothing is known.

  zeptik level [--json] FILE.wav
      Measures received audio and names what is wrong with it: level, clipping, noise floor,
      passband, hum, automatic gain, noise reduction, speech, lost blocks, dead channels.

  zeptik kiss [--json] [FILE]
      Shows the frames in what a KISS TNC sent, from a file or the standard input. --json: an
      object a line: port, command, dataHex (what follows the command byte, without escapes)
      and ax25; {error} for what is no frame.

  zeptik session --kiss HOST:PORT --call Q5RVR --to Q5CTL-7 [--via Q8TOP,...] [--wide] [--air-baud 1200] [--pace 1] [--json]
      Connects, sends each line of the standard input, prints what comes; the end of the input
      disconnects when all is acknowledged. Exit code 0 when it ended in order. --wide tries
      version 2.2 first; --pace shortens all times, for simulated channels. It transmits.

  zeptik standin gps (--udp HOST:PORT | --tcp PORT | --tcp-to HOST:PORT | --pty PATH | --file FILE [--start ISO])
                     [--baud 9600] [--seconds N] [--fault NAME,...] [--locator JN97LK] [--error-ms N] [--seed N]
  zeptik standin time [--listen HOST:PORT] [--error-ms N] [--fault NAME,...] [--seconds N]
  zeptik standin radio (--tcp PORT | --pty PATH) [--voice ascii-11|ascii-9|framed-bcd|five-byte]
                       [--baud 9600] [--frequency HZ] [--swr N] [--seconds N] [--fault NAME,...]
  zeptik standin tnc (--tcp PORT | --pty PATH) [--dead PATH] [--baud 9600] [--starts-in kiss|command]
                     [--seconds N] [--fault NAME,...] [--seed N]
  zeptik standin channel --ports N --base PORT [--air-baud 1200] [--pace 1] [--loss 0.1] [--seed N] [--node CALL]...
                         [--digipeater CALL]... [--beacon CALL=TEXT]... [--seconds N] [--fault NAME,...]
      A shared packet channel with KISS ports on TCP, one for each station, with nodes and digipeaters of its own.
  zeptik standin line --to HOST:PORT [--listen HOST:PORT] [--seconds N] [--fault NAME,...]
      A line with faults before a device on TCP; a NAME typed on its terminal turns that fault on or off.
      The others are simulated devices on real ports, until Ctrl-C; --dead: a second port with nothing behind it. On a pseudo-terminal its serial speed
      counts. A wrong NAME lists the faults.

  zeptik bench [slots | sensitivity | noise | clock | level | level-cost | kiss | psk31 | psk31-band | psk31-facts | psk31-bits | packet | knowledge] [--seed N] [--trials N] [--slots N] [--snr A,B,...]
      slots        decode time, real-time factor and memory on quiet, usual and busy slots
      sensitivity  share decoded at each signal-to-noise ratio, and where it is one half
      noise        false decodes in slots of noise alone
      clock        errors of the clock by GPS, by the band, blind, and without any source
      level        how often faults of received audio are found and made up, errors of the figures
      level-cost   what each fault costs in decoding
      kiss         speed of the KISS parser on frames and on noise
      psk31-bits   PSK31 bits in error with known tuning: from one symbol to the next, and with the phase over all of them
      psk31        characters in error by signal-to-noise ratio, as received and with language, and characters in --slots minutes of noise
      psk31-facts  what is drawn out of --trials contacts for the log: from text spoiled at random, and as received at --snr
      psk31-band   PSK31 in a full band, on paths that drift and fade, and what forty conversations cost
      packet       how weak frames may be at each speed, frames in --slots minutes of noise, speed, and what a link brings through
      knowledge    how weak a message may be that is expected, and how often one is found that is not there

Errors leave exit code 1, wrong usage 2.`

const COMMANDS: Record<string, (args: string[]) => Promise<void> | void> = {
  decode: decodeCommand,
  encode: encodeCommand,
  bench: benchCommand,
  clock: clockCommand,
  level: levelCommand,
  kiss: kissCommand,
  session: sessionCommand,
  standin: standinCommand,
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
