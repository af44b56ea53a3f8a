import type { BytePort, PortOutcome } from '@/core/links'

export interface Login {
  user: string
  password: string
}

export interface LoginTimes {
  /** How long a prompt may take. */
  promptMs: number
  /** How long a refusal may take after the password: good logins often say nothing. */
  verdictMs: number
}

const USUAL: LoginTimes = { promptMs: 2500, verdictMs: 800 }
const ASKS_USER = /(user|login|name)[^\n]*[:>]\s*$/i
const ASKS_PASSWORD = /pass[^\n]*[:>]\s*$/i
const REFUSES = /denied|incorrect|invalid|fail|wrong/i
const MOST_TEXT = 2000

/**
 * Answers the login prompt of a serial server or radio before its bytes are handed on. One that asks for nothing is
 * taken as it is: what it said meanwhile is not lost.
 */
export function withLogin(port: BytePort, { user, password }: Login, { promptMs, verdictMs }: LoginTimes = USUAL): BytePort {
  return {
    ...port,
    async open(events): Promise<PortOutcome> {
      let text = ''
      let early: Uint8Array[] = []
      let wake: () => void = () => undefined
      let through = false
      let closed = false
      const opened = await port.open({
        onBytes(bytes) {
          if (through) return events.onBytes(bytes)
          early.push(bytes)
          text = (text + String.fromCharCode(...bytes)).slice(-MOST_TEXT)
          wake()
        },
        onClosed(why) {
          closed = true
          if (through) events.onClosed(why)
          wake()
        },
      })
      if (!opened.ok) return opened
      /** Waits until what was said since the last answer fits. @returns whether it does */
      const until = (fits: RegExp[], ms: number) =>
        new Promise<boolean>((done) => {
          const look = () => {
            const found = fits.some((pattern) => pattern.test(text))
            if (!found && !closed) return
            clearTimeout(timer)
            wake = () => undefined
            done(found)
          }
          const timer = setTimeout(() => {
            wake = () => undefined
            done(false)
          }, ms)
          wake = look
          look()
        })
      const answer = async (words: string) => {
        text = ''
        early = []
        await port.write(new TextEncoder().encode(`${words}\r\n`))
      }
      if (await until([ASKS_USER, ASKS_PASSWORD], promptMs)) {
        if (ASKS_USER.test(text)) {
          await answer(user)
          await until([ASKS_PASSWORD, REFUSES], promptMs)
        }
        if (ASKS_PASSWORD.test(text)) {
          await answer(password)
          await until([REFUSES, ASKS_USER, ASKS_PASSWORD], verdictMs)
        }
        const refused = [REFUSES, ASKS_USER, ASKS_PASSWORD].some((pattern) => pattern.test(text))
        if (refused || closed) {
          await port.close()
          return { ok: false, error: `${port.describe()} does not accept user and password.`, fault: 'login' }
        }
      } else if (closed) return { ok: false, error: `${port.describe()} closed the connection.`, fault: 'other' }
      through = true
      for (const bytes of early) events.onBytes(bytes)
      return { ok: true }
    },
  }
}
