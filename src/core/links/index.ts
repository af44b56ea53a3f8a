export {
  addressBookSchema,
  addressBookViewSchema,
  addressEntrySchema,
  beforeSwitching,
  emptyAddressBook,
  judgeReach,
  passwordRequestSchema,
  reachRequestSchema,
  reachResultSchema,
  TOPOLOGIES,
  TOPOLOGY_WORDS,
  type AddressBook,
  type AddressBookView,
  type AddressEntry,
  type NetworkPlace,
  type ReachResult,
  type Topology,
} from './addressBook'
export type { BytePort, BytePortEvents, PortFault, PortOutcome, SerialLines } from './bytePort'
export {
  clockConfigSchema,
  clockHistoryBatchSchema,
  clockHistorySchema,
  defaultClockConfig,
  NMEA_NETWORK_PORT,
  serialPortSchema,
  serverClockSchema,
  serverExchangeSchema,
  standinRequestSchema,
  timeHostSchema,
  type ClockConfig,
  type ClockHistoryEntry,
  type ClockLink,
  type HostStatus,
  type LinkStatus,
  type ListenerConfig,
  type SerialPortEntry,
  type ServerClock,
  type StandinRequest,
  type StandinWay,
} from './clockContracts'
export { bandWithoutMeter, dialOfRadio } from './dialOfRadio'
export {
  idleDiagnosis,
  reduceDiagnosis,
  RUNG_NAMES,
  TRIES,
  type Answer,
  type Diagnosis,
  type DiagnosisAction,
  type DiagnosisEvent,
  type Finding,
  type LinkFault,
  type Rung,
  type RungState,
  type Verdict,
} from './diagnose'
export {
  AIR_BAUDS,
  defaultLinkConfig,
  diagnoseRequestSchema,
  KEYING_WAYS,
  keyRequestSchema,
  linkConfigSchema,
  linkStandinRequestSchema,
  linkStateSchema,
  radioRequestSchema,
  type DiagnoseRequest,
  type KeyingWay,
  type KeyRequest,
  type LinkConfig,
  type LinkStandinRequest,
  type LinkState,
  type TriedLink,
  type HeardFrame,
  type WireEntry,
} from './linkContracts'
export { dropKey, keyRightEnded, stillAlive, takeKey, WATCHDOG_MS, type KeyRight } from './keyRight'
export { LinkProber, type ProberHost } from './linkProber'
export type { LinkTarget } from './linkTalk'
export { describePort, KISS_TCP_PORT, portChoiceSchema, samePort, type PortChoice } from './portChoice'
export { PortKeeper, type PortKeeperOptions } from './portKeeper'
export { judgeTncAnswer, type TncAnswer } from './tncAnswer'
export { SerialReceiver, type SerialReceiverOptions } from './serialReceiver'
export { SERIAL_SPEEDS, type SpeedEvent, type SpeedSearch, type SpeedTrial } from './speedFinder'
export { LINE_STATES, strandsOf, type Strand, type StrandEvidence, type StrandState } from './strands'
export { ladderResultSchema, lastGood, sameSettings, type LadderResult } from './ladderResults'
export { reducePortSearch, startPortSearch, type PortSearch } from './portFinder'
export { fromBase64, hasSerialSpeed, relayEventSchema, relayReportSchema, toBase64, type RelayOrder, type RelayReport } from './portRelay'
export { quietRevival, reduceRevival, type RevivalAction, type TncRevival } from './tncRevival'
export { RELAYED, type Picked, type Relayed } from './relayed'
