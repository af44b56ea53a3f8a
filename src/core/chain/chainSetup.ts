import { z } from 'zod'
import { SHEET_NAMES } from '../modes'
import { CONNECTOR_IDS, NETS } from './connectors'
import { FAMILY_IDS } from './families'

const pinMapSchema = z.record(z.string().max(12), z.enum(NETS))

/** What the operator tells of the chain from this device to the radio. */
export const chainSetupSchema = z.object({
  family: z.enum(FAMILY_IDS).nullable(),
  modes: z.array(z.enum(SHEET_NAMES as [string, ...string[]])).max(SHEET_NAMES.length),
  radioSocket: z.enum(CONNECTOR_IDS).nullable(),
  /** The socket of interface, TNC or device that faces the radio. */
  boxSocket: z.enum(CONNECTOR_IDS).nullable(),
  /** How this device takes plugs. */
  hostSocket: z.enum(['usbA', 'usbC']),
  /** Control speed as the radio's own menu says it; null when nobody looked. */
  radioControlBaud: z.number().int().min(300).max(1_000_000).nullable(),
  /** What the radio's data socket is set to. */
  dataSocketBaud: z.union([z.literal(1200), z.literal(9600)]).nullable(),
  /** Pins as the operator's manuals have them, where that differs, by connector. */
  ownPins: z.partialRecord(z.enum(CONNECTOR_IDS), pinMapSchema),
  /** Things of the kit that are packed. */
  packed: z.array(z.string().max(80)).max(100),
  /** Things that the operator added to the kit. */
  ownKit: z.array(z.string().trim().min(1).max(80)).max(40),
})
export type ChainSetup = z.infer<typeof chainSetupSchema>

export const emptyChainSetup: ChainSetup = {
  family: null,
  modes: ['FT8'],
  radioSocket: null,
  boxSocket: null,
  hostSocket: 'usbC',
  radioControlBaud: null,
  dataSocketBaud: null,
  ownPins: {},
  packed: [],
  ownKit: [],
}

/** On-air speeds of the packet modes among the modes; empty without packet. */
export function packetSpeeds({ modes }: Pick<ChainSetup, 'modes'>): number[] {
  return modes.flatMap((mode) => (mode === 'packet 1200' ? [1200] : mode === 'packet 9600' ? [9600] : []))
}
