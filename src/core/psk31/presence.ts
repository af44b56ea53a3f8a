/** Chance for each symbol that a transmission begins where none was, and that one ends. */
const BEGINS = 1e-4
const ENDS = 1 / 500
/** The same after a steady carrier, which ends a transmission. */
const ENDS_AFTER_CARRIER = 0.1
/** Chance for each symbol that a strong signal is there again after a fade. */
const COMES_BACK = 1 / 30
/** No single symbol speaks for or against a signal by more. */
const MOST_FOR = 2
const MOST_AGAINST = 3
/** Logarithm of the odds at which a symbol counts as a signal's. */
const LEAST_ODDS = 1

interface Seen {
  symbol: number
  evidence: number
  /** Odds from all up to this symbol, as a logarithm. */
  forward: number
}

const bound = (evidence: number) => Math.max(-MOST_AGAINST, Math.min(MOST_FOR, evidence))

const afterMove = (odds: number, begins: number, ends: number) => {
  // A logarithm of odds that is carried over one symbol, in which the signal may have begun or ended.
  const p = 1 / (1 + Math.exp(-odds))
  const on = p * (1 - ends) + (1 - p) * begins
  return Math.log(on / (1 - on))
}

/** The same backwards: what comes after speaks the less, the likelier it is that another state follows. */
const beforeMove = (ratio: number) => {
  const r = Math.exp(Math.min(700, ratio))
  return Math.log(((1 - ENDS) * r + ENDS) / (BEGINS * r + 1 - BEGINS))
}

/** Tells from evidence for each symbol where a signal begins and ends: a chain of two states, looked at with what comes after. */
export class Presence {
  private readonly seen: Seen[] = []
  private forward = -Infinity

  /** @param strong whether there was a strong signal lately: when it comes back from a fade, it shows at once */
  push(symbol: number, evidence: number, { afterCarrier, strong }: { afterCarrier: boolean; strong: boolean }): void {
    const bounded = bound(evidence)
    this.forward = bounded + afterMove(this.forward, strong ? COMES_BACK : BEGINS, afterCarrier ? ENDS_AFTER_CARRIER : ENDS)
    this.seen.push({ symbol, evidence: bounded, forward: this.forward })
  }

  /** Odds that there is a signal now, as a logarithm. */
  get now(): number {
    return this.forward
  }

  /** Evidence of the last symbols as a whole. */
  lately(count: number): number {
    return this.seen.slice(-count).reduce((sum, { evidence }) => sum + evidence, 0)
  }

  /**
   * Whether a span of symbols is a signal's as a whole, with all that is known by now.
   * @param ahead evidence of symbols after the last that was pushed
   */
  isSignal(first: number, last: number, ahead: readonly number[] = []): boolean {
    let back = 0
    for (let k = ahead.length - 1; k >= 0; k--) back = beforeMove(bound(ahead[k]!) + back)
    for (let k = this.seen.length - 1; k >= 0; k--) {
      const { symbol, evidence, forward } = this.seen[k]!
      if (symbol < first) break
      if (symbol <= last && forward + back < LEAST_ODDS) return false
      back = beforeMove(evidence + back)
    }
    return this.seen.length > 0 && this.seen[0]!.symbol <= last
  }

  /** The first symbol of all that is a signal's. @param ahead evidence of symbols after the last that was pushed */
  begins(ahead: readonly number[]): number {
    let back = 0
    for (let k = ahead.length - 1; k >= 0; k--) back = beforeMove(bound(ahead[k]!) + back)
    let first = Infinity
    for (let k = this.seen.length - 1; k >= 0; k--) {
      const { symbol, evidence, forward } = this.seen[k]!
      if (forward + back >= LEAST_ODDS) first = symbol
      back = beforeMove(evidence + back)
    }
    return first
  }

  /** Forgets what nobody asks for any more. */
  forget(before: number): void {
    while (this.seen.length > 0 && this.seen[0]!.symbol < before) this.seen.shift()
  }
}
