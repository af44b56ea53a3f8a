import {
  adifImportSchema,
  contactPageSchema,
  contactSchema,
  type AdifImport,
  type AdifImportOrder,
  type Contact,
  type ContactPage,
  type ContactQuery,
} from '@/core/log'
import { z } from 'zod'
import { ask, json } from '@/engine/browser/http'

export function queryString(query: Partial<ContactQuery>): string {
  return new URLSearchParams(Object.entries(query).map(([key, value]) => [key, String(value)])).toString()
}

export async function fetchContacts(query: Partial<ContactQuery>): Promise<ContactPage> {
  return ask(contactPageSchema, `/api/contacts?${queryString(query)}`)
}

const historySchema = z.object({ contact: contactSchema, history: z.array(z.object({ record: contactSchema, replacedUtcMs: z.number() })) })
export type ContactWithHistory = z.infer<typeof historySchema>

export async function fetchContact(id: string): Promise<ContactWithHistory> {
  return ask(historySchema, `/api/contacts/${id}`)
}

export async function editContact(id: string, revision: number, change: Partial<Contact>): Promise<Contact> {
  return ask(contactSchema, `/api/contacts/${id}`, json('PATCH', { revision, change }))
}

export async function deleteContact(id: string, revision: number): Promise<Contact> {
  return ask(contactSchema, `/api/contacts/${id}?revision=${revision}`, { method: 'DELETE' })
}

/** Sends a file to the server, which reads it; ends early when `signal` says so. */
export async function sendAdif(file: File, signal: AbortSignal): Promise<AdifImport> {
  return ask(adifImportSchema, `/api/adif?${new URLSearchParams({ name: file.name })}`, { method: 'POST', body: file, signal })
}

/** How the import goes; null when there is none. */
export async function fetchImport(): Promise<AdifImport | null> {
  return ask(adifImportSchema.nullable(), '/api/adif/import')
}

export async function orderImport(order: AdifImportOrder): Promise<AdifImport> {
  return ask(adifImportSchema, '/api/adif/import', json('POST', order))
}
