/** How many contacts and stations answer a question to the log. */
export interface Totals {
  total: number
  stations: number
}

const KEPT_QUESTIONS = 50

/**
 * Remembers totals by question until the log changes: paging asks the same again and again, and counting is what takes
 * longest. One instance belongs to the services, since route handlers and the start program are bundled apart and
 * would each have a module's own variables.
 */
export class TotalsCache {
  private generation = 0
  private readonly byQuestion = new Map<string, Totals>()

  /** Forgets all; called before and after each change. */
  clear(): void {
    this.generation++
    this.byQuestion.clear()
  }

  /** The totals known for a question, or those that `count` finds; what was counted during a change is not kept. */
  async get(question: string, count: () => Promise<Totals>): Promise<Totals> {
    const known = this.byQuestion.get(question)
    if (known) return known
    const { generation } = this
    const totals = await count()
    if (generation !== this.generation) return totals
    if (this.byQuestion.size >= KEPT_QUESTIONS) this.byQuestion.clear()
    this.byQuestion.set(question, totals)
    return totals
  }
}
