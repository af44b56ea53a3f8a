import { z } from 'zod'
import { compileTemplate, renderTemplate, type Template, type TemplateContext } from './template'

/** Modes a radio is asked for. A dialect names those it has. */
export const RADIO_MODES = ['usb', 'lsb', 'usb-data', 'lsb-data', 'fm', 'fm-data', 'am', 'cw'] as const
export type RadioMode = (typeof RADIO_MODES)[number]

/** What can be asked of a radio. */
const CAT_COMMANDS = [
  'readFrequency',
  'setFrequency',
  'readMode',
  'setMode',
  'keyOn',
  'keyOff',
  'readKeyed',
  'readPower',
  'readSwr',
  'readAlc',
] as const
export type CatCommand = (typeof CAT_COMMANDS)[number]

const templateText = z.string().trim().min(1).max(200)
const commandSchema = z.object({
  send: templateText,
  /** What comes back; without it the radio says nothing. */
  reply: templateText.optional(),
})

/** From the raw figure of a meter to what it means, by straight lines between points. */
const scaleSchema = z
  .array(z.tuple([z.number(), z.number()]))
  .min(2, 'A scale needs two points at least')
  .max(40)
  .refine((points) => points.every((p, i) => i === 0 || p[0] > points[i - 1]![0]), 'The raw figures of a scale must rise')

export const catDialectSchema = z
  .object({
    id: z.string().regex(/^[a-z0-9-]{1,40}$/, 'Small letters, digits and hyphens'),
    name: z.string().trim().min(1).max(80),
    /**
     * `ascii`: characters up to a terminator. `framed`: bytes between a preamble and an end, with addresses.
     * `fixed`: commands of one length, answers of the length of their template.
     */
    structure: z.enum(['ascii', 'framed', 'fixed']),
    terminator: z.string().length(1).optional(),
    preamble: z.string().max(30).optional(),
    end: z.string().max(30).optional(),
    radioAddress: z.number().int().min(0).max(255).optional(),
    hostAddress: z.number().int().min(0).max(255).optional(),
    /** Serial speeds the radio can be set to, the most likely first. */
    serialBauds: z.array(z.number().int().min(300).max(1_000_000)).min(1).max(12),
    /** How long an answer may take. */
    replyMs: z.number().int().min(20).max(5000).default(300),
    modes: z.partialRecord(z.enum(RADIO_MODES), z.string().min(1).max(12)),
    commands: z.partialRecord(z.enum(CAT_COMMANDS), commandSchema),
    /** What the radio says to a command it does not take. */
    rejected: z.array(templateText).max(5).default([]),
    /** Raw figure of `keyed` while transmitting; anything else is receiving. */
    keyedWhen: z.array(z.number()).default([1]),
    meters: z.object({ power: scaleSchema.optional(), swr: scaleSchema.optional(), alc: scaleSchema.optional() }).default({}),
  })
  .superRefine((dialect, context) => {
    const problem = (path: (string | number)[], message: string) => context.addIssue({ code: 'custom', path, message })
    if (dialect.structure === 'ascii' && !dialect.terminator) problem(['terminator'], 'An ASCII command set needs its terminator')
    if (dialect.structure === 'framed' && (!dialect.preamble || !dialect.end))
      problem(['preamble'], 'A framed command set needs preamble and end')
    if (!dialect.commands.readFrequency?.reply)
      problem(['commands', 'readFrequency'], 'Reading the frequency is how a radio is recognised: it is needed, with its reply')
    if (!dialect.commands.keyOn !== !dialect.commands.keyOff) problem(['commands', 'keyOff'], 'Keying needs both: on and off')
    const at = templateContext(dialect)
    const texts: [(string | number)[], string | undefined][] = [
      ...Object.entries(dialect.commands).flatMap(([name, c]): [(string | number)[], string | undefined][] => [
        [['commands', name, 'send'], c?.send],
        [['commands', name, 'reply'], c?.reply],
      ]),
      ...dialect.rejected.map((text, i): [(string | number)[], string] => [['rejected', i], text]),
    ]
    for (const [path, text] of texts)
      try {
        if (text !== undefined) compileTemplate(text, at)
      } catch (error) {
        problem(path, (error as Error).message)
      }
  })
export type CatDialect = z.infer<typeof catDialectSchema>

/** A dialect with its templates compiled. */
export interface Dialect {
  data: CatDialect
  context: TemplateContext
  send: Partial<Record<CatCommand, Template>>
  reply: Partial<Record<CatCommand, Template>>
  rejected: Template[]
}

function templateContext(dialect: Pick<CatDialect, 'structure' | 'modes' | 'radioAddress' | 'hostAddress'>): TemplateContext {
  return {
    binary: dialect.structure !== 'ascii',
    modes: dialect.modes as Record<string, string>,
    radio: dialect.radioAddress,
    host: dialect.hostAddress,
  }
}

/** @param radioAddress instead of the dialect's own, for radios whose address was changed in a menu */
export function compileDialect(data: CatDialect, radioAddress = data.radioAddress): Dialect {
  const context = templateContext({ ...data, radioAddress })
  const compiled = (part: 'send' | 'reply') =>
    Object.fromEntries(
      Object.entries(data.commands).flatMap(([name, command]) => {
        const text = command?.[part]
        return text === undefined ? [] : [[name, compileTemplate(text, context)]]
      }),
    )
  return {
    data,
    context,
    send: compiled('send'),
    reply: compiled('reply'),
    rejected: data.rejected.map((text) => compileTemplate(text, context)),
  }
}

/** What a meter's raw figure means; beyond the scale its last point. */
export function scaleMeter(scale: readonly (readonly [number, number])[] | undefined, raw: number): number | undefined {
  if (!scale) return undefined
  const next = scale.findIndex(([at]) => at >= raw)
  if (next < 0) return scale.at(-1)![1]
  if (next === 0) return scale[0]![1]
  const [x0, y0] = scale[next - 1]!
  const [x1, y1] = scale[next]!
  return y0 + ((y1 - y0) * (raw - x0)) / (x1 - x0)
}

export interface DryRunLine {
  command: CatCommand
  /** With example values in place. */
  sends: string
  expects: string | null
}

/** What each command of a dialect would send, byte for byte, without sending anything. */
export function dryRun(data: CatDialect): DryRunLine[] {
  const dialect = compileDialect(data)
  const values = { frequency: 14_074_000, mode: Object.keys(data.modes)[0] ?? 'usb', value: 0, keyed: 1 }
  return CAT_COMMANDS.flatMap((command) => {
    const send = dialect.send[command]
    const reply = dialect.reply[command]
    if (!send) return []
    const show = (template: Template) => showBytes(renderTemplate(template, values, dialect.context), dialect.context.binary)
    return [{ command, sends: show(send), expects: reply ? show(reply) : null }]
  })
}

/** Bytes for people: characters of an ASCII dialect, else hex. */
function showBytes(bytes: Uint8Array, binary: boolean): string {
  if (!binary) return String.fromCharCode(...bytes)
  return [...bytes].map((byte) => byte.toString(16).toUpperCase().padStart(2, '0')).join(' ')
}
