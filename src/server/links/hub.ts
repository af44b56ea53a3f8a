import type { BytePort, DiagnoseRequest, KeyRequest, LinkConfig, LinkState, PortChoice, Relayed, TriedLink, Verdict } from '@/core/links'
import type { CatDialect, CatRequest } from '@/core/links/cat'
import type { Done } from '../done'
import { withLogin, type Login } from '../ports/loginBytePort'
import { createListedSerialPort } from '../ports/listedSerialPort'
import { createTcpBytePort } from '../ports/tcpBytePort'

/** The links of the server, wherever they are run. */
export interface Hub {
  /** Dialects that the operator added. */
  setDialects(own: readonly CatDialect[]): Promise<void>
  /** Opens and closes what has changed; the rest goes on undisturbed. */
  configure(config: LinkConfig): Promise<void>
  /** Begins the conversation with the radio anew. */
  reopenControl(): Promise<void>
  /** Keys and unkeys, for the gate alone. */
  key(request: KeyRequest): Promise<Done>
  /** Asks the radio for something. Resolves when it has answered, or not in time. */
  ask(request: CatRequest): Promise<Done>
  /** Hands the TNC a frame to send; the gate has let it through. */
  sendPacket(frame: Uint8Array): Promise<Done>
  /** Starts, answers and stops a climb of the ladder. */
  diagnose(request: DiagnoseRequest): Promise<Done>
  /** A port may be there now that was not. */
  portAppeared(): void
  setStandins(standins: LinkState['standins']): void
  /** @param afterSequence what crossed the wire after this is told */
  state(afterSequence: number): LinkState
  /** @returns a function that ends it */
  subscribe(listener: () => void): () => void
  close(): Promise<void>
}

/** What the links need of the rest of the server. */
export interface HubHost {
  /** User and password for an address, when the operator has entered both. */
  loginFor(host: string, port: number): Promise<Login | undefined>
  /** A port that a browser lends. */
  lentPort(by: Relayed, serialBaud: number): BytePort
  /** A climb of the ladder ended. */
  onVerdict(link: TriedLink, verdict: Verdict): void
  /** The TNC heard a frame. */
  onPacket(frame: Uint8Array): void
}

/** Makes the port of a choice. @param keepLines whether a serial port's lines stay as they are when it is closed */
export function createHubPort(
  port: PortChoice,
  serialBaud: number,
  keepLines: boolean,
  { loginFor, lentPort }: Pick<HubHost, 'loginFor' | 'lentPort'>,
): BytePort {
  if (port.kind === 'serial') return createListedSerialPort(port.path, serialBaud, keepLines)
  if (port.kind === 'browser') return lentPort(port.by, serialBaud)
  const { host } = port
  let tcp = createTcpBytePort(host, port.port)
  return {
    describe: () => tcp.describe(),
    async open(events) {
      // Who has the password may be gone: then the port says itself what it thinks of a caller without one.
      const login = await loginFor(host, port.port).catch(() => undefined)
      if (login) tcp = withLogin(tcp, login)
      return tcp.open(events)
    },
    write: (bytes) => tcp.write(bytes),
    close: () => tcp.close(),
  }
}
