import { powerToDb, quantile } from './quantile'
import { BIN_HZ, FRAME_S } from './spectrumHistory'

/** Bands in which the rise and fall of syllables is followed. */
const BAND_HZ = 150
const LOWEST_HZ = 150
const HIGHEST_HZ = 2850
/** A band stands out when it is this far over its own quiet level. */
const STANDS_DB = 3.5
/** Speech fills this share of the bands at once; a keyed carrier or a slow data signal fills few. */
const FEWEST_BANDS = 0.15
/** Voices are uneven over the bands; a crackle or a passing noise is even. */
const UNEVEN_DB = 2.5
/**
 * From one syllable to the next the bands rise by this much within a quarter of a second, in the mean of their levels in dB:
 * so a strong station, which fills few of them, hides nothing.
 */
const RISE_DB = 1.7
/** In the usual passband there are this many bands; the mean of fewer moves more by chance. */
const USUAL_BANDS = 17
const RISE_ROWS = 3
/** Syllables that make speech: beginnings of slots and fading carriers in a full band make up to eleven. */
const FEWEST_SYLLABLES = 12
/** A station this far over the mean of the bands spills into all of them with each of its symbols. */
const SPILLS_DB = 26

export interface SpeechReading {
  present: boolean
  syllables: number
  /** Seconds in which it was heard. */
  seconds: number
  /** Mean of how far it stands over the rest while it is there, in dB. */
  standsDb: number
  /** For each row, whether speech was heard in it. */
  rows: boolean[]
}

/** Tells speech and sounds like it from signals by how quickly many parts of the spectrum rise together. */
export function measureSpeech(rows: readonly Float32Array[]): SpeechReading {
  const width = Math.round(BAND_HZ / BIN_HZ)
  const first = Math.round(LOWEST_HZ / BIN_HZ)
  const bands = Math.floor((HIGHEST_HZ - LOWEST_HZ) / BAND_HZ)
  const levels = Array.from({ length: bands }, (_, b) =>
    Float32Array.from(rows, (row) => {
      let sum = 0
      for (let i = 0; i < width; i++) sum += row[first + b * width + i]!
      return powerToDb(sum + 1e-18)
    }),
  )
  const floors = levels.map((level) => quantile(level, 0.3))
  // Bands far below the strongest lie outside the filter, where the converter's noise hides everything.
  const highest = Math.max(...floors)
  const used = [...levels.keys()].filter((b) => floors[b]! > highest - 20)
  const excess = rows.map((_, t) => used.map((b) => levels[b]![t]! - floors[b]!))
  const whole = rows.map((_, t) => used.reduce((sum, b) => sum + levels[b]![t]!, 0) / used.length)
  const standing = excess.map((e) => {
    const out = e.filter((db) => db > STANDS_DB)
    if (out.length < Math.max(2, FEWEST_BANDS * e.length)) return undefined
    const mean = e.reduce((sum, db) => sum + db, 0) / e.length
    const uneven = Math.sqrt(e.reduce((sum, db) => sum + (db - mean) ** 2, 0) / e.length)
    const spilt = Math.max(...e) - mean > SPILLS_DB
    return uneven >= UNEVEN_DB && !spilt ? mean : undefined
  })
  const riseDb = RISE_DB * Math.sqrt(Math.max(1, USUAL_BANDS / Math.max(1, used.length)))
  let syllables = 0
  let rising = false
  for (let t = RISE_ROWS; t < rows.length; t++) {
    const rise = whole[t]! - Math.min(...whole.slice(t - RISE_ROWS, t))
    const now = rise > riseDb && standing[t] !== undefined
    if (now && !rising) syllables++
    rising = now || (rising && rise > 1)
  }
  const heard = standing.filter((mean) => mean !== undefined)
  return {
    present: syllables >= FEWEST_SYLLABLES,
    syllables,
    seconds: heard.length * FRAME_S,
    standsDb: heard.length > 0 ? heard.reduce((sum, db) => sum + db, 0) / heard.length : 0,
    rows: standing.map((mean) => mean !== undefined),
  }
}
