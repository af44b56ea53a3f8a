/**
 * One question and answer between two clocks. Local instants are on one clock, remote ones on the other; all in ms.
 */
export interface TimedExchange {
  sentLocalMs: number
  receivedRemoteMs: number
  repliedRemoteMs: number
  returnedLocalMs: number
}

export interface ExchangeOffset {
  /** Remote clock minus local clock. */
  offsetMs: number
  /** Time spent on the way, both directions. */
  roundTripMs: number
  /** Local instant halfway through. */
  localMs: number
}

/**
 * The offset between two clocks from one exchange (RFC 5905, section 8, the on-wire arithmetic). Whatever the ways there
 * and back were, the error is at most half the round trip.
 */
export function exchangeOffset({ sentLocalMs, receivedRemoteMs, repliedRemoteMs, returnedLocalMs }: TimedExchange): ExchangeOffset {
  return {
    offsetMs: (receivedRemoteMs - sentLocalMs + (repliedRemoteMs - returnedLocalMs)) / 2,
    roundTripMs: returnedLocalMs - sentLocalMs - (repliedRemoteMs - receivedRemoteMs),
    localMs: (sentLocalMs + returnedLocalMs) / 2,
  }
}

/** Of several exchanges, the one that was least delayed; undefined when there is none that makes sense. */
export function bestExchange(exchanges: readonly TimedExchange[]): ExchangeOffset | undefined {
  return exchanges
    .map(exchangeOffset)
    .filter((e) => Number.isFinite(e.offsetMs) && e.roundTripMs >= -1)
    .reduce<ExchangeOffset | undefined>((best, e) => (!best || e.roundTripMs < best.roundTripMs ? e : best), undefined)
}
