import { createStore } from 'zustand/vanilla'
import type { BytePort, Picked } from '@/core/links'
import { LentPort } from './lentPort'
import { createBluetoothBytePort, pickBluetooth, webBluetooth } from './webBluetoothPort'
import { createWebSerialBytePort, pickPort, webSerial, type WebSerialPort } from './webSerialPort'

/** What goes on with the ports that this page lends, in words; undefined while none is lent. */
export const lentPorts = createStore<Record<Picked, string | undefined>>(() => ({ serial: undefined, bluetooth: undefined }))

const lent: Partial<Record<Picked, LentPort>> = {}

/** Whether this browser can hold such a port. */
export function canLend(by: Picked): boolean {
  return by === 'serial' ? webSerial() !== undefined : webBluetooth() !== undefined
}

/** Lets the operator pick a port or device, and lends it to the field computer. @returns what went wrong */
export async function lendPort(by: Picked): Promise<string | undefined> {
  try {
    if (by === 'serial') {
      const port = await pickPort()
      if (port) await lendSerial(port)
    } else {
      const device = await pickBluetooth()
      if (device) await lend('bluetooth', () => createBluetoothBytePort(device))
    }
    return undefined
  } catch (error) {
    return `Nothing could be picked: ${(error as Error).message}.`
  }
}

/** A port that was allowed before and is the only one is lent again without asking: after a reload, for instance. */
export async function lendAgain(): Promise<void> {
  const ports = (await webSerial()?.getPorts()) ?? []
  if (lent.serial === undefined && ports.length === 1) await lendSerial(ports[0]!)
}

export async function takeBack(by: Picked): Promise<void> {
  await lent[by]?.stop()
  delete lent[by]
  lentPorts.setState({ [by]: undefined })
}

const lendSerial = (port: WebSerialPort) => lend('serial', (serialBaud) => createWebSerialBytePort(port, serialBaud))

async function lend(by: Picked, createPort: ConstructorParameters<typeof LentPort>[0]['createPort']): Promise<void> {
  await takeBack(by)
  lent[by] = new LentPort({ by, createPort, onState: (words) => lentPorts.setState({ [by]: words }) })
}

/** Lends the modem of this device for as long as it runs. */
export function lendModem(createPort: () => BytePort, onState: (words: string) => void): { stop: () => void } {
  const port = new LentPort({ by: 'modem', createPort, onState })
  return { stop: () => void port.stop() }
}
