import type { KeyRequest, LinkState } from '@/core/links'

/** What keys a radio that does not key itself by VOX. */
export interface Keyer {
  /** The radio is keyed this long before the audio begins, and stays so this long after its end. */
  leadMs: number
  tailMs: number
  /** @param longestMs how long the transmission lasts at most */
  key(id: string, longestMs: number): Promise<{ ok: true } | { ok: false; error: string }>
  /** Unkeys, whatever is believed. */
  unkey(): void
}

export type SendKey = (request: KeyRequest) => Promise<{ ok: true } | { ok: false; error: string }>

/** Whole milliseconds, one second at least: what a request may hold. */
const asked = (longestMs: number) => Math.ceil(Math.max(1000, longestMs))

/** The server unkeys after two seconds without a sign of life; several may be lost on the way. */
const ALIVE_EVERY_MS = 500

export interface LinkKeyerOptions {
  links: () => LinkState | undefined
  send: SendKey
  /** Number of the last alarm that a person has seen and gone on from. */
  acknowledged: () => number
  /** Keying ended by itself, or its state is unknown. */
  onLost: (why: string) => void
}

/**
 * For a radio that keys itself by VOX while its control line is read: the server is told that it is on, so that it
 * reads the SWR and raises its alarm. Nothing waits for it.
 */
export class LinkWatch implements Keyer {
  readonly leadMs = 0
  readonly tailMs = 0
  private alive: ReturnType<typeof setInterval> | undefined

  constructor(private readonly options: Pick<LinkKeyerOptions, 'send' | 'acknowledged'>) {}

  async key(id: string, longestMs: number): Promise<{ ok: true }> {
    const { send, acknowledged } = this.options
    clearInterval(this.alive)
    this.alive = setInterval(() => void send({ action: 'alive', id }), ALIVE_EVERY_MS)
    await send({ action: 'on', id, acknowledged: acknowledged(), longestMs: asked(longestMs) })
    return { ok: true }
  }

  unkey(): void {
    clearInterval(this.alive)
    this.alive = undefined
    void this.options.send({ action: 'off' })
  }
}

/** Keys over the server's links: by control, RTS or DTR. */
export class LinkKeyer implements Keyer {
  private alive: ReturnType<typeof setInterval> | undefined

  constructor(private readonly options: LinkKeyerOptions) {}

  get leadMs(): number {
    return this.options.links()?.keying.leadMs ?? 0
  }

  get tailMs(): number {
    return this.options.links()?.keying.tailMs ?? 0
  }

  async key(id: string, longestMs: number): Promise<{ ok: true } | { ok: false; error: string }> {
    const { send, acknowledged, onLost } = this.options
    clearInterval(this.alive)
    const alive = setInterval(() => {
      void send({ action: 'alive', id }).then((done) => {
        if (!done.ok && this.alive === alive) onLost(done.error)
      })
    }, ALIVE_EVERY_MS)
    this.alive = alive
    const done = await send({ action: 'on', id, acknowledged: acknowledged(), longestMs: asked(this.leadMs + longestMs + this.tailMs) })
    if (!done.ok && this.alive === alive) this.stopAlive()
    // Unkeyed while the answer was on its way, or not known to be keyed: the orders may have been turned round, so it is said again.
    if (this.alive === undefined) void send({ action: 'off' })
    return done
  }

  unkey(): void {
    this.stopAlive()
    void this.options.send({ action: 'off' })
  }

  private stopAlive(): void {
    clearInterval(this.alive)
    this.alive = undefined
  }
}
