export { decodeSlot, type DecodeOptions, type Ft8Decode } from './decode'
export { DEPTHS, type Depth } from './depth'
export { expectedMessages, type Knowledge } from './expectedMessages'
export { createCallMemory, hashCall, type CallMemory } from './callHash'
export { isPlausibleCall, isStandardCall } from './callField'
export { formatReport, type Info } from './infoField'
export type { Ft8Message, StandardMessage } from './message'
export { modulate, type ModulateOptions } from './modulate'
export { packMessage, unpackMessage, type PackResult } from './payload'
export { payloadToTones } from './symbols'
export { encodeFt8, type EncodeResult } from './encode'
export { conventionalDials, dialForBand } from './dials'
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
export { createLaneMeter, laneExcessDb, ofParity, type LaneMeter, type SlotOccupancy } from './laneOccupancy'
export { findIntruder, findLanes, type Intruder, type Lane, type LaneUser } from './lanes'
export { findSlotPhase, LONGEST_BLIND_S, SHORTEST_BLIND_S, type SlotPhase } from './findSlotPhase'
export { NOMINAL_START_S, OCCUPIED_HZ, SAMPLE_RATE_HZ, SLOT_MS, SLOT_S, SYMBOL_S, TRANSMISSION_S } from './signal'
export { baseCall, sameStation } from './baseCall'
export { CALLER_ORDERS, orderCallers, type CallerOrder, type QueuedCaller } from './callerQueue'
export { describeExchange, likelyNext, nextTransmission } from './describeExchange'
export { reduceExchange } from './exchange'
export { isWaitingForTheirEnd } from './exchangeState'
export type { EndReason, ExchangeEffect, ExchangeEvent, ExchangeManner, ExchangeState, MadeContact, Unfinished } from './exchangeState'
export { finishedByEvidence, keepUnfinished, unfinishedFrom, unfinishedSchema } from './unfinished'
export { emptyTally, tallySlot, type SlotTally, type TalliedSlot } from './slotTally'
export { wordStep, type Step } from './exchangeText'
export { answerParity, hearSlot, type Doing, type HeardStation } from './heardStation'
