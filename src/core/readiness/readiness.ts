import { MODES, type Mode } from '../modes'
import type { ModeId } from '../modes/modeId'
import { READY_IDS, type ReadinessEvidence, type ReadyItem } from './evidence'
import { audioItem, callItem, levelItem, licenceItem, outputItem } from './sharedItems'

export interface Verdict {
  answer: 'operate' | 'listen' | 'no'
  sentence: string
}

export interface Readiness extends Verdict {
  /** Of the mode in front, in the order of the work. */
  items: ReadyItem[]
  /** The other modes in use, each with its own answer. */
  others: (Verdict & { mode: ModeId })[]
}

/** Judges whether the station can operate, and if not, why: the first missing thing in the order of work. */
export function assessReadiness(e: ReadinessEvidence): Readiness {
  const others = e.modesInUse.filter((mode) => mode !== e.mode)
  const items = itemsOf(e, e.mode)
  return { ...judge(e, items), items, others: others.map((mode) => ({ mode, ...judge(e, itemsOf(e, mode)) })) }
}

function itemsOf(e: ReadinessEvidence, id: ModeId): ReadyItem[] {
  const mode: Mode = MODES[id]
  const sound = mode.sound || mode.soundNow?.(e) ? [audioItem(e), levelItem(e), outputItem(e)] : []
  return [callItem(e), licenceItem(e), ...sound, ...mode.readiness(e)].sort((a, b) => READY_IDS.indexOf(a.id) - READY_IDS.indexOf(b.id))
}

function judge(e: ReadinessEvidence, items: readonly ReadyItem[]): Verdict {
  const blocking = items.filter((i) => i.state === 'missing')
  const doubtful = items.filter((i) => i.state === 'attention' || i.state === 'unknown')
  const deaf = blocking.find((i) => i.neededToHear)
  const place = e.source === 'practice' ? 'in practice' : 'on the air'
  if (deaf) return { answer: 'no', sentence: `Not yet: ${deaf.evidence}.` }
  if (blocking.length > 0) {
    const more = blocking.length > 1 ? ` (and ${blocking.length - 1} more)` : ''
    return { answer: 'listen', sentence: `You can listen, not transmit: ${blocking[0]!.evidence}${more}.` }
  }
  const look = doubtful.length === 0 ? '' : ` Worth a look: ${doubtful.map((i) => i.title.toLowerCase()).join(', ')}.`
  return { answer: 'operate', sentence: `Yes, you can operate ${place}.${look}` }
}
