import { UsageError } from '../errors'
import { ft8 } from './ft8'
import type { CliMode } from './mode'
import { psk31 } from './psk31'

/** The modes that recordings are read and written in. */
const MODES = { ft8, psk31 } satisfies Record<string, CliMode>
type ModeName = keyof typeof MODES

const known = Object.keys(MODES).join(' and ')

/** Checks --mode. @throws {UsageError} missing or not known */
export function requireMode(name: string | undefined): CliMode {
  if (name === undefined) throw new UsageError(`--mode is missing; ${known} are known`)
  const mode = MODES[name.toLowerCase() as ModeName] as CliMode | undefined
  if (!mode) throw new UsageError(`mode "${name}" is not known; ${known} are`)
  return mode
}
