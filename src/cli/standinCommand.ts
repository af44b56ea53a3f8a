import { writeFileSync } from 'node:fs'
import { performance } from 'node:perf_hooks'
import { createInterface } from 'node:readline'
import { parseArgs } from 'node:util'
import { isLocator, locatorToPosition } from '@/core/place'
import {
  createGpsStandin,
  GPS_FAULTS,
  gpsFaultSchema,
  LINE_FAULTS,
  lineFaultSchema,
  RADIO_FAULTS,
  RADIO_VOICES,
  radioFaultSchema,
  RadioStandin,
  TIME_FAULTS,
  timeFaultSchema,
  TNC_FAULTS,
  tncFaultSchema,
  TncStandin,
  type TncFault,
  type GpsFault,
  type TimeFault,
} from '@/standins'
import { runDevice, type AnsweringDevice, type DeviceWay } from '@/standins/node/deviceRunner'
import { runFaultyProxy } from '@/standins/node/faultyProxy'
import { runGpsStandin, type GpsWay, type RunningStandin } from '@/standins/node/gpsRunner'
import { runTimeServer } from '@/standins/node/timeServerRunner'
import { CHANNEL_FAULTS, type ChannelFault } from '@/standins/packet/packetChannel'
import { runPacketChannel } from '@/standins/node/channelRunner'
import { CommandError, fileProblem, numberOption, UsageError } from './errors'

const LONGEST_RECORDING_S = 86_400

/** `zeptik standin gps|time|radio|tnc|line|channel`: simulated devices on real ports, run by hand. */
export async function standinCommand(args: string[]): Promise<void> {
  const [what, ...rest] = args
  if (what === 'gps') await gps(rest)
  else if (what === 'time') await time(rest)
  else if (what === 'radio') await radio(rest)
  else if (what === 'tnc') await tnc(rest)
  else if (what === 'line') await line(rest)
  else if (what === 'channel') await channel(rest)
  else
    throw new UsageError(
      what === undefined
        ? 'which stand-in? gps, time, radio, tnc, line and channel are known'
        : `there is no stand-in "${what}"; gps, time, radio, tnc, line and channel are known`,
    )
}

function faultsOf<T extends string>(
  text: string | undefined,
  known: Record<T, string>,
  parse: (word: string) => T | undefined,
): ReadonlySet<T> {
  const faults = new Set<T>()
  for (const word of (text ?? '').split(',').filter(Boolean)) {
    const fault = parse(word)
    if (fault === undefined)
      throw new UsageError(
        `there is no fault "${word}"; known are ${Object.entries(known)
          .map(([name, words]) => `${name} (${String(words)})`)
          .join(', ')}`,
      )
    faults.add(fault)
  }
  return faults
}

/** HOST:PORT, or a port alone on this computer. */
function address(name: string, text: string): { host: string; port: number } {
  const m = /^(?:(.+):)?(\d{1,5})$/.exec(text)
  const port = Number(m?.[2])
  if (!m || port > 65_535) throw new UsageError(`--${name} must be HOST:PORT or PORT, got "${text}"`)
  return { host: m[1] ?? '127.0.0.1', port }
}

async function gps(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      udp: { type: 'string' },
      tcp: { type: 'string' },
      'tcp-to': { type: 'string' },
      pty: { type: 'string' },
      file: { type: 'string' },
      start: { type: 'string' },
      baud: { type: 'string' },
      seconds: { type: 'string' },
      fault: { type: 'string' },
      locator: { type: 'string' },
      'error-ms': { type: 'string' },
      seed: { type: 'string' },
    },
  })
  if (positionals.length > 0) throw new UsageError(`"${positionals[0]}" is not expected here`)
  const faults: ReadonlySet<GpsFault> = faultsOf(values.fault, GPS_FAULTS, (word) => gpsFaultSchema.safeParse(word).data)
  const locator = values.locator ?? 'JN97LK45'
  if (!isLocator(locator)) throw new UsageError(`--locator must be 4, 6 or 8 characters such as JN97LK, got "${locator}"`)
  const serial = values.pty !== undefined || values.tcp !== undefined || values.file !== undefined || values.baud !== undefined
  const options = {
    seed: numberOption('seed', values.seed, 1, { from: 0, to: 2 ** 31 }),
    position: locatorToPosition(locator),
    ...(serial && { serialBaud: numberOption('baud', values.baud, 9600, { from: 300, to: 1_000_000 }) }),
    errorMs: numberOption('error-ms', values['error-ms'], 0, { from: -1e11, to: 1e11 }),
  }
  const ways = [values.udp, values.tcp, values['tcp-to'], values.pty, values.file].filter((w) => w !== undefined)
  if (ways.length !== 1) throw new UsageError('give one way for the receiver to talk: --udp, --tcp, --tcp-to, --pty or --file')
  const seconds =
    values.seconds === undefined ? undefined : numberOption('seconds', values.seconds, 60, { from: 1, to: LONGEST_RECORDING_S })
  if (values.file !== undefined) {
    const startUtcMs = values.start === undefined ? Date.now() : Date.parse(values.start)
    if (Number.isNaN(startUtcMs)) throw new UsageError(`--start must be a time such as 2026-06-01T12:00:00Z, got "${values.start}"`)
    writeRecording(values.file, createGpsStandin(options), Math.floor(startUtcMs / 1000) * 1000, seconds ?? 60, faults)
    return
  }
  const way: GpsWay =
    values.udp !== undefined
      ? { kind: 'udp', ...address('udp', values.udp) }
      : values.tcp !== undefined
        ? { kind: 'tcp', ...address('tcp', values.tcp) }
        : values['tcp-to'] !== undefined
          ? { kind: 'tcpTo', ...address('tcp-to', values['tcp-to']) }
          : { kind: 'pty', path: values.pty! }
  await runUntilStopped('a simulated GPS receiver talks by', seconds, (lost) => runGpsStandin(options, way, () => faults, lost))
}

function writeRecording(
  path: string,
  standin: ReturnType<typeof createGpsStandin>,
  startUtcMs: number,
  seconds: number,
  faults: ReadonlySet<GpsFault>,
): void {
  const bursts = Array.from({ length: seconds }, (_, i) =>
    standin.burst(startUtcMs + 1000 * i, faults).flatMap((piece) => [...piece.bytes]),
  )
  try {
    writeFileSync(path, Buffer.from(bursts.flat()))
  } catch (error) {
    throw fileProblem(path, error)
  }
  console.log(`zeptik: ${seconds} s of a simulated receiver are in ${path}`)
}

async function time(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { listen: { type: 'string' }, 'error-ms': { type: 'string' }, fault: { type: 'string' }, seconds: { type: 'string' } },
  })
  if (positionals.length > 0) throw new UsageError(`"${positionals[0]}" is not expected here`)
  const faults: ReadonlySet<TimeFault> = faultsOf(values.fault, TIME_FAULTS, (word) => timeFaultSchema.safeParse(word).data)
  const errorMs = numberOption('error-ms', values['error-ms'], 0, { from: -1e12, to: 1e12 })
  const seconds = values.seconds === undefined ? undefined : numberOption('seconds', values.seconds, 60, { from: 1, to: 1e7 })
  const where = address('listen', values.listen ?? '12300')
  await runUntilStopped('a simulated time server answers on', seconds, () => runTimeServer({ ...where, errorMs }, () => faults))
}

const DEVICE_OPTIONS = {
  tcp: { type: 'string' },
  pty: { type: 'string' },
  baud: { type: 'string' },
  fault: { type: 'string' },
  seconds: { type: 'string' },
  seed: { type: 'string' },
} as const
type DeviceValues = { [K in keyof typeof DEVICE_OPTIONS]?: string | undefined }

/** A line with faults before a device on TCP. A word typed on its terminal turns a fault on or off. */
async function line(args: string[]): Promise<void> {
  const { values } = parseArgs({
    args,
    options: { listen: { type: 'string' }, to: { type: 'string' }, fault: { type: 'string' }, seconds: { type: 'string' } },
  })
  if (values.to === undefined) throw new UsageError('--to HOST:PORT says where the device listens')
  const parse = (word: string) => lineFaultSchema.safeParse(word).data
  const faults = new Set(faultsOf(values.fault, LINE_FAULTS, parse))
  const seconds = values.seconds === undefined ? undefined : numberOption('seconds', values.seconds, 60, { from: 1, to: 1e7 })
  const words = createInterface({ input: process.stdin })
  words.on('line', (word) => {
    const fault = parse(word.trim())
    if (fault === undefined) return console.log(`zeptik: faults are ${Object.keys(LINE_FAULTS).join(', ')}`)
    if (!faults.delete(fault)) faults.add(fault)
    console.log(`zeptik: the line has ${[...faults].join(' and ') || 'no fault'}`)
  })
  try {
    const [at, to] = [address('listen', values.listen ?? '4633'), address('to', values.to)]
    await runUntilStopped(`a line leads to ${to.host}:${to.port} from`, seconds, () => runFaultyProxy(at, to, () => faults))
  } finally {
    words.close()
  }
}

async function radio(args: string[]): Promise<void> {
  const { values } = parseArgs({
    args,
    options: { ...DEVICE_OPTIONS, voice: { type: 'string' }, frequency: { type: 'string' }, swr: { type: 'string' } },
  })
  const faults = faultsOf(values.fault, RADIO_FAULTS, (word) => radioFaultSchema.safeParse(word).data)
  const voice = RADIO_VOICES.find((v) => v === (values.voice ?? 'ascii-9'))
  if (!voice) throw new UsageError(`--voice must be one of ${RADIO_VOICES.join(', ')}`)
  const device = new RadioStandin(
    {
      voice,
      serialBaud: baudOf(values),
      monotonicMs: () => performance.now(),
      frequencyHz: numberOption('frequency', values.frequency, 14_074_000, { from: 100_000, to: 450_000_000 }),
    },
    () => faults,
  )
  device.swr = numberOption('swr', values.swr, 1.3, { from: 1, to: 10 })
  await runOnPort(`a simulated radio, ${voice}, answers on`, device, values)
}

async function tnc(args: string[]): Promise<void> {
  const { values } = parseArgs({ args, options: { ...DEVICE_OPTIONS, 'starts-in': { type: 'string' }, dead: { type: 'string' } } })
  const faults = faultsOf(values.fault, TNC_FAULTS, (word) => tncFaultSchema.safeParse(word).data)
  const startsIn = values['starts-in'] ?? 'kiss'
  if (startsIn !== 'kiss' && startsIn !== 'command') throw new UsageError('--starts-in must be kiss or command')
  const seed = numberOption('seed', values.seed, 1, { from: 0, to: 2 ** 31 })
  const device = new TncStandin({ seed, serialBaud: baudOf(values), startsIn }, () => faults)
  // Its second port, as some have: it opens, and nothing is behind it.
  const dead = new TncStandin({ seed, serialBaud: baudOf(values), startsIn }, () => new Set<TncFault>(['deadPort']))
  const other = values.dead === undefined ? undefined : await runDevice(dead, { kind: 'pty', path: values.dead })
  if (other && !other.ok) throw new CommandError(other.error)
  if (other) console.log(`zeptik: its other port, a dead one, is ${other.standin.where}.`)
  try {
    await runOnPort('a simulated TNC answers on', device, values)
  } finally {
    other?.standin.stop()
  }
}

const baudOf = (values: DeviceValues) => numberOption('baud', values.baud, 9600, { from: 300, to: 1_000_000 })

async function runOnPort(what: string, device: AnsweringDevice, { tcp, pty, seconds }: DeviceValues): Promise<void> {
  if ((tcp === undefined) === (pty === undefined)) throw new UsageError('give one way to reach it: --tcp or --pty')
  const way: DeviceWay = tcp === undefined ? { kind: 'pty', path: pty! } : { kind: 'tcp', ...address('tcp', tcp) }
  const limit = seconds === undefined ? undefined : numberOption('seconds', seconds, 60, { from: 1, to: 1e7 })
  await runUntilStopped(what, limit, (lost) => runDevice(device, way, lost))
}

async function runUntilStopped(
  what: string,
  seconds: number | undefined,
  start: (lost: (why: string) => void) => Promise<{ ok: true; standin: RunningStandin } | { ok: false; error: string }>,
): Promise<void> {
  let lose: (why: string) => void = () => undefined
  const lost = new Promise<string>((done) => (lose = done))
  const started = await start((why) => lose(why))
  if (!started.ok) throw new CommandError(started.error)
  console.log(`zeptik: ${what} ${started.standin.where}. ${seconds === undefined ? 'Ctrl-C stops it.' : `It stops after ${seconds} s.`}`)
  const stopped = new Promise<undefined>((done) => {
    process.once('SIGINT', () => done(undefined))
    process.once('SIGTERM', () => done(undefined))
    if (seconds !== undefined) setTimeout(() => done(undefined), seconds * 1000)
  })
  const why = await Promise.race([lost, stopped])
  started.standin.stop()
  if (why !== undefined) throw new CommandError(why)
}

async function channel(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      ports: { type: 'string' },
      base: { type: 'string' },
      'air-baud': { type: 'string' },
      pace: { type: 'string' },
      loss: { type: 'string' },
      seed: { type: 'string' },
      node: { type: 'string', multiple: true },
      digipeater: { type: 'string', multiple: true },
      beacon: { type: 'string', multiple: true },
      seconds: { type: 'string' },
      fault: { type: 'string' },
    },
  })
  if (positionals.length > 0) throw new UsageError(`"${positionals[0]}" is not expected here`)
  const calls = (name: string, texts: readonly string[] = []) =>
    texts.map((text) => {
      const call = text.toUpperCase()
      if (!/^[A-Z0-9]{1,6}(-([0-9]|1[0-5]))?$/.test(call)) throw new UsageError(`--${name} must be a call such as Q5CTL-7, got "${text}"`)
      return call
    })
  const beacons = (values.beacon ?? []).map((text) => {
    const [call = '', ...words] = text.split('=')
    return { call: calls('beacon', [call])[0]!, words: words.join('=') }
  })
  const ports = numberOption('ports', values.ports, 2, { from: 1, to: 50 })
  const options = {
    ports,
    ...{ host: '127.0.0.1', base: numberOption('base', values.base, 9100, { from: 0, to: 65_535 - ports }) },
    airBaud: numberOption('air-baud', values['air-baud'], 1200, { from: 50, to: 1_000_000 }),
    pace: numberOption('pace', values.pace, 1, { from: 0.1, to: 10_000 }),
    loss: numberOption('loss', values.loss, 0, { from: 0, to: 1 }),
    seed: numberOption('seed', values.seed, 1, { from: 0, to: 2 ** 31 }),
    ...{ nodes: calls('node', values.node), digipeaters: calls('digipeater', values.digipeater), beacons },
  }
  const faults: ReadonlySet<ChannelFault> = faultsOf(values.fault, CHANNEL_FAULTS, (word) =>
    word in CHANNEL_FAULTS ? (word as ChannelFault) : undefined,
  )
  const seconds =
    values.seconds === undefined ? undefined : numberOption('seconds', values.seconds, 60, { from: 1, to: LONGEST_RECORDING_S })
  await runUntilStopped('a simulated packet channel:', seconds, () => runPacketChannel(options, () => faults))
}
