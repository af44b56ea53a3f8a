// Ports that browsers lend come in with requests, to the server; the links that use them run in a process of their own.
import type { BytePort, BytePortEvents, PortOutcome, Relayed, SerialLines } from '@/core/links'
import { describeLent } from '../ports/portRelay'
import type { Calls } from '../threads/calls'

interface Will {
  bytes: Uint8Array
  lines: SerialLines
}

/** What the process of the links calls of the server. Ports have numbers there. */
export interface PortCalls {
  portOpen(n: number, by: Relayed, serialBaud: number): Promise<PortOutcome>
  portWrite(n: number, bytes: Uint8Array): Promise<PortOutcome>
  portLines(n: number, lines: SerialLines): Promise<PortOutcome>
  portWill(n: number, will: Will): Promise<void>
  portClose(n: number): Promise<void>
}

/** What the server calls of the process of the links. */
export interface PortNews {
  portBytes(n: number, bytes: Uint8Array): void
  portClosed(n: number, why: string): void
}

/** In the server: the ports that the other process has open. */
export function portCalls(
  lentPort: (by: Relayed, serialBaud: number) => BytePort,
  news: () => Calls<PortNews> | undefined,
): PortCalls & { closeAll(): Promise<void> } {
  const ports = new Map<number, BytePort>()
  const missing: PortOutcome = { ok: false, error: 'This port is not open.' }
  const tell = (told: Promise<void> | undefined) => void told?.catch(() => undefined)
  return {
    portOpen(n, by, serialBaud) {
      const port = lentPort(by, serialBaud)
      ports.set(n, port)
      return port.open({
        onBytes: (bytes) => tell(news()?.call('portBytes', n, bytes)),
        onClosed: (why) => tell(news()?.call('portClosed', n, why)),
      })
    },
    portWrite: async (n, bytes) => (await ports.get(n)?.write(bytes)) ?? missing,
    portLines: async (n, lines) => (await ports.get(n)?.setLines?.(lines)) ?? missing,
    portWill: async (n, will) => ports.get(n)?.setLastWill?.(will),
    portClose: async (n) => {
      const port = ports.get(n)
      ports.delete(n)
      await port?.close()
    },
    // The other process is gone: the next one opens what it wants.
    closeAll: async () => {
      const all = [...ports.values()]
      ports.clear()
      await Promise.all(all.map((port) => port.close()))
    },
  }
}

/** In the process of the links: ports that stand in the server. */
export class RemotePorts implements PortNews {
  private n = 0
  private readonly open = new Map<number, BytePortEvents>()

  constructor(private readonly server: () => Calls<PortCalls>) {}

  portBytes(n: number, bytes: Uint8Array): void {
    this.open.get(n)?.onBytes(bytes)
  }

  portClosed(n: number, why: string): void {
    this.open.get(n)?.onClosed(why)
  }

  create(by: Relayed, serialBaud: number): BytePort {
    const n = ++this.n
    const server = this.server()
    const gone = (error: unknown): PortOutcome => ({ ok: false, error: `The server does not answer: ${(error as Error).message}.` })
    return {
      describe: () => describeLent(by),
      open: async (events) => {
        this.open.set(n, events)
        return server.call('portOpen', n, by, serialBaud).catch(gone)
      },
      write: (bytes) => server.call('portWrite', n, bytes).catch(gone),
      ...(by === 'serial' && { setLines: (lines: SerialLines) => server.call('portLines', n, lines).catch(gone) }),
      setLastWill: (will) => server.call('portWill', n, will).catch(() => undefined),
      close: async () => {
        this.open.delete(n)
        await server.call('portClose', n).catch(() => undefined)
      },
    }
  }
}
