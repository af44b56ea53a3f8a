import { createResampler } from '../dsp/resampler'
import { createChannelMeter, type ChannelSecond } from './channelMeter'
import { measureDynamics } from './dynamics'
import { byEffect, isOk, type Finding } from './findings'
import { createHumMeter } from './humMeter'
import { judgeReceive, unseenIn, type ReceiveMeasurements } from './judgeReceive'
import { createMonoMix } from './monoMix'
import { measureNoiseFloor } from './passband'
import { amplitudeToDb } from './quantile'
import { measureSpeech } from './speechMeter'
import { SAMPLE_RATE_HZ } from '../dsp/sampleRate'
import { BIN_HZ, createSpectrumHistory, FRAME_S } from './spectrumHistory'

/** Seconds that are judged together. */
export const EXAMINED_S = 20
/** Less than this says too little of anything but level and silence. */
const LEAST_ROWS = 24

/** What received audio measures over the last twenty seconds, and what is wrong with it. */
export interface AudioReport extends Omit<ReceiveMeasurements, 'speech' | 'hum' | 'silentS'> {
  sampleRateHz: number
  humHz: 50 | 60 | null
  humDbfs: number | null
  humLines: readonly number[]
  /** Seconds of the last two in which speech was heard, for marking slots. */
  speechNowS: number
  findings: Finding[]
  /** What could not have been found in what was heard, in words. */
  unseen: readonly string[]
  ok: boolean
  /** Mean density of each bin of `binHz` over the last two seconds, dB below full scale² per Hz. */
  spectrumDb: readonly number[]
  /** Density of the noise between the signals. */
  floorDb: readonly number[]
  binHz: number
}

export interface AudioExaminer {
  /**
   * Takes the next samples of each channel, equally long.
   * @param mono the same stretch at 12 kHz, when somebody has made it already
   */
  push(channels: readonly Float32Array[], mono?: Float32Array): void
  /** Judges what was heard; undefined before there is any. */
  report(): AudioReport | undefined
  /** Closes what is not a whole second, at the end of a recording. */
  flush(): void
}

/**
 * Creates an examiner of received audio.
 * @param rateHz as converted: clipping and dropouts show only there
 */
export function createAudioExaminer(rateHz: number): AudioExaminer {
  const mix = createMonoMix()
  const resampler = createResampler(rateHz, SAMPLE_RATE_HZ)
  const history = createSpectrumHistory()
  const hum = createHumMeter()
  let meters: ReturnType<typeof createChannelMeter>[] = []
  let seconds: ChannelSecond[][] = []
  let products: number[] = []

  const collect = () => {
    meters.forEach((meter, c) => {
      const kept = (seconds[c] ??= [])
      kept.push(...meter.take())
      kept.splice(0, Math.max(0, kept.length - EXAMINED_S))
    })
  }

  return {
    push(channels, mono = resampler.push(mix.push(channels))) {
      if (channels.length !== meters.length) {
        meters = channels.map(() => createChannelMeter(rateHz))
        seconds = []
        products = []
      }
      channels.forEach((samples, c) => meters[c]!.push(samples))
      if (channels.length > 1) {
        products.push(correlate(channels[0]!, channels[1]!))
        products.splice(0, Math.max(0, products.length - 100))
      }
      history.push(mono)
      hum.push(mono)
      collect()
    },
    flush() {
      meters.forEach((meter) => meter.flush())
      history.push(resampler.flush())
      collect()
    },
    report() {
      if (meters.length === 0 || !seconds[0]?.length) return undefined
      const sums = seconds.map(addUp)
      const live = sums.reduce((a, b) => (b.rms > a.rms ? b : a))
      const rows = history.rows()
      const lines = rows.length >= LEAST_ROWS ? hum.measure() : undefined
      const floor = rows.length > 0 ? measureNoiseFloor(rows, lines?.between) : undefined
      const judged = rows.length >= LEAST_ROWS && floor ? floor : undefined
      const noise = floor?.dbfsPerHz ?? -Infinity
      const measured: ReceiveMeasurements = {
        durationS: live.count / rateHz,
        channels: sums.map((s) => ({ rmsDbfs: amplitudeToDb(s.rms), constant: s.constant })),
        correlation: products.length > 0 ? products.reduce((sum, p) => sum + p, 0) / products.length : 1,
        rmsDbfs: amplitudeToDb(live.rms),
        peakDbfs: amplitudeToDb(live.peak),
        crestDb: live.rms > 0 ? amplitudeToDb(live.peak / live.rms) : 0,
        headroomDb: Math.max(0, -amplitudeToDb(live.peak)),
        clippedFraction: live.clipped / live.count,
        clipRuns: live.clipRuns,
        dcOffset: live.dc,
        dropouts: live.dropouts,
        dropoutS: live.dropoutS,
        heldS: live.heldS,
        silentS: live.silentS,
        noiseFloorDbfsPerHz: noise,
        noise2500Dbfs: noise + 10 * Math.log10(2500),
        passbandHz: judged ? floor!.passbandHz : null,
        hum: judged && lines,
        dynamics: measureDynamics(judged ? rows : [], floor?.passbandHz ?? [0, 0]),
        speech: measureSpeech(judged ? rows : []),
      }
      const findings = byEffect(judgeReceive(measured))
      const { hum: found, speech, ...rest } = measured
      return {
        ...rest,
        sampleRateHz: rateHz,
        humHz: found?.mainsHz ?? null,
        humDbfs: found?.dbfs ?? null,
        humLines: found?.lines.map((line) => line.frequencyHz) ?? [],
        speechNowS: findings.some((f) => f.code === 'speech')
          ? speech.rows.slice(-Math.round(2 / FRAME_S)).filter(Boolean).length * FRAME_S
          : 0,
        findings,
        unseen: unseenIn(measured),
        ok: isOk(findings),
        spectrumDb: Array.from(meanDb(rows.slice(-23))),
        floorDb: floor ? Array.from(floor.density, (power) => 10 * Math.log10(power + 1e-18)) : [],
        binHz: BIN_HZ,
      }
    },
  }
}

/** Examines a whole recording that is in memory: its last twenty seconds decide. @param channels equally long, not empty */
export function examineAudio(channels: readonly Float32Array[], rateHz: number): AudioReport {
  const examiner = createAudioExaminer(rateHz)
  const length = channels[0]!.length
  for (let at = 0; at < length; at += rateHz) examiner.push(channels.map((samples) => samples.subarray(at, at + rateHz)))
  examiner.flush()
  const report = examiner.report()
  if (!report) throw new RangeError('no samples can be examined')
  return report
}

function correlate(a: Float32Array, b: Float32Array): number {
  let product = 0
  let powerA = 0
  let powerB = 0
  for (let i = 0; i < a.length; i++) {
    product += a[i]! * b[i]!
    powerA += a[i]! * a[i]!
    powerB += b[i]! * b[i]!
  }
  return powerA > 0 && powerB > 0 ? product / Math.sqrt(powerA * powerB) : 0
}

function addUp(seconds: readonly ChannelSecond[]) {
  const sum = (pick: (s: ChannelSecond) => number) => seconds.reduce((total, s) => total + pick(s), 0)
  const count = sum((s) => s.count)
  const dc = sum((s) => s.sum) / count
  return {
    count,
    dc,
    /** Without the offset: that is no sound. */
    rms: Math.sqrt(Math.max(0, sum((s) => s.sumSquares) / count - dc * dc)),
    peak: Math.max(...seconds.map((s) => s.peak)),
    clipped: sum((s) => s.clipped),
    clipRuns: sum((s) => s.clipRuns),
    dropouts: sum((s) => s.dropouts),
    dropoutS: sum((s) => s.dropoutS),
    heldS: sum((s) => s.heldS),
    silentS: seconds.filter((s) => s.constant).length,
    constant: seconds.every((s) => s.constant),
  }
}

function meanDb(rows: readonly Float32Array[]): Float32Array {
  const out = new Float32Array(rows[0]?.length ?? 0)
  for (const row of rows) for (let i = 0; i < out.length; i++) out[i]! += row[i]! / rows.length
  return out.map((power) => 10 * Math.log10(power + 1e-18))
}
