/** Longest single transmission of a mode that does not say otherwise. */
export const LONGEST_TRANSMISSION_MS = 15_000
/** Nothing is let through for longer, whatever its mode says. */
export const LONGEST_OF_ALL_MS = 180_000
/** Longest test of levels, and the least rest after one: as long as it was, but never less than this. */
export const LONGEST_TEST_MS = 10_000
const LEAST_REST_MS = 1000
/** How long after its due end a transmission may still be keyed before the watchdog drops it. */
const OVERRUN_MS = 500
/** Without a sign of the operator for this long, nothing more is sent. */
export const UNATTENDED_MS = 10 * 60_000
/** Largest keyed share of the last five minutes. */
const DUTY_LIMIT = 0.6
const DUTY_WINDOW_MS = 5 * 60_000
/** A transmission of open length that would have to end sooner than this is not begun. */
const LEAST_OPEN_MS = 10_000

/** One transmission as the gate sees it. Times are monotonic milliseconds. */
export interface KeyedTransmission {
  id: string
  what: string
  startMs: number
  /** Of an open one: when it must have ended. */
  endMs: number
  /** A test of levels: shorter, and with a rest after it. */
  test?: boolean
  /** Its length is not known beforehand: it is let through for as long as it may last, which the key effect tells. */
  open?: boolean
  /** The longest that its mode allows. Default `LONGEST_TRANSMISSION_MS`. */
  longestMs?: number
}

/**
 * The state of the one gate that every transmission passes.
 * `checked` is the first-transmission check of this session; `silenced` stays until a person starts something anew.
 */
export interface GateState {
  keyed: KeyedTransmission | null
  checkedMs: number | null
  lastPersonMs: number
  silenced: { atMs: number; why: string } | null
  /** Finished transmissions of the last five minutes. */
  recent: readonly { startMs: number; endMs: number }[]
  /** Until when no further test may begin. */
  restUntilMs: number
  /** Bands on which the operator has looked at the SWR in this session. */
  swrSeen: readonly string[]
}

export type GateEvent =
  | { type: 'personActed'; nowMs: number }
  /** `band`: the one on which the SWR was looked at, where no meter is read. */
  | { type: 'checkPassed'; nowMs: number; band?: string }
  | { type: 'started'; nowMs: number }
  | {
      type: 'request'
      nowMs: number
      transmission: KeyedTransmission
      ownCall: string
      licenceConfirmed: boolean
      /** Where no meter is read: the band, so that the first transmission on it is checked. */
      band?: string
    }
  | { type: 'ended'; nowMs: number; id: string }
  | { type: 'silence'; nowMs: number; why: string }
  | { type: 'tick'; nowMs: number }

export type GateEffect =
  | { type: 'key'; transmission: KeyedTransmission }
  | { type: 'unkey'; id: string; why: string }
  | { type: 'refuse'; id: string; why: string; need: GateNeed }

/** What a person must do before a refused transmission can go out. */
export type GateNeed = 'ownCall' | 'licence' | 'firstCheck' | 'start' | 'wait' | 'shorter'

export function createGate(nowMs: number): GateState {
  return { keyed: null, checkedMs: null, lastPersonMs: nowMs, silenced: null, recent: [], restUntilMs: nowMs, swrSeen: [] }
}

/** Why a transmission would be refused now, or undefined when it would go out. */
export function whyRefused(
  state: GateState,
  { nowMs, transmission, ownCall, licenceConfirmed, band }: Omit<Extract<GateEvent, { type: 'request' }>, 'type'>,
): { why: string; need: GateNeed } | undefined {
  if (!ownCall) return { why: 'No own call is set.', need: 'ownCall' }
  if (!licenceConfirmed) return { why: 'The licence is not confirmed for this station.', need: 'licence' }
  if (state.checkedMs === null) return { why: 'The first transmission of this session needs a short check.', need: 'firstCheck' }
  if (band !== undefined && !state.swrSeen.includes(band))
    return { why: `The first transmission on ${band} needs a look at the SWR: no meter is read.`, need: 'firstCheck' }
  if (state.silenced) return { why: `${state.silenced.why} Start again when you are ready.`, need: 'start' }
  if (nowMs - state.lastPersonMs > UNATTENDED_MS)
    return { why: `Nobody has touched the station for ${UNATTENDED_MS / 60_000} minutes.`, need: 'start' }
  if (state.keyed) return { why: 'Another transmission is still on.', need: 'wait' }
  const lengthMs = transmission.endMs - transmission.startMs
  if (transmission.test && lengthMs > LONGEST_TEST_MS)
    return { why: `A test lasts ${LONGEST_TEST_MS / 1000} s at most, not ${(lengthMs / 1000).toFixed(1)} s.`, need: 'shorter' }
  if (transmission.test && nowMs < state.restUntilMs)
    return { why: `The radio rests for another ${Math.ceil((state.restUntilMs - nowMs) / 1000)} s after the last test.`, need: 'wait' }
  const longestMs = Math.min(LONGEST_OF_ALL_MS, transmission.longestMs ?? LONGEST_TRANSMISSION_MS)
  if (!(lengthMs > 0 && lengthMs <= longestMs))
    return {
      why: `A transmission of ${(lengthMs / 1000).toFixed(1)} s is over the limit of ${longestMs / 1000} s.`,
      need: 'shorter',
    }
  const neededMs = transmission.open ? Math.min(LEAST_OPEN_MS, lengthMs) : lengthMs
  if (neededMs > dutyLeftMs(state, nowMs))
    return { why: `Keyed more than ${DUTY_LIMIT * 100} % of the last five minutes: the radio needs a rest.`, need: 'wait' }
  return undefined
}

/** Milliseconds keyed in the last five minutes, with what is on now. */
export function keyedWithin(state: GateState, nowMs: number): number {
  const from = nowMs - DUTY_WINDOW_MS
  const now = state.keyed ? [{ startMs: state.keyed.startMs, endMs: nowMs }] : []
  return [...state.recent, ...now].reduce((sum, r) => sum + Math.max(0, Math.min(r.endMs, nowMs) - Math.max(r.startMs, from)), 0)
}

/** How much longer may be keyed at a stretch from now on. */
const dutyLeftMs = (state: GateState, nowMs: number) => DUTY_LIMIT * DUTY_WINDOW_MS - keyedWithin(state, nowMs)

/** What is let through: an open one for as long as the duty allows. */
function granted(state: GateState, nowMs: number, transmission: KeyedTransmission): KeyedTransmission {
  if (!transmission.open) return transmission
  return { ...transmission, endMs: Math.min(transmission.endMs, transmission.startMs + dutyLeftMs(state, nowMs)) }
}

/** The gate as a pure machine: requests and signs of life in, keying and refusals out. */
export function reduceGate(state: GateState, event: GateEvent): [GateState, GateEffect[]] {
  const { nowMs } = event
  switch (event.type) {
    case 'personActed':
      return [{ ...state, lastPersonMs: nowMs }, []]
    case 'checkPassed':
      return [
        {
          ...state,
          checkedMs: nowMs,
          lastPersonMs: nowMs,
          silenced: null,
          swrSeen: event.band === undefined || state.swrSeen.includes(event.band) ? state.swrSeen : [...state.swrSeen, event.band],
        },
        [],
      ]
    case 'started':
      return [{ ...state, lastPersonMs: nowMs, silenced: null }, []]
    case 'request': {
      const refusal = whyRefused(state, event)
      if (refusal) return [state, [{ type: 'refuse', id: event.transmission.id, ...refusal }]]
      const transmission = granted(state, nowMs, event.transmission)
      return [{ ...state, keyed: transmission }, [{ type: 'key', transmission }]]
    }
    case 'ended':
      return state.keyed?.id === event.id ? [release(state, nowMs), []] : [state, []]
    case 'silence': {
      const silent = { ...release(state, nowMs), silenced: { atMs: nowMs, why: event.why } }
      // Unkeying is asked for even when nothing seems keyed: Silence must never depend on what this state believes.
      return [silent, [{ type: 'unkey', id: state.keyed?.id ?? '', why: event.why }]]
    }
    case 'tick': {
      if (!state.keyed || nowMs <= state.keyed.endMs + OVERRUN_MS) return [state, []]
      const why = 'The watchdog ended a transmission that went on too long.'
      return [{ ...release(state, nowMs), silenced: { atMs: nowMs, why } }, [{ type: 'unkey', id: state.keyed.id, why }]]
    }
  }
}

function release(state: GateState, nowMs: number): GateState {
  if (!state.keyed) return state
  const done = { startMs: state.keyed.startMs, endMs: Math.max(state.keyed.startMs, nowMs) }
  const restUntilMs = state.keyed.test ? nowMs + Math.max(LEAST_REST_MS, done.endMs - done.startMs) : state.restUntilMs
  return { ...state, keyed: null, restUntilMs, recent: [...state.recent, done].filter((r) => r.endMs > nowMs - DUTY_WINDOW_MS) }
}
