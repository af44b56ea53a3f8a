export {
  createGate,
  keyedWithin,
  LONGEST_TEST_MS,
  LONGEST_TRANSMISSION_MS,
  reduceGate,
  UNATTENDED_MS,
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
  RAMP_STEPS,
  rampGain,
  SWEEP_LEAD_S,
  TONE_HZ,
  TWO_TONES_HZ,
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
export { reduceVox, startVoxSearch, TIMED_BURSTS, VOX_LEVELS, voxLevel, voxResult, type VoxResult, type VoxSearch } from './voxSearch'
export { dutyReminder, MODE_DUTY, type DutyMode } from './dutyReminder'
export { judgeMeters, type TransmitMeters } from './transmitMeters'
