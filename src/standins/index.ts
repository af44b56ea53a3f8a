export type { OperatorAudio, PracticeWorld } from './practiceWorld'
export { PRACTICE_WORLDS, type WorldOptions } from './practiceWorlds'
export { createPracticeReceiver, type PracticeReceiver, type ReceivedAudio } from './practiceReceiver'
export { type MadeUpSpeech } from './madeUpSpeech'
export {
  createFaultyReceiver,
  RECEIVE_FAULTS,
  USUAL_AMOUNTS,
  type FaultAmount,
  type FaultyReceiver,
  type ReceiveFault,
} from './receiveFaults'
export { FaultyLine, LINE_FAULTS, lineFaultSchema, type LineFault, type LineWay } from './faultyLine'
export { createGpsStandin, garbled, GPS_FAULTS, gpsFaultSchema, type GpsFault, type GpsStandin, type GpsStandinOptions } from './gpsStandin'
export { createTimeServerStandin, TIME_FAULTS, timeFaultSchema, type TimeFault } from './timeServerStandin'
export { monitorPracticeTransmitter, PRACTICE_TRANSMITTER, type PracticeTransmitter } from './practiceTransmitter'
export {
  RADIO_FAULTS,
  RADIO_VOICES,
  radioFaultSchema,
  RadioStandin,
  type RadioFault,
  type RadioStandinOptions,
  type RadioVoice,
  type Said,
} from './radioStandin'
export { TNC_FAULTS, tncFaultSchema, TncStandin, type TncFault, type TncStandinOptions } from './tncStandin'
export { CHANNEL_FAULT_NAMES, type ChannelFault } from './packet/packetChannel'
