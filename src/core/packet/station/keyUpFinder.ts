/** Each key-up time is tried so often, and is good enough when no more than this many of them were not repeated. */
const TRIES = 3
const MOST_LOST = 1
/** Steps down, and the shortest that is tried. */
const STEP_MS = 50
const SHORTEST_MS = 50
/** Added to the shortest that was good: radios are slower when they are cold, or the battery is low. */
const MARGIN_MS = 50
/** A digipeater repeats within this, on a channel that others use as well. */
const ANSWER_MS = 8000

/** The search for the shortest key-up time that a digipeater still copies: step by step down until it fails, then a margin. */
export interface KeyUpSearch {
  by: string
  /** What it was before, and is again when the search is broken off. */
  beforeMs: number
  /** What is tried now, and how that went. */
  nowMs: number
  sent: number
  repeated: number
  /** The shortest that was good; nothing before one was. */
  goodMs?: number
  /** Until when the last frame may come back. */
  waitsUntilMs?: number
  /** Set once it has ended. */
  result?: { ms?: number; words: string }
}

export type KeyUpAction = { type: 'keyUp'; ms: number } | { type: 'send'; text: string }

/** Text of a test frame: by it the frame is known when it comes back. */
const textOf = ({ nowMs, sent }: KeyUpSearch) => `key-up test ${nowMs} ms, ${sent} of ${TRIES}`

export const beginKeyUpSearch = (by: string, beforeMs: number): KeyUpSearch => ({
  ...{ by, beforeMs, sent: 0, repeated: 0 },
  nowMs: Math.max(SHORTEST_MS, Math.ceil(beforeMs / STEP_MS) * STEP_MS),
})

/** Goes on: time has passed, or a text of ours came back by the digipeater. */
export function stepKeyUpSearch(
  search: KeyUpSearch,
  event: { type: 'tick'; nowMs: number } | { type: 'repeated'; text: string },
): { search: KeyUpSearch; actions: KeyUpAction[] } {
  if (search.result) return { search, actions: [] }
  if (event.type === 'repeated') {
    if (search.waitsUntilMs === undefined || event.text !== textOf(search)) return { search, actions: [] }
    return { search: { ...search, repeated: search.repeated + 1, waitsUntilMs: -Infinity }, actions: [] }
  }
  if (search.waitsUntilMs !== undefined && event.nowMs < search.waitsUntilMs) return { search, actions: [] }
  const lost = search.sent - search.repeated
  if (lost > MOST_LOST) return ended(search)
  if (search.sent < TRIES) {
    const next = { ...search, sent: search.sent + 1, waitsUntilMs: event.nowMs + ANSWER_MS }
    const actions: KeyUpAction[] = search.sent === 0 ? [{ type: 'keyUp', ms: search.nowMs }] : []
    return { search: next, actions: [...actions, { type: 'send', text: textOf(next) }] }
  }
  const good = { ...search, goodMs: search.nowMs }
  if (search.nowMs - STEP_MS < SHORTEST_MS) return ended(good)
  const { waitsUntilMs: _, ...rest } = good
  return { search: { ...rest, nowMs: search.nowMs - STEP_MS, sent: 0, repeated: 0 }, actions: [] }
}

/** A person, or Silence, breaks it off: the key-up time is as before. */
export function breakOffKeyUpSearch(search: KeyUpSearch, words: string): { search: KeyUpSearch; actions: KeyUpAction[] } {
  return { search: { ...search, result: { words } }, actions: [{ type: 'keyUp', ms: search.beforeMs }] }
}

function ended(search: KeyUpSearch): { search: KeyUpSearch; actions: KeyUpAction[] } {
  const { goodMs, by, beforeMs, nowMs, sent, repeated } = search
  if (goodMs === undefined)
    return breakOffKeyUpSearch(search, `${by} repeated ${repeated} of ${sent} frames with ${nowMs} ms: too little, or it does not hear us.`)
  const ms = Math.min(Math.max(beforeMs, goodMs), goodMs + MARGIN_MS)
  const words = `${by} still copies ${goodMs} ms; with a margin it is ${ms} ms now.`
  return { search: { ...search, result: { ms, words } }, actions: [{ type: 'keyUp', ms }] }
}
