import type { AudioReport } from '../audio/audioExaminer'
import type { Finding } from '../audio/findings'
import { LEVEL_CODES, receiveTarget, type ReceiveTarget } from './receiveTarget'

/** How long everything must stay good before a step is done by itself. */
export const HOLD_GOOD_MS = 4000

/** The steps of setting up receive, in order; each carries what it needs to show. */
export type ReceiveSetup =
  | { step: 'idle' }
  /** Waiting until any sound arrives. */
  | { step: 'sound' }
  /** Faults that no turn of a volume knob cures, dearest first. */
  | { step: 'faults'; finding: Finding; left: number }
  | { step: 'level'; target: ReceiveTarget; goodSinceMs: number | null }
  /** All is good: to be remembered. */
  | { step: 'good'; target: ReceiveTarget }

export type ReceiveSetupEvent =
  | { type: 'start' }
  | { type: 'stop' }
  | { type: 'report'; report: AudioReport; nowMs: number; converter2500Dbfs?: number }
  /** The operator knows of it and goes on all the same. */
  | { type: 'accept'; code: string }

export interface ReceiveSetupState {
  now: ReceiveSetup
  accepted: readonly string[]
}

export const idleReceiveSetup: ReceiveSetupState = { now: { step: 'idle' }, accepted: [] }

/** The guided set-up as a pure machine: reports in, the one thing to do now out. It never goes on past what is wrong. */
export function reduceReceiveSetup(state: ReceiveSetupState, event: ReceiveSetupEvent): ReceiveSetupState {
  switch (event.type) {
    case 'start':
      return { now: { step: 'sound' }, accepted: [] }
    case 'stop':
      return idleReceiveSetup
    case 'accept':
      return { ...state, accepted: [...state.accepted, event.code] }
    case 'report': {
      if (state.now.step === 'idle' || state.now.step === 'good') return state
      return { ...state, now: next(state, event) }
    }
  }
}

function next({ now, accepted }: ReceiveSetupState, { report, nowMs, converter2500Dbfs }: Extract<ReceiveSetupEvent, { type: 'report' }>) {
  const target = receiveTarget(report, converter2500Dbfs)
  if (target.state === 'silent') return { step: 'sound' } as const
  // A wrong level makes other measurements worthless, so it comes before them.
  const goodSinceMs = target.state !== 'good' ? null : now.step === 'level' && now.goodSinceMs !== null ? now.goodSinceMs : nowMs
  if (target.state !== 'good') return { step: 'level', target, goodSinceMs } as const
  const faults = report.findings.filter((f) => f.severity !== 'note' && !LEVEL_CODES.has(f.code) && !accepted.includes(f.code))
  if (faults.length > 0) return { step: 'faults', finding: faults[0]!, left: faults.length } as const
  if (goodSinceMs !== null && nowMs - goodSinceMs >= HOLD_GOOD_MS) return { step: 'good', target } as const
  return { step: 'level', target, goodSinceMs } as const
}
