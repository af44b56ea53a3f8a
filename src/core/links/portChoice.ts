import { z } from 'zod'
import { RELAYED } from './relayed'

export const hostSchema = z
  .string()
  .trim()
  .max(100)
  .regex(
    /^(\[[0-9a-fA-F:]{2,45}\]|[0-9A-Za-z]([0-9A-Za-z.-]*[0-9A-Za-z])?)$/,
    'A host name, an IPv4 address, or an IPv6 address in brackets',
  )

/** A TCP or UDP port. */
export const portNumberSchema = z
  .number('A port is a number')
  .int('A port is a whole number')
  .min(1, 'Ports are 1 to 65535')
  .max(65_535, 'Ports are 1 to 65535')

/** Where a KISS TNC in the network listens by custom. */
export const KISS_TCP_PORT = 8001

/** Where bytes come from and go to. Serial speeds stand beside this: they belong to the line, never to the air. */
export const portChoiceSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('serial'), path: z.string().trim().min(1, 'Choose a port').max(200) }),
  z.object({
    kind: z.literal('tcp'),
    host: hostSchema,
    port: portNumberSchema,
  }),
  /** A port that the browser itself holds; it is picked there, and has no lasting name. */
  z.object({ kind: z.literal('browser'), by: z.enum(RELAYED) }),
])
export type PortChoice = z.infer<typeof portChoiceSchema>

export function describePort(port: PortChoice): string {
  if (port.kind === 'serial') return port.path
  if (port.kind === 'tcp') return `${port.host}:${port.port}`
  return { serial: 'the serial port of this device', bluetooth: 'the Bluetooth device', modem: 'the modem of this device' }[port.by]
}

/** Whether two things would share one port, which only one of them can hold. */
export function samePort(a: PortChoice, b: PortChoice): boolean {
  return JSON.stringify(a) === JSON.stringify(b)
}
