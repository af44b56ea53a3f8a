import { z } from 'zod'
import { storable } from './storable'
import { contactSchema } from './contact'

/** What the log screen asks for. */
export const contactQuerySchema = z.object({
  search: z.string().max(100).overwrite(storable).default(''),
  band: z.string().max(10).overwrite(storable).default(''),
  mode: z.string().max(20).overwrite(storable).default(''),
  origin: z.enum(['air', 'practice', 'all']).default('air'),
  /** Contacts made from this reference alone. */
  reference: z.string().max(40).overwrite(storable).default(''),
  /** Contacts that began in this stretch alone, from its start up to but without its end. */
  from: z.coerce.number().finite().default(0),
  to: z.coerce.number().finite().default(8.64e15),
  /** Contacts that began on this UTC day alone. */
  day: z
    .string()
    .regex(/^(\d{4}-\d{2}-\d{2})?$/, 'a day is YYYY-MM-DD')
    .default(''),
  show: z.enum(['all', 'missing', 'duplicates', 'deleted']).default('all'),
  sort: z.enum(['startedUtcMs', 'call', 'band', 'mode', 'locator']).default('startedUtcMs'),
  direction: z.enum(['asc', 'desc']).default('desc'),
  offset: z.coerce.number().int().min(0).max(10_000_000).default(0),
  limit: z.coerce.number().int().min(1).max(500).default(100),
})
export type ContactQuery = z.infer<typeof contactQuerySchema>

/** A contact in a list, with what the list shows about it. */
const contactRowSchema = contactSchema.extend({ duplicate: z.boolean() })
export type ContactRow = z.infer<typeof contactRowSchema>

/** A part of the log, and how long the whole answer is. */
export const contactPageSchema = z.object({ rows: z.array(contactRowSchema), total: z.number().int(), stations: z.number().int() })
export type ContactPage = z.infer<typeof contactPageSchema>

/**
 * The import of an ADIF file: it is read once to say what it would add (`preview`), and again to store it when that is wanted.
 * What was stored before it was stopped or failed stays; the same file adds only the rest.
 */
export const adifImportSchema = z.object({
  id: z.string(),
  name: z.string(),
  stage: z.enum(['reading', 'preview', 'storing', 'done', 'stopped', 'failed']),
  /** How far the file has been read in this stage. */
  doneBytes: z.number().int(),
  totalBytes: z.number().int(),
  recordsRead: z.number().int(),
  /** Contacts that the log does not hold, as read first. */
  ready: z.number().int(),
  alreadyThere: z.number().int(),
  stored: z.number().int(),
  /** The first of them, and how many there are. */
  problems: z.array(z.object({ line: z.number(), field: z.string().optional(), what: z.string() })),
  problemCount: z.number().int(),
  /** Why it failed. */
  error: z.string().nullable(),
})
export type AdifImport = z.infer<typeof adifImportSchema>

export const adifImportOrderSchema = z.object({ id: z.string().max(100), action: z.enum(['store', 'stop']) })
export type AdifImportOrder = z.infer<typeof adifImportOrderSchema>

/** Places that the log holds: locators of four characters, and to whom the series of its calls are allocated. */
export const workedPlacesSchema = z.object({ locators: z.array(z.string()), entities: z.array(z.string()) })
export type WorkedPlacesList = z.infer<typeof workedPlacesSchema>
