import type { AudioReport } from '../audio/audioExaminer'
import type { Finding, FindingCode } from '../audio/findings'
import { QUIET_DBFS } from '../audio/judgeReceive'

/** The band's noise stands this far over the converter's, so that the converter adds less than 0.15 dB. */
const CLEAR_OF_CONVERTER_DB = 15
/** The converter's own noise when nobody measured it, so that the target begins where "too quiet" ends. */
const ASSUMED_CONVERTER_2500_DBFS = QUIET_DBFS - CLEAR_OF_CONVERTER_DB
/** Room for a station that is stronger than any heard so far. */
const RESERVE_DB = 12
/** A strong neighbour stands about this far over the noise in 2500 Hz, and its wave peaks 3 dB higher. */
const STRONG_NEIGHBOUR_DB = 38
/** Being wrong by less than this is not worth a turn of the knob. */
const WIDTH_DB = 6

/** Where the noise in 2500 Hz should lie, computed from what limits it on either side. */
export interface ReceiveTarget {
  lowDbfs: number
  highDbfs: number
  nowDbfs: number
  /** By how much to turn; 0 when it is good. */
  moveDb: number
  state: 'good' | 'up' | 'down' | 'silent'
  words: string
}

/**
 * Computes where the level should be. Both ends are real limits: below, the converter's own noise covers the band's;
 * above, the strongest station clips.
 * @param converter2500Dbfs measured with the radio off, if it was
 */
export function receiveTarget(
  report: Pick<AudioReport, 'noise2500Dbfs' | 'headroomDb' | 'clippedFraction' | 'findings'>,
  converter2500Dbfs = ASSUMED_CONVERTER_2500_DBFS,
): ReceiveTarget {
  const now = report.noise2500Dbfs
  // How far the level could rise before what was heard lately would come within the reserve of full scale.
  const room = report.headroomDb - RESERVE_DB
  const high = Math.min(-STRONG_NEIGHBOUR_DB - 3, now + room)
  const low = Math.min(converter2500Dbfs + CLEAR_OF_CONVERTER_DB, high - WIDTH_DB)
  const base = { lowDbfs: low, highDbfs: high, nowDbfs: now }
  if (!Number.isFinite(now) || report.findings.some((f) => f.code === 'digital-silence'))
    return {
      ...base,
      moveDb: 0,
      state: 'silent',
      words: report.findings.some((f) => f.code === 'digital-silence') ? 'No sound at all' : 'No sound arrives yet',
    }
  const clipping = report.clippedFraction > 0
  if (now > high || clipping) {
    // What is cut off hides how much too loud it is.
    const move = Math.max(clipping ? 10 : 1, Math.ceil(now - high) + WIDTH_DB / 2)
    return { ...base, moveDb: -move, state: 'down', words: `Turn down by about ${Math.round(move)} dB` }
  }
  if (now < low) {
    const move = Math.ceil(low - now) + WIDTH_DB / 2
    return { ...base, moveDb: move, state: 'up', words: `Turn up by about ${Math.round(move)} dB` }
  }
  return { ...base, moveDb: 0, state: 'good', words: 'Volume right: leave it there' }
}

/** Findings that a turn of the volume cures. */
export const LEVEL_CODES: ReadonlySet<FindingCode> = new Set<FindingCode>(['clipping', 'too-hot', 'too-quiet'])

/**
 * The findings with the dose of the target: one figure for one turn of the knob, wherever it is read. A level that is within
 * the target measured for this converter is not called too quiet by the limit meant for any.
 */
export function withDose<Found extends Finding>(findings: readonly Found[], target: ReceiveTarget): Found[] {
  return findings.flatMap((found) => {
    if (!LEVEL_CODES.has(found.code)) return [found]
    if (target.state === 'good') return []
    return [{ ...found, advice: `${target.words}. ${found.advice}` }]
  })
}
