import { z } from 'zod'
import { bandOf, contactSchema, type Contact } from '@/core/log'
import { MODE_IDS, MODES } from '@/core/modes'
import { formatUtc, formatUtcDate } from '../parts/formats'

/** A contact as it stands in the editor: all of it as typed. */
export function toForm(contact: Contact) {
  const text = (value: string | number | null | undefined) => (value === null || value === undefined ? '' : String(value))
  return {
    started: `${formatUtcDate(contact.startedUtcMs)} ${formatUtc(contact.startedUtcMs)}`,
    mode: contact.submode ?? contact.mode,
    call: contact.call,
    locator: text(contact.locator),
    reportSent: text(contact.reportSent),
    reportReceived: text(contact.reportReceived),
    band: text(contact.band),
    dialFrequencyHz: contact.dialFrequencyHz === null ? '' : String(contact.dialFrequencyHz / 1000),
    name: text(contact.name),
    place: text(contact.place),
    powerW: text(contact.powerW),
    ownLocator: text(contact.ownLocator),
    ownProgramme: text(contact.ownProgramme),
    ownReference: text(contact.ownReference),
    otherProgramme: text(contact.otherProgramme),
    otherReference: text(contact.otherReference),
    comment: text(contact.comment),
  }
}
export type ContactForm = z.infer<typeof contactFormSchema>

const { shape } = contactSchema
/** Empty is "not known"; else by the rule of the log. */
const maybe = (rule: z.ZodType) =>
  z
    .string()
    .trim()
    .superRefine((text, context) => {
      const read = text === '' ? undefined : rule.safeParse(text)
      if (read && !read.success) context.addIssue({ code: 'custom', message: read.error.issues[0]!.message })
    })
const number = (text: string) => Number(text.replace(',', '.'))
const maybeNumber = z
  .string()
  .trim()
  .superRefine((text, context) => {
    if (text !== '' && !(number(text) >= 0)) context.addIssue({ code: 'custom', message: `"${text}" is no number` })
  })

/** @returns milliseconds UTC, or NaN @example parseUtc('2026-06-01 12:00:15') */
function parseUtc(text: string): number {
  const parts = /^(\d{4}-\d{2}-\d{2})[ T](\d{2}:\d{2})(:\d{2})?$/.exec(text.trim())
  return parts ? Date.parse(`${parts[1]}T${parts[2]}${parts[3] ?? ':00'}Z`) : Number.NaN
}

/** Checks each field where it was typed; the log checks all of it once more. */
export const contactFormSchema = z.object({
  started: z.string().refine((text) => shape.startedUtcMs.safeParse(parseUtc(text)).success, 'a time is YYYY-MM-DD HH:MM:SS, in UTC'),
  mode: shape.mode,
  call: z.string().superRefine((text, context) => {
    const read = shape.call.safeParse(text)
    if (!read.success) context.addIssue({ code: 'custom', message: read.error.issues[0]!.message })
  }),
  locator: maybe(shape.locator),
  reportSent: maybe(shape.reportSent),
  reportReceived: maybe(shape.reportReceived),
  band: maybe(shape.band),
  dialFrequencyHz: maybeNumber,
  name: maybe(shape.name),
  place: maybe(shape.place),
  powerW: maybeNumber,
  ownLocator: maybe(shape.ownLocator),
  ownProgramme: maybe(shape.ownProgramme),
  ownReference: maybe(shape.ownReference),
  otherProgramme: maybe(shape.otherProgramme),
  otherReference: maybe(shape.otherReference),
  comment: maybe(shape.comment),
})

/** What was changed, as the log takes it. */
export function changeFrom(contact: Contact, form: ContactForm): Partial<Contact> {
  const before = toForm(contact)
  const change: Partial<Contact> = {}
  const { started, mode, call, dialFrequencyHz, powerW, ...texts } = form
  if (started.trim() !== before.started) {
    change.startedUtcMs = parseUtc(started)
    // It took as long as it took.
    change.endedUtcMs = change.startedUtcMs + contact.endedUtcMs - contact.startedUtcMs
  }
  if (mode.trim().toUpperCase() !== before.mode) Object.assign(change, modeOf(mode.trim().toUpperCase()))
  if (call.trim() !== before.call) change.call = call.trim()
  if (dialFrequencyHz.trim() !== before.dialFrequencyHz)
    change.dialFrequencyHz = dialFrequencyHz.trim() === '' ? null : Math.round(number(dialFrequencyHz) * 1000)
  if (powerW.trim() !== before.powerW) change.powerW = powerW.trim() === '' ? null : number(powerW)
  for (const [key, text] of Object.entries(texts) as [keyof typeof texts, string][])
    if (text.trim() !== before[key]) change[key] = text.trim() === '' ? null : text.trim()
  // A new dial frequency decides the band unless a band was typed too.
  if (change.dialFrequencyHz && change.band === undefined) change.band = bandOf(change.dialFrequencyHz) ?? contact.band
  return change
}

/** Mode and submode as ADIF has them. */
function modeOf(name: string): Pick<Contact, 'mode' | 'submode'> {
  const known = MODE_IDS.map((id) => MODES[id].adif).find((adif) => (adif.submode ?? adif.mode) === name)
  return known ? { mode: known.mode, submode: known.submode ?? null } : { mode: name, submode: null }
}
