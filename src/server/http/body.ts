import type { z } from 'zod'
import { storable } from '@/core/log'

type Read<T> = { ok: true; value: T } | { ok: false; response: Response }

export function problem(status: number, error: string): Response {
  return Response.json({ error }, { status })
}

/** Reads a body of limited size. */
export async function readBytes(request: Request, limitBytes: number): Promise<Read<Uint8Array>> {
  const reader = request.body?.getReader()
  const parts: Uint8Array[] = []
  let size = 0
  for (;;) {
    const piece = await reader?.read()
    if (!piece || piece.done) break
    size += piece.value.length
    if (size > limitBytes) {
      await reader!.cancel()
      // What is left unread makes the connection useless for another request.
      return {
        ok: false,
        response: Response.json({ error: `At most ${limitBytes} bytes are accepted.` }, { status: 413, headers: { connection: 'close' } }),
      }
    }
    parts.push(piece.value)
  }
  const bytes = new Uint8Array(size)
  let at = 0
  for (const part of parts) {
    bytes.set(part, at)
    at += part.length
  }
  return { ok: true, value: bytes }
}

/** A value without what no database holds, its own keys included; what is within it has been cleaned before. */
function cleaned(value: unknown): unknown {
  if (typeof value === 'string') return storable(value)
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return value
  const entries = Object.entries(value)
  return entries.every(([key]) => storable(key) === key) ? value : Object.fromEntries(entries.map(([key, v]) => [storable(key), v]))
}

/** Reads a JSON body and checks it. The answer to a wrong one names the field and what was expected. */
export async function readJson<T extends z.ZodType>(request: Request, schema: T, limitBytes = 2_000_000): Promise<Read<z.infer<T>>> {
  const bytes = await readBytes(request, limitBytes)
  if (!bytes.ok) return bytes
  let raw: unknown
  try {
    raw = JSON.parse(new TextDecoder().decode(bytes.value), (_key, value: unknown) => cleaned(value))
  } catch {
    return { ok: false, response: problem(400, 'The body is not JSON.') }
  }
  const parsed = schema.safeParse(raw)
  if (parsed.success) return { ok: true, value: parsed.data }
  const issue = parsed.error.issues[0]!
  return { ok: false, response: problem(422, `${issue.path.join('.') || 'body'}: ${issue.message}`) }
}
