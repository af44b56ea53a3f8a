import { fork, type ChildProcess } from 'node:child_process'
import type { DiagnoseRequest, KeyRequest, LinkConfig, LinkState } from '@/core/links'
import type { CatDialect, CatRequest } from '@/core/links/cat'
import type { Done } from '../done'
import { ChangeFeed } from '../http/changeFeed'
import { Calls } from '../threads/calls'
import type { Hub, HubHost } from './hub'
import type { LinkProcess, LinkProcessOptions, ServerCalls } from './linkProcess'
import { portCalls } from './remotePorts'

const CHANGE_EVERY_MS = 30
const KEPT_WIRE = 60
/** How soon a process that ended is started anew, and how rarely at last. */
const FIRST_AGAIN_MS = 200
const LONGEST_AGAIN_MS = 30_000
const GONE = 'The part of the server that holds the ports has ended. It is started anew.'

export interface RemoteHubOptions extends LinkProcessOptions {
  /** The file of `linkProcess`. */
  program: string
  onProblem(words: string): void
}

/** The links, run in a process of their own: what is known of them here is what that process told last. */
export class RemoteHub implements Hub {
  private child: ChildProcess | undefined
  private calls: Calls<LinkProcess> | undefined
  private last: LinkState | undefined
  private wire: LinkState['wire'] = []
  private standins: LinkState['standins'] = { radio: null, tnc: null }
  private dialects: readonly CatDialect[] = []
  private config: LinkConfig | undefined
  private closed = false
  private againMs = FIRST_AGAIN_MS
  private readonly feed = new ChangeFeed(CHANGE_EVERY_MS)
  private readonly ports

  private constructor(
    private readonly host: HubHost,
    private readonly options: RemoteHubOptions,
  ) {
    this.ports = portCalls(host.lentPort, () => this.calls)
  }

  static async open(host: HubHost, options: RemoteHubOptions): Promise<RemoteHub> {
    const hub = new RemoteHub(host, options)
    await hub.start()
    return hub
  }

  /** For tests and for the terminal: which process it is. */
  get pid(): number | undefined {
    return this.child?.pid
  }

  async setDialects(own: readonly CatDialect[]): Promise<void> {
    this.dialects = own
    await this.inThere((calls) => calls.call('setDialects', own))
  }

  async configure(config: LinkConfig): Promise<void> {
    this.config = config
    await this.inThere((calls) => calls.call('configure', config))
  }

  async reopenControl(): Promise<void> {
    await this.inThere((calls) => calls.call('reopenControl'))
  }

  key(request: KeyRequest): Promise<Done> {
    return this.done((calls) => calls.call('key', request))
  }

  ask(request: CatRequest): Promise<Done> {
    return this.done((calls) => calls.call('ask', request))
  }

  sendPacket(frame: Uint8Array): Promise<Done> {
    return this.done((calls) => calls.call('sendPacket', frame))
  }

  diagnose(request: DiagnoseRequest): Promise<Done> {
    return this.done((calls) => calls.call('diagnose', request))
  }

  portAppeared(): void {
    this.calls?.call('portAppeared').catch(() => undefined)
  }

  setStandins(standins: LinkState['standins']): void {
    this.standins = standins
    this.feed.changed()
  }

  state(afterSequence: number): LinkState {
    // The process tells how things stand before it answers its first call, which `open` waits for.
    return { ...this.last!, standins: this.standins, wire: this.wire.filter((entry) => entry.sequence > afterSequence) }
  }

  subscribe(listener: () => void): () => void {
    return this.feed.subscribe(listener)
  }

  async close(): Promise<void> {
    this.closed = true
    this.feed.close()
    // It unkeys before it answers. One that has ended by itself has left that to the watch.
    await this.calls?.call('close').catch(() => undefined)
    this.child?.disconnect()
    await this.ports.closeAll()
  }

  /** Does something in the process. One that ends meanwhile is followed by one that is told everything anyway. */
  private async inThere(work: (calls: Calls<LinkProcess>) => Promise<void>): Promise<void> {
    const { calls } = this
    if (!calls) return
    try {
      await work(calls)
    } catch (error) {
      if (this.calls === calls) throw error
    }
  }

  private async done(work: (calls: Calls<LinkProcess>) => Promise<Done>): Promise<Done> {
    if (!this.calls) return { ok: false, error: GONE }
    return work(this.calls).catch(() => ({ ok: false, error: GONE }))
  }

  private async start(): Promise<void> {
    const { program, folder, watchScript, onProblem } = this.options
    const child = fork(program, { serialization: 'advanced', detached: true, execArgv: [], stdio: ['ignore', 'inherit', 'inherit', 'ipc'] })
    const own: ServerCalls = {
      ...this.ports,
      loginFor: (host, port) => this.host.loginFor(host, port),
      verdict: (link, verdict) => this.host.onVerdict(link, verdict),
      problem: (words) => onProblem(words),
      packet: (frame) => this.host.onPacket(frame),
      state: (state) => this.told(state),
    }
    const calls = new Calls<LinkProcess>(
      {
        send: (message) => {
          if (child.connected) child.send(message as object, () => undefined)
        },
        onMessage: (listener) => void child.on('message', listener),
      },
      own,
    )
    this.child = child
    this.calls = calls
    const ended = (why: Error) => {
      calls.end(why)
      if (this.calls === calls) this.ended()
    }
    child.once('error', (error) => ended(error))
    child.once('exit', () => ended(new Error('it has ended')))
    await calls.call('open', { folder, watchScript })
    this.againMs = FIRST_AGAIN_MS
  }

  private ended(): void {
    this.child = undefined
    this.calls = undefined
    if (this.closed) return
    const { last } = this
    if (last) {
      const was = last.keying.state === 'keyed'
      const problem = { state: 'problem', detail: GONE } as const
      this.last = {
        ...last,
        control: { ...last.control, ...(last.control.state !== 'off' && problem) },
        keying: { ...last.keying, ...(last.keying.state !== 'off' && problem), unknown: was },
        tnc: { ...last.tnc, ...(last.tnc.state !== 'off' && problem) },
        diagnosis: null,
        // A page that transmits must learn of it. Whoever starts anew finds the mark, and says more.
        ...(was && { alarm: { sequence: Date.now(), utcMs: Date.now(), words: `${GONE} The radio was keyed and is told to stop.` } }),
      }
      this.feed.changed()
    }
    this.options.onProblem('the process that holds the ports has ended; it is started anew')
    void this.ports.closeAll()
    setTimeout(() => {
      if (!this.closed)
        void this.startAgain().catch((error: Error) => this.options.onProblem(`it could not be started anew: ${error.message}`))
    }, this.againMs)
    this.againMs = Math.min(LONGEST_AGAIN_MS, 2 * this.againMs)
  }

  private async startAgain(): Promise<void> {
    await this.start()
    await this.setDialects(this.dialects)
    if (this.config) await this.configure(this.config)
  }

  private told(state: LinkState): void {
    this.last = state
    this.wire = [...this.wire, ...state.wire].slice(-KEPT_WIRE)
    this.feed.changed()
  }
}
