import { randomBytes, timingSafeEqual } from 'node:crypto'
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

const NAME = 'zeptik-page'
const SECRET = /^[0-9a-f]{64}$/

/**
 * Which of our own pages are asking. A browser sends this cookie only with what a page of this very site asks for, also over
 * plain http on a local network, where it tells nothing of where a request comes from. It is no login: whoever may open the
 * site has it.
 */
export interface PageCookie {
  /** Known to this data folder alone. */
  secret: string
  /** Header that gives it to a browser. */
  header: string
  /** @param cookies the request's header */
  isIn(cookies: string | undefined): boolean
}

/** Takes the secret from the data folder, so that pages outlive a restart; makes one when there is none. */
export function openPageCookie(folder: string): PageCookie {
  const path = join(folder, 'page.key')
  let secret = ''
  try {
    secret = readFileSync(path, 'utf8').trim()
  } catch {
    // Made below.
  }
  if (!SECRET.test(secret)) {
    secret = randomBytes(32).toString('hex')
    // On a full disk pages have to be loaded anew after a restart; that must not keep the server from starting.
    try {
      writeFileSync(path, secret, { mode: 0o600 })
    } catch {
      // Kept in memory alone.
    }
  }
  const own = Buffer.from(secret)
  return {
    secret,
    header: `${NAME}=${secret}; Path=/; HttpOnly; SameSite=Strict; Max-Age=31536000`,
    isIn: (cookies) =>
      (cookies ?? '').split(';').some((part) => {
        const [name, value = ''] = part.trim().split('=')
        const given = Buffer.from(value)
        return name === NAME && given.length === own.length && timingSafeEqual(given, own)
      }),
  }
}

/** What a foreign page could begin by naming its address alone, such as in an image: it takes a port away from whoever lends one. */
export const needsPageCookie = (method: string | undefined, url: string | undefined): boolean =>
  method === 'GET' && plainPath(url ?? '') === '/api/links/relay'

/** The path as whoever serves it may understand it. The address has no bad escapes, see `oddRequest`. */
const plainPath = (url: string) =>
  decodeURIComponent(url.replace(/[?#].*$/, ''))
    .replace(/\/+/g, '/')
    .replace(/\/$/, '')
    .toLowerCase()
