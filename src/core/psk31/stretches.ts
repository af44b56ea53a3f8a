import type { Psk31Text } from './band'

/** A stretch of text that was heard on one frequency without a pause. */
export interface Psk31Stretch {
  channel: number
  frequencyHz: number
  /** Seconds from the first sample. */
  startS: number
  endS: number
  text: string
  snrDb: number
}

/** A pause after which text counts as a new stretch. */
const PAUSE_S = 2.5
/** Characters over which the signal is averaged as they come. */
const SNR_CHARACTERS = 20

/** Gathers characters of all conversations into stretches. */
export class StretchKeeper {
  private readonly open = new Map<number, Psk31Stretch>()

  /** @returns stretches that have ended by now, in the order in which they ended */
  push(heard: readonly Psk31Text[]): Psk31Stretch[] {
    const out: Psk31Stretch[] = []
    for (const { channel, frequencyHz, character, atS, snrDb } of heard) {
      const known = this.open.get(channel)
      if (known && atS - known.endS <= PAUSE_S) {
        const share = 1 / Math.min(SNR_CHARACTERS, known.text.length + 1)
        known.snrDb += share * (snrDb - known.snrDb)
        Object.assign(known, { frequencyHz, endS: atS, text: known.text + character })
        continue
      }
      if (known) out.push(known)
      this.open.set(channel, { channel, frequencyHz, startS: atS, endS: atS, text: character, snrDb })
    }
    return out
  }

  /** Stretches to which nothing can be added any more at a time. */
  ended(nowS: number): Psk31Stretch[] {
    const out = [...this.open.values()].filter(({ endS }) => nowS - endS > PAUSE_S)
    for (const { channel } of out) this.open.delete(channel)
    return out.sort((a, b) => a.endS - b.endS)
  }
}

/** All stretches of a whole list, by when they began. */
export function readStretches(heard: readonly Psk31Text[]): Psk31Stretch[] {
  const keeper = new StretchKeeper()
  return [...keeper.push(heard), ...keeper.ended(Infinity)].sort((a, b) => a.startS - b.startS || a.channel - b.channel)
}
