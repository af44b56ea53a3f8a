// Whatever keys the radio runs in a process of its own, in which nothing else can keep it from unkeying. It ends with the
// server, however that ends, and unkeys first.
import type { DiagnoseRequest, KeyRequest, LinkConfig, LinkState, TriedLink, Verdict } from '@/core/links'
import type { CatDialect, CatRequest } from '@/core/links/cat'
import type { Login } from '../ports/loginBytePort'
import { Calls, type Channel } from '../threads/calls'
import { FileKeyMark } from './fileKeyMark'
import { openHubHere } from './hubHere'
import type { LinkHub } from './linkHub'
import { RemotePorts, type PortCalls } from './remotePorts'

/** A radio that does not answer must not keep us for ever. */
const LONGEST_END_MS = 6000

export interface LinkProcessOptions {
  /** The data folder: the mark that the radio is keyed stands in it. */
  folder: string
  /** The program that unkeys the radio when this process is gone too. */
  watchScript: string
}

/** What the process calls of the server. */
export interface ServerCalls extends PortCalls {
  loginFor(host: string, port: number): Promise<Login | undefined>
  verdict(link: TriedLink, verdict: Verdict): void
  packet(frame: Uint8Array): void
  problem(words: string): void
  /** Of the wire, what is new since it was told last. */
  state(state: LinkState): void
}

const channel: Channel = {
  send: (message) => {
    // What cannot be told to a server that is gone is not missed: we end with it.
    if (process.connected) process.send!(message, undefined, undefined, () => undefined)
  },
  onMessage: (listener) => void process.on('message', listener),
}

let running: { hub: LinkHub; keyMark: FileKeyMark } | undefined
let told = 0

function tell(): void {
  if (!running) return
  const state = running.hub.state(told)
  told = state.wire.at(-1)?.sequence ?? told
  server.call('state', state).catch(() => undefined)
}

/** Does something with the links; the server knows how they stand before it knows that it was done. */
async function using<T>(work: (hub: LinkHub) => Promise<T> | T): Promise<T> {
  if (!running) throw new Error('The links are not open.')
  const value = await work(running.hub)
  tell()
  return value
}

const ports: RemotePorts = new RemotePorts(() => server)

const own = {
  open({ folder, watchScript }: LinkProcessOptions): void {
    const keyMark = new FileKeyMark({
      folder,
      watchScript,
      onProblem: (words) => void server.call('problem', words).catch(() => undefined),
    })
    const hub = openHubHere(
      {
        loginFor: (host, port) => server.call('loginFor', host, port),
        lentPort: (by, serialBaud) => ports.create(by, serialBaud),
        onVerdict: (link, verdict) => void server.call('verdict', link, verdict).catch(() => undefined),
        onPacket: (frame) => void server.call('packet', frame).catch(() => undefined),
      },
      keyMark,
    )
    running = { hub, keyMark }
    hub.subscribe(tell)
    tell()
  },
  setDialects: (dialects: readonly CatDialect[]) => using((hub) => hub.setDialects(dialects)),
  configure: (config: LinkConfig) => using((hub) => hub.configure(config)),
  reopenControl: () => using((hub) => hub.reopenControl()),
  key: (request: KeyRequest) => using((hub) => hub.key(request)),
  ask: (request: CatRequest) => using((hub) => hub.ask(request)),
  sendPacket: (frame: Uint8Array) => using((hub) => hub.sendPacket(frame)),
  diagnose: (request: DiagnoseRequest) => using((hub) => hub.diagnose(request)),
  portAppeared: () => using((hub) => hub.portAppeared()),
  portBytes: (n: number, bytes: Uint8Array) => ports.portBytes(n, bytes),
  portClosed: (n: number, why: string) => ports.portClosed(n, why),
  close: () => end(),
}
export type LinkProcess = typeof own

const server: Calls<ServerCalls> = new Calls<ServerCalls>(channel, own)

async function end(): Promise<void> {
  const ending = running
  running = undefined
  await ending?.hub.close()
  // Where nobody knows whether it stopped, the watch goes on trying after us.
  if (!ending?.hub.leavesKeyed) ending?.keyMark.close()
}

process.on('disconnect', () => {
  server.end(new Error('the server has ended'))
  setTimeout(() => process.exit(1), LONGEST_END_MS)
  void end().finally(() => process.exit(0))
})
// The terminal's signals are for the server, which closes us in order.
process.on('SIGINT', () => undefined)
process.on('SIGTERM', () => undefined)
