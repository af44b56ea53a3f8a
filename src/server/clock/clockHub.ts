import { createSocket, type Socket as UdpSocket } from 'node:dgram'
import { createServer, type Server, type Socket } from 'node:net'
import {
  NMEA_NETWORK_PORT,
  SerialReceiver,
  type BytePort,
  type ClockConfig,
  type HostStatus,
  type LinkStatus,
  type ListenerConfig,
  type ServerClock,
} from '@/core/links'
import { FRESH_MANNERS, mayAsk, minded, type ClockReading, type ServerManners } from '@/core/time'
import { ChangeFeed } from '../http/changeFeed'
import { createListedSerialPort } from '../ports/listedSerialPort'
import { ReceiverLink } from './receiverLink'
import { askTimeServer } from './sntpClient'

const KEPT_READINGS = 100
const CHANGE_EVERY_MS = 500
const ASK_AGAIN_MS = 15 * 60_000
const MOST_CONNECTIONS = 8

export interface ClockHubOptions {
  monotonicMs: () => number
  createPort?: (path: string, serialBaud: number) => BytePort
}

type NetworkLink = 'udp' | 'tcp'

interface Listener {
  close(): void
}

/** All that the server does about time: receivers on its ports, time servers asked, readings for the browser. */
export class ClockHub {
  private readonly monotonicMs: () => number
  private readonly createPort: (path: string, serialBaud: number) => BytePort
  private config: ClockConfig | undefined
  private serial: SerialReceiver | undefined
  private readonly listeners: Partial<Record<NetworkLink, Listener>> = {}
  private readonly receiverLinks: Partial<Record<NetworkLink, ReceiverLink>> = {}
  private readonly problems: Partial<Record<NetworkLink, string>> = {}
  private readonly feed = new ChangeFeed(CHANGE_EVERY_MS)
  private readonly readings: { sequence: number; reading: ClockReading }[] = []
  private sequence = 0
  private asking: Promise<void> | undefined
  private hosts: HostStatus[] = []
  /** How each server wants to be asked; one that is taken off the list and put on it again is asked anew. */
  private readonly manners = new Map<string, ServerManners>()
  private askTimer: ReturnType<typeof setInterval> | undefined
  private standins: ServerClock['standins'] = { gps: null, time: null }

  constructor({ monotonicMs, createPort = (path, serialBaud) => createListedSerialPort(path, serialBaud) }: ClockHubOptions) {
    this.monotonicMs = monotonicMs
    this.createPort = createPort
  }

  /** Turns sources on and off; what has not changed goes on undisturbed. */
  async configure(config: ClockConfig): Promise<void> {
    const before = this.config
    this.config = config
    const changed = (key: 'serial' | NetworkLink) => !before || JSON.stringify(before[key]) !== JSON.stringify(config[key])
    if (changed('serial')) await this.startSerial(config.serial)
    for (const link of ['udp', 'tcp'] as const) if (changed(link)) await this.startListener(link, config[link])
    clearInterval(this.askTimer)
    this.hosts = this.hosts.filter((h) => config.network.hosts.includes(h.host))
    for (const host of this.manners.keys()) if (!config.network.hosts.includes(host)) this.manners.delete(host)
    if (config.network.automatic && config.network.hosts.length > 0) {
      this.askTimer = setInterval(() => void this.askNetwork(), ASK_AGAIN_MS)
      this.askTimer.unref()
      if (!before || JSON.stringify(before.network) !== JSON.stringify(config.network)) void this.askNetwork()
    }
    this.changed()
  }

  async close(): Promise<void> {
    clearInterval(this.askTimer)
    this.feed.close()
    await this.serial?.stop()
    for (const link of ['udp', 'tcp'] as const) this.listeners[link]?.close()
  }

  /** Told, not too often, when something has changed. @returns a function that ends it */
  subscribe(listener: () => void): () => void {
    return this.feed.subscribe(listener)
  }

  setStandins(standins: ServerClock['standins']): void {
    this.standins = standins
    this.changed()
  }

  /** What is known now. @param afterSequence readings numbered above this are told */
  state(afterSequence: number): ServerClock {
    const now = this.monotonicMs()
    return {
      monotonicMs: now,
      links: [this.serial?.status() ?? off('serial'), this.networkStatus('udp', now), this.networkStatus('tcp', now)],
      network: { asking: this.asking !== undefined, hosts: this.hosts },
      readings: this.readings.filter((r) => r.sequence > afterSequence),
      standins: this.standins,
    }
  }

  /** Asks all time servers now. */
  askNetwork(): Promise<void> {
    this.asking ??= this.askAll().finally(() => {
      this.asking = undefined
      this.changed()
    })
    this.changed()
    return this.asking
  }

  private async askAll(): Promise<void> {
    const hosts = this.config?.network.hosts ?? []
    this.hosts = await Promise.all(hosts.map((host) => this.askHost(host)))
  }

  private async askHost(host: string): Promise<HostStatus> {
    const manners = this.manners.get(host) ?? FRESH_MANNERS
    const notNow = mayAsk(manners, this.monotonicMs())
    const before = this.hosts.find((h) => h.host === host)
    const problem = (detail: string): HostStatus => ({
      ...{ host, ok: false, detail, roundTripMs: null, uncertaintyMs: null },
      monotonicMs: this.monotonicMs(),
    })
    if (notNow !== undefined) return before?.ok ? before : problem(notNow)
    const asked = await askTimeServer(host, { monotonicMs: this.monotonicMs })
    this.manners.set(host, minded(manners, asked.ok ? undefined : asked.kiss, this.monotonicMs()))
    if (!asked.ok)
      return problem(
        asked.kiss === undefined ? asked.error : `${asked.error}. ${capital(mayAsk(this.manners.get(host)!, this.monotonicMs()) ?? '')}`,
      )
    const { offsetMs, roundTripMs, uncertaintyMs, monotonicMs, samples, contradictionMs } = asked.estimate
    const doubt = contradictionMs > 0 ? `its answers contradict one another by ${(contradictionMs / 1000).toFixed(2)} s` : undefined
    this.take({
      source: `network:${host}`,
      kind: 'network',
      label: `Time server ${host}`,
      monotonicMs,
      utcMs: monotonicMs + offsetMs,
      // Most of the round trip's doubt is the same each time: unequal ways stay unequal.
      randomMs: Math.max(1, roundTripMs / 4),
      biasMs: uncertaintyMs,
      windowMs: 0,
      ...(doubt !== undefined && { doubt }),
    })
    return {
      host,
      ok: true,
      detail:
        doubt === undefined
          ? `${samples} answers, the best after ${roundTripMs.toFixed(1)} ms`
          : `${samples} answers, not followed: ${doubt}`,
      roundTripMs,
      uncertaintyMs,
      monotonicMs,
    }
  }

  private take(reading: ClockReading): void {
    this.readings.push({ sequence: ++this.sequence, reading })
    if (this.readings.length > KEPT_READINGS) this.readings.shift()
    this.changed()
  }

  private changed(): void {
    this.feed.changed()
  }

  private async startSerial(serial: ClockConfig['serial']): Promise<void> {
    await this.serial?.stop()
    this.serial = undefined
    if (!serial.enabled || serial.path === '') return
    this.serial = new SerialReceiver({
      ...serial,
      source: 'gps:serial',
      sleep: (ms) => new Promise((done) => setTimeout(done, ms).unref()),
      createPort: this.createPort,
      monotonicMs: this.monotonicMs,
      onReading: (reading) => this.take(reading),
      onChange: () => this.changed(),
    })
  }

  private async startListener(link: NetworkLink, config: ListenerConfig): Promise<void> {
    this.listeners[link]?.close()
    delete this.listeners[link]
    delete this.receiverLinks[link]
    delete this.problems[link]
    if (!config.enabled) return
    const receivers = new ReceiverLink(link, config)
    const host = config.reach === 'network' ? '0.0.0.0' : '127.0.0.1'
    const onBytes = (from: string, bytes: Uint8Array) => {
      for (const reading of receivers.push(from, bytes, this.monotonicMs())) this.take(reading)
      this.changed()
    }
    const opened = await (link === 'udp' ? listenUdp : listenTcp)(host, config.port, onBytes)
    if (opened.ok) {
      this.listeners[link] = opened.listener
      this.receiverLinks[link] = receivers
    } else this.problems[link] = opened.error
  }

  private networkStatus(link: NetworkLink, now: number): LinkStatus {
    const receivers = this.receiverLinks[link]
    const config = this.config?.[link]
    const problem = this.problems[link]
    if (problem !== undefined) return { ...off(link), state: 'problem', detail: problem }
    if (!receivers || !config) return off(link)
    const heard = receivers.receivers(now)
    const flooded = now - receivers.floodedMs < 10_000
    const port = `${link.toUpperCase()} port ${config.port}${config.reach === 'network' ? ', open to the whole network' : ', this computer alone'}`
    return {
      link,
      state: heard.some((r) => r.gps.lastSentenceMs !== null && now - r.gps.lastSentenceMs < 5000) ? 'hearing' : 'waiting',
      detail: flooded ? `${port}: more is sent than any receiver would; the rest is thrown away.` : `${port}.`,
      serialBaud: null,
      receivers: heard,
      droppedBytes: receivers.droppedBytes,
    }
  }
}

const capital = (words: string) => (words === '' ? '' : `${words[0]!.toUpperCase()}${words.slice(1)}.`)

const off = (link: LinkStatus['link']): LinkStatus => ({
  link,
  state: 'off',
  detail: 'Off.',
  serialBaud: null,
  receivers: [],
  droppedBytes: 0,
})

type Listened = Promise<{ ok: true; listener: Listener } | { ok: false; error: string }>
type OnBytes = (from: string, bytes: Uint8Array) => void

function explainListen(link: string, port: number, error: NodeJS.ErrnoException): { ok: false; error: string } {
  const words: Record<string, string> = {
    EADDRINUSE: `${link} port ${port} is taken by another program: close that one, or choose another port (${NMEA_NETWORK_PORT} is usual).`,
    EACCES: `${link} port ${port} may not be used without special rights: choose one above 1023.`,
  }
  return { ok: false, error: words[error.code ?? ''] ?? `${link} port ${port}: ${error.message}.` }
}

function listenUdp(host: string, port: number, onBytes: OnBytes): Listened {
  return new Promise((done) => {
    const socket: UdpSocket = createSocket('udp4')
    socket.once('error', (error) => done(explainListen('UDP', port, error)))
    socket.on('message', (message, from) => onBytes(from.address, new Uint8Array(message)))
    socket.bind(port, host, () => {
      socket.unref()
      done({ ok: true, listener: { close: () => socket.close() } })
    })
  })
}

function listenTcp(host: string, port: number, onBytes: OnBytes): Listened {
  return new Promise((done) => {
    const sockets = new Set<Socket>()
    const server: Server = createServer((socket) => {
      if (sockets.size >= MOST_CONNECTIONS) {
        socket.destroy()
        return
      }
      sockets.add(socket)
      const from = `${socket.remoteAddress}`
      socket.on('data', (data: Buffer) => onBytes(from, new Uint8Array(data)))
      socket.on('error', () => socket.destroy())
      socket.on('close', () => sockets.delete(socket))
    })
    server.once('error', (error) => done(explainListen('TCP', port, error)))
    server.listen(port, host, () => {
      server.unref()
      done({
        ok: true,
        listener: {
          close: () => {
            sockets.forEach((socket) => socket.destroy())
            server.close()
          },
        },
      })
    })
  })
}
