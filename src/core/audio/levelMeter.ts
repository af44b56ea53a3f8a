import { dbfsWords } from './decibelWords'
import { QUIET_DBFS } from './judgeReceive'
import { amplitudeToDb } from './quantile'

/** What a second or so of audio measures. Levels are in dB below full scale. */
export interface LevelReading {
  rmsDbfs: number
  peakDbfs: number
  /** Samples at or beyond full scale in a row of three or more: the converter was driven too hard. */
  clippedSamples: number
  /** True when every sample is exactly the same: no converter gives that, so the device is muted or wrong. */
  digitalSilence: boolean
  durationS: number
}

/** What a reading means for receiving. */
export interface LevelVerdict {
  state: 'good' | 'low' | 'high' | 'clipping' | 'silent'
  sentence: string
  advice: string
}

const CLIP = 0.999

/** Measures a stretch of audio. @param samples not empty, full scale ±1 */
export function measureLevel(samples: Float32Array, sampleRateHz: number): LevelReading {
  if (samples.length === 0) throw new RangeError('a level cannot be measured on no samples')
  let sum = 0
  let peak = 0
  let run = 0
  let clippedSamples = 0
  let same = true
  for (let i = 0; i < samples.length; i++) {
    const value = samples[i]!
    const size = Math.abs(value)
    sum += value * value
    if (size > peak) peak = size
    if (value !== samples[0]) same = false
    run = size >= CLIP ? run + 1 : 0
    if (run === 3) clippedSamples += 3
    else if (run > 3) clippedSamples++
  }
  return {
    rmsDbfs: amplitudeToDb(Math.sqrt(sum / samples.length)),
    peakDbfs: amplitudeToDb(peak),
    clippedSamples,
    digitalSilence: same,
    durationS: samples.length / sampleRateHz,
  }
}

/**
 * Judges a receive level by its two real limits: noise must stand clear of the converter's floor, and
 * peaks must leave headroom for a strong neighbour.
 */
export function judgeLevel(reading: LevelReading): LevelVerdict {
  const rms = dbfsWords(reading.rmsDbfs)
  const peak = dbfsWords(reading.peakDbfs)
  if (reading.digitalSilence)
    return { state: 'silent', sentence: 'The device delivers no sound at all', advice: 'Choose another input device, or unmute this one.' }
  if (reading.clippedSamples > 0)
    return {
      state: 'clipping',
      sentence: `Clipping: ${reading.clippedSamples} samples at full scale`,
      advice: 'Turn the radio’s output or the input level down until this goes away.',
    }
  if (reading.peakDbfs > -3)
    return { state: 'high', sentence: `Level ${rms}, peaks ${peak}: too little headroom`, advice: 'Turn the level down a little.' }
  if (reading.rmsDbfs < QUIET_DBFS)
    return {
      state: 'low',
      sentence: `Level ${rms}: hardly above the converter’s own noise`,
      advice: 'Turn the radio’s output up, or check that the right device is chosen.',
    }
  return { state: 'good', sentence: `Level ${rms}, peaks ${peak}`, advice: 'Nothing to do.' }
}
