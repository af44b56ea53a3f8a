import { z } from 'zod'

const words = (longest: number) => z.string().trim().max(longest)

export const MODES = ['FT8', 'PSK31', 'packet 1200', 'packet 9600'] as const
export type SheetMode = (typeof MODES)[number]

/** One setting of a radio: what it must be for the mode, and what to put it back to for voice. */
const sheetLineSchema = z.object({
  setting: words(60).min(1, 'A setting needs a name'),
  value: words(80),
  /** Where the operator finds it. */
  where: words(120),
  voice: words(80),
  ticked: z.boolean(),
})
export type SheetLine = z.infer<typeof sheetLineSchema>

/** The settings that matter for one radio in one mode. */
export const radioSheetSchema = z.object({
  id: z.uuid(),
  radio: words(60).min(1, 'Which radio is it for?'),
  mode: z.enum(MODES),
  lines: z.array(sheetLineSchema).max(40),
  note: words(500),
  updatedUtcMs: z.number().finite(),
})
export type RadioSheet = z.infer<typeof radioSheetSchema>

/** The file in which sheets travel. */
export const sheetsFileSchema = z.object({
  kind: z.literal('zeptik radio sheets'),
  version: z.literal(1),
  sheets: z.array(radioSheetSchema).max(200),
})

type Common = readonly [setting: string, value: string, voice: string]
const SOUND_CARD: readonly Common[] = [
  ['Mode', 'Data, or upper sideband', 'Upper sideband'],
  ['Filter', 'Widest: 2.4 kHz or more', '2.4 kHz'],
  ['AGC', 'Fast or off', 'Slow'],
  ['Noise reduction', 'Off', 'As you like'],
  ['Noise blanker', 'Off', 'As you like'],
  ['Speech processor', 'Off', 'On, if you use it'],
  ['Power', 'Half', 'Full'],
  ['VOX', 'On, shortest delay', 'Off'],
]
const PACKET: readonly Common[] = [
  ['Mode', 'FM', 'FM'],
  ['Squelch', 'Fully open', 'Closed just above the noise'],
  ['Tone squelch', 'Off', 'As the repeater needs it'],
  ['Data socket speed', '1200', '1200'],
  ['Band side for data', 'The side in use', 'Any'],
  ['Power', 'Lowest that works', 'As needed'],
  ['Battery saver', 'Off', 'On'],
]

/** What each mode needs of any radio, to start a sheet of one's own from. */
export function emptySheet(id: string, radio: string, mode: SheetMode, nowUtcMs: number): RadioSheet {
  const common = mode.startsWith('packet') ? PACKET : SOUND_CARD
  return {
    id,
    radio,
    mode,
    note: '',
    updatedUtcMs: nowUtcMs,
    lines: common.map(([setting, value, voice]) => ({
      setting,
      value: setting === 'Data socket speed' && mode === 'packet 9600' ? '9600' : value,
      where: '',
      voice,
      ticked: false,
    })),
  }
}
