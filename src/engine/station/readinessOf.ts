import type { ModeId } from '@/core/modes'
import { assessReadiness, type Readiness } from '@/core/readiness'
import type { Station } from '@/core/station'
import { judgeClock } from '@/core/time'
import type { StationState } from './state'

/** What the station does not know by itself. */
export interface ReadinessAlso {
  modesInUse: readonly ModeId[]
  /** Things that differ from when this set-up was good. */
  levelChanges?: number
}

interface Moment {
  nowUtcMs: number
  monotonicMs: number
  station: Station
}

/** Whether the station can operate, from its state at one moment; undefined before its clock runs. */
export function readinessOf(state: StationState, { nowUtcMs, monotonicMs, station }: Moment, also: ReadinessAlso): Readiness | undefined {
  const { source, level, audio, lastBlockUtcMs, timebase, bandClock, clockState, outputProblem, links, mode } = state
  if (!clockState) return undefined
  return assessReadiness({
    ...{ nowUtcMs, mode, modesInUse: also.modesInUse, station },
    source: source.kind === 'starting' ? 'none' : source.kind,
    ...(source.kind === 'none' && source.problem && { sourceProblem: source.problem }),
    ...(source.kind === 'starting' && { sourceProblem: 'the audio input is being opened' }),
    ...(lastBlockUtcMs !== undefined && { lastBlockUtcMs }),
    ...(level && { level }),
    ...(audio && { audio }),
    ...(also.levelChanges !== undefined && { levelChanges: also.levelChanges }),
    clock: {
      verdict: judgeClock(clockState, monotonicMs, bandClock),
      source: timebase?.source ?? 'computer',
      setUtcMs: timebase?.setUtcMs ?? nowUtcMs,
      ...(bandClock && { bandUtcMs: bandClock.utcMs }),
    },
    ...(outputProblem && { outputProblem }),
    ...(links && { links }),
  })
}
