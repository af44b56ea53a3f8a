import { createStore } from 'zustand/vanilla'
import type { Relayed } from '@/core/links'
import { LentPort } from './lentPort'
import { createBluetoothBytePort, pickBluetooth, webBluetooth } from './webBluetoothPort'
import { createWebSerialBytePort, pickPort, webSerial, type WebSerialPort } from './webSerialPort'

/** What goes on with the ports that this page lends, in words; undefined while none is lent. */
export const lentPorts = createStore<Record<Relayed, string | undefined>>(() => ({ serial: undefined, bluetooth: undefined }))

const lent: Partial<Record<Relayed, LentPort>> = {}

/** Whether this browser can hold such a port. */
export function canLend(by: Relayed): boolean {
  return by === 'serial' ? webSerial() !== undefined : webBluetooth() !== undefined
}

/** Lets the operator pick a port or device, and lends it to the field computer. @returns what went wrong */
export async function lendPort(by: Relayed): Promise<string | undefined> {
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

export async function takeBack(by: Relayed): Promise<void> {
  await lent[by]?.stop()
  delete lent[by]
  lentPorts.setState({ [by]: undefined })
}

const lendSerial = (port: WebSerialPort) => lend('serial', (serialBaud) => createWebSerialBytePort(port, serialBaud))

async function lend(by: Relayed, createPort: ConstructorParameters<typeof LentPort>[0]['createPort']): Promise<void> {
  await takeBack(by)
  lent[by] = new LentPort({ by, createPort, onState: (words) => lentPorts.setState({ [by]: words }) })
}
