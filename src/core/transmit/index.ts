export {
  createGate,
  keyedWithin,
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
