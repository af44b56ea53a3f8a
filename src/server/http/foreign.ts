import type { IncomingHttpHeaders } from 'node:http'
import { isIP } from 'node:net'

/** Ends of names that nobody can register in the public directory of names: only a network of one's own answers for them. */
const PRIVATE_ENDS = ['.localhost', '.local', '.lan', '.home', '.home.arpa', '.internal']

/**
 * Whether this server goes by the name that a request was sent to. A page of another site can let a name of its own
 * point here and would then pass for this site, so names from the public directory are none of ours unless the operator says so.
 * @param host the header, such as "127.0.0.1:7350" @param names those that the operator gave, in small letters
 */
export function isOwnName(host: string | undefined, names: readonly string[]): boolean {
  // HTTP/1.0 has no such header, and no browser speaks that.
  if (host === undefined) return true
  let name: string
  try {
    name = new URL(`http://${host}`).hostname.toLowerCase().replace(/\.$/, '')
  } catch {
    return false
  }
  if (isIP(name.replace(/^\[(.*)\]$/, '$1')) !== 0 || names.includes(name)) return true
  return !name.includes('.') || PRIVATE_ENDS.some((end) => name.endsWith(end))
}

/**
 * A page of another site must do nothing here through the operator's browser: neither write, nor open a stream, which
 * lends a port. Following a link to a screen is another thing.
 */
export function isForeign(url: string | undefined, { origin, host, 'sec-fetch-site': from }: IncomingHttpHeaders): boolean {
  if (url?.startsWith('/api/') && (from === 'cross-site' || from === 'same-site')) return true
  if (!origin) return false
  try {
    return new URL(origin).host !== host
  } catch {
    return true
  }
}
