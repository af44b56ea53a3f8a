import { MODES, type ModeId } from '../modes'

/** Words to remind of power before a mode is used; the radio's manual decides. */
export function dutyReminder(mode: ModeId, powerW: number | null): string {
  const { name, duty } = MODES[mode]
  const half = powerW === null ? 'half of what it makes for voice' : `${Math.max(1, Math.round(powerW / 2))} W`
  return `${name} is ${duty.words}. Small radios get hot: start with ${half} unless the manual allows more.`
}
