import type { ReceiveTarget } from '@/core/levels'
import type { HeardAudio } from '@/engine/station/state'

/** The answer first: is the level good, and if not, what is it? */
export function levelSentence(audio: HeardAudio | undefined, target: ReceiveTarget | undefined, listening: boolean): string {
  if (!listening) return 'Nothing is listened to'
  if (!audio || !target) return 'Listening…'
  const worst = audio.findings.find((f) => f.severity !== 'note')
  if (worst) {
    const more = audio.findings.filter((f) => f.severity !== 'note').length - 1
    return `${worst.name}${more > 0 ? `, and ${more} more` : ''}`
  }
  return target.state === 'good' ? 'Levels are good' : `Clean, but ${target.words.toLowerCase()}`
}
