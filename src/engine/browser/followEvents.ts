import type { z } from 'zod'

/**
 * Follows server-sent events of one kind. What is not of that kind is passed over: a server of another version may talk too.
 * @returns a function that ends it
 */
export function followEvents<T extends z.ZodType>(
  path: string,
  schema: T,
  { onValue, onLost }: { onValue: (value: z.infer<T>) => void; onLost: () => void },
): () => void {
  const events = new EventSource(path)
  events.onmessage = ({ data }: MessageEvent<string>) => {
    let raw: unknown
    try {
      raw = JSON.parse(data)
    } catch {
      return
    }
    const parsed = schema.safeParse(raw)
    if (parsed.success) onValue(parsed.data)
  }
  events.onerror = onLost
  return () => events.close()
}
