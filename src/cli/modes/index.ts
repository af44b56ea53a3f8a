import { UsageError } from '../errors'
import { ft8 } from './ft8'
import { PACKET_MODEM_IDS, type PacketModemId } from '@/core/packet'
import type { CliMode } from './mode'
import { packetMode } from './packet'
import { psk31 } from './psk31'

/** The modes that recordings are read and written in. */
const PACKET = Object.fromEntries(PACKET_MODEM_IDS.map((id) => [id, packetMode(id)])) as Record<PacketModemId, CliMode>
const MODES = { ft8, psk31, ...PACKET } satisfies Record<string, CliMode>
type ModeName = keyof typeof MODES

const known = Object.keys(MODES).join(', ')

/** Checks --mode. @throws {UsageError} missing or not known */
export function requireMode(name: string | undefined): CliMode {
  if (name === undefined) throw new UsageError(`--mode is missing; ${known} are known`)
  const mode = MODES[name.toLowerCase() as ModeName] as CliMode | undefined
  if (!mode) throw new UsageError(`mode "${name}" is not known; ${known} are`)
  return mode
}
