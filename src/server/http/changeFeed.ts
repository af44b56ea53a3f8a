/** Tells those who follow something that it has changed, but not more often than they can read. */
export class ChangeFeed {
  private readonly listeners = new Set<() => void>()
  private timer: ReturnType<typeof setTimeout> | undefined

  constructor(private readonly everyMs: number) {}

  /** @returns a function that ends it */
  subscribe(listener: () => void): () => void {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  changed(): void {
    this.timer ??= setTimeout(() => {
      this.timer = undefined
      for (const tell of this.listeners) tell()
    }, this.everyMs)
    this.timer.unref()
  }

  close(): void {
    clearTimeout(this.timer)
    this.listeners.clear()
  }
}
