import type { BytePort, BytePortEvents } from '@/core/links'

/** The part of Web Serial that is used; browsers' type libraries do not have it yet. */
export interface WebSerialPort {
  readonly readable: ReadableStream<Uint8Array> | null
  readonly writable: WritableStream<Uint8Array> | null
  open(options: { baudRate: number; bufferSize?: number }): Promise<void>
  close(): Promise<void>
  setSignals?(signals: { requestToSend?: boolean; dataTerminalReady?: boolean }): Promise<void>
  getInfo?(): { usbVendorId?: number; usbProductId?: number }
}
interface WebSerial {
  requestPort(options?: { allowedBluetoothServiceClassIds?: string[] }): Promise<WebSerialPort>
  getPorts(): Promise<WebSerialPort[]>
}

/** The browser's serial ports; undefined where it has none. */
export function webSerial(): WebSerial | undefined {
  return (navigator as { serial?: WebSerial }).serial
}

/** The serial port profile of classic Bluetooth (assigned number 0x1101): paired TNCs and radios are offered too. */
const BLUETOOTH_SERIAL = '00001101-0000-1000-8000-00805f9b34fb'

/** Lets the operator pick a port. @returns undefined when none was picked */
export async function pickPort(): Promise<WebSerialPort | undefined> {
  try {
    return await webSerial()?.requestPort({ allowedBluetoothServiceClassIds: [BLUETOOTH_SERIAL] })
  } catch (error) {
    if ((error as DOMException).name === 'NotFoundError') return undefined
    throw error
  }
}

/** What a browser says of a port, in words that help. */
function explain(error: unknown): string {
  const { name, message } = error as DOMException
  if (name === 'NetworkError') return 'The port could not be opened: another program or tab holds it. Close that one.'
  if (name === 'InvalidStateError') return 'The port is still open elsewhere on this page. Try again in a moment.'
  return `The port failed: ${message}. Unplug the device, plug it in again, then connect again.`
}

/** A serial port that the operator picked in the browser. */
export function createWebSerialBytePort(port: WebSerialPort, serialBaud: number): BytePort {
  let reader: ReadableStreamDefaultReader<Uint8Array> | undefined
  let closing = false
  let reading: Promise<void> | undefined

  const readAll = async ({ onBytes, onClosed }: BytePortEvents) => {
    while (!closing && port.readable) {
      reader = port.readable.getReader()
      try {
        for (;;) {
          const { value, done } = await reader.read()
          if (done) break
          onBytes(value)
        }
        if (!closing) onClosed('The port was closed by the device. Plug it in again.')
        return
      } catch (error) {
        // A framing error or an overrun spoils some bytes and leaves the port open; a lost device does not.
        const recoverable = ['FramingError', 'BreakError', 'BufferOverrunError', 'ParityError', 'UnknownError'].includes(
          (error as DOMException).name,
        )
        if (closing) return
        if (!recoverable) {
          onClosed('The device vanished. Plug it in again, then connect again.')
          return
        }
      } finally {
        reader.releaseLock()
      }
    }
    if (!closing) onClosed('The device vanished. Plug it in again, then connect again.')
  }

  return {
    describe: () => `the picked port at ${serialBaud} baud`,
    async open(events) {
      try {
        await port.open({ baudRate: serialBaud, bufferSize: 4096 })
      } catch (error) {
        return { ok: false, error: explain(error) }
      }
      reading = readAll(events)
      return { ok: true }
    },
    async write(bytes) {
      const writer = port.writable?.getWriter()
      if (!writer) return { ok: false, error: 'The port is not open.' }
      try {
        await writer.write(bytes)
        return { ok: true }
      } catch (error) {
        return { ok: false, error: explain(error) }
      } finally {
        writer.releaseLock()
      }
    },
    async setLines({ rts, dtr }) {
      if (!port.setSignals) return { ok: false, error: 'This browser cannot set the key lines of a port.' }
      try {
        await port.setSignals({ ...(rts !== undefined && { requestToSend: rts }), ...(dtr !== undefined && { dataTerminalReady: dtr }) })
        return { ok: true }
      } catch (error) {
        return { ok: false, error: explain(error) }
      }
    },
    async close() {
      closing = true
      await reader?.cancel().catch(() => undefined)
      await reading
      await port.close().catch(() => undefined)
    },
  }
}
