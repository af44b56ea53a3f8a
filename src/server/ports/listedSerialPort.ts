import { realpath } from 'node:fs/promises'
import type { BytePort } from '@/core/links'
import { createSerialBytePort, listSerialPorts } from './serialBytePort'

/** Paths beyond those that the system lists, such as pseudo-terminals: named by whoever starts the server. */
const named = () => (process.env.ZEPTIK_SERIAL ?? '').split(',').flatMap((path) => path.trim() || [])

/** Whether a path is a serial port of this computer, itself or by a link to it. */
async function isListed(path: string, list: typeof listSerialPorts): Promise<boolean> {
  if (named().includes(path)) return true
  const real = (of: string) => realpath(of).catch(() => of)
  const [wanted, ...known] = await Promise.all([path, ...(await list()).map((port) => port.path)].map(real))
  return known.includes(wanted!)
}

/** A serial port of the server, opened only when the system lists it as one: no other file is opened, whatever was entered. */
export function createListedSerialPort(path: string, serialBaud: number, keepLines = false, list = listSerialPorts): BytePort {
  const port = createSerialBytePort(path, serialBaud, keepLines)
  return {
    ...port,
    async open(events) {
      let listed: boolean
      try {
        listed = await isListed(path, list)
      } catch (problem) {
        return { ok: false, fault: 'other', error: `The system does not say which serial ports it has: ${(problem as Error).message}.` }
      }
      if (listed) return port.open(events)
      const error = `${path} is none of the serial ports that this computer has now: plug the device in, or choose one of the list. A port that no list shows can be named in ZEPTIK_SERIAL when the server is started.`
      return { ok: false, fault: 'missing', error }
    },
  }
}
