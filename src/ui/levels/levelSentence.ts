import { LEVEL_CODES } from '@/core/levels'
import type { HeardAudio } from '@/engine/station/state'

/** The answer first: is the level good, and if not, what is it? */
export function levelSentence(audio: HeardAudio | undefined, listening: boolean): string {
  if (!listening) return 'Nothing is listened to'
  if (!audio) return 'Listening…'
  const { target } = audio
  const worst = audio.findings.find((f) => f.severity !== 'note')
  if (worst) {
    const more = audio.findings.filter((f) => f.severity !== 'note').length - 1
    const name = LEVEL_CODES.has(worst.code) ? `${worst.name}: ${small(target.words)}` : worst.name
    return `${name}${more > 0 ? `, and ${more} more` : ''}`
  }
  return target.state === 'good' ? 'Levels are good' : `Clean, but ${small(target.words)}`
}

const small = (words: string) => words[0]!.toLowerCase() + words.slice(1)

/** The same in a few letters, for the strip. */
export function shortLevel(audio: HeardAudio): string {
  const { state, moveDb } = audio.target
  if (state === 'silent') return 'no sound'
  const worst = audio.findings.find((f) => f.severity !== 'note')
  if (worst && !(LEVEL_CODES.has(worst.code) && worst.code !== 'clipping')) return worst.name
  return state === 'good' ? 'good' : `${Math.abs(moveDb).toFixed(0)} dB too ${moveDb > 0 ? 'low' : 'high'}`
}
