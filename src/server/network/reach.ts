import { networkInterfaces } from 'node:os'
import { performance } from 'node:perf_hooks'
import { judgeReach, type NetworkPlace, type ReachResult } from '@/core/links'
import { guardedConnect } from './refusedAddress'

const CONNECT_MS = 4000

/** Addresses of this computer in its networks. */
function ownAddresses(): string[] {
  const all = Object.values(networkInterfaces()).flatMap((list) => list ?? [])
  return all.flatMap(({ family, internal, address }) => (family === 'IPv4' && !internal ? [address] : []))
}

/** Tries to reach an address and port, and says why it cannot. Nothing is sent. */
export async function reach({ host, port }: NetworkPlace, connectMs = CONNECT_MS): Promise<ReachResult> {
  const began = performance.now()
  const socket = guardedConnect(host, port)
  let timer: ReturnType<typeof setTimeout> | undefined
  const code = await new Promise<string | undefined>((done) => {
    timer = setTimeout(() => done('ETIMEDOUT'), connectMs)
    socket.once('connect', () => done(undefined))
    socket.on('error', (error: NodeJS.ErrnoException) => done(error.code ?? error.message))
  })
  clearTimeout(timer)
  socket.destroy()
  return judgeReach({ host, port, ...(code !== undefined && { code }), tookMs: performance.now() - began, ownAddresses: ownAddresses() })
}
