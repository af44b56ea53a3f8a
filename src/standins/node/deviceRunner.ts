// Runs a stand-in that answers, a radio or a TNC, on a real port: TCP, or a pseudo-terminal whose speed is looked up.
import { execFile, spawn } from 'node:child_process'
import { createServer, type Socket } from 'node:net'
import type { Said } from '../radioStandin'
import type { RunningStandin } from './gpsRunner'
import { whenThere } from './whenThere'

/** A stand-in that takes bytes and says when what comes back. */
export interface AnsweringDevice {
  receive(bytes: Uint8Array, serialBaud?: number): Said[]
  /** Called now and then: what it says unasked. */
  hear?(serialBaud?: number): Said[]
  /** Tells what it says unasked as it comes. @returns a function that ends it */
  follow?(say: (said: Said[]) => void): () => void
  /** Where calls are taken: whether this one is broken off at once. */
  hangsUp?(): boolean
}

export type DeviceWay = { kind: 'tcp'; host: string; port: number } | { kind: 'pty'; path: string }

type Started = { ok: true; standin: RunningStandin } | { ok: false; error: string }

const HEARS_EVERY_MS = 2500

/** @param onLost told when the port is gone by itself */
export function runDevice(device: AnsweringDevice, way: DeviceWay, onLost: (why: string) => void = () => undefined): Promise<Started> {
  return way.kind === 'tcp' ? runOnTcp(device, way) : runOnPty(device, way.path, onLost)
}

/** Says things after their delays, until it is stopped. */
function speaker(say: (bytes: Uint8Array) => void) {
  const timers = new Set<ReturnType<typeof setTimeout>>()
  return {
    later(said: Said[]) {
      for (const { delayMs, bytes } of said) {
        const timer = setTimeout(() => {
          timers.delete(timer)
          say(bytes)
        }, delayMs)
        timers.add(timer)
      }
    },
    stop: () => timers.forEach(clearTimeout),
  }
}

function runOnTcp(device: AnsweringDevice, { host, port }: { host: string; port: number }): Promise<Started> {
  return new Promise((done) => {
    const clients = new Map<Socket, ReturnType<typeof speaker>>()
    const server = createServer((socket) => {
      if (device.hangsUp?.()) {
        socket.destroy()
        return
      }
      const speak = speaker((bytes) => void socket.write(bytes))
      clients.set(socket, speak)
      socket.setNoDelay(true)
      socket.on('data', (data: Buffer) => speak.later(device.receive(new Uint8Array(data))))
      socket.on('error', () => socket.destroy())
      socket.on('close', () => {
        speak.stop()
        clients.delete(socket)
      })
    })
    const unfollow = device.follow?.((said) => clients.forEach((speak) => speak.later(said)))
    const timer = setInterval(() => {
      const said = clients.size > 0 ? (device.hear?.() ?? []) : []
      clients.forEach((speak) => speak.later(said))
    }, HEARS_EVERY_MS)
    server.once('error', (error) => {
      clearInterval(timer)
      done({ ok: false, error: `cannot listen on ${host}:${port}: ${error.message}` })
    })
    server.listen(port, host, () => {
      const bound = (server.address() as { port: number }).port
      done({
        ok: true,
        standin: {
          where: `TCP, listening on ${host}:${bound}`,
          port: bound,
          stop() {
            clearInterval(timer)
            unfollow?.()
            clients.forEach((speak, socket) => {
              speak.stop()
              socket.destroy()
            })
            server.close()
          },
        },
      })
    })
  })
}

/** The speed to which the other side has set the line. */
function speedOf(path: string): Promise<number | undefined> {
  return new Promise((done) =>
    execFile('stty', ['-F', path, 'speed'], { timeout: 2000 }, (error, stdout) =>
      done(error ? undefined : Number(stdout.trim()) || undefined),
    ),
  )
}

function runOnPty(device: AnsweringDevice, path: string, onLost: (why: string) => void): Promise<Started> {
  return new Promise((done) => {
    // Node cannot make pseudo-terminals itself; socat is in every distribution.
    const child = spawn('socat', ['-d', '-d', `PTY,raw,echo=0,link=${path}`, 'STDIO'], { stdio: ['pipe', 'pipe', 'pipe'] })
    const speak = speaker((bytes) => void child.stdin.write(bytes))
    let open = false
    let order = Promise.resolve()
    const unfollow = device.follow?.((said) => speak.later(said))
    const timer = setInterval(() => {
      if (device.hear) void speedOf(path).then((baud) => speak.later(device.hear!(baud)))
    }, HEARS_EVERY_MS)
    const end = () => {
      clearInterval(timer)
      unfollow?.()
      speak.stop()
    }
    child.once('error', () => {
      end()
      done({ ok: false, error: 'a pseudo-terminal needs the program socat: install it with "apt-get install socat"' })
    })
    child.stdin.on('error', () => undefined)
    child.stdout.on('data', (data: Buffer) => {
      // In order, though the speed is looked up anew for each piece.
      order = order.then(async () => speak.later(device.receive(new Uint8Array(data), await speedOf(path))))
    })
    child.stderr.on('data', (data: Buffer) => {
      if (open || !data.toString().includes('PTY is')) return
      open = true
      const standin: RunningStandin = {
        where: `pseudo-terminal ${path}`,
        port: undefined,
        stop() {
          end()
          child.removeAllListeners('exit')
          child.kill()
        },
      }
      void whenThere(path).then(() => done({ ok: true, standin }))
    })
    child.once('exit', () => {
      end()
      if (open) onLost(`the pseudo-terminal ${path} is gone`)
      else done({ ok: false, error: `no pseudo-terminal could be made at ${path}: is there one already, or no permission?` })
    })
  })
}
