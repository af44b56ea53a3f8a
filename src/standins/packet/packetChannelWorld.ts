import { createGaussian, createRandom, createResampler, SAMPLE_RATE_HZ, type Resampler } from '@/core/dsp'
import { SIMULATED_NOISE_RMS } from '@/core/ft8'
import { monitorLine, PACKET_MODEMS, parseAx25, type FrameReceiver, type HeardFrame } from '@/core/packet'
import type { OperatorAudio, PracticeWorld } from '../practiceWorld'
import type { WorldOptions } from '../practiceWorlds'
import { CHANNEL_FAULTS, type ChannelFault, type ChannelTransmission } from './packetChannel'
import { PacketWorld, portName } from './packetWorld'

const MODEM = PACKET_MODEMS.packet1200
const STEP_MS = 200
const PER_MS = SAMPLE_RATE_HZ / 1000
/** Stations are stronger than the noise by so much, in dB in the whole band. */
const STRENGTHS_DB = [14, 30] as const
/** What the operator sends arrives in such noise, as a share of full scale: what is far too quiet is copied by nobody. */
const THEIR_NOISE = 0.02
const TWISTED_DB = -9
/** A carrier without end, in pieces. */
const FLAGS_MS = 5000
const OPERATOR = portName(0)

/** Who is on the practice channel beside nodes and a digipeater, and what they say of themselves. */
const PEOPLE = [
  { call: 'Q7HUT-1', words: 'hut above the landing, warden on duty' },
  { call: 'Q4BOT-3', words: 'marshals, boat 3, at the second bend' },
  { call: 'Q2WXR-3', words: 'weather: 14 C, wind 3 m/s from the west' },
  { call: 'Q4BOT-5', words: 'marshals, boat 5, below the weir' },
  { call: 'Q3TUV', words: 'QRV for tests until 18 UTC' },
  { call: 'Q6BRG-2', words: 'bridge watch, net at 20 UTC' },
] as const

/** A VHF channel as sound: nodes, a digipeater and some who talk. They answer what they can copy of the operator's audio. */
export function createPacketChannelWorld({ seed, stations }: WorldOptions): PracticeWorld {
  return new PacketChannelWorld(seed, Math.max(1, Math.min(PEOPLE.length, Math.round(stations / 6))))
}

interface Playing {
  samples: Float32Array
  /** Its first sample, in samples of the world. */
  at: number
}

class PacketChannelWorld implements PracticeWorld {
  readonly label: string
  readonly stepMs = STEP_MS
  private readonly world: PacketWorld
  private readonly noise: () => number
  private readonly theirNoise: () => number
  private readonly strengths = new Map<string, number>()
  private playing: Playing[] = []
  private faults: ReadonlySet<ChannelFault> = new Set()
  private startUtcMs: number | undefined
  private flags: Float32Array | undefined
  private copying: { startMs: number; receiver: FrameReceiver; resampler: Resampler; samples: number; heard: HeardFrame[] } | undefined

  constructor(seed: number, people: number) {
    const random = createRandom(seed)
    this.noise = createGaussian(createRandom(seed ^ 0x5eed))
    this.theirNoise = createGaussian(createRandom(seed ^ 0xea4))
    this.label = `Practice channel at ${MODEM.name}, ${people + 3} stations`
    this.world = new PacketWorld(
      {
        ...{ airBaud: MODEM.baud, loss: 0, seed, ports: 1 },
        ...{ nodes: ['Q5CTL-7', 'Q5GWY-10'], digipeaters: ['Q8TOP'], beacons: PEOPLE.slice(0, people) },
      },
      () => this.faults,
      (transmission) => this.begins(transmission),
    )
    for (const call of ['Q5CTL-7', 'Q5GWY-10', 'Q8TOP', ...PEOPLE.map((one) => one.call)])
      this.strengths.set(call, STRENGTHS_DB[0] + (STRENGTHS_DB[1] - STRENGTHS_DB[0]) * random())
  }

  setFaults(faults: readonly string[]): void {
    this.faults = new Set(faults.filter((fault): fault is ChannelFault => fault in CHANNEL_FAULTS))
  }

  render(fromUtcMs: number, count: number): Float32Array {
    this.startUtcMs ??= fromUtcMs
    const fromMs = fromUtcMs - this.startUtcMs
    this.world.advance(fromMs + count / PER_MS)
    const out = Float32Array.from({ length: count }, () => SIMULATED_NOISE_RMS * this.noise())
    const from = Math.round(fromMs * PER_MS)
    for (const { samples, at } of this.playing)
      for (let i = Math.max(from, at); i < Math.min(from + count, at + samples.length); i++) out[i - from]! += samples[i - at]!
    this.playing = this.playing.filter(({ samples, at }) => at + samples.length > from + count)
    if (this.faults.has('busy')) this.addFlags(out, from)
    return out
  }

  private amplitudeOf(call: string): number {
    return SIMULATED_NOISE_RMS * Math.SQRT2 * 10 ** ((this.strengths.get(call) ?? STRENGTHS_DB[0]) / 20)
  }

  private begins({ sender, startMs, keyUpMs, frames }: ChannelTransmission): void {
    if (sender === OPERATOR) return
    const amplitude = this.amplitudeOf(sender)
    const samples = MODEM.modulate(
      frames.map(({ frame }) => frame),
      {
        ...{ sampleRateHz: SAMPLE_RATE_HZ, amplitude, txDelayMs: keyUpMs, txTailMs: 20 },
        ...(this.faults.has('twisted') && { twistDb: TWISTED_DB }),
      },
    )
    // A squelch that opens late: the operator hears nothing of the begin either.
    if (this.faults.has('squelch')) samples.fill(0, 0, 200 * PER_MS)
    this.playing.push({ samples, at: Math.round(startMs * PER_MS) })
  }

  private addFlags(out: Float32Array, from: number): void {
    this.flags ??= MODEM.modulate([], { sampleRateHz: SAMPLE_RATE_HZ, amplitude: this.amplitudeOf('nobody'), txDelayMs: FLAGS_MS })
    for (let i = 0; i < out.length; i++) out[i]! += this.flags[(from + i) % this.flags.length]!
  }

  private msOf(utcMs: number): number {
    return utcMs - (this.startUtcMs ??= utcMs)
  }

  keyed(startUtcMs: number, endUtcMs: number): void {
    this.world.channel.keyed(OPERATOR, this.msOf(startUtcMs), this.msOf(endUtcMs))
  }

  hear({ samples, sampleRateHz, startUtcMs, last }: OperatorAudio): string | null | undefined {
    this.copying ??= {
      ...{ startMs: this.msOf(startUtcMs), samples: 0, heard: [] },
      ...{ receiver: MODEM.createReceiver(), resampler: createResampler(sampleRateHz, SAMPLE_RATE_HZ) },
    }
    const { copying } = this
    this.copy(copying.resampler.push(samples))
    if (!last) return undefined
    this.copy(copying.resampler.flush())
    this.copying = undefined
    const { startMs, heard } = copying
    const endMs = startMs + copying.samples / PER_MS
    // What its receivers add to the end is no part of it.
    for (let i = 0; i < 3; i++) heard.push(...copying.receiver.push(this.withNoise(new Float32Array(1200))))
    this.world.channel.said(
      ...([OPERATOR, startMs, endMs] as const),
      heard.map(({ bytes, startS, endS }) => ({ frame: bytes, startMs: startMs + 1000 * startS, endMs: startMs + 1000 * endS })),
    )
    return heard.length > 0 ? heard.map(({ bytes }) => lineOf(bytes)).join('\n') : null
  }

  private copy(samples: Float32Array): void {
    const copying = this.copying!
    copying.samples += samples.length
    copying.heard.push(...copying.receiver.push(this.withNoise(samples)))
  }

  private withNoise(samples: Float32Array): Float32Array {
    return samples.map((value) => value + THEIR_NOISE * this.theirNoise())
  }
}

function lineOf(bytes: Uint8Array): string {
  const parsed = parseAx25(bytes)
  return parsed.ok ? monitorLine(parsed.value) : 'a frame that cannot be read'
}
