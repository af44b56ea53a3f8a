import { isNear } from './facts'
import type { Fading } from './signalHistory'
import { isOverdriven, type Linearity } from './linearity'
import { DEEP_DB } from './signalWords'

/** What is practised on the practice band, judged by what happened there. */
export interface Exercise {
  id: ExerciseId
  title: string
  /** What to do, and by what it is judged. */
  todo: string
}
export type ExerciseId = 'listen' | 'answer' | 'cq' | 'weak' | 'again' | 'fading' | 'overdriven' | 'silence'

export const EXERCISES: readonly Exercise[] = [
  { id: 'listen', title: 'Follow a contact', todo: 'Keep one in focus until name and locator of who talks stand in the fields.' },
  { id: 'answer', title: 'Answer a CQ', todo: 'Answer somebody, give and get a report, and log it.' },
  { id: 'cq', title: 'Be called', todo: 'Call CQ where it is free, and log who comes.' },
  { id: 'weak', title: 'Work a weak one', todo: 'Log a contact with somebody below −8 dB.' },
  { id: 'again', title: 'Get it through', todo: 'When they ask again, say what they lost three times, and log the contact.' },
  { id: 'fading', title: 'Between two fades', todo: 'To somebody who comes and goes by 8 dB and more, send an over of under 10 s.' },
  { id: 'overdriven', title: 'Tell them kindly', todo: 'Find who is overdriven, or hums, and tell them.' },
  { id: 'silence', title: 'Silence', todo: 'Cut an over of yours short with Silence.' },
]

/** Something that happened, as far as an exercise asks for it. */
export type PracticeEvent =
  | { type: 'read'; name: boolean; locator: boolean }
  | { type: 'sent'; text: string; lengthMs: number; fading?: Fading; linearity?: Linearity }
  | { type: 'silenced' }
  | {
      type: 'logged'
      /** Whether anything was sent to them, and whether it began with our CQ. */
      sent: boolean
      calledCq: boolean
      reportSent: string
      reportReceived: string
      snrDb?: number
      saidAgain: boolean
    }

const WEAK_DB = -8
const SHORT_MS = 10_000

/** Which exercises an event completes. */
export function exercisesDone(event: PracticeEvent): ExerciseId[] {
  switch (event.type) {
    case 'read':
      return event.name && event.locator ? ['listen'] : []
    case 'silenced':
      return ['silence']
    case 'sent': {
      const { text, lengthMs, fading, linearity } = event
      const isBad = linearity !== undefined && (linearity.hum !== undefined || isOverdriven(linearity))
      return [
        ...(fading && fading.depthDb >= DEEP_DB && lengthMs < SHORT_MS ? (['fading'] as const) : []),
        ...(isBad && /\b(IMD|OVERDRIVEN|DRIVE|HUM|ALC|SPLATTER|WIDE)\b/i.test(text) ? (['overdriven'] as const) : []),
      ]
    }
    case 'logged': {
      const { sent, reportSent, reportReceived, snrDb, calledCq, saidAgain } = event
      if (!sent || !reportSent || !reportReceived) return []
      return [
        calledCq ? ('cq' as const) : ('answer' as const),
        ...(snrDb !== undefined && snrDb < WEAK_DB ? (['weak'] as const) : []),
        ...(saidAgain ? (['again'] as const) : []),
      ]
    }
  }
}

/** Whether a text says one word three times or more, as one does who was not copied. */
export function saysThrice(text: string): boolean {
  const words = text.toUpperCase().split(/\s+/)
  return words.some(
    (word, k) => word.length > 1 && words.slice(k, k + 3).length === 3 && words.slice(k, k + 3).every((one) => isNear(one, word)),
  )
}
