export { BurstTimer, type BurstEstimate } from './burstTimer'
export { EpochFinder, type Epoch, type EpochLine } from './epochFinder'
export { GpsReceiver, FEWEST_SATELLITES, type GpsReceiverOptions } from './gpsReceiver'
export { gpsStatusSchema, type GpsStatus, type SatelliteStatus } from './gpsStatus'
export { readNmeaRecording, type NmeaLineReport, type NmeaSummary, type RecordingOptions } from './nmeaRecording'
export { BITS_PER_BYTE, byteMsAt, judgePace, type Pace } from './linePace'
export { NmeaStream, type NmeaLine } from './nmeaStream'
export { drawLineCase, simulateLine, type LineCase, type SimulatedLine } from './simulatedLine'
export { resolveUtc } from './resolveUtc'
export {
  frameSentence,
  nmeaChecksum,
  parseSentence,
  type NmeaFault,
  type NmeaResult,
  type NmeaSentence,
  type SatelliteSeen,
} from './sentence'
export { correctRollover, ROLLOVER_MS, type RolledOver } from './weekRollover'
