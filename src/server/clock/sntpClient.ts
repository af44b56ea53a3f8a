import { randomBytes } from 'node:crypto'
import { createSocket } from 'node:dgram'
import { absurdSntp, encodeSntpRequest, estimateFromSntp, parseSntpReply, SNTP_PORT, type SntpEstimate, type SntpSample } from '@/core/time'
import { lookUp, REFUSED_CODE } from '../network/refusedAddress'

export interface AskOptions {
  monotonicMs: () => number
  exchanges?: number
  spacingMs?: number
  timeoutMs?: number
  signal?: AbortSignal
}

/** Splits HOST:PORT; brackets around an IPv6 address. */
export function splitHost(text: string): { host: string; port: number } {
  const m = /^(?:\[([^\]]+)\]|([^:]+))(?::(\d+))?$/.exec(text)
  return { host: m?.[1] ?? m?.[2] ?? text, port: m?.[3] === undefined ? SNTP_PORT : Number(m[3]) }
}

export type Asked = { ok: true; estimate: SntpEstimate } | { ok: false; error: string; kiss?: string }

/** Questions of a series, and what lies between them: two seconds as RFC 5905 wants it, less on this very computer. */
const EXCHANGES = 4
const SPACING_MS = 2000
const OWN_SPACING_MS = 100
const isOwn = (address: string) => address.startsWith('127.') || address === '::1'

/** Asks one time server several times and trusts the least delayed answer. A server that sends us away is not asked further. */
export async function askTimeServer(text: string, options: AskOptions): Promise<Asked> {
  const { monotonicMs, exchanges = EXCHANGES, timeoutMs = 1500, signal } = options
  const { host, port } = splitHost(text)
  let address: { address: string; family: number }
  try {
    address = (await lookUp(host))[0]
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === REFUSED_CODE) return { ok: false, error: (error as Error).message }
    return {
      ok: false,
      error: `the name ${host} cannot be resolved: there is no internet here (a radio’s own network has none), or the name is wrong`,
    }
  }
  const { spacingMs = isOwn(address.address) ? OWN_SPACING_MS : SPACING_MS } = options
  const samples: SntpSample[] = []
  let problem: string | undefined
  for (let i = 0; i < exchanges && !signal?.aborted; i++) {
    const answer = await askOnce(address, port, monotonicMs, timeoutMs)
    if (answer.ok) {
      const absurd = absurdSntp(answer.sample)
      if (absurd === undefined) samples.push(answer.sample)
      else problem = absurd
    } else {
      problem = answer.error
      if (answer.kiss !== undefined) return answer
      // A silent or unwilling server is not asked again and again.
      if (samples.length === 0 && i >= 1) break
    }
    if (i < exchanges - 1) await new Promise((done) => setTimeout(done, spacingMs))
  }
  const estimate = estimateFromSntp(samples)
  return estimate ? { ok: true, estimate } : { ok: false, error: problem ?? 'the question was cancelled' }
}

type AskedOnce = { ok: true; sample: SntpSample } | { ok: false; error: string; kiss?: string }

function askOnce(
  { address, family }: { address: string; family: number },
  port: number,
  monotonicMs: () => number,
  timeoutMs: number,
): Promise<AskedOnce> {
  return new Promise((done) => {
    const socket = createSocket(family === 6 ? 'udp6' : 'udp4')
    const nonce = new Uint8Array(randomBytes(8))
    let sentMonotonicMs = 0
    let reason = `no answer from ${address}:${port} within ${timeoutMs / 1000} s`
    const finish = (result: AskedOnce) => {
      clearTimeout(timer)
      socket.removeAllListeners()
      // A late answer or error of a socket that is being closed is nobody's business.
      socket.on('error', () => undefined)
      socket.close()
      done(result)
    }
    const timer = setTimeout(() => finish({ ok: false, error: reason }), timeoutMs)
    socket.on('error', (error) => finish({ ok: false, error: `${address}:${port}: ${error.message}` }))
    socket.on('message', (message) => {
      const returnedMonotonicMs = monotonicMs()
      const parsed = parseSntpReply(message, nonce)
      if (parsed.ok) finish({ ok: true, sample: { reply: parsed.value, sentMonotonicMs, returnedMonotonicMs } })
      else if (parsed.kiss !== undefined) finish(parsed)
      // What is no answer to this question is overlooked: anybody can send to a port.
      else reason = parsed.error
    })
    socket.connect(port, address, () => {
      sentMonotonicMs = monotonicMs()
      socket.send(encodeSntpRequest(nonce))
    })
  })
}
