export { decodeSlot, type DecodeOptions, type Ft8Decode } from './decode'
export { DEPTHS, type Depth } from './depth'
export { expectedMessages, type Knowledge } from './expectedMessages'
export { createCallMemory, type CallMemory } from './callHash'
export { isPlausibleCall } from './callField'
export { type Info } from './infoField'
export type { Ft8Message, StandardMessage } from './message'
export { modulate, type ModulateOptions } from './modulate'
export { packMessage, type PackResult } from './payload'
export { encodeFt8, type EncodeResult } from './encode'
export {
  addSignal,
  amplitudeForSnr,
  heardAs,
  madeUpCall,
  simulateSlot,
  simulatedCrowd,
  SIMULATED_NOISE_RMS,
  withClearLane,
  type SimulatedSignal,
} from './simulate'
export { createSlotCutter, type SlotPiece } from './slotCutter'
export { createLaneMeter, ofParity, type LaneMeter, type SlotOccupancy } from './laneOccupancy'
export { findIntruder, findLanes, type Intruder, type Lane, type LaneUser } from './lanes'
export { findSlotPhase, LONGEST_BLIND_S, type SlotPhase } from './findSlotPhase'
export { NOMINAL_START_S, OCCUPIED_HZ, SAMPLE_RATE_HZ, SLOT_MS, SLOT_S, TRANSMISSION_S } from './signal'

export { type CallerOrder, type QueuedCaller } from './callerQueue'
export { describeExchange, likelyNext, nextTransmission } from './describeExchange'
export { reduceExchange } from './exchange'
export { isWaitingForTheirEnd } from './exchangeState'
export type { EndReason, ExchangeEffect, ExchangeEvent, ExchangeManner, ExchangeState, MadeContact, Unfinished } from './exchangeState'
export { finishedByEvidence, keepUnfinished, unfinishedFrom, unfinishedSchema } from './unfinished'
export { emptyTally, tallySlot, type SlotTally, type TalliedSlot } from './slotTally'
export { type Step } from './exchangeText'
export { formatReport } from './infoField'
export { answerParity, hearSlot, type Doing, type HeardStation, type StationsHeard } from './heardStation'
