/** What is worth keeping but no contact: it waits in memory until the server takes it, and the oldest is let go. */
export class SendLater<T extends { id: string }> {
  private waiting: T[] = []
  private sending = false

  constructor(
    private readonly send: (batch: T[]) => Promise<boolean>,
    private readonly limits: { mostWaiting: number; batch: number },
  ) {}

  get isEmpty(): boolean {
    return this.waiting.length === 0
  }

  add(items: readonly T[]): void {
    this.waiting = [...this.waiting, ...items].slice(-this.limits.mostWaiting)
  }

  /** Sends the oldest; what did not get through waits on. One question at a time. */
  async flush(): Promise<void> {
    if (this.sending || this.isEmpty) return
    this.sending = true
    const batch = this.waiting.slice(0, this.limits.batch)
    try {
      if (!(await this.send(batch))) return
      const sent = new Set(batch.map((item) => item.id))
      this.waiting = this.waiting.filter((item) => !sent.has(item.id))
    } finally {
      this.sending = false
    }
  }
}
