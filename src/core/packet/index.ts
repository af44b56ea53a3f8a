export {
  encodeAx25,
  frameLine,
  hexOfFrame,
  kindOf,
  parseAx25,
  textOf,
  uiFrame,
  type Ax25Address,
  type Ax25Frame,
  type Ax25Kind,
} from './ax25Frame'
export { encodeKiss, FEND, FESC, KISS_COMMANDS, KISS_RETURN, KissDecoder, leaveKiss, type KissEvent, type KissFrame } from './kiss'
export {
  adviseParameters,
  costNow,
  costOfParameters,
  kissParametersSchema,
  parameterFrames,
  usualKissParameters,
  type KissParameters,
  type ParameterCost,
} from './kissParameters'
export { frameOfLine, monitorLine } from './monitorLine'
export { CHECK_BYTES, type CheckBytes } from './modem/correction'
export type { FrameReceiver, HeardFrame } from './modem/heardFrame'
export { burstSeconds, PACKET_MODEM_IDS, PACKET_MODEMS, type BurstOptions, type PacketModem, type PacketModemId } from './modem/packetModem'
export { TextStream } from './textStream'
export { PulsePath } from './modem/pulsePath'
