/** What became of the slots of a session. */
export interface SlotTally {
  /** Listened to with something copied. */
  heard: number
  /** Listened to with nothing copied. */
  empty: number
  /** Given to the own transmissions. */
  transmitted: number
  /** More than a second of audio was missing. */
  gaps: number
  /** The time to decode ran out. */
  cutShort: number
  /** Speech or room noise lay over the band. */
  spoilt: number
  /** Never came to the decoder: the source stalled, or the page slept. */
  lost: number
  messages: number
  firstSlotIndex?: number
  lastSlotIndex?: number
}

export const emptyTally: SlotTally = { heard: 0, empty: 0, transmitted: 0, gaps: 0, cutShort: 0, spoilt: 0, lost: 0, messages: 0 }

/** Audio missing for longer than this is named as what a slot was lost to. */
const GAP_MS = 1000

export interface TalliedSlot {
  slotIndex: number
  messages: number
  missingMs: number
  cutShort: boolean
  transmitted: boolean
  spoilt: boolean
}

/** Adds a slot. A slot that is flawed counts under its flaw besides being heard or empty. */
export function tallySlot(tally: SlotTally, slot: TalliedSlot): SlotTally {
  const skipped = tally.lastSlotIndex === undefined ? 0 : Math.max(0, slot.slotIndex - tally.lastSlotIndex - 1)
  const one = (yes: boolean) => (yes ? 1 : 0)
  const listened = !slot.transmitted
  return {
    heard: tally.heard + one(listened && slot.messages > 0),
    empty: tally.empty + one(listened && slot.messages === 0),
    transmitted: tally.transmitted + one(slot.transmitted),
    gaps: tally.gaps + one(listened && slot.missingMs > GAP_MS),
    cutShort: tally.cutShort + one(slot.cutShort),
    spoilt: tally.spoilt + one(listened && slot.spoilt),
    lost: tally.lost + skipped,
    messages: tally.messages + slot.messages,
    firstSlotIndex: tally.firstSlotIndex ?? slot.slotIndex,
    lastSlotIndex: slot.slotIndex,
  }
}
