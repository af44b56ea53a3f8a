/** Levels that are tried, share of full scale, from hardly anything up to loud. */
export const VOX_LEVELS = [0.03, 0.05, 0.08, 0.12, 0.18, 0.25, 0.35, 0.5, 0.7, 0.95] as const
/** Room left over the level that just trips, so that a colder battery does not fail it. */
const MARGIN_DB = 3
/** Rounding of the lead-in, and what is added because no VOX trips at the same moment twice. */
const LEAD_STEP_MS = 10
const LEAD_MARGIN_MS = 30

/** The search for the level at which a VOX trips. */
export interface VoxSearch {
  /** Index of the level that is tried now. */
  at: number
  phase: 'trying' | 'timing' | 'done' | 'never'
  /** Delays between the tone's start and the trip, in ms. */
  delaysMs: readonly number[]
  hangsMs: readonly number[]
}

export type VoxEvent =
  | { type: 'start' }
  /** A burst was sent: the radio keyed or not; delays when something heard them. */
  | { type: 'burst'; keyed: boolean; delayMs?: number; hangMs?: number }

/** Bursts that are timed once the level is known. */
const TIMED_BURSTS = 3

export const startVoxSearch = (): VoxSearch => ({ at: 0, phase: 'trying', delaysMs: [], hangsMs: [] })

/** The level to send the next burst with: while timing, with the margin that will be used. */
export function voxLevel({ at, phase }: VoxSearch): number {
  const level = VOX_LEVELS[at]!
  return phase === 'trying' ? level : Math.min(1, level * 10 ** (MARGIN_DB / 20))
}

/** One burst further: louder until it trips, then timed. */
export function reduceVox(state: VoxSearch, event: VoxEvent): VoxSearch {
  if (event.type === 'start') return startVoxSearch()
  if (state.phase === 'done' || state.phase === 'never') return state
  const timed = {
    delaysMs: event.delayMs === undefined ? state.delaysMs : [...state.delaysMs, event.delayMs],
    hangsMs: event.hangMs === undefined ? state.hangsMs : [...state.hangsMs, event.hangMs],
  }
  if (state.phase === 'trying') {
    if (event.keyed) return { ...state, ...timed, phase: 'timing' }
    return state.at + 1 < VOX_LEVELS.length ? { ...state, at: state.at + 1 } : { ...state, phase: 'never' }
  }
  // A level that trips once and not again is too near the edge.
  if (!event.keyed) return state.at + 1 < VOX_LEVELS.length ? { ...state, at: state.at + 1, phase: 'trying' } : { ...state, phase: 'never' }
  return { ...state, ...timed, phase: timed.delaysMs.length >= TIMED_BURSTS ? 'done' : 'timing' }
}

export interface VoxResult {
  level: number
  leadInMs: number
  hangMs: number | undefined
  words: string
}

/** What follows for the station. @param longestLeadMs the most that the modem can lead in */
export function voxResult(state: VoxSearch, longestLeadMs: number): VoxResult | undefined {
  if (state.phase !== 'done') return undefined
  const slowest = Math.max(...state.delaysMs)
  const wanted = Math.ceil((slowest + LEAD_MARGIN_MS) / LEAD_STEP_MS) * LEAD_STEP_MS
  const leadInMs = Math.max(0, Math.min(longestLeadMs, wanted))
  const hangMs = state.hangsMs.length > 0 ? Math.max(...state.hangsMs) : undefined
  const level = voxLevel(state)
  const late = wanted > longestLeadMs ? ` That is more than the ${longestLeadMs} ms there are: raise the VOX gain, or key by cable.` : ''
  const hang =
    hangMs === undefined
      ? ''
      : hangMs > 1500
        ? ` It lets go only after ${Math.round(hangMs)} ms: shorten the VOX delay, or the answer’s beginning is lost.`
        : ` It lets go after ${Math.round(hangMs)} ms.`
  return { level, leadInMs, hangMs, words: `Trips at ${Math.round(100 * level)} % within ${Math.round(slowest)} ms.${hang}${late}` }
}
