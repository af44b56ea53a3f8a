import type { ModeId, SoundModeId } from '@/core/modes'
import type { Readiness, ReadyId, ReadyState } from '@/core/readiness'
import { SOUND_MODE_IDS } from '@/core/modes'
import { MODE_SCREENS } from '../modes'

export interface Stage {
  path: string
  label: string
  /** The readiness items it answers for. */
  items: readonly ReadyId[]
  /** The mode that is operated there. */
  mode?: SoundModeId
}

export interface StageGroup {
  id: 'ready' | 'operate' | 'keep' | 'practise' | 'settings'
  label: string
  stages: readonly Stage[]
}

const stage = (path: string, label: string, ...items: ReadyId[]): Stage => ({ path, label, items })

/** The stages in the order of the work, in groups; of the modes only those in use. */
export function stagesFor(modesInUse: readonly ModeId[]): StageGroup[] {
  const modes = SOUND_MODE_IDS.filter((mode) => modesInUse.includes(mode))
  return [
    {
      id: 'ready',
      label: 'Get ready',
      stages: [
        stage('/', 'Ready?'),
        stage('/plan', 'Plan'),
        stage('/station', 'Station', 'call', 'locator', 'licence'),
        stage('/connect', 'Connect', 'audio', 'output', 'tnc'),
        stage('/clock', 'Clock', 'clock'),
        stage('/levels', 'Levels', 'level'),
        stage('/radio', 'Radio'),
      ],
    },
    {
      id: 'operate',
      label: 'Operate',
      stages: [
        ...modes.map((mode): Stage => {
          const { path, label } = MODE_SCREENS[mode]
          return { path, label, items: mode === 'packet' ? ['tnc'] : ['dial'], mode }
        }),
      ],
    },
    { id: 'keep', label: 'Keep', stages: [stage('/reach', 'Reach'), stage('/log', 'Log')] },
    { id: 'practise', label: 'Practise', stages: [stage('/practise', 'Practise')] },
    { id: 'settings', label: 'Settings', stages: [stage('/settings', 'Settings')] },
  ]
}

const WORST: readonly ReadyState[] = ['missing', 'attention', 'unknown', 'ready']
const ANSWERS: Record<Readiness['answer'], ReadyState> = { operate: 'ready', listen: 'attention', no: 'missing' }

/** The worst state of what a stage answers for; undefined when it answers for nothing. */
export function stateOf({ items, mode }: Stage, readiness: Readiness | undefined, inFront: SoundModeId): ReadyState | undefined {
  if (!readiness) return undefined
  if (mode && mode !== inFront) {
    const other = readiness.others.find((one) => one.mode === mode)
    return other && ANSWERS[other.answer]
  }
  const states = readiness.items.filter((item) => items.includes(item.id)).map((item) => item.state)
  // Where a mode is operated the question is whether it can be.
  return worstOf(mode ? [...states, ANSWERS[readiness.answer]] : states)
}

export function worstOf(states: readonly (ReadyState | undefined)[]): ReadyState | undefined {
  return WORST.find((state) => states.includes(state))
}

export const isAt = (path: string, at: string) => path === at || (at !== '/' && path.startsWith(`${at}/`))
