import type { Socket } from 'node:net'
import type { BytePort, PortFault } from '@/core/links'
import { guardedConnect, REFUSED_CODE } from '../network/refusedAddress'

const CONNECT_MS = 4000

/** Words and kind of what the system says of a connection, and what to do. */
export function explainTcpError(host: string, port: number, error: NodeJS.ErrnoException): { error: string; fault: PortFault } {
  const where = `${host}:${port}`
  switch (error.code) {
    case 'ENOTFOUND':
    case 'EAI_AGAIN':
      return { fault: 'unknownHost', error: `No address is known for ${host}: check the name, or use the address in numbers.` }
    case 'ECONNREFUSED':
      return { fault: 'refused', error: `${host} is there, but nothing listens on its port ${port}.` }
    case 'EHOSTUNREACH':
    case 'ENETUNREACH':
    case 'EHOSTDOWN':
      return { fault: 'unreachable', error: `There is no way to ${host} from this network.` }
    case 'ETIMEDOUT':
      return { fault: 'timeout', error: `${where} did not answer.` }
    case REFUSED_CODE:
      return { fault: 'other', error: `${error.message}.` }
    default:
      return { fault: 'other', error: `${where}: ${error.message}.` }
  }
}

/** A connection to a TCP port, such as a KISS TNC in the network. */
export function createTcpBytePort(host: string, port: number, connectMs = CONNECT_MS): BytePort {
  let socket: Socket | undefined
  return {
    describe: () => `${host}:${port}`,
    open: ({ onBytes, onClosed }) =>
      new Promise((done) => {
        const opening = guardedConnect(host, port)
        opening.setNoDelay(true)
        const timer = setTimeout(() => {
          opening.destroy()
          done({ ok: false, ...explainTcpError(host, port, Object.assign(new Error('timeout'), { code: 'ETIMEDOUT' })) })
        }, connectMs)
        opening.on('data', (data: Buffer) => onBytes(new Uint8Array(data)))
        opening.once('connect', () => {
          clearTimeout(timer)
          socket = opening
          done({ ok: true })
        })
        let why = `${host}:${port} closed the connection.`
        opening.on('error', (error: NodeJS.ErrnoException) => {
          clearTimeout(timer)
          const told = explainTcpError(host, port, error)
          why = told.error
          done({ ok: false, ...told })
        })
        opening.on('close', () => {
          if (socket !== opening) return
          socket = undefined
          onClosed(why)
        })
      }),
    write: (bytes) =>
      new Promise((done) => {
        if (!socket) done({ ok: false, error: `${host}:${port} is not open.` })
        else socket.write(bytes, (error) => done(error ? { ok: false, ...explainTcpError(host, port, error) } : { ok: true }))
      }),
    close: () =>
      new Promise((done) => {
        const closing = socket
        socket = undefined
        closing?.destroy()
        done()
      }),
  }
}
