/**
 * Frame templates of control dialects. Between fixed parts, which are characters in an ASCII dialect and pairs of hex digits
 * in a binary one, stand fields in braces:
 *
 *   {frequency:11}          11 decimal digits, Hz                    {frequency:bcd-le:5}     5 bytes, two digits each, lowest first
 *   {frequency:8*10}        8 digits of tens of Hz                   {frequency:bcd-be:4*10}  4 bytes, highest first, tens of Hz
 *   {mode}                  the code of a mode, from the dialect     {value:bcd-be:2}  {value:byte}  {value:bits:0-3}
 *   {value:3}  {keyed:1}    digits of a meter, of the keyed state    {any:2}  bytes that do not matter
 *   {radio}  {host}         addresses, from the dialect              {sum8}  {xor8}  checksum of all bytes before it
 */

export type FieldName = 'frequency' | 'mode' | 'value' | 'keyed' | 'any' | 'radio' | 'host' | 'checksum'

type Format =
  | { as: 'digits'; length: number }
  | { as: 'bcd-le'; length: number }
  | { as: 'bcd-be'; length: number }
  | { as: 'byte' }
  | { as: 'bits'; from: number; to: number }
  | { as: 'code'; length: number }
  | { as: 'any'; length: number }
  | { as: 'sum8' }
  | { as: 'xor8' }

type Token = { fixed: number[] } | { field: FieldName; format: Format; unit: number }

/** A template, ready to write frames and to read them. */
export interface Template {
  readonly length: number
  readonly tokens: readonly Token[]
}

export interface TemplateContext {
  binary: boolean
  /** Code of each mode, as characters or as hex. All are of one length. */
  modes: Readonly<Record<string, string>>
  radio?: number | undefined
  host?: number | undefined
}

export interface FieldValues {
  frequency?: number
  mode?: string
  value?: number
  keyed?: number
}

const characters = (text: string) => [...text].map((c) => c.charCodeAt(0))

/** @throws Error that names the part that is wrong */
export function compileTemplate(text: string, context: TemplateContext): Template {
  const tokens: Token[] = []
  for (const part of text.split(/(\{[^}]*\})/)) {
    if (part === '') continue
    if (part.startsWith('{')) tokens.push(compileField(part.slice(1, -1), context))
    else tokens.push({ fixed: context.binary ? hexBytes(part) : characters(part) })
  }
  return { tokens, length: tokens.reduce((sum, token) => sum + lengthOf(token), 0) }
}

/** @throws Error naming what is no pair of hex digits */
export function hexBytes(text: string): number[] {
  const pairs = text.trim().split(/\s+/).filter(Boolean)
  for (const pair of pairs) if (!/^[0-9a-fA-F]{2}$/.test(pair)) throw new Error(`"${pair}" is not two hex digits`)
  return pairs.map((pair) => parseInt(pair, 16))
}

function compileField(text: string, context: TemplateContext): Token {
  const [head, unitText] = text.split('*') as [string, string?]
  const [name, ...rest] = head.split(':') as [string, ...string[]]
  const unit = unitText === undefined ? 1 : Number(unitText)
  if (!(unit > 0)) throw new Error(`{${text}}: the unit after * must be a number above 0`)
  const field = (fieldName: FieldName, format: Format): Token => ({ field: fieldName, format, unit })
  switch (name) {
    case 'sum8':
    case 'xor8':
      return field('checksum', { as: name })
    case 'radio':
    case 'host':
      if (context[name] === undefined) throw new Error(`{${text}}: the command set has no ${name} address`)
      return { fixed: [context[name]] }
    case 'any':
      return field('any', { as: 'any', length: countOf(rest[0], text) })
    case 'mode': {
      const codes = Object.values(context.modes)
      if (codes.length === 0) throw new Error(`{${text}}: the command set has no modes`)
      const lengths = new Set(codes.map((code) => codeBytes(code, context.binary).length))
      if (lengths.size > 1) throw new Error(`{${text}}: the codes of the modes are of different lengths`)
      return field('mode', { as: 'code', length: [...lengths][0]! })
    }
    case 'frequency':
    case 'value':
    case 'keyed': {
      const [kind, range] = rest
      if (kind === 'byte') return field(name, { as: 'byte' })
      if (kind === 'bits') {
        const match = /^([0-7])-([0-7])$/.exec(range ?? '')
        if (!match || match[1]! > match[2]!) throw new Error(`{${text}}: bits are written as 0-3`)
        return field(name, { as: 'bits', from: Number(match[1]), to: Number(match[2]) })
      }
      if (kind === 'bcd-le' || kind === 'bcd-be') return field(name, { as: kind, length: countOf(range, text) })
      return field(name, { as: 'digits', length: countOf(kind, text) })
    }
    default:
      throw new Error(`{${text}}: there is no field of this name`)
  }
}

function countOf(text: string | undefined, where: string): number {
  const count = Number(text)
  if (!Number.isInteger(count) || count < 1 || count > 32) throw new Error(`{${where}}: a length of 1 to 32 is missing`)
  return count
}

function lengthOf(token: Token): number {
  if ('fixed' in token) return token.fixed.length
  return 'length' in token.format ? token.format.length : 1
}

const codeBytes = (code: string, binary: boolean) => (binary ? hexBytes(code) : characters(code))

/** Writes a frame. @throws RangeError for a value that does not fit, or is missing */
export function renderTemplate(template: Template, values: FieldValues, context: TemplateContext): Uint8Array {
  const out: number[] = []
  for (const token of template.tokens) {
    if ('fixed' in token) {
      out.push(...token.fixed)
      continue
    }
    const { field, format, unit } = token
    if (format.as === 'any') out.push(...new Array<number>(format.length).fill(context.binary ? 0 : 0x30))
    else if (format.as === 'sum8' || format.as === 'xor8') out.push(checksum(format.as, out))
    else if (format.as === 'code') {
      const code = values.mode === undefined ? undefined : context.modes[values.mode]
      if (code === undefined) throw new RangeError(`this radio has no mode ${values.mode ?? ''}`)
      out.push(...codeBytes(code, context.binary))
    } else {
      const given = field === 'frequency' ? values.frequency : field === 'keyed' ? values.keyed : values.value
      if (given === undefined) throw new RangeError(`no ${field} was given`)
      out.push(...renderNumber(Math.round(given / unit), format, field))
    }
  }
  return Uint8Array.from(out)
}

function renderNumber(value: number, format: Exclude<Format, { as: 'any' | 'code' | 'sum8' | 'xor8' }>, field: string): number[] {
  const tooLarge = () => new RangeError(`the ${field} ${value} does not fit into this radio's frame`)
  if (!(value >= 0)) throw tooLarge()
  if (format.as === 'byte' || format.as === 'bits') {
    const [from, to] = format.as === 'byte' ? [0, 7] : [format.from, format.to]
    if (value >= 2 ** (to - from + 1)) throw tooLarge()
    return [value << from]
  }
  const digits = String(value).padStart(format.as === 'digits' ? format.length : 2 * format.length, '0')
  if (digits.length > (format.as === 'digits' ? format.length : 2 * format.length)) throw tooLarge()
  if (format.as === 'digits') return characters(digits)
  const bytes = digits.match(/../g)!.map((pair) => parseInt(pair, 16))
  return format.as === 'bcd-le' ? bytes.reverse() : bytes
}

/** Reads a frame. @returns its fields, or undefined when it is not of this template */
export function matchTemplate(template: Template, bytes: ArrayLike<number>, context: TemplateContext): FieldValues | undefined {
  if (bytes.length !== template.length) return undefined
  const values: FieldValues = {}
  let at = 0
  for (const token of template.tokens) {
    const length = lengthOf(token)
    const part = Array.from({ length }, (_, i) => bytes[at + i]!)
    if ('fixed' in token) {
      if (!token.fixed.every((byte, i) => byte === part[i])) return undefined
    } else if (token.format.as === 'sum8' || token.format.as === 'xor8') {
      const before = Array.from({ length: at }, (_, i) => bytes[i]!)
      if (checksum(token.format.as, before) !== part[0]) return undefined
    } else if (token.format.as === 'code') {
      // A code that is not in the table is a mode we have no name for, not another frame.
      const known = Object.entries(context.modes).find(([, code]) => codeBytes(code, context.binary).every((byte, i) => byte === part[i]))
      values.mode = known?.[0] ?? 'other'
    } else if (token.format.as !== 'any') {
      const number = readNumber(part, token.format)
      if (number === undefined) return undefined
      values[token.field as 'frequency' | 'value' | 'keyed'] = number * token.unit
    }
    at += length
  }
  return values
}

function readNumber(part: number[], format: Exclude<Format, { as: 'any' | 'code' | 'sum8' | 'xor8' }>): number | undefined {
  if (format.as === 'byte') return part[0]
  if (format.as === 'bits') return (part[0]! >> format.from) & (2 ** (format.to - format.from + 1) - 1)
  const digits =
    format.as === 'digits'
      ? String.fromCharCode(...part)
      : (format.as === 'bcd-le' ? [...part].reverse() : part).map((byte) => byte.toString(16).padStart(2, '0')).join('')
  return /^\d+$/.test(digits) ? Number(digits) : undefined
}

function checksum(kind: 'sum8' | 'xor8', bytes: readonly number[]): number {
  return kind === 'sum8' ? bytes.reduce((sum, byte) => (sum + byte) & 0xff, 0) : bytes.reduce((sum, byte) => sum ^ byte, 0)
}
