import { ft8Mode } from '../ft8/mode'
import { packetMode } from '../packet/mode'
import { psk31Mode } from '../psk31/mode'
import type { Mode } from './mode'
import { MODE_IDS, type ModeId } from './modeId'

export { practiceDialHz, type Dial, type Mode } from './mode'
export { FIRST_MODE_IDS, MODE_IDS, SOUND_MODE_IDS, type ModeId, type SoundModeId } from './modeId'

/** Every mode: a forgotten one does not compile. */
export const MODES = { ft8: ft8Mode, psk31: psk31Mode, packet: packetMode } satisfies Record<ModeId, Mode>

export const modeName = (id: ModeId): string => MODES[id].name

/** The mode that a sheet of radio settings is for. */
export const modeOfSheet = (sheet: string): Mode | undefined =>
  MODE_IDS.map((id): Mode => MODES[id]).find((mode) => mode.sheets.includes(sheet))

/** Names of all sheets of radio settings. */
export const SHEET_NAMES: readonly string[] = MODE_IDS.flatMap((id) => [...MODES[id].sheets])
