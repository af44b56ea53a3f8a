import type { AudioReport } from '../audio/audioExaminer'
import type { LevelReading } from '../audio/levelMeter'
import type { LinkState } from '../links'
import type { ModeId, SoundModeId } from '../modes/modeId'
import type { Station } from '../station/station'
import type { ClockVerdict } from '../time/clockVerdict'
import type { TimebaseSource } from '../time/timebase'

/** State of one thing that operating needs. Words, so that shape and colour only repeat them. */
export type ReadyState = 'ready' | 'attention' | 'missing' | 'unknown'

/** What may be looked at, in the order of the work. */
export const READY_IDS = ['call', 'locator', 'licence', 'tnc', 'audio', 'level', 'clock', 'dial', 'output'] as const
export type ReadyId = (typeof READY_IDS)[number]

/** Where an operator mends something. */
export type ReadyStage = 'station' | 'connect' | 'connect/control' | 'connect/tnc' | 'clock' | 'levels' | 'practise' | 'dial'

export interface ReadyItem {
  id: ReadyId
  title: string
  state: ReadyState
  /** What was measured or told. */
  evidence: string
  /** When that was, in UTC milliseconds; absent for what does not age. */
  sinceUtcMs?: number
  /** The one next thing to do; absent when there is none. */
  action?: { label: string; stage: ReadyStage }
  /** True when receiving is impossible without it, not only transmitting. */
  neededToHear: boolean
}

/** All that is known about the station at one moment. */
export interface ReadinessEvidence {
  nowUtcMs: number
  /** The mode in front. */
  mode: SoundModeId
  /** All that the operator uses. */
  modesInUse: readonly ModeId[]
  station: Station
  source: 'none' | 'microphone' | 'recording' | 'practice'
  sourceProblem?: string
  lastBlockUtcMs?: number
  level?: LevelReading & { utcMs: number }
  /** What the level coach says, a second or two behind the level. */
  audio?: Pick<AudioReport, 'findings' | 'noise2500Dbfs' | 'headroomDb'> & { utcMs: number }
  /** Things that differ from when this set-up was good; absent when nothing was remembered. */
  levelChanges?: number
  clock: { verdict: ClockVerdict; source: TimebaseSource; setUtcMs: number; bandUtcMs?: number }
  outputProblem?: string
  /** What the links say; absent while the server does not. */
  links?: Pick<LinkState, 'control' | 'keying' | 'tnc'>
}
