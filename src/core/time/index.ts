export { estimateFromBand, type BandClockEstimate, type OffsetReading } from './bandClock'
export { otherParity, parityOf, slotIndexAt, slotStartUtcMs, type Parity } from './slots'
export {
  correctTimebase,
  goodUntilUtcMs,
  monotonicAt,
  setTimebaseRate,
  startTimebase,
  uncertaintyAt,
  utcAt,
  type Timebase,
  type TimebaseSource,
} from './timebase'
