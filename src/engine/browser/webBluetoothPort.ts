import type { BytePort } from '@/core/links'

/** The parts of Web Bluetooth that are used. */
interface Characteristic {
  value?: DataView
  startNotifications(): Promise<unknown>
  writeValueWithoutResponse(value: BufferSource): Promise<void>
  addEventListener(type: 'characteristicvaluechanged', listener: (event: { target: Characteristic }) => void): void
}
export interface BluetoothDevice {
  name?: string
  gatt?: {
    connect(): Promise<{ getPrimaryService(id: string): Promise<{ getCharacteristic(id: string): Promise<Characteristic> }> }>
    disconnect(): void
  }
  addEventListener(type: 'gattserverdisconnected', listener: () => void): void
}
interface WebBluetooth {
  requestDevice(options: { filters: { services: string[] }[] }): Promise<BluetoothDevice>
}

/**
 * Services that carry a stream of bytes: the open KISS service of Bluetooth TNCs, and the serial service that most
 * small radios' adapters offer. Each with the characteristic to write to and the one that notifies.
 */
const SERVICES = [
  {
    service: '00000001-ba2a-46c9-ae49-01b0961f68bb',
    write: '00000002-ba2a-46c9-ae49-01b0961f68bb',
    notify: '00000003-ba2a-46c9-ae49-01b0961f68bb',
  },
  {
    service: '6e400001-b5a3-f393-e0a9-e50e24dcca9e',
    write: '6e400002-b5a3-f393-e0a9-e50e24dcca9e',
    notify: '6e400003-b5a3-f393-e0a9-e50e24dcca9e',
  },
]
/** Fits the smallest transfer unit that devices must accept. */
const PIECE_BYTES = 20

/** The browser's Bluetooth; undefined where it has none. */
export function webBluetooth(): WebBluetooth | undefined {
  return (navigator as { bluetooth?: WebBluetooth }).bluetooth
}

/** Lets the operator pick a device. @returns undefined when none was picked */
export async function pickBluetooth(): Promise<BluetoothDevice | undefined> {
  try {
    return await webBluetooth()?.requestDevice({ filters: SERVICES.map(({ service }) => ({ services: [service] })) })
  } catch (error) {
    if ((error as DOMException).name === 'NotFoundError') return undefined
    throw error
  }
}

/** A Bluetooth device that the operator picked in the browser. */
export function createBluetoothBytePort(device: BluetoothDevice): BytePort {
  const name = device.name ?? 'The Bluetooth device'
  let out: Characteristic | undefined
  let closing = false
  const connect = async () => {
    const gatt = await device.gatt!.connect()
    for (const { service, write, notify } of SERVICES) {
      const found = await gatt.getPrimaryService(service).catch(() => undefined)
      if (found) return { out: await found.getCharacteristic(write), back: await found.getCharacteristic(notify) }
    }
    return undefined
  }
  return {
    describe: () => name,
    async open({ onBytes, onClosed }) {
      closing = false
      if (!device.gatt) return { ok: false, error: `${name} cannot be connected to.`, fault: 'unsupported' }
      try {
        const both = await connect()
        if (!both) return { ok: false, error: `${name} offers no service that carries bytes.`, fault: 'unsupported' }
        await both.back.startNotifications()
        both.back.addEventListener('characteristicvaluechanged', ({ target: { value } }) => {
          if (value && !closing) onBytes(new Uint8Array(value.buffer, value.byteOffset, value.byteLength))
        })
        device.addEventListener('gattserverdisconnected', () => {
          if (closing) return
          closing = true
          out = undefined
          onClosed(`${name} went away. Is it on and near? Pick it again if it does not come back.`)
        })
        out = both.out
        return { ok: true }
      } catch (error) {
        const { name: kind, message } = error as DOMException
        // A pairing that one side has forgotten shows as a refused or broken connection.
        if (kind === 'SecurityError' || kind === 'NetworkError' || kind === 'NotAllowedError')
          return { ok: false, error: `${name} does not let us in: ${message}.`, fault: 'pairing' }
        return { ok: false, error: `${name}: ${message}.`, fault: 'other' }
      }
    },
    async write(bytes) {
      if (!out) return { ok: false, error: `${name} is not connected.` }
      try {
        for (let at = 0; at < bytes.length; at += PIECE_BYTES) await out.writeValueWithoutResponse(bytes.slice(at, at + PIECE_BYTES))
        return { ok: true }
      } catch (error) {
        return { ok: false, error: `${name}: ${(error as Error).message}.` }
      }
    },
    async close() {
      closing = true
      out = undefined
      device.gatt?.disconnect()
    },
  }
}
