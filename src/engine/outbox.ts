import type { Contact } from '@/core/log'

/** Where contacts stand until the server has acknowledged them. */
export interface OutboxStore {
  put(contact: Contact): Promise<void>
  all(): Promise<Contact[]>
  remove(ids: readonly string[]): Promise<void>
}

export type SendContacts = (contacts: readonly Contact[]) => Promise<{ ok: true } | { ok: false; error: string; final?: boolean }>

export interface OutboxState {
  waiting: number
  problem: string | undefined
  stored: number
}

const FIRST_RETRY_MS = 1000
const LONGEST_RETRY_MS = 15_000

/**
 * Keeps contacts in the browser until the server has them on its disk, trying again for as long as it takes.
 * Contacts carry their own id, so one sent twice is stored once.
 */
export class Outbox {
  private timer: ReturnType<typeof setTimeout> | undefined
  private retryMs = FIRST_RETRY_MS
  private sending: Promise<void> | undefined
  private stored = 0
  private problem: string | undefined
  /** Contacts that the browser's store would not take: they live as long as the page. */
  private readonly unsaved = new Map<string, Contact>()

  constructor(
    private readonly store: OutboxStore,
    private readonly send: SendContacts,
    private readonly onChange: (state: OutboxState) => void,
  ) {}

  /** Keeps a contact. Resolves when it stands in the browser's store, or in memory when that is closed to us. */
  async add(contact: Contact): Promise<void> {
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
    this.sending ??= this.sendAll().finally(() => (this.sending = undefined))
    return this.sending
  }

  stop(): void {
    clearTimeout(this.timer)
  }

  private async sendAll(): Promise<void> {
    clearTimeout(this.timer)
    for (;;) {
      const waiting = await this.all()
      if (waiting.length === 0) break
      const batch = waiting.slice(0, 50)
      const result = await this.send(batch)
      if (!result.ok) {
        this.problem = result.error
        await this.report()
        this.timer = setTimeout(() => void this.flush(), this.retryMs)
        this.retryMs = Math.min(LONGEST_RETRY_MS, this.retryMs * 2)
        return
      }
      const sent = batch.map((c) => c.id)
      sent.forEach((id) => this.unsaved.delete(id))
      await this.store.remove(sent).catch(() => undefined)
      this.stored += batch.length
      this.problem = undefined
      this.retryMs = FIRST_RETRY_MS
      await this.report()
    }
  }

  private async all(): Promise<Contact[]> {
    const stored = await this.store.all().catch(() => [])
    return [...this.unsaved.values(), ...stored]
  }

  private async report(): Promise<void> {
    const waiting = (await this.all()).length
    this.onChange({ waiting, problem: waiting > 0 ? this.problem : undefined, stored: this.stored })
  }
}
