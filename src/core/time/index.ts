export { estimateFromBand, whoseClockMoved, type BandClockEstimate, type OffsetReading, type WhoseClock } from './bandClock'
export { CLOCK_KIND_WORDS, type ClockReading, type ClockSourceKind } from './clockReading'
export { createClockState, reduceClock, viewSources, type ClockEvent, type ClockNote, type ClockState, type SourceView } from './clockState'
export { formatClockError } from './clockError'
export { formatUntil, judgeClock, type BandOpinion, type ClockVerdict, type ClockVerdictKind } from './clockVerdict'
export { type Consensus, type SourceEstimate, type Standing } from './consensus'
export { rememberedDrift, type Drift } from './driftEstimate'
export { THRESHOLDS_MS, type Holdover } from './holdover'
export { otherParity, parityOf, SLOT_MS, type Parity } from './slots'
export { FRESH_MANNERS, mayAsk, minded, type ServerManners } from './serverManners'
export {
  absurdSntp,
  encodeSntpReply,
  encodeSntpRequest,
  estimateFromSntp,
  parseSntpReply,
  SNTP_PORT,
  type SntpEstimate,
  type SntpReply,
  type SntpSample,
} from './sntp'
export { type Occupancy, type SteeringTarget } from './steering'
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
export { bestExchange, type ExchangeOffset, type TimedExchange } from './timedExchange'
export { type WallEvent, type WallSample } from './wallWatch'
export {
  estimateFromTaps,
  measureReaction,
  MOST_TAPS,
  UNMEASURED_REACTION,
  type Reaction,
  type TapEstimate,
  type WatchUnit,
} from './watchTaps'
