import { z } from 'zod'

/** Asks the server; a refusal becomes an error that a person can act on. */
export async function ask<T extends z.ZodType>(schema: T, path: string, init?: RequestInit): Promise<z.infer<T>> {
  const response = await fetch(path, init).catch(() => undefined)
  if (!response) throw new Error('The server does not answer. Is Zeptik still running there?')
  const value: unknown = await response.json().catch(() => undefined)
  if (!response.ok)
    throw new Error(z.object({ error: z.string() }).safeParse(value).data?.error ?? `The server answered ${response.status}.`)
  return schema.parse(value)
}

export const put = (value: unknown): RequestInit => ({
  method: 'PUT',
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(value),
})
