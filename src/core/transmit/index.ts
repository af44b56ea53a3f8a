export {
  createGate,
  LONGEST_TEST_MS,
  LONGEST_OF_ALL_MS,
  reduceGate,
  whyRefused,
  type GateEffect,
  type GateEvent,
  type GateNeed,
  type GateState,
  type KeyedTransmission,
} from './transmitGate'
export {
  LATENCY_TEST_S,
  LONGEST_TEST_S,
  makeTestSignal,
  rampGain,
  TEST_KINDS,
  testLengthS,
  SWEEP_LEAD_S,
  type TestKind,
  type TestSignalOptions,
} from './testSignal'
export {
  adviseLevel,
  findSweep,
  findTone,
  HARMONIC_LIMIT_DB,
  HUM_LIMIT_DB,
  INTERMOD_LIMIT_DB,
  measureTone,
  measureTwoTones,
  type LevelAdvice,
  type RampPoint,
  type ToneQuality,
} from './transmitQuality'
export { reduceVox, startVoxSearch, VOX_LEVELS, voxLevel, voxResult, type VoxResult, type VoxSearch } from './voxSearch'
export { dutyReminder } from './dutyReminder'
