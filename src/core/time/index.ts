export { estimateFromBand, whoseClockMoved, type BandClockEstimate, type OffsetReading, type WhoseClock } from './bandClock'
export {
  CLOCK_KIND_WORDS,
  CLOCK_SOURCE_KINDS,
  clockReadingSchema,
  EARLIEST_UTC_MS,
  type ClockReading,
  type ClockSourceKind,
} from './clockReading'
export {
  createClockState,
  estimateAll,
  reduceClock,
  viewSources,
  type ClockEvent,
  type ClockNote,
  type ClockState,
  type SourceView,
} from './clockState'
export { formatClockError } from './clockError'
export { formatUntil, judgeClock, type BandOpinion, type ClockVerdict, type ClockVerdictKind } from './clockVerdict'
export { type Consensus, type SourceEstimate, type Standing } from './consensus'
export { rememberedDrift, UNKNOWN_DRIFT, type Drift } from './driftEstimate'
export { goodFor, THRESHOLDS_MS, uncertaintyAfter, type Holdover } from './holdover'
export { otherParity, parityOf, slotIndexAt, slotStartUtcMs, type Parity } from './slots'
export { FRESH_MANNERS, mayAsk, minded, type ServerManners } from './serverManners'
export {
  absurdSntp,
  encodeSntpReply,
  encodeSntpRequest,
  estimateFromSntp,
  parseSntpReply,
  SNTP_BYTES,
  SNTP_PORT,
  type SntpEstimate,
  type SntpReply,
  type SntpSample,
} from './sntp'
export { GAP_MS, steer, type Occupancy, type SteeringTarget } from './steering'
export {
  correctTimebase,
  goodUntilUtcMs,
  monotonicAt,
  setTimebaseRate,
  startTimebase,
  uncertaintyAt,
  utcAt,
  type Correction,
  type Timebase,
  type TimebaseSource,
} from './timebase'
export { bestExchange, exchangeOffset, type ExchangeOffset, type TimedExchange } from './timedExchange'
export { compareWall, type WallEvent, type WallSample } from './wallWatch'
export {
  estimateFromTaps,
  measureReaction,
  MOST_TAPS,
  UNMEASURED_REACTION,
  type Reaction,
  type TapEstimate,
  type WatchUnit,
} from './watchTaps'
