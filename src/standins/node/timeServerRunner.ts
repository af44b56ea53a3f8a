import { createSocket } from 'node:dgram'
import { createTimeServerStandin, type TimeFault } from '../timeServerStandin'
import type { RunningStandin } from './gpsRunner'

/** Runs the stand-in time server on a UDP port; 0 takes a free one. */
export function runTimeServer(
  { host, port, errorMs = 0 }: { host: string; port: number; errorMs?: number },
  faults: () => ReadonlySet<TimeFault>,
): Promise<{ ok: true; standin: RunningStandin } | { ok: false; error: string }> {
  return new Promise((done) => {
    const server = createTimeServerStandin(errorMs)
    const socket = createSocket(host.includes(':') ? 'udp6' : 'udp4')
    socket.once('error', (error) => done({ ok: false, error: `cannot answer on ${host}:${port}: ${error.message}` }))
    socket.on('message', (message, from) => {
      const answer = server.answer(message, Date.now(), faults())
      if (answer) socket.send(answer, from.port, from.address)
    })
    socket.bind(port, host, () => {
      const bound = socket.address().port
      done({ ok: true, standin: { where: `UDP ${host}:${bound}`, port: bound, stop: () => socket.close() } })
    })
  })
}
