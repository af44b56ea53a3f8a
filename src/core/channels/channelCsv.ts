import Papa from 'papaparse'
import { channelSchema, CHANNEL_MODES, megahertz, MOST_CHANNELS, TONE_KINDS, type Channel } from './channel'

const COLUMNS = ['name', 'receive_mhz', 'transmit_mhz', 'tone', 'tone_hz', 'mode', 'air_baud', 'purpose'] as const
type Column = (typeof COLUMNS)[number]
/** Without these a row says nothing. */
const NEEDED: readonly Column[] = ['name', 'receive_mhz']

export const LARGEST_CSV_BYTES = 500_000

/** Channels as comma-separated values (RFC 4180) with a header. */
export function channelsToCsv(channels: readonly Channel[]): string {
  const rows = channels.map((c) => [
    c.name,
    megahertz(c.receiveHz),
    megahertz(c.transmitHz),
    c.tone,
    c.toneHz === null ? '' : c.toneHz.toFixed(1),
    c.mode,
    c.airBaud ?? '',
    c.purpose,
  ])
  const data = rows.map((row) => row.map((cell) => (typeof cell === 'string' ? guard(cell) : cell)))
  return Papa.unparse({ fields: [...COLUMNS], data }, { newline: '\r\n' }) + '\r\n'
}

/** A cell that begins like a formula would be run by a spreadsheet: an apostrophe before it prevents that. */
const guard = (cell: string) => (/^'*[=+\-@]/.test(cell) ? `'${cell}` : cell)
const unguard = (cell: string) => (/^'+[=+\-@]/.test(cell) ? cell.slice(1) : cell)

/**
 * Reads comma- or semicolon-separated channels; the first line names the columns, in any order. Nothing is taken when
 * anything is wrong.
 * @param newId gives each channel its id
 * @returns the channels, or what is wrong and in which line
 */
export function channelsFromCsv(text: string, newId: () => string): { ok: true; channels: Channel[] } | { ok: false; error: string } {
  const fail = (error: string) => ({ ok: false as const, error })
  if (text.length > LARGEST_CSV_BYTES) return fail(`The file has more than ${LARGEST_CSV_BYTES / 1000} kB; a list of channels is smaller.`)
  const parsed = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: 'greedy' })
  const broken = parsed.errors.find((e) => e.type === 'Quotes')
  if (broken) return fail(`Line ${(broken.row ?? 0) + 1}: a quotation mark is not closed.`)
  const [header, ...rows] = parsed.data
  if (!header) return fail('The file is empty.')
  const names = header.map((name) => name.trim().toLowerCase())
  const missing = NEEDED.find((name) => !names.includes(name))
  if (missing) return fail(`The first line must name the columns; "${missing}" is missing. Known are: ${COLUMNS.join(', ')}.`)
  if (rows.length > MOST_CHANNELS) return fail(`${rows.length} lines; at most ${MOST_CHANNELS} channels are taken.`)
  const channels: Channel[] = []
  for (const [i, row] of rows.entries()) {
    const cell = (column: Column) => unguard((row[names.indexOf(column)] ?? '').trim())
    const read = readRow(cell, newId())
    if ('error' in read) return fail(`Line ${i + 2}, ${read.error}`)
    channels.push(read)
  }
  return { ok: true, channels }
}

function readRow(cell: (column: Column) => string, id: string): Channel | { error: string } {
  const receiveHz = hertz(cell('receive_mhz'))
  if (receiveHz === undefined) return { error: `receive_mhz: "${cell('receive_mhz')}" is no frequency in MHz.` }
  const transmitHz = cell('transmit_mhz') === '' ? receiveHz : hertz(cell('transmit_mhz'))
  if (transmitHz === undefined) return { error: `transmit_mhz: "${cell('transmit_mhz')}" is no frequency in MHz.` }
  const tone = TONE_KINDS.find((kind) => kind.toLowerCase() === (cell('tone') || 'none').toLowerCase())
  if (!tone) return { error: `tone: "${cell('tone')}" is none of ${TONE_KINDS.join(', ')}.` }
  const mode = CHANNEL_MODES.find((m) => m === (cell('mode') || 'fm').toLowerCase())
  if (!mode) return { error: `mode: "${cell('mode')}" is none of ${CHANNEL_MODES.join(', ')}.` }
  const number = (column: Column) => (cell(column) === '' ? null : Number(cell(column).replace(',', '.')))
  const parsed = channelSchema.safeParse({
    ...{ id, name: cell('name'), receiveHz, transmitHz, tone, mode },
    ...{ toneHz: number('tone_hz'), airBaud: number('air_baud'), purpose: cell('purpose') },
  })
  if (parsed.success) return parsed.data
  const issue = parsed.error.issues[0]!
  return { error: `${issue.path.join('.')}: ${issue.message}.` }
}

/** MHz with point or comma to the nearest hertz. */
function hertz(text: string): number | undefined {
  if (!/^\d{1,5}([.,]\d{1,9})?$/.test(text)) return undefined
  return Math.round(Number(text.replace(',', '.')) * 1e6)
}

/** Takes channels into a list: one of the same name is replaced and keeps its id, others are added. */
export function mergeChannels(
  known: readonly Channel[],
  more: readonly Channel[],
): { channels: Channel[]; added: number; replaced: number } {
  const channels = [...known]
  let replaced = 0
  for (const channel of more) {
    const at = channels.findIndex((c) => c.name.toLowerCase() === channel.name.toLowerCase())
    if (at < 0) channels.push(channel)
    else {
      channels[at] = { ...channel, id: channels[at]!.id }
      replaced++
    }
  }
  return { channels, added: channels.length - known.length, replaced }
}
