/**
 * The last field of a standard message, g15 with its R bit (protocol description, QEX July/August 2020):
 *   0..32399 a four-character locator | 32400 + 1 nothing | + 2 RRR | + 3 RR73 | + 4 73 | + 35 + r a report of r dB
 */
const LOCATOR_COUNT = 32_400
const LOWEST_REPORT_DB = -30
const HIGHEST_REPORT_DB = 49

/** What a standard message says after the two calls. */
export type Info =
  | { kind: 'nothing' }
  | { kind: 'locator'; locator: string; roger: boolean }
  | { kind: 'report'; reportDb: number; roger: boolean }
  | { kind: 'RRR' | 'RR73' | '73' }

const LOCATOR4 = /^[A-R]{2}[0-9]{2}$/

/** Reads the words after the calls: '', 'JN97', 'R JN97', '-05', 'R-05', 'RRR', 'RR73' or '73'; undefined for others. */
export function parseInfo(words: string): Info | undefined {
  if (words === '') return { kind: 'nothing' }
  if (words === 'RRR' || words === 'RR73' || words === '73') return { kind: words }
  const report = /^(R)?([+-]\d{2})$/.exec(words)
  if (report) {
    const reportDb = Number(report[2])
    return reportDb < LOWEST_REPORT_DB || reportDb > HIGHEST_REPORT_DB ? undefined : { kind: 'report', reportDb, roger: report[1] === 'R' }
  }
  const locator = /^(R )?([A-R]{2}\d{2})$/.exec(words)
  return locator ? { kind: 'locator', locator: locator[2]!, roger: locator[1] !== undefined } : undefined
}

/** Writes an info as it is shown. */
export function formatInfo(info: Info): string {
  switch (info.kind) {
    case 'nothing':
      return ''
    case 'locator':
      return (info.roger ? 'R ' : '') + info.locator
    case 'report':
      return (info.roger ? 'R' : '') + formatReport(info.reportDb)
    default:
      return info.kind
  }
}

/** Writes a report with its sign and two digits. @example formatReport(-5) // '-05' */
export function formatReport(reportDb: number): string {
  return (reportDb < 0 ? '-' : '+') + String(Math.abs(Math.round(reportDb))).padStart(2, '0')
}

/** Packs an info into the R bit and g15. */
export function packInfo(info: Info): { r: number; g15: number } {
  switch (info.kind) {
    case 'nothing':
      return { r: 0, g15: LOCATOR_COUNT + 1 }
    case 'RRR':
      return { r: 0, g15: LOCATOR_COUNT + 2 }
    case 'RR73':
      return { r: 0, g15: LOCATOR_COUNT + 3 }
    case '73':
      return { r: 0, g15: LOCATOR_COUNT + 4 }
    case 'report':
      return { r: info.roger ? 1 : 0, g15: LOCATOR_COUNT + 35 + info.reportDb }
    case 'locator':
      return { r: info.roger ? 1 : 0, g15: packLocator4(info.locator) }
  }
}

/** Unpacks the R bit and g15; undefined when the value means nothing. */
export function unpackInfo(r: number, g15: number): Info | undefined {
  if (g15 < LOCATOR_COUNT) return { kind: 'locator', locator: unpackLocator4(g15), roger: r === 1 }
  const value = g15 - LOCATOR_COUNT
  if (value <= 4) {
    if (r === 1 || value === 0) return undefined
    return value === 1 ? { kind: 'nothing' } : { kind: (['RRR', 'RR73', '73'] as const)[value - 2]! }
  }
  const reportDb = value - 35
  return reportDb > HIGHEST_REPORT_DB ? undefined : { kind: 'report', reportDb, roger: r === 1 }
}

function packLocator4(locator: string): number {
  if (!LOCATOR4.test(locator)) throw new RangeError(`locator must be two letters A-R and two digits, got "${locator}"`)
  const at = (i: number) => locator.charCodeAt(i)
  return (((at(0) - 65) * 18 + (at(1) - 65)) * 10 + (at(2) - 48)) * 10 + (at(3) - 48)
}

function unpackLocator4(n: number): string {
  const letter = (v: number) => String.fromCharCode(65 + v)
  return letter(Math.floor(n / 1800)) + letter(Math.floor(n / 100) % 18) + (Math.floor(n / 10) % 10) + (n % 10)
}
