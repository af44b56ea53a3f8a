import { createBandFilter, createRandom } from '@/core/dsp'
import { createMadeUpSpeech } from './madeUpSpeech'

/** What can be wrong between antenna and tablet, to be found by ear and meter. */
export const RECEIVE_FAULTS = [
  'clipping',
  'too-quiet',
  'too-hot',
  'digital-silence',
  'dc-offset',
  'hum-50',
  'hum-60',
  'agc-pumping',
  'noise-gate',
  'noise-reduction',
  'narrow-filter',
  'speech',
  'dropouts',
  'one-channel',
] as const
export type ReceiveFault = (typeof RECEIVE_FAULTS)[number]

/**
 * A fault and how bad it is. The unit of `amount` is the fault's own: clipping and too-hot: gain in dB; too-quiet: loss
 * in dB; dc-offset: share of full scale; hum: dB against the noise in 2500 Hz; agc-pumping: dB of gain reduction a strong
 * station causes; noise-gate: depth in dB; noise-reduction: depth in dB; narrow-filter: width in Hz; speech: dB against
 * the noise in 2500 Hz; dropouts: share of the time that is lost.
 */
export interface FaultAmount {
  fault: ReceiveFault
  amount: number
}

/** What one meets when the fault is really there. */
export const USUAL_AMOUNTS: Record<ReceiveFault, number> = {
  clipping: 42,
  'too-quiet': 60,
  'too-hot': 34,
  'digital-silence': 0,
  'dc-offset': 0.08,
  'hum-50': 12,
  'hum-60': 12,
  'agc-pumping': 15,
  'noise-gate': 25,
  'noise-reduction': 18,
  'narrow-filter': 500,
  speech: 8,
  dropouts: 0.08,
  'one-channel': 0,
}

/** Makes good audio bad, block by block, as it streams. */
export interface FaultyReceiver {
  /** @returns one channel, or two when one of them is dead */
  push(samples: Float32Array): Float32Array[]
}

type Stage = (samples: Float32Array) => Float32Array

/**
 * Creates a receiver with faults. They act in the order of the real chain: what reaches the microphone, radio, lead, converter.
 * @param gain how the volume between radio and converter is turned, 1 where it belongs
 * @param noiseRms of the good audio's noise over the whole band up to half the rate; amounts against noise refer to it
 */
export function createFaultyReceiver(
  faults: readonly FaultAmount[],
  { rateHz, seed, noiseRms, gain }: { rateHz: number; seed: number; noiseRms: number; gain?: () => number },
): FaultyReceiver {
  const amounts = new Map(faults.map(({ fault, amount }) => [fault, amount]))
  const stages: Stage[] = []
  const noise2500 = noiseRms * Math.sqrt(2500 / (rateHz / 2))
  const add = (fault: ReceiveFault, make: (amount: number) => Stage) => {
    const amount = amounts.get(fault)
    if (amount !== undefined) stages.push(make(amount))
  }
  add('narrow-filter', (width) => createBandFilter(rateHz, Math.max(100, 1500 - width / 2), 1500 + width / 2))
  add('agc-pumping', (depth) => pump(rateHz, depth, noiseRms))
  add('noise-gate', (depth) => gate(rateHz, depth, seed))
  add('noise-reduction', (depth) => reduceNoise(rateHz, depth))
  add('speech', (over) => speak(rateHz, noise2500 * 10 ** (over / 20), seed))
  add('hum-50', (over) => humming(rateHz, 50, noise2500 * 10 ** (over / 20), seed))
  add('hum-60', (over) => humming(rateHz, 60, noise2500 * 10 ** (over / 20), seed))
  add('dropouts', (share) => dropping(rateHz, share, seed))
  if (gain) stages.push((samples) => scale(gain())(samples))
  add('too-quiet', (loss) => scale(10 ** (-loss / 20)))
  add('too-hot', (gain) => limited(10 ** (gain / 20)))
  add('clipping', (gain) => scale(10 ** (gain / 20)))
  add('dc-offset', (offset) => (samples) => samples.map((value) => value + offset))
  add('digital-silence', () => (samples) => new Float32Array(samples.length))
  const oneDead = amounts.has('one-channel')
  return {
    push(samples) {
      const out = convert(stages.reduce((audio, stage) => stage(audio), samples))
      return oneDead ? [out, new Float32Array(out.length)] : [out]
    },
  }
}

/** A 16-bit converter: steps, and an end on either side. */
function convert(samples: Float32Array): Float32Array {
  return samples.map((value) => Math.max(-32_768, Math.min(32_767, Math.round(value * 32_768))) / 32_768)
}

const scale = (gain: number) => (samples: Float32Array) => samples.map((value) => value * gain)

/** Loud, but never at the end of the scale: as if set by someone who watches the clipping lamp alone. */
const limited = (gain: number) => (samples: Float32Array) => {
  const most = samples.reduce((peak, value) => Math.max(peak, Math.abs(value)), 0) * gain
  const used = most > 0.9 ? (0.9 / most) * gain : gain
  return samples.map((value) => value * used)
}

/** Automatic gain: quick to come down when a strong station begins, slow to come up again. */
function pump(rateHz: number, depthDb: number, noiseRms: number): Stage {
  const smoothing = 1 - Math.exp(-1 / (0.01 * rateHz))
  const attack = 1 - Math.exp(-1 / (0.02 * rateHz))
  const release = 1 - Math.exp(-1 / (0.35 * rateHz))
  // The usual noise just does not move it; what stands 12 dB over it takes the whole depth.
  const quiet = noiseRms * noiseRms
  let level = quiet
  let power = quiet
  return (samples) =>
    samples.map((value) => {
      power += smoothing * (value * value - power)
      level += (power > level ? attack : release) * (power - level)
      const overDb = Math.max(0, 10 * Math.log10(level / (4 * quiet)))
      return value * 10 ** (-Math.min(depthDb, (overDb * depthDb) / 12) / 20)
    })
}

/** A gate that opens and shuts on noise near its threshold. */
function gate(rateHz: number, depthDb: number, seed: number): Stage {
  const random = createRandom(seed ^ 0x6a7e)
  const closed = 10 ** (-depthDb / 20)
  let open = true
  let left = 0
  let gain = 1
  const speed = 1 - Math.exp(-1 / (0.01 * rateHz))
  return (samples) =>
    samples.map((value) => {
      if (left-- <= 0) {
        open = !open
        left = Math.round(rateHz * (open ? 0.4 + 1.2 * random() : 0.3 + 0.9 * random()))
      }
      gain += speed * ((open ? 1 : closed) - gain)
      return value * gain
    })
}

/** Spectral noise reduction: what is not over the noise in its own narrow band is turned down, and islands are left. */
function reduceNoise(rateHz: number, depthDb: number): Stage {
  const bands = 48
  const widthHz = 3000 / bands
  const closed = 10 ** (-depthDb / 20)
  const smoothing = 1 - Math.exp((-2 * Math.PI * widthHz * 0.2) / rateHz)
  const slow = 1 - Math.exp(-1 / (1.5 * rateHz))
  const states = Array.from({ length: bands }, (_, b) => {
    const centre = (b + 0.5) * widthHz
    const r = Math.exp((-Math.PI * widthHz) / rateHz)
    return {
      c: 2 * r * Math.cos((2 * Math.PI * centre) / rateHz),
      r2: r * r,
      g: (1 - r * r) / 2,
      y1: 0,
      y2: 0,
      x2: 0,
      x1: 0,
      fast: 1e-9,
      mean: 1e-9,
    }
  })
  return (samples) =>
    samples.map((value) => {
      let sum = 0
      for (const s of states) {
        const y = s.g * (value - s.x2) + s.c * s.y1 - s.r2 * s.y2
        s.x2 = s.x1
        s.x1 = value
        s.y2 = s.y1
        s.y1 = y
        s.fast += smoothing * (y * y - s.fast)
        s.mean += slow * (y * y - s.mean)
        sum += y * (s.fast > 1.6 * s.mean ? 1 : closed)
      }
      return sum
    })
}

function speak(rateHz: number, rms: number, seed: number): Stage {
  const voice = createMadeUpSpeech(rateHz, createRandom(seed ^ 0x7a1c))
  return (samples) => {
    const said = voice.next(samples.length)
    return samples.map((value, i) => value + rms * said[i]!)
  }
}

/** The fundamental is weak in most leads, and its odd and even lines fall off unevenly. */
function humming(rateHz: number, mainsHz: number, rms: number, seed: number): Stage {
  const random = createRandom(seed ^ 0x4b5d)
  const exact = mainsHz * (1 + 0.0015 * (2 * random() - 1))
  const lines = [0.7, 1, 0.8, 0.5, 0.4, 0.3, 0.25, 0.2, 0.15, 0.1].map((size) => ({
    size: size * (0.6 + 0.8 * random()),
    phase: 2 * Math.PI * random(),
  }))
  const norm = rms / Math.sqrt(lines.reduce((sum, l) => sum + l.size ** 2 / 2, 0))
  let at = 0
  return (samples) =>
    samples.map((value) => {
      const t = at++ / rateHz
      return value + norm * lines.reduce((sum, l, k) => sum + l.size * Math.sin(2 * Math.PI * exact * (k + 1) * t + l.phase), 0)
    })
}

/** Blocks of ten to forty milliseconds are lost and stand as silence. */
function dropping(rateHz: number, share: number, seed: number): Stage {
  const random = createRandom(seed ^ 0x0d0d)
  let lost = 0
  let until = 0
  return (samples) =>
    samples.map((value) => {
      if (lost > 0) {
        lost--
        return 0
      }
      if (until-- > 0) return value
      lost = Math.round(rateHz * (0.01 + 0.03 * random()))
      until = Math.round((lost / share) * (1 - share) * (0.5 + random()))
      return value
    })
}
