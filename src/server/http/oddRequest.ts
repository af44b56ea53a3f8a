/** What a browser and our own programs ever ask with. */
const METHODS: readonly string[] = ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS']

/** Why a request cannot be meant; undefined for one that can. Said before anything else looks at it, which might stumble. */
export function oddRequest(method: string | undefined, url: string | undefined): { status: 400 | 405; error: string } | undefined {
  if (!METHODS.includes(method ?? '')) return { status: 405, error: 'This server does not know that method.' }
  let decoded: string
  try {
    decoded = decodeURIComponent((url ?? '/').replaceAll('+', ' '))
  } catch {
    return { status: 400, error: 'The address has an escape that stands for no character.' }
  }
  return decoded.includes('\u0000') ? { status: 400, error: 'The address has a character that no text has.' } : undefined
}
