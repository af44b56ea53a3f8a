import { z } from 'zod'
import { PORT_FAULTS } from './bytePort'
import type { PortChoice } from './portChoice'
import { RELAYED } from './relayed'

/** Bytes as they travel in JSON. */
const base64Schema = z.base64().max(100_000)
const numberSchema = z.number().int().min(0)

/**
 * What the server orders of the browser that holds a port. `will` is what to do when the server is lost: the radio must
 * not stay keyed because of that.
 */
const relayOrderSchema = z.discriminatedUnion('type', [
  z.object({ type: z.literal('open'), n: numberSchema, serialBaud: z.number().int() }),
  z.object({ type: z.literal('write'), n: numberSchema, bytes: base64Schema }),
  z.object({ type: z.literal('lines'), n: numberSchema, rts: z.boolean().optional(), dtr: z.boolean().optional() }),
  z.object({ type: z.literal('close'), n: numberSchema }),
  z.object({
    type: z.literal('will'),
    n: numberSchema,
    bytes: base64Schema,
    lines: z.object({ rts: z.boolean().optional(), dtr: z.boolean().optional() }),
  }),
])
export type RelayOrder = z.infer<typeof relayOrderSchema>

export const relayEventSchema = z.object({ session: z.string().max(60), orders: z.array(relayOrderSchema) })

/** What the browser reports of the port it holds. */
export const relayReportSchema = z.intersection(
  z.object({ by: z.enum(RELAYED), session: z.string().max(60) }),
  z.discriminatedUnion('type', [
    z.object({
      type: z.literal('done'),
      n: numberSchema,
      ok: z.boolean(),
      error: z.string().max(500).optional(),
      fault: z.enum(PORT_FAULTS).optional(),
    }),
    z.object({ type: z.literal('bytes'), bytes: base64Schema }),
    z.object({ type: z.literal('closed'), why: z.string().max(500) }),
  ]),
)
export type RelayReport = z.infer<typeof relayReportSchema>

export function toBase64(bytes: Uint8Array): string {
  let text = ''
  for (const byte of bytes) text += String.fromCharCode(byte)
  return btoa(text)
}

export function fromBase64(text: string): Uint8Array {
  return Uint8Array.from(atob(text), (letter) => letter.charCodeAt(0))
}

/** Whether a port has a serial line with a speed of its own. */
export function hasSerialSpeed(port: PortChoice): boolean {
  return port.kind === 'serial' || (port.kind === 'browser' && port.by === 'serial')
}
