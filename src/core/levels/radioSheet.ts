import { z } from 'zod'
import { modeOfSheet, SHEET_NAMES } from '../modes'

const words = (longest: number) => z.string().trim().max(longest)

/** Name of a sheet, as its mode declares it. */
export type SheetMode = string

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
  mode: z.enum(SHEET_NAMES as [string, ...string[]], 'A sheet is for one of the modes'),
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

/** What each mode needs of any radio, to start a sheet of one's own from. */
export function emptySheet(id: string, radio: string, mode: SheetMode, nowUtcMs: number): RadioSheet {
  const common = modeOfSheet(mode)?.sheetLines ?? []
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
