// Runs a simulated packet channel with KISS ports on TCP, at a pace.
import { createServer, type Server, type Socket } from 'node:net'
import { encodeKiss, KissDecoder } from '@/core/packet'
import type { ChannelFault } from '../packet/packetChannel'
import { PacketWorld, type PacketWorldOptions } from '../packet/packetWorld'
import type { RunningStandin } from './gpsRunner'

/** At least so often the world goes on; a frame may be given to it at any moment. */
const TICK_MS = 20
const SHORTEST_TICK_MS = 1

export interface ChannelRunOptions extends PacketWorldOptions {
  host: string
  /** Of the first KISS port; 0 takes any that are free. */
  base: number
  /** How many times faster than real time all of it runs. */
  pace: number
}

export async function runPacketChannel(
  options: ChannelRunOptions,
  faults: () => ReadonlySet<ChannelFault>,
): Promise<{ ok: true; standin: RunningStandin & { ports: number[] } } | { ok: false; error: string }> {
  const world = new PacketWorld(options, faults)
  const began = performance.now()
  const clients = Array.from({ length: options.ports }, () => new Set<Socket>())
  const goOn = () => {
    for (const { port, frame } of world.advance((performance.now() - began) * options.pace)) {
      const bytes = encodeKiss({ port: 0, command: 0, data: frame })
      clients[port]!.forEach((socket) => socket.write(bytes))
    }
  }
  const servers: Server[] = []
  const ports: number[] = []
  for (let port = 0; port < options.ports; port++) {
    const server = createServer((socket) => serve(socket, port))
    const outcome = await listen(server, options.host, options.base === 0 ? 0 : options.base + port)
    if (typeof outcome === 'string') {
      servers.forEach((one) => one.close())
      return { ok: false, error: outcome }
    }
    servers.push(server)
    ports.push(outcome)
  }
  function serve(socket: Socket, port: number): void {
    const decoder = new KissDecoder()
    clients[port]!.add(socket)
    socket.setNoDelay(true)
    socket.on('data', (data: Buffer) => {
      goOn()
      for (const event of decoder.push(new Uint8Array(data))) if (event.type === 'frame') world.take(port, event.frame)
      goOn()
    })
    socket.on('error', () => socket.destroy())
    socket.on('close', () => clients[port]!.delete(socket))
  }
  const timer = setInterval(goOn, Math.max(SHORTEST_TICK_MS, TICK_MS / options.pace))
  const standin = {
    where: `KISS over TCP, listening on ${options.host}:${ports.join(', ')}`,
    port: ports[0],
    ports,
    stop() {
      clearInterval(timer)
      clients.forEach((sockets) => sockets.forEach((socket) => socket.destroy()))
      servers.forEach((server) => server.close())
    },
  }
  return { ok: true, standin }
}

function listen(server: Server, host: string, port: number): Promise<number | string> {
  return new Promise((done) => {
    server.once('error', (error) => done(`cannot listen on ${host}:${port}: ${error.message}`))
    server.listen(port, host, () => done((server.address() as { port: number }).port))
  })
}
