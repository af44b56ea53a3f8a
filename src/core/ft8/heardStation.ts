import { otherParity, parityOf, type Parity } from '../time/slots'
import type { Ft8Decode } from './decode'
import type { Info } from './infoField'

/** All stations heard lately, by their calls. Plain data. */
export type StationsHeard = Readonly<Record<string, HeardStation>>

/** What a station was doing when it was last heard. */
export type Doing =
  | { kind: 'callingAll'; word: string }
  | { kind: 'callingMe' }
  | { kind: 'workingMe' }
  | { kind: 'calling' | 'working' | 'ending'; whom: string }
  | { kind: 'other' }

/** One station as heard over the last slots. */
export interface HeardStation {
  call: string
  locator?: string
  parity: Parity
  lastSlotIndex: number
  frequencyHz: number
  timeOffsetS: number
  /** Strengths of the last slots in which it was heard, newest last. */
  strengths: readonly { slotIndex: number; snrDb: number }[]
  doing: Doing
  lastDecode: Ft8Decode
  timesHeard: number
}

const KEPT_STRENGTHS = 12
/** A station not heard for this many slots is forgotten. */
const KEPT_SLOTS = 40

function doingOf(decode: Ft8Decode, ownCall: string): Doing {
  const { message } = decode
  if (message.kind !== 'standard') return { kind: 'other' }
  if (message.call) return { kind: 'callingAll', word: message.call }
  const whom = message.to ?? 'a station not known yet'
  const first = message.info.kind === 'locator' || message.info.kind === 'nothing'
  if (message.to && message.to === ownCall) return { kind: first ? 'callingMe' : 'workingMe' }
  if (first) return { kind: 'calling', whom }
  return { kind: isEnding(message.info) ? 'ending' : 'working', whom }
}

function isEnding(info: Info): boolean {
  return info.kind === 'RR73' || info.kind === '73' || info.kind === 'RRR'
}

/**
 * Adds one slot's decodes to what is known of the stations around.
 * @returns a new record; the old one is not changed
 */
export function hearSlot(stations: StationsHeard, slotIndex: number, decodes: readonly Ft8Decode[], ownCall: string): StationsHeard {
  const next: Record<string, HeardStation> = {}
  for (const station of Object.values(stations)) if (slotIndex - station.lastSlotIndex <= KEPT_SLOTS) next[station.call] = station
  for (const decode of decodes) {
    const { message } = decode
    if (message.kind === 'freeText' || message.kind === 'telemetry' || !message.from || message.from === ownCall) continue
    const known = next[message.from]
    const locator = message.kind === 'standard' && message.info.kind === 'locator' ? message.info.locator : known?.locator
    next[message.from] = {
      call: message.from,
      ...(locator && { locator }),
      parity: parityOf(slotIndex),
      lastSlotIndex: slotIndex,
      frequencyHz: decode.frequencyHz,
      timeOffsetS: decode.timeOffsetS,
      // A slot that is looked at twice counts once.
      strengths: [...(known?.strengths ?? []).filter((s) => s.slotIndex !== slotIndex), { slotIndex, snrDb: decode.snrDb }].slice(
        -KEPT_STRENGTHS,
      ),
      doing: doingOf(decode, ownCall),
      lastDecode: decode,
      timesHeard: (known?.timesHeard ?? 0) + (known?.lastSlotIndex === slotIndex ? 0 : 1),
    }
  }
  return next
}

/** The parity in which to answer a station. */
export function answerParity(station: HeardStation): Parity {
  return otherParity(station.parity)
}
