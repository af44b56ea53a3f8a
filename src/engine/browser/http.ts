import { z } from 'zod'

/** What came of asking the server. `refused` when the server looked at it and would not have it. */
export type Answer = { ok: true; value: unknown } | { ok: false; error: string; refused: boolean }

export const NO_ANSWER = 'The server does not answer. Is Zeptik still running there?'
const refusalSchema = z.object({ error: z.string() })

/** A request with a JSON body. */
export const json = (method: 'POST' | 'PUT' | 'PATCH' | 'DELETE', value: unknown): RequestInit => ({
  method,
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(value),
})

/** Asks the server for something. It never throws: whoever waits for the answer is told in words why there is none. */
export async function request(path: string, init?: RequestInit): Promise<Answer> {
  const response = await fetch(path, init).catch(() => undefined)
  if (!response) return { ok: false, error: NO_ANSWER, refused: false }
  const value: unknown = await response.json().catch(() => undefined)
  if (response.ok) return { ok: true, value }
  const error = refusalSchema.safeParse(value).data?.error ?? `The server answered ${response.status}.`
  return { ok: false, error, refused: response.status >= 400 && response.status < 500 }
}

/** Asks the server for what fits a schema. @throws in words for a person: no answer, a refusal, or an answer of another kind */
export async function ask<T extends z.ZodType>(schema: T, path: string, init?: RequestInit): Promise<z.infer<T>> {
  const answer = await request(path, init)
  if (!answer.ok) throw new Error(answer.error)
  return schema.parse(answer.value)
}

/** Orders something of the server. */
export async function post(path: string, value: unknown, timeoutMs = 10_000): Promise<{ ok: true } | { ok: false; error: string }> {
  const answer = await request(path, { ...json('POST', value), signal: AbortSignal.timeout(timeoutMs) })
  return answer.ok ? { ok: true } : answer
}
