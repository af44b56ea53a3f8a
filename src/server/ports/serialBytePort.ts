import { access, readdir } from 'node:fs/promises'
import { SerialPort } from 'serialport'
import type { BytePort, PortFault, SerialPortEntry } from '@/core/links'

/** Words for what the system says of a serial port, and what to do. */
export function explainSerialError(path: string, message: string): string {
  if (/permission|EACCES/i.test(message))
    return `${path} may not be used by this user: add the user to the group that owns it (often dialout), log in again, or choose another port.`
  if (/busy|lock|EBUSY|Resource temporarily/i.test(message)) return `${path} is held by another program: close that one.`
  if (/no such file|ENOENT|File not found/i.test(message)) return `${path} is not there: plug the device in, or choose another port.`
  return `${path}: ${message}. Unplug the device, plug it in again, or choose another port.`
}

/** A port whose file is gone was unplugged, even if nothing else says so. */
const LOOKS_EVERY_MS = 2000

/** What kind of fault it is. */
function faultOf(message: string): PortFault {
  if (/permission|EACCES/i.test(message)) return 'permission'
  if (/busy|lock|EBUSY|Resource temporarily/i.test(message)) return 'busy'
  return /no such file|ENOENT|File not found/i.test(message) ? 'missing' : 'other'
}

/** A serial port of the server. @param keepLines whether its lines stay as they are when it is closed, and not fall */
export function createSerialBytePort(path: string, serialBaud: number, keepLines = false): BytePort {
  let port: SerialPort | undefined
  let watch: ReturnType<typeof setInterval> | undefined
  // The system raises both lines when it opens a port.
  let lines = { rts: true, dtr: true }
  return {
    describe: () => `${path} at ${serialBaud} baud`,
    open: ({ onBytes, onClosed }) =>
      new Promise((done) => {
        const opening = new SerialPort({ path, baudRate: serialBaud, autoOpen: false, hupcl: !keepLines })
        opening.on('data', (data: Buffer) => onBytes(new Uint8Array(data.buffer, data.byteOffset, data.byteLength)))
        opening.on('error', (error: Error) => {
          if (port === opening) onClosed(explainSerialError(path, error.message))
        })
        opening.on('close', (error: Error | null) => {
          if (port !== opening) return
          port = undefined
          clearInterval(watch)
          onClosed(error ? `${path} vanished: plug the device in again.` : `${path} was closed.`)
        })
        opening.open((error) => {
          if (error) {
            done({ ok: false, error: explainSerialError(path, error.message), fault: faultOf(error.message) })
            return
          }
          port = opening
          lines = { rts: true, dtr: true }
          const look = () =>
            access(path).catch((error: NodeJS.ErrnoException) => {
              // Only that is a sign: a system short of something else says nothing of the port.
              if (port !== opening || error.code !== 'ENOENT') return
              port = undefined
              clearInterval(watch)
              opening.close(() => undefined)
              onClosed(`${path} vanished: plug the device in again.`)
            })
          // Elsewhere a port is no file.
          if (path.startsWith('/')) watch = setInterval(() => void look(), LOOKS_EVERY_MS).unref()
          done({ ok: true })
        })
      }),
    write: (bytes) =>
      new Promise((done) => {
        if (!port) {
          done({ ok: false, error: `${path} is not open.` })
          return
        }
        port.write(bytes, (error) => done(error ? { ok: false, error: explainSerialError(path, error.message) } : { ok: true }))
      }),
    setLines: (wanted) =>
      new Promise((done) => {
        if (!port) {
          done({ ok: false, error: `${path} is not open.` })
          return
        }
        // All lines are set at once, so those that are not named are set as they are.
        lines = { ...lines, ...wanted }
        port.set(lines, (error) => done(error ? { ok: false, error: explainSerialError(path, error.message) } : { ok: true }))
      }),
    close: () =>
      new Promise((done) => {
        const closing = port
        port = undefined
        clearInterval(watch)
        if (!closing?.isOpen) done()
        else closing.close(() => done())
      }),
  }
}

/** Device files under which a Linux system shows serial ports that a person can plug something into. */
const LINUX_PORTS = /^tty(USB|ACM|AMA|XRUSB|GS)\d+$|^rfcomm\d+$/

/** Serial ports of this computer, with what is known of the device behind each. */
export async function listSerialPorts(
  list: () => ReturnType<typeof SerialPort.list> = () => SerialPort.list(),
): Promise<SerialPortEntry[]> {
  try {
    const found = await list()
    return found.map(({ path, manufacturer, serialNumber, vendorId, productId }) => ({
      path,
      name: [path, manufacturer, vendorId && `${vendorId}:${productId ?? ''}`, serialNumber].filter(Boolean).join(', '),
    }))
  } catch (error) {
    // Small systems lack the program that describes devices; their files are there all the same.
    if (process.platform !== 'linux') throw error
    const names = await readdir('/dev').catch(() => [])
    return names
      .filter((name) => LINUX_PORTS.test(name))
      .sort()
      .map((name) => ({ path: `/dev/${name}`, name: `/dev/${name}` }))
  }
}
