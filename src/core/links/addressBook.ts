import { z } from 'zod'
import { hostSchema, portNumberSchema } from './portChoice'

/** The networks in which a radio or TNC may be met; in each it has another address. */
export const TOPOLOGIES = ['house', 'radioOwn', 'hotspot'] as const
export type Topology = (typeof TOPOLOGIES)[number]
export const TOPOLOGY_WORDS: Record<Topology, string> = {
  house: 'House network',
  radioOwn: 'The radio’s own network',
  hotspot: 'A telephone’s hotspot',
}

const ADDRESS_KINDS = ['radio', 'tnc'] as const
export type AddressKind = (typeof ADDRESS_KINDS)[number]

const placeSchema = z.object({ host: hostSchema, port: portNumberSchema })
export type NetworkPlace = z.infer<typeof placeSchema>

/** A radio or TNC in the network, with its address in each network that it is used in. */
export const addressEntrySchema = z.object({
  id: z.uuid(),
  name: z.string().trim().min(1, 'It needs a name').max(60, 'At most 60 letters'),
  kind: z.enum(ADDRESS_KINDS),
  /** Told at its login prompt, when it has one. */
  user: z.string().trim().max(60, 'At most 60 letters'),
  places: z.partialRecord(z.enum(TOPOLOGIES), placeSchema),
})
export type AddressEntry = z.infer<typeof addressEntrySchema>

export const addressBookSchema = z.object({
  /** The network of today. */
  topology: z.enum(TOPOLOGIES),
  entries: z.array(addressEntrySchema).max(40, 'At most 40 addresses'),
})
export type AddressBook = z.infer<typeof addressBookSchema>
export const emptyAddressBook: AddressBook = { topology: 'house', entries: [] }

/** The book as it is shown: of a password no more than whether there is one. */
export const addressBookViewSchema = addressBookSchema.extend({ withPassword: z.array(z.uuid()), unreadable: z.array(z.uuid()) })
export type AddressBookView = z.infer<typeof addressBookViewSchema>

/** A new password, or null to forget it. It goes to the server and never comes back. */
export const passwordRequestSchema = z.object({
  id: z.uuid(),
  password: z.string().min(1, 'A password has a letter at least').max(200, 'At most 200 letters').nullable(),
})

export const reachRequestSchema = placeSchema
/** What a try to reach an address found. */
export const reachResultSchema = z.object({ ok: z.boolean(), words: z.string(), advice: z.string() })
export type ReachResult = z.infer<typeof reachResultSchema>

/** What must be done before changing to a network, because afterwards it cannot be. */
export function beforeSwitching(to: Topology): string[] {
  switch (to) {
    case 'house':
      return [
        'Join tablet and field computer to the house network again.',
        'Restart the radio: many take their address only when they start.',
        'Test each address; the router may have given another one.',
      ]
    case 'radioOwn':
      return [
        'The radio’s network has no internet. Sync the clock now; after the change only GPS, the band or a watch can.',
        'Send and fetch what needs the internet now: messages, self-spots, uploads of the log.',
        'Switch mobile data and “change to a better network” off, or this device leaves the radio’s network by itself.',
        'Join tablet and field computer both to it: each must reach the other.',
        'Restart the radio after a change of its network settings.',
      ]
    case 'hotspot':
      return [
        'Start the hotspot first, then the radio: it looks for its network only at the start.',
        'Keep the telephone awake and charged; many end an idle hotspot.',
        'A hotspot may hide its guests from one another: test the address. If it fails, use the radio’s own network.',
      ]
  }
}

/** How a connection ended, before it is put into words. */
export interface ReachEvidence {
  host: string
  port: number
  /** Of the system; absent when it was connected. */
  code?: string
  tookMs: number
  /** Addresses of this computer, such as `192.168.4.2`. */
  ownAddresses: readonly string[]
}

/** Says what a try to reach an address showed, and what to do. */
export function judgeReach({ host, port, code, tookMs, ownAddresses }: ReachEvidence): ReachResult {
  const where = `${host}:${port}`
  const elsewhere = foreign(host, ownAddresses)
  const own = ownAddresses.length === 0 ? 'This computer is in no network.' : `This computer is ${ownAddresses.join(' and ')}.`
  switch (code) {
    case undefined:
      return { ok: true, words: `${where} answers after ${Math.round(tookMs)} ms.`, advice: '' }
    case 'ENOTFOUND':
    case 'EAI_AGAIN':
      return {
        ok: false,
        words: `No address is known for ${host}.`,
        advice: 'Check the name, or use the address in numbers from the device’s menu.',
      }
    case 'ECONNREFUSED':
      return {
        ok: false,
        words: `${host} is there, but nothing listens on its port ${port}.`,
        advice: 'Check the port number; switch its server on in its menu, and restart it after the change.',
      }
    case 'EHOSTUNREACH':
    case 'ENETUNREACH':
    case 'EHOSTDOWN':
      return {
        ok: false,
        words: `There is no way to ${host} from here. ${own}`,
        advice: 'Join the network in which it is, or choose today’s network above.',
      }
    case 'ETIMEDOUT':
      return {
        ok: false,
        words: `${where} says nothing for ${(tookMs / 1000).toFixed(0)} s.${elsewhere ? ` ${own} That is another network than ${host}.` : ''}`,
        advice: elsewhere
          ? 'Join the network in which it is, or choose today’s network above.'
          : 'Is it on, and in this network? Restart it: many take their address only when they start. A guest network may keep its guests apart.',
      }
    case 'EREFUSED':
      return {
        ok: false,
        words: `${host} is an address that is never tried: link-local, multicast or that of a metadata service.`,
        advice: 'Use the address that the device has in your network.',
      }
    default:
      return { ok: false, words: `${where}: ${code}.`, advice: 'Check address and port.' }
  }
}

/** Whether a private IPv4 address shares the first three numbers with none of ours: as good as always another network. */
function foreign(host: string, ownAddresses: readonly string[]): boolean {
  const prefix = /^(10|172\.(1[6-9]|2\d|3[01])|192\.168)\..*/.test(host) ? /^(\d+\.\d+\.\d+)\.\d+$/.exec(host)?.[1] : undefined
  return prefix !== undefined && !ownAddresses.some((own) => own.startsWith(`${prefix}.`))
}
