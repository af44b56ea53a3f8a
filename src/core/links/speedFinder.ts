/** Serial speeds in the order in which receivers and interfaces use them. */
export const SERIAL_SPEEDS = [9600, 4800, 38_400, 115_200, 19_200, 57_600] as const

/** What was seen while listening at one speed. */
export interface SpeedTrial {
  serialBaud: number
  valid: number
  garbled: number
}

/** The search for the speed of a line that talks by itself. */
export type SpeedSearch =
  | { phase: 'listening'; serialBaud: number; sinceMs: number; valid: number; garbled: number; tried: readonly SpeedTrial[] }
  | { phase: 'found'; serialBaud: number; tried: readonly SpeedTrial[] }
  | { phase: 'notFound'; why: string; tried: readonly SpeedTrial[] }

export type SpeedEvent = { type: 'heard'; valid: number; garbled: number; nowMs: number } | { type: 'tick'; nowMs: number }

/** A talker says something at least once a second; garble shows earlier that the speed is wrong. */
const LISTEN_MS = 1600
const ENOUGH_VALID = 2
const ENOUGH_GARBLED = 6

export function startSpeedSearch(nowMs: number): SpeedSearch {
  return { phase: 'listening', serialBaud: SERIAL_SPEEDS[0], sinceMs: nowMs, valid: 0, garbled: 0, tried: [] }
}

/** One step of the search; a change of `serialBaud` asks for the port to be opened anew at that speed. */
export function reduceSpeedSearch(search: SpeedSearch, event: SpeedEvent): SpeedSearch {
  if (search.phase !== 'listening') return search
  const valid = search.valid + (event.type === 'heard' ? event.valid : 0)
  const garbled = search.garbled + (event.type === 'heard' ? event.garbled : 0)
  const trial = { serialBaud: search.serialBaud, valid, garbled }
  if (valid >= ENOUGH_VALID && valid > garbled / 2)
    return { phase: 'found', serialBaud: search.serialBaud, tried: [...search.tried, trial] }
  const over = event.nowMs - search.sinceMs >= LISTEN_MS || (garbled >= ENOUGH_GARBLED && valid === 0)
  if (!over) return { ...search, valid, garbled }
  const tried = [...search.tried, trial]
  const next = SERIAL_SPEEDS[tried.length]
  if (next !== undefined) return { phase: 'listening', serialBaud: next, sinceMs: event.nowMs, valid: 0, garbled: 0, tried }
  const anything = tried.some((t) => t.garbled > 0 || t.valid > 0)
  return {
    phase: 'notFound',
    tried,
    why: anything
      ? 'Something talks on this port, but not sentences of a receiver at any usual speed. Is it the right port?'
      : 'Nothing was heard at any speed. Is the receiver powered, and is this its port?',
  }
}
