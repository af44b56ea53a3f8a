import type { Psk31Text } from './band'

/** A stretch of text that was heard on one frequency without a pause. */
export interface Psk31Stretch {
  channel: number
  frequencyHz: number
  /** Seconds from the first sample. */
  startS: number
  endS: number
  text: string
  /** Places in the text of characters that what was received alone makes less likely than not. */
  faint: number[]
  snrDb: number
}

/** A pause after which text counts as a new stretch. */
const PAUSE_S = 2.5
/** Characters over which the signal is averaged as they come. */
const SNR_CHARACTERS = 20

/** A character that what was received alone makes less likely than this is faint. */
export const LEAST_SURE = 0.5

const faintAt = (place: number, sure: number) => (sure < LEAST_SURE ? [place] : [])

function takeBack(stretch: Psk31Stretch, count: number): void {
  stretch.text = stretch.text.slice(0, Math.max(0, stretch.text.length - count))
  stretch.faint = stretch.faint.filter((place) => place < stretch.text.length)
}

/** A text with what was read after it, and without what that took back. */
export const withRead = (text: string, { character, back }: Pick<Psk31Text, 'character' | 'back'>): string =>
  text.slice(0, Math.max(0, text.length - back)) + character

/** Gathers characters of all conversations into stretches. */
export class StretchKeeper {
  private readonly open = new Map<number, Psk31Stretch>()

  /** @returns stretches that have ended by now, in the order in which they ended */
  push(heard: readonly Psk31Text[]): Psk31Stretch[] {
    const out: Psk31Stretch[] = []
    for (const { channel, frequencyHz, character, atS, snrDb, sure, back } of heard) {
      const known = this.open.get(channel)
      if (known && back > 0) takeBack(known, back)
      if (character === '') continue
      if (known && (atS - known.endS <= PAUSE_S || known.text === '')) {
        const share = 1 / Math.min(SNR_CHARACTERS, known.text.length + 1)
        known.snrDb += share * (snrDb - known.snrDb)
        Object.assign(known, {
          frequencyHz,
          endS: atS,
          text: known.text + character,
          faint: [...known.faint, ...faintAt(known.text.length, sure)],
        })
        continue
      }
      if (known?.text) out.push(known)
      this.open.set(channel, { channel, frequencyHz, startS: atS, endS: atS, text: character, faint: faintAt(0, sure), snrDb })
    }
    return out
  }

  /** Stretches to which nothing can be added any more at a time. */
  ended(nowS: number): Psk31Stretch[] {
    const over = [...this.open.values()].filter(({ endS }) => nowS - endS > PAUSE_S)
    for (const { channel } of over) this.open.delete(channel)
    return over.filter(({ text }) => text !== '').sort((a, b) => a.endS - b.endS)
  }
}

/** All stretches of a whole list, by when they began. */
export function readStretches(heard: readonly Psk31Text[]): Psk31Stretch[] {
  const keeper = new StretchKeeper()
  return [...keeper.push(heard), ...keeper.ended(Infinity)].sort((a, b) => a.startS - b.startS || a.channel - b.channel)
}
