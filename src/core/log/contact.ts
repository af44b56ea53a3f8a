import { z } from 'zod'
import { isLocator } from '../place/locator'
import { storable } from './storable'

const text = () => z.string().overwrite(storable)
/** A moment that a calendar knows, with room for old logs and none for nonsense: years 1900 to 2199. */
const utcMs = z
  .number()
  .min(Date.UTC(1900, 0, 1), 'a time is in 1900 or later')
  .max(Date.UTC(2200, 0, 1), 'a time is before 2200')

/** One decode or transmission that a contact rests on. */
export const evidenceSchema = z.object({
  utcMs,
  direction: z.enum(['heard', 'sent']),
  text: text().max(200),
  snrDb: z.number().finite().optional(),
  timeOffsetS: z.number().finite().optional(),
  frequencyHz: z.number().finite().optional(),
})

const shortText = (longest: number) => text().trim().max(longest)
const callSchema = z
  .string()
  .trim()
  .toUpperCase()
  .regex(/^[0-9A-Z/]{3,20}$/, 'a call is 3 to 20 letters, digits and /')
const locatorSchema = z.string().trim().refine(isLocator, 'a locator is 4, 6 or 8 characters such as JN97LK')

const references = {
  ownProgramme: shortText(20).nullable(),
  ownReference: shortText(40).nullable(),
  otherProgramme: shortText(20).nullable(),
  otherReference: shortText(40).nullable(),
}

/**
 * A contact as it is kept. It is made where it happens, so its id is too; `revision` counts its edits from 1.
 * Fields that are not known are null: what is missing can be shown and filled in.
 */
export const contactSchema = z.object({
  id: z.uuid(),
  revision: z.int().min(1).max(1_000_000_000),
  call: callSchema,
  band: shortText(10).min(1).nullable(),
  mode: shortText(20).min(1),
  submode: shortText(20).nullable(),
  startedUtcMs: utcMs,
  endedUtcMs: utcMs,
  dialFrequencyHz: z.number().positive().finite().nullable(),
  audioOffsetHz: z.number().finite().nullable(),
  reportSent: shortText(10).nullable(),
  reportReceived: shortText(10).nullable(),
  locator: locatorSchema.nullable(),
  ownCall: callSchema.nullable(),
  ownLocator: locatorSchema.nullable(),
  powerW: z.number().nonnegative().finite().nullable(),
  name: shortText(100).nullable(),
  place: shortText(100).nullable(),
  comment: shortText(500).nullable(),
  /** Programme and reference of the own place, when it counts in one; and of theirs. */
  ownProgramme: references.ownProgramme.default(null),
  ownReference: references.ownReference.default(null),
  otherProgramme: references.otherProgramme.default(null),
  otherReference: references.otherReference.default(null),
  /** Practice contacts never mix with those on the air. */
  origin: z.enum(['air', 'practice', 'recording', 'import']),
  /** The timebase's uncertainty when the contact was made. */
  clockUncertaintyMs: z.number().nonnegative().finite().nullable(),
  evidence: z.array(evidenceSchema).max(200),
  /** ADIF fields that Zeptik has no place for, kept as they came. */
  extra: z.record(text().max(80), text().max(10_000)),
  deletedUtcMs: utcMs.nullable(),
})

/** What an operator may change. Fields that are not named stay: their defaults, which are for older contacts, must not come in. */
export const contactChangeSchema = contactSchema
  .omit({ id: true, revision: true, evidence: true, origin: true })
  .extend(references)
  .partial()

export type Contact = z.infer<typeof contactSchema>
export type Evidence = z.infer<typeof evidenceSchema>

/** A contact with nothing known but who, when and how. */
export function emptyContact(known: Pick<Contact, 'id' | 'call' | 'mode' | 'startedUtcMs' | 'endedUtcMs' | 'origin'>): Contact {
  return {
    revision: 1,
    band: null,
    submode: null,
    dialFrequencyHz: null,
    audioOffsetHz: null,
    reportSent: null,
    reportReceived: null,
    locator: null,
    ownCall: null,
    ownLocator: null,
    powerW: null,
    name: null,
    place: null,
    comment: null,
    ownProgramme: null,
    ownReference: null,
    otherProgramme: null,
    otherReference: null,
    clockUncertaintyMs: null,
    evidence: [],
    extra: {},
    deletedUtcMs: null,
    ...known,
  }
}

/** Radio frequency of a contact, when dial and audio are known. */
export function radioFrequencyHz(contact: Pick<Contact, 'dialFrequencyHz' | 'audioOffsetHz'>): number | null {
  return contact.dialFrequencyHz === null ? null : contact.dialFrequencyHz + (contact.audioOffsetHz ?? 0)
}

/** Contacts with equal keys are duplicates: the same station on the same band in the same mode. */
export function duplicateKey(contact: Pick<Contact, 'call' | 'band' | 'mode' | 'submode'>): string {
  return `${contact.call} ${contact.band ?? '?'} ${contact.submode ?? contact.mode}`
}
