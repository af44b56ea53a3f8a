/** Why a port could not be opened, as far as what opens it can tell. */
export const PORT_FAULTS = [
  'missing',
  'busy',
  'permission',
  'pairing',
  'unknownHost',
  'refused',
  'login',
  'unreachable',
  'timeout',
  'unsupported',
  'other',
] as const
export type PortFault = (typeof PORT_FAULTS)[number]

/** What a byte port tells whoever opened it. */
export interface BytePortEvents {
  onBytes(bytes: Uint8Array): void
  /** The port is gone, by itself. Not called after `close`. */
  onClosed(why: string): void
}

export type PortOutcome = { ok: true } | { ok: false; error: string; fault?: PortFault }

/** The two lines of a serial port that interfaces use for keying. */
export interface SerialLines {
  rts?: boolean
  dtr?: boolean
}

/**
 * A link that carries bytes, whatever it is made of: a serial port in the browser or on the server, a network
 * connection, a stand-in. Protocols speak to this and never know which it is.
 */
export interface BytePort {
  /** Name for the screen, such as "/dev/ttyUSB0 at 9600 baud". */
  describe(): string
  open(events: BytePortEvents): Promise<PortOutcome>
  write(bytes: Uint8Array): Promise<PortOutcome>
  /** For serial ports: sets lines; those that are not named stay as they are. */
  setLines?(lines: SerialLines): Promise<PortOutcome>
  /** For ports that another machine holds: what it is to do when it loses us. */
  setLastWill?(will: { bytes: Uint8Array; lines: SerialLines }): Promise<void>
  close(): Promise<void>
}
