/** How a time server wants to be asked (RFC 5905, section 7.4: kiss codes; section 7.3: polling). Plain data. */
export interface ServerManners {
  /** The server does not want to be asked again by us, and why. */
  refusedBy?: 'DENY' | 'RSTR'
  /** Not before this monotonic instant. */
  notBeforeMs: number
  /** Least time between two series, doubled each time it complains. */
  spacingMs: number
}

/** RFC 5905 leaves two seconds between questions even in a burst; a series is never asked sooner after another one. */
const LEAST_SPACING_MS = 2000
/** The shortest spacing after a complaint. */
const COMPLAINED_SPACING_MS = 64_000
/** RFC 5905: the poll interval ends at 2^17 s; nobody sits in a field for so long. */
const LONGEST_SPACING_MS = 4 * 3_600_000

export const FRESH_MANNERS: ServerManners = { notBeforeMs: -Infinity, spacingMs: LEAST_SPACING_MS }

/** Learns from what came of asking. @param kiss the code of a server that sent us away */
export function minded(manners: ServerManners, kiss: string | undefined, nowMs: number): ServerManners {
  if (kiss === 'DENY' || kiss === 'RSTR') return { ...manners, refusedBy: kiss }
  if (kiss === undefined) return { ...manners, notBeforeMs: nowMs + manners.spacingMs }
  // RATE, and any code that asks for nothing else: slow down.
  const spacingMs = Math.min(LONGEST_SPACING_MS, Math.max(COMPLAINED_SPACING_MS, 4 * manners.spacingMs))
  return { ...manners, spacingMs, notBeforeMs: nowMs + spacingMs }
}

/** Whether a server may be asked now; a reason when it may not. */
export function mayAsk(manners: ServerManners, nowMs: number): string | undefined {
  if (manners.refusedBy)
    return `this server wants no more questions from here (${manners.refusedBy}), so it is not asked again: take it off the list, or choose another`
  if (nowMs >= manners.notBeforeMs) return undefined
  const waitS = Math.ceil((manners.notBeforeMs - nowMs) / 1000)
  return manners.spacingMs > LEAST_SPACING_MS
    ? `the server was asked too often: it is asked again in ${waitS < 120 ? `${waitS} s` : `${Math.ceil(waitS / 60)} min`} at the earliest`
    : `it was asked a moment ago: again in ${waitS} s`
}
