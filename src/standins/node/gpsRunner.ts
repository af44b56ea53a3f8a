// Runs the stand-in receiver over real ports: UDP, TCP both ways round, and a pseudo-terminal where the system has one.
import { spawn } from 'node:child_process'
import { createSocket } from 'node:dgram'
import { connect, createServer, type Socket } from 'node:net'
import { createGpsStandin, type GpsFault, type GpsStandinOptions } from '../gpsStandin'
import { whenThere } from './whenThere'

export type GpsWay =
  | { kind: 'udp'; host: string; port: number }
  /** Connects to a listener, as a phone does. */
  | { kind: 'tcpTo'; host: string; port: number }
  /** Listens; port 0 takes a free one. */
  | { kind: 'tcp'; host: string; port: number }
  /** A pseudo-terminal under this path. */
  | { kind: 'pty'; path: string }
  | { kind: 'write'; write: (bytes: Uint8Array) => void }

export interface RunningStandin {
  /** Where it can be reached, in words. */
  where: string
  port: number | undefined
  stop(): void
}

interface Outlet {
  where: string
  port?: number
  send(bytes: Uint8Array): void
  close(): void
}

type Opened = { ok: true; outlet: Outlet } | { ok: false; error: string }

/** Starts the stand-in; faults are looked up for each burst, so they can be switched while it runs. */
export async function runGpsStandin(
  options: GpsStandinOptions,
  way: GpsWay,
  faults: () => ReadonlySet<GpsFault>,
  onLost: (why: string) => void = () => undefined,
): Promise<{ ok: true; standin: RunningStandin } | { ok: false; error: string }> {
  const opened = await OPEN[way.kind](way as never, onLost)
  if (!opened.ok) return opened
  const { outlet } = opened
  const standin = createGpsStandin(options)
  const timers = new Set<ReturnType<typeof setTimeout>>()
  let stopped = false
  const later = (ms: number, act: () => void) => {
    const timer = setTimeout(() => {
      timers.delete(timer)
      if (!stopped) act()
    }, ms)
    timers.add(timer)
  }
  const second = () => {
    const nextMs = (Math.floor(Date.now() / 1000) + 1) * 1000
    later(nextMs - Date.now(), () => {
      // From one look at the clock: what is due together must leave in its order.
      const nowMs = Date.now()
      for (const { atMs, bytes } of standin.burst(nextMs, faults())) later(nextMs + atMs - nowMs, () => outlet.send(bytes))
      second()
    })
  }
  second()
  return {
    ok: true,
    standin: {
      where: outlet.where,
      port: outlet.port,
      stop() {
        stopped = true
        for (const timer of timers) clearTimeout(timer)
        outlet.close()
      },
    },
  }
}

const OPEN: { [K in GpsWay['kind']]: (way: Extract<GpsWay, { kind: K }>, onLost: (why: string) => void) => Promise<Opened> } = {
  async udp({ host, port }, onLost) {
    const socket = createSocket(host.includes(':') ? 'udp6' : 'udp4')
    socket.on('error', (error) => onLost(`UDP to ${host}:${port}: ${error.message}`))
    return {
      ok: true,
      outlet: { where: `UDP to ${host}:${port}`, port, send: (bytes) => socket.send(bytes, port, host), close: () => socket.close() },
    }
  },
  tcpTo({ host, port }, onLost) {
    return new Promise((done) => {
      const socket = connect(port, host)
      socket.setNoDelay(true)
      socket.once('error', (error) => done({ ok: false, error: `cannot connect to ${host}:${port}: ${error.message}` }))
      socket.once('connect', () => {
        socket.on('error', (error) => onLost(error.message))
        socket.on('close', () => onLost(`${host}:${port} closed the connection`))
        done({
          ok: true,
          outlet: {
            where: `TCP to ${host}:${port}`,
            port,
            send: (bytes) => void socket.write(bytes),
            close: () => {
              socket.removeAllListeners('close')
              socket.destroy()
            },
          },
        })
      })
    })
  },
  tcp({ host, port }) {
    return new Promise((done) => {
      const clients = new Set<Socket>()
      const server = createServer((socket) => {
        clients.add(socket)
        socket.setNoDelay(true)
        socket.on('error', () => socket.destroy())
        socket.on('close', () => clients.delete(socket))
      })
      server.once('error', (error) => done({ ok: false, error: `cannot listen on ${host}:${port}: ${error.message}` }))
      server.listen(port, host, () => {
        const bound = (server.address() as { port: number }).port
        done({
          ok: true,
          outlet: {
            where: `TCP, listening on ${host}:${bound}`,
            port: bound,
            send: (bytes) => clients.forEach((socket) => socket.write(bytes)),
            close: () => {
              clients.forEach((socket) => socket.destroy())
              server.close()
            },
          },
        })
      })
    })
  },
  pty({ path }, onLost) {
    return new Promise((done) => {
      // Node cannot make pseudo-terminals itself; socat is in every distribution.
      const child = spawn('socat', ['-d', '-d', `PTY,raw,echo=0,link=${path}`, 'STDIO'], { stdio: ['pipe', 'ignore', 'pipe'] })
      let open = false
      child.once('error', () =>
        done({ ok: false, error: 'a pseudo-terminal needs the program socat: install it with "apt-get install socat"' }),
      )
      child.stdin.on('error', () => undefined)
      child.stderr.on('data', (data: Buffer) => {
        if (open || !data.toString().includes('PTY is')) return
        open = true
        const outlet = {
          where: `pseudo-terminal ${path}`,
          send: (bytes: Uint8Array) => void child.stdin.write(bytes),
          close: () => {
            child.removeAllListeners('exit')
            child.kill()
          },
        }
        void whenThere(path).then(() => done({ ok: true, outlet }))
      })
      child.once('exit', () => {
        if (open) onLost(`the pseudo-terminal ${path} is gone`)
        else done({ ok: false, error: `no pseudo-terminal could be made at ${path}: is there one already, or no permission?` })
      })
    })
  },
  async write({ write }) {
    return { ok: true, outlet: { where: 'standard output', send: write, close: () => undefined } }
  },
}
