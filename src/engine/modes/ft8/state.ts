import {
  emptyTally,
  type ExchangeState,
  type Ft8Decode,
  type SlotOccupancy,
  type SlotTally,
  type StationsHeard,
  type Unfinished,
} from '@/core/ft8'

/** One slot as it was decoded. */
export interface DecodedSlot {
  slotIndex: number
  decodes: readonly Ft8Decode[]
  decodeMs: number
  missingMs: number
  /** True when there was no time left to look at all of it. */
  cutShort: boolean
  /** True when the station transmitted in it and so heard nothing. */
  transmitted: boolean
}

/** The search for slots with the clock unknown. */
export type BlindState =
  | { phase: 'idle' }
  /** `because` says why an earlier stretch gave nothing. */
  | { phase: 'gathering'; haveS: number; needS: number; because?: string }
  | { phase: 'searching'; share: number }
  /** A slot began at `slotMonotonicMs`, and at `slotUtcMs` if this clock is right to within half of one. */
  | { phase: 'found'; stations: number; uncertaintyMs: number; clockErrorMs: number; slotMonotonicMs: number; slotUtcMs: number }
  | { phase: 'notFound'; why: string }

/** What FT8 adds to the station's state. Plain data. */
export interface Ft8State {
  slots: readonly DecodedSlot[]
  decodingSlot: number | undefined
  stations: StationsHeard
  /** How loud each part of the band was in the last slots. */
  occupancy: readonly SlotOccupancy[]
  exchange: ExchangeState
  /** Exchanges that broke off and can be taken up again, newest first. */
  unfinished: readonly Unfinished[]
  /** What became of the slots since this source was begun. */
  tally: SlotTally
  /** A slot of its own in which the station listens instead of calling CQ, to hear whether its lane is still free. */
  listeningSlot: number | undefined
  blind: BlindState
}

export const initialFt8State: Ft8State = {
  slots: [],
  decodingSlot: undefined,
  stations: {},
  occupancy: [],
  exchange: { phase: 'idle' },
  unfinished: [],
  tally: emptyTally,
  listeningSlot: undefined,
  blind: { phase: 'idle' },
}
