export { LEVEL_CODES, receiveTarget, withDose, type ReceiveTarget } from './receiveTarget'
export {
  compareNoise,
  judgeAntenna,
  judgeRoom,
  noiseOf,
  type AntennaVerdict,
  type NoiseRise,
  type NoiseSample,
  type RoomVerdict,
} from './antennaTest'
export {
  compareWithProfile,
  figuresOf,
  findProfile,
  levelProfileSchema,
  type LevelChange,
  type LevelFigures,
  type LevelProfile,
  type LevelProfileDraft,
} from './levelProfile'
export { HOLD_GOOD_MS, idleReceiveSetup, reduceReceiveSetup, type ReceiveSetup, type ReceiveSetupState } from './receiveSetup'
export { judgeDevice, SampleClockMeter, type DeviceFacts, type SampleClock } from './deviceFindings'
export { levelHistoryBatchSchema, levelHistorySchema, type LevelHistoryEntry } from './levelHistory'
export { emptySheet, radioSheetSchema, sheetsFileSchema, type RadioSheet, type SheetLine, type SheetMode } from './radioSheet'
