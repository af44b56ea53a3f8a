import { createGaussian, createRandom, createRealFft, resample } from '@/core/dsp'
import {
  addSignal,
  createCallMemory,
  decodeSlot,
  heardAs,
  nextTransmission,
  reduceExchange,
  SAMPLE_RATE_HZ,
  SIMULATED_NOISE_RMS,
  amplitudeForSnr,
  SLOT_MS,
  SLOT_S,
  type ExchangeEvent,
  type Ft8Decode,
} from '@/core/ft8'
import { otherParity, parityOf } from '@/core/time'
import { drawStations, type PracticeStation } from './practiceStation'

export interface PracticeBandOptions {
  seed: number
  /** Default 24. */
  stations?: number
  /** Chance in each of its slots that a station vanishes in the middle of what it does. Default 0.02. */
  vanishing?: number
}

/** What the operator transmitted in a slot, as it left the modulator. */
export interface SlotAudio {
  samples: Float32Array
  sampleRateHz: number
  /** When its first sample went out, after the slot's start. */
  startS: number
  /** Strength at which the band receives it. */
  snrDb?: number
}

export interface PracticeBand {
  /** The audio of a slot as the operator's receiver gives it: 15 s at 12 kHz. Slots are asked for in order. */
  renderSlot(slotIndex: number): Float32Array
  /**
   * Hands over what the operator sent in a slot. It is laid over what else was on the air in that slot,
   * with noise, and decoded: stations answer only what they could copy.
   * @returns what the band copied of it
   */
  operatorSent(slotIndex: number, audio: SlotAudio): string | undefined
  readonly stations: readonly Readonly<PracticeStation>[]
}

interface OnTheAir {
  station: PracticeStation
  text: string
}

/** So many of all stations are in an exchange at once, at most. */
const BUSY_SHARE = 0.5

/**
 * Creates a simulated band in which stations call CQ, work each other and work the operator. The same seed and the same
 * doings of the operator give the same band. Stations conduct their exchanges by the same rules as the operator's own.
 */
export function createPracticeBand({ seed, stations: count = 24, vanishing = 0.02 }: PracticeBandOptions): PracticeBand {
  const random = createRandom(seed)
  const gaussian = createGaussian(createRandom(seed ^ 0x5eed))
  const stations = drawStations(count, random)
  // A small band is busy as a whole.
  const largestCrowd = Math.max(12, BUSY_SHARE * count)
  const memory = createCallMemory()
  let firstSlot: number | undefined
  let before: { slotIndex: number; sent: OnTheAir[]; operator: Ft8Decode[] } | undefined

  const asDecode = ({ station, text }: OnTheAir, snrDb: number): Ft8Decode | undefined =>
    heardAs(text, { snrDb, timeOffsetS: station.clockS, frequencyHz: station.audioOffsetHz }, memory)

  const step = (station: PracticeStation, event: ExchangeEvent) => {
    station.exchange = reduceExchange(station.exchange, event)[0]
  }

  const mannerOf = (station: PracticeStation) => ({
    ownCall: station.call,
    ownLocator: station.locator,
    finish: station.audioOffsetHz % 4 === 0 ? ('RRR' as const) : ('RR73' as const),
    maxTries: 4,
    maxCqTries: 6,
  })

  /** Lets every station hear the slot that has just ended. */
  const listen = () => {
    if (!before) return
    const { slotIndex, sent, operator } = before
    const slotUtcMs = slotIndex * SLOT_MS
    for (const station of stations) {
      if (station.awaySlots > 0 || station.parity === parityOf(slotIndex)) continue
      const heardStrength = (snrDb: number) => Math.round((snrDb + station.snrDb) / 2)
      const decodes = [
        ...sent.filter((s) => s.station !== station && random() < 0.93).map((s) => asDecode(s, heardStrength(s.station.snrDb))),
        // The path is the same both ways: who is weak here hears the operator weakly.
        ...operator.map((d) => ({ ...d, snrDb: Math.round(station.snrDb + 2) })),
      ].filter((d) => d !== undefined)
      step(station, { type: 'heard', slotIndex, slotUtcMs, decodes })
      if (station.exchange.phase === 'ended') {
        station.restSlots = 2 + Math.floor(6 * random())
        station.exchange = { phase: 'idle' }
      }
      if (station.exchange.phase !== 'idle') continue
      const calledBy = decodes.find((d) => d.message.kind === 'standard' && d.message.to === station.call && d.message.info.kind !== '73')
      const cqs = decodes.filter((d) => d.message.kind === 'standard' && d.message.call?.startsWith('CQ'))
      const own = operator.find((d) => cqs.some((c) => c.text === d.text))
      // An operator's CQ is answered by about one free station in six, so that a CQ is seldom in vain.
      const cq = own && random() < 0.17 ? cqs.find((c) => c.text === own.text) : cqs[Math.floor(random() * cqs.length)]
      const target = calledBy ?? (station.restSlots <= 0 && cq && random() < 0.35 ? cq : undefined)
      if (target)
        step(station, {
          type: 'answer',
          manner: mannerOf(station),
          decode: target,
          slotIndex,
          slotUtcMs,
          audioOffsetHz: station.audioOffsetHz,
        })
    }
  }

  /** Decides what is on the air in a slot. */
  const speak = (slotIndex: number): OnTheAir[] => {
    const onTheAir: OnTheAir[] = []
    for (const station of stations) {
      if (station.restSlots > 0) station.restSlots--
      if (station.awaySlots > 0) {
        station.awaySlots--
        continue
      }
      if (station.exchange.phase !== 'underway') {
        const crowded = stations.filter((s) => s.exchange.phase === 'underway').length >= largestCrowd
        if (station.restSlots > 0 || crowded || random() > 0.3) continue
        if (random() < 0.2) station.parity = otherParity(station.parity)
        step(station, { type: 'callCq', manner: mannerOf(station), txParity: station.parity, audioOffsetHz: station.audioOffsetHz })
      }
      const next = nextTransmission(station.exchange)
      if (!next || next.parity !== parityOf(slotIndex)) continue
      station.parity = next.parity
      if (random() < vanishing) {
        station.awaySlots = 8 + Math.floor(20 * random())
        station.exchange = { phase: 'idle' }
        continue
      }
      onTheAir.push({ station, text: next.text })
      step(station, { type: 'sent', slotIndex, slotUtcMs: slotIndex * SLOT_MS, text: next.text, complete: true })
      if (station.exchange.phase === 'ended') {
        station.restSlots = 2 + Math.floor(6 * random())
        station.exchange = { phase: 'idle' }
      }
    }
    return onTheAir
  }

  const mix = (slotIndex: number, onTheAir: readonly OnTheAir[]): Float32Array => {
    const samples = new Float32Array(SLOT_S * SAMPLE_RATE_HZ)
    for (let i = 0; i < samples.length; i++) samples[i] = SIMULATED_NOISE_RMS * gaussian()
    const hours = ((slotIndex - (firstSlot ?? slotIndex)) * SLOT_S) / 3600
    for (const { station, text } of onTheAir) {
      const { snrDb, audioOffsetHz, driftHzPerS, fadingHz, clockS, clockDriftSPerHour } = station
      addSignal(samples, 0, { text, snrDb, audioOffsetHz, driftHzPerS, fadingHz, timeOffsetS: clockS + hours * clockDriftSPerHour }, random)
    }
    return samples
  }

  return {
    stations,
    renderSlot(slotIndex) {
      firstSlot ??= slotIndex
      listen()
      const sent = speak(slotIndex)
      before = { slotIndex, sent, operator: [] }
      return mix(slotIndex, sent)
    },
    operatorSent(slotIndex, { samples, sampleRateHz, startS, snrDb = 0 }) {
      if (!before || before.slotIndex !== slotIndex) return undefined
      const audio = resample(samples, sampleRateHz, SAMPLE_RATE_HZ)
      const peak = audio.reduce((most, value) => Math.max(most, Math.abs(value)), 0)
      if (peak === 0) return undefined
      const air = mix(slotIndex, before.sent)
      const gain = amplitudeForSnr(snrDb) / peak
      const start = Math.round(startS * SAMPLE_RATE_HZ)
      for (let i = Math.max(0, -start); i < audio.length && start + i < air.length; i++) air[start + i]! += gain * audio[i]!
      const sims = new Set(before.sent.map((s) => s.text))
      const middleHz = strongestFrequency(audio)
      const copied = decodeSlot(air, { callMemory: memory, lowestHz: middleHz - 120, highestHz: middleHz + 120 }).filter(
        (d) => !sims.has(d.text),
      )
      before.operator = copied
      return copied[0]?.text
    },
  }
}

/** Where the energy of a transmission lies, so that the band listens there alone. */
function strongestFrequency(audio: Float32Array): number {
  const size = 61_440
  const fft = createRealFft(size)
  const from = Math.max(0, Math.floor((audio.length - size) / 2))
  const re = new Float64Array(size / 2 + 1)
  const im = new Float64Array(size / 2 + 1)
  const part = new Float64Array(size)
  part.set(audio.subarray(from, from + size))
  fft.forward(part, re, im)
  let sum = 0
  let weighted = 0
  for (let bin = 1; bin <= size / 2; bin++) {
    const power = re[bin]! ** 2 + im[bin]! ** 2
    sum += power
    weighted += power * bin
  }
  return sum > 0 ? ((weighted / sum) * SAMPLE_RATE_HZ) / size : 1500
}
