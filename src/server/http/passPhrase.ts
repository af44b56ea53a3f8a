import { createHmac, timingSafeEqual } from 'node:crypto'

const NAME = 'zeptik-pass'
/** Where the page that asks for the pass phrase sends it. */
export const ENTER_PATH = '/enter'
export const SHORTEST_PHRASE = 8
/** Wrong tries from one address, and how long they count. */
const MOST_TRIES = 5
const TRIES_COUNT_MS = 60_000
/** Addresses that are remembered. */
const MOST_ADDRESSES = 200
export const LONGEST_FORM_BYTES = 2000

/** Addresses of this very computer: whoever is there has its files anyway. */
export const isLoopback = (host: string): boolean => /^(localhost|127(\.\d{1,3}){3}|::1|\[::1\])$/.test(host.toLowerCase())

export interface Tries {
  address: string
  wrong: number
  lastMs: number
}

export type Entered = { ok: true; cookie: string } | { ok: false; status: 401 | 429; error: string }

/**
 * Guards a server that others in the network can reach: everything but the page that asks for the pass phrase needs it.
 * @param secret known to this data folder alone, so that what a browser keeps cannot be made elsewhere
 */
export class PassPhrase {
  private readonly tries = new Map<string, Tries>()
  private readonly token: string

  constructor(
    private readonly phrase: string,
    secret: string,
  ) {
    this.token = createHmac('sha256', secret).update(`pass ${phrase}`).digest('hex')
  }

  /** Whether a request shows that its browser has given the pass phrase. @param cookies the request's header */
  isIn(cookies: string | undefined): boolean {
    return (cookies ?? '').split(';').some((part) => {
      const [name, value = ''] = part.trim().split('=')
      return name === NAME && same(value, this.token)
    })
  }

  /** Takes what somebody entered. */
  enter(phrase: string, address: string, nowMs: number): Entered {
    const before = this.tries.get(address)
    const wrong = before && nowMs - before.lastMs < TRIES_COUNT_MS ? before.wrong : 0
    if (wrong >= MOST_TRIES)
      return { ok: false, status: 429, error: 'Too many wrong tries from this address. Wait a minute, then try again.' }
    if (same(phrase, this.phrase)) {
      this.tries.delete(address)
      return { ok: true, cookie: `${NAME}=${this.token}; Path=/; HttpOnly; SameSite=Strict; Max-Age=2592000` }
    }
    this.tries.delete(address)
    this.tries.set(address, { address, wrong: wrong + 1, lastMs: nowMs })
    while (this.tries.size > MOST_ADDRESSES) this.tries.delete(this.tries.keys().next().value!)
    return { ok: false, status: 401, error: 'That is not the pass phrase.' }
  }

  /** Wrong tries, the newest last. */
  list(): readonly Tries[] {
    return [...this.tries.values()]
  }
}

/** Compares without telling by the time it takes how much was right. */
function same(given: string, own: string): boolean {
  const digest = (text: string) => createHmac('sha256', 'compare').update(text).digest()
  return timingSafeEqual(digest(given), digest(own))
}

/** The page that asks for the pass phrase. It stands alone: nothing else is served before. @param problem what went wrong with the last try */
export function enterPage(problem: string | undefined): string {
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Zeptik: pass phrase</title>
<link rel="icon" href="data:,">
<style>
:root { color-scheme: light dark; --paper: #f3ecdc; --card: #fbf7ec; --ink: #27231b; --line: #cdc1a5; --problem: #8c1933 }
@media (prefers-color-scheme: dark) { :root { --paper: #120907; --card: #1c0f0b; --ink: #e39a80; --line: #4a2a20; --problem: #ff7d86 } }
body { margin: 0; min-height: 100vh; display: grid; place-items: center; background: var(--paper); color: var(--ink); font: 20px/1.5 system-ui, sans-serif }
main { max-width: 30rem; padding: 2rem }
h1 { font-size: 1.7rem; margin: 0 0 .5rem }
label { display: block; font-weight: 700; margin-top: 1rem }
input { box-sizing: border-box; width: 100%; min-height: 52px; padding: 0 .8rem; font: inherit; color: inherit; background: var(--card); border: 2px solid var(--ink); border-radius: 6px }
button { margin-top: 1rem; min-height: 52px; padding: 0 1.4rem; font: inherit; font-weight: 700; color: var(--card); background: var(--ink); border: 0; border-radius: 6px }
p[role=alert] { color: var(--problem); font-weight: 700 }
</style>
</head>
<body>
<main>
<h1>This station asks who you are</h1>
<p>It can key a transmitter, so it is reached from other devices with its pass phrase alone. Whoever started it has chosen that.</p>
${problem === undefined ? '' : `<p role="alert">${problem}</p>`}
<form method="post" action="${ENTER_PATH}">
<label for="phrase">Pass phrase</label>
<input id="phrase" name="phrase" type="password" autocomplete="current-password" maxlength="200" required autofocus>
<button type="submit">Enter</button>
</form>
</main>
</body>
</html>
`
}
