import {
  arriveLease,
  askLease,
  departLease,
  leaseAt,
  leaveLease,
  mayKey,
  takeLease,
  type Lease,
  type LeaseOrder,
  type LeaseState,
} from './lease'

const COMING_BACK_MS = 10_000

/** Which screen holds the station. A browser can only tell its own tabs apart; the server tells two tablets apart too. */
export class LeaseKeeper {
  private lease: Lease = {}
  private silences = 0
  private readonly beganMs: number
  private readonly followers = new Set<() => void>()
  /** How many streams of a screen are open: a new one may come before the old one is known to be gone. */
  private readonly streams = new Map<string, number>()

  /** @param unkey ends whatever is on the air @param silenced ends what would go out later, too: a person has said so */
  constructor(
    private readonly unkey: () => void,
    private readonly nowMs: () => number,
    private readonly silenced: () => void = () => undefined,
  ) {
    this.beganMs = nowMs()
  }

  stateFor(id: string | undefined): LeaseState {
    const { holder } = leaseAt(this.lease, this.nowMs())
    return {
      held: holder !== undefined && holder.id === id,
      free: holder === undefined,
      away: holder?.untilMs !== undefined,
      silences: this.silences,
    }
  }

  mayKey(id: string | undefined): boolean {
    return mayKey(this.lease, id, this.nowMs())
  }

  order(order: LeaseOrder): LeaseState {
    if (order.action === 'silence') {
      this.silences++
      // The radio first, then the screens.
      this.unkey()
      this.silenced()
      this.tell()
      return this.stateFor(undefined)
    }
    const { action, id } = order
    // After a restart whoever held the station comes back in some seconds; nobody who waited before may be quicker.
    const early = order.waiting === true && this.nowMs() - this.beganMs < COMING_BACK_MS
    if (action === 'ask' && early) return this.stateFor(id)
    if (action === 'ask') this.become(askLease(this.lease, id, this.nowMs()))
    else if (action === 'leave') this.become(leaveLease(this.lease, id))
    else this.become(takeLease(id, this.nowMs()))
    return this.stateFor(id)
  }

  /** A screen follows the station by an open stream. @returns a function that says that the stream has ended */
  follow(id: string | undefined, listener: () => void): () => void {
    this.followers.add(listener)
    if (id !== undefined) {
      this.streams.set(id, (this.streams.get(id) ?? 0) + 1)
      this.become(arriveLease(this.lease, id, this.nowMs()))
    }
    let over = false
    return () => {
      if (over) return
      over = true
      this.followers.delete(listener)
      if (id === undefined) return
      const left = (this.streams.get(id) ?? 1) - 1
      if (left > 0) this.streams.set(id, left)
      else {
        this.streams.delete(id)
        this.become(departLease(this.lease, id, this.nowMs()))
      }
    }
  }

  private become(lease: Lease): void {
    const before = leaseAt(this.lease, this.nowMs()).holder?.id
    this.lease = lease
    if (before === lease.holder?.id) return
    // Whoever holds it from now on begins with a radio that receives.
    if (before !== undefined) this.unkey()
    this.tell()
  }

  private tell(): void {
    for (const listener of this.followers) listener()
  }
}
