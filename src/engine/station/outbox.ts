import type { Contact } from '@/core/log'

/** Where contacts stand until the server has acknowledged them. */
export interface OutboxStore {
  put(contact: Contact): Promise<void>
  all(): Promise<Contact[]>
  remove(ids: readonly string[]): Promise<void>
}

/** `refused` when the server looked at them and would not have them: sending the same again changes nothing. */
export type SendContacts = (contacts: readonly Contact[]) => Promise<{ ok: true } | { ok: false; error: string; refused?: boolean }>

export interface OutboxState {
  waiting: number
  problem: string | undefined
  stored: number
}

const FIRST_RETRY_MS = 1000
const LONGEST_RETRY_MS = 15_000
const BATCH = 50

/**
 * Keeps contacts in the browser until the server has them on its disk, trying again for as long as it takes.
 * Contacts carry their own id, so one sent twice is stored once.
 */
export class Outbox {
  private timer: ReturnType<typeof setTimeout> | undefined
  private retryMs = FIRST_RETRY_MS
  private sending: Promise<void> | undefined
  /** Something came while it was sending: what it looked at may have been read before. */
  private more = false
  private stored = 0
  private problem: string | undefined
  /** Contacts that the browser's store would not take: they live as long as the page. */
  private readonly unsaved = new Map<string, Contact>()
  /** What the server has and the browser's store did not let go of. */
  private readonly acknowledged = new Set<string>()

  constructor(
    private readonly store: OutboxStore,
    private readonly send: SendContacts,
    private readonly onChange: (state: OutboxState) => void,
  ) {}

  /** Keeps a contact. Resolves when it stands in the browser's store, or in memory when that is closed to us. */
  async add(contact: Contact): Promise<void> {
    this.acknowledged.delete(contact.id)
    try {
      await this.store.put(contact)
    } catch (error) {
      this.unsaved.set(contact.id, contact)
      this.problem = `This browser cannot keep contacts (${(error as Error).message}): leave the page open until they are stored.`
    }
    await this.report()
    void this.flush()
  }

  /** Sends what waits; called at start, when the network comes back, and by its own timer. */
  flush(): Promise<void> {
    if (this.sending) this.more = true
    this.sending ??= this.sendAll().finally(() => {
      this.sending = undefined
      if (this.more) void this.flush()
    })
    return this.sending
  }

  stop(): void {
    clearTimeout(this.timer)
  }

  private async sendAll(): Promise<void> {
    clearTimeout(this.timer)
    this.more = false
    const refused = new Set<string>()
    let size = BATCH
    for (;;) {
      const batch = (await this.all()).filter((c) => !refused.has(c.id)).slice(0, size)
      if (batch.length === 0) break
      const result = await this.send(batch)
      if (!result.ok && result.refused) {
        // One that it will not have must not keep the others from it: they go one by one.
        if (batch.length === 1) refused.add(batch[0]!.id)
        size = 1
        this.problem = batch.length === 1 ? `The contact with ${batch[0]!.call} waits: ${result.error}` : result.error
        continue
      }
      if (!result.ok) {
        this.problem = result.error
        await this.report()
        this.retryLater()
        return
      }
      const sent = batch.map((c) => c.id)
      sent.forEach((id) => this.unsaved.delete(id))
      await this.store.remove(sent).catch(() => sent.forEach((id) => this.acknowledged.add(id)))
      this.stored += batch.length
      if (refused.size === 0) this.problem = undefined
      this.retryMs = FIRST_RETRY_MS
      await this.report()
    }
    if (refused.size === 0) return
    await this.report()
    // A newer server may take it.
    this.retryMs = LONGEST_RETRY_MS
    this.retryLater()
  }

  private retryLater(): void {
    this.timer = setTimeout(() => void this.flush(), this.retryMs)
    this.retryMs = Math.min(LONGEST_RETRY_MS, this.retryMs * 2)
  }

  private async all(): Promise<Contact[]> {
    const stored = await this.store.all().catch(() => [])
    return [...this.unsaved.values(), ...stored].filter((c) => !this.acknowledged.has(c.id))
  }

  private async report(): Promise<void> {
    const waiting = (await this.all()).length
    this.onChange({ waiting, problem: waiting > 0 ? this.problem : undefined, stored: this.stored })
  }
}
