// A line with faults between two real ports: it listens, and connects each call on to the device.
import { performance } from 'node:perf_hooks'
import { connect, createServer, type Socket } from 'node:net'
import { FaultyLine, type LineFault, type LineWay } from '../faultyLine'
import type { RunningStandin } from './gpsRunner'

const LOOKS_EVERY_MS = 20

/** @param to where the device listens */
export function runFaultyProxy(
  at: { host: string; port: number },
  to: { host: string; port: number },
  faults: () => ReadonlySet<LineFault>,
): Promise<{ ok: true; standin: RunningStandin } | { ok: false; error: string }> {
  return new Promise((done) => {
    const calls = new Set<() => void>()
    const server = createServer((near) => {
      const line = new FaultyLine(faults)
      near.on('error', () => near.destroy())
      if (line.hangsUp) return void near.destroy()
      const far = connect(to.port, to.host)
      const timers = new Set<ReturnType<typeof setTimeout>>()
      const ends: Record<LineWay, Socket> = { out: far, in: near }
      const deliver = (way: LineWay, bytes: Uint8Array, laterMs: number) => {
        const timer = setTimeout(() => {
          timers.delete(timer)
          if (!ends[way].destroyed) ends[way].write(bytes)
        }, laterMs)
        timers.add(timer)
      }
      const carry = (way: LineWay, bytes: Uint8Array) => {
        const laterMs = line.pass(way, bytes, performance.now())
        if (laterMs !== undefined) deliver(way, bytes, laterMs)
      }
      const look = setInterval(() => {
        if (line.hangsUp) end()
        else for (const { way, bytes, laterMs } of line.thawed(performance.now())) deliver(way, bytes, laterMs)
      }, LOOKS_EVERY_MS)
      const end = () => {
        clearInterval(look)
        timers.forEach(clearTimeout)
        near.destroy()
        far.destroy()
        calls.delete(end)
      }
      calls.add(end)
      near.setNoDelay(true)
      far.setNoDelay(true)
      near.on('data', (data: Buffer) => carry('out', new Uint8Array(data)))
      far.on('data', (data: Buffer) => carry('in', new Uint8Array(data)))
      near.on('close', end)
      // Half open: the far end is gone, and the near one is not told.
      far.on('close', () => {
        if (!line.deaf) end()
      })
      far.on('error', () => far.destroy())
    })
    server.once('error', (error) => done({ ok: false, error: `cannot listen on ${at.host}:${at.port}: ${error.message}` }))
    server.listen(at.port, at.host, () => {
      const { port } = server.address() as { port: number }
      const stop = () => {
        calls.forEach((end) => end())
        server.close()
      }
      done({ ok: true, standin: { where: `TCP, listening on ${at.host}:${port}`, port, stop } })
    })
  })
}
