import {
  contactPageSchema,
  contactSchema,
  importPreviewSchema,
  type Contact,
  type ContactPage,
  type ContactQuery,
  type ImportPreview,
} from '@/core/log'
import { z } from 'zod'

async function call(path: string, init?: RequestInit): Promise<unknown> {
  const response = await fetch(path, init).catch(() => undefined)
  if (!response) throw new Error('The server does not answer. Start Zeptik, then try again.')
  const body: unknown = await response.json().catch(() => undefined)
  if (!response.ok) throw new Error((body as { error?: string } | undefined)?.error ?? `The server answered ${response.status}.`)
  return body
}

const json = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(body),
})

export function queryString(query: Partial<ContactQuery>): string {
  return new URLSearchParams(Object.entries(query).map(([key, value]) => [key, String(value)])).toString()
}

export async function fetchContacts(query: Partial<ContactQuery>): Promise<ContactPage> {
  return contactPageSchema.parse(await call(`/api/contacts?${queryString(query)}`))
}

const historySchema = z.object({ contact: contactSchema, history: z.array(z.object({ record: contactSchema, replacedUtcMs: z.number() })) })
export type ContactWithHistory = z.infer<typeof historySchema>

export async function fetchContact(id: string): Promise<ContactWithHistory> {
  return historySchema.parse(await call(`/api/contacts/${id}`))
}

export async function editContact(id: string, revision: number, change: Partial<Contact>): Promise<Contact> {
  return contactSchema.parse(await call(`/api/contacts/${id}`, json('PATCH', { revision, change })))
}

export async function deleteContact(id: string, revision: number): Promise<Contact> {
  return contactSchema.parse(await call(`/api/contacts/${id}?revision=${revision}`, { method: 'DELETE' }))
}

export async function sendAdif(bytes: Blob, confirm: boolean): Promise<ImportPreview> {
  return importPreviewSchema.parse(await call(`/api/adif${confirm ? '?confirm=1' : ''}`, { method: 'POST', body: bytes }))
}
