import { hearSlot, type Depth, type Ft8Decode, type Knowledge, type StationsHeard } from '@/core/ft8'
import type { AudioBlock } from '../../station/audioBlock'
import type { ModemClient } from './modem.client'
import { SlotCollector, type CollectedSlot } from './slotCollector'
import type { StationClock } from '../../station/stationClock'
import type { StationState } from '../../station/state'
import type { DecodedSlot, Ft8State } from './state'

/** A second look is cut short after this long, so that the answer to what it found is not too late. */
const BUDGET_MS = 2500
/** The first look is only for what is strong enough to be found at once. */
const EARLY_BUDGET_MS = 700
/** Of those heard lately, so many are expected to call when CQ was called. */
const MOST_CALLERS = 40

export interface ReceiverHost {
  clock: StationClock
  decoder: ModemClient
  source: () => StationState['source']
  state: () => Ft8State
  set: (change: Partial<Ft8State>) => void
  ownCall: () => string
  depth: () => Depth
  /** While transmitting, a receiver hears nothing but its own station. */
  transmittedIn: (slotIndex: number) => boolean
  /** What the first look found, before the slot has ended. */
  onEarly: (slotIndex: number, decodes: readonly Ft8Decode[]) => void
  onDecoded: (slot: DecodedSlot, correctionMs: number) => void
  onProblem: (what: string) => void
}

/** Makes slots of what is heard and has each looked at twice: soon, and thoroughly. */
export class SlotReceiver {
  private collector = this.createCollector()
  private readonly decoding = new Set<number>()
  /** Grows with every change of source: results of work begun before it are dropped. */
  private epoch = 0
  /** The last slot whose audio went to the decoder. */
  handedOver = -Infinity

  constructor(private readonly host: ReceiverHost) {}

  /** Begins anew with another source. */
  restart(): void {
    this.epoch++
    this.collector = this.createCollector()
    this.decoding.clear()
    this.handedOver = -Infinity
  }

  push(block: AudioBlock): void {
    this.collector.push(block)
  }

  isDecoding(slotIndex: number): boolean {
    return this.decoding.has(slotIndex)
  }

  private createCollector(): SlotCollector {
    return new SlotCollector(
      (slot) => void this.decode(slot),
      (slot) => void this.glance(slot),
    )
  }

  /** The first look. At more than real pace the clock stands still while decoding, so that nothing would be gained. */
  private async glance({ slotIndex, samples, slotStartS }: CollectedSlot): Promise<void> {
    const { epoch } = this
    const source = this.host.source()
    if (!('pace' in source) || source.pace > 1 || this.host.transmittedIn(slotIndex)) return
    const result = await this.host.decoder.decode({
      ...{ samples, slotStartS, depth: 'quick', budgetMs: EARLY_BUDGET_MS },
      ...this.known(),
    })
    if (epoch !== this.epoch || !result.ok || this.handedOver > slotIndex) return
    const { decodes } = result.value
    this.host.set({ stations: hearSlot(this.host.state().stations, slotIndex, decodes, this.host.ownCall()) })
    this.host.onEarly(slotIndex, decodes)
  }

  private async decode(slot: CollectedSlot): Promise<void> {
    const { epoch } = this
    const { slotIndex, missingMs } = slot
    const { clock } = this.host
    this.handedOver = slotIndex
    const { correctionMs } = clock.timebase
    if (this.host.transmittedIn(slotIndex)) {
      this.host.onDecoded({ slotIndex, missingMs, decodes: [], decodeMs: 0, cutShort: false, transmitted: true }, correctionMs)
      return
    }
    this.decoding.add(slotIndex)
    clock.hold(`decode ${slotIndex}`)
    this.host.set({ decodingSlot: slotIndex })
    const result = await this.host.decoder.decode({
      samples: slot.samples,
      slotStartS: slot.slotStartS,
      depth: this.host.depth(),
      // A simulated clock waits.
      ...(!clock.simulated && { budgetMs: BUDGET_MS }),
      ...this.known(),
    })
    clock.release(`decode ${slotIndex}`)
    if (epoch !== this.epoch) return
    this.decoding.delete(slotIndex)
    this.host.set({ decodingSlot: undefined })
    if (!result.ok) {
      this.host.onProblem(`A slot could not be decoded: ${result.error}`)
      return
    }
    this.host.onDecoded({ slotIndex, missingMs, transmitted: false, ...result.value }, correctionMs)
  }

  /** Calls that hashes may stand for, and what is expected to be heard. */
  private known(): { calls: string[]; knowledge?: Knowledge } {
    const { exchange, stations } = this.host.state()
    const ownCall = this.host.ownCall()
    const calls = ownCall ? [ownCall] : []
    if (exchange.phase !== 'underway') return { calls }
    const { otherCall } = exchange
    if (!otherCall) return { calls, knowledge: { ownCall, callers: likelyCallers(stations) } }
    const other = stations[otherCall]
    return {
      calls: [...calls, otherCall],
      knowledge: {
        ownCall,
        otherCall,
        ...(other?.locator && { otherLocator: other.locator }),
        ...(other && { nearHz: other.lastDecode.frequencyHz }),
      },
    }
  }
}

/** Who was heard last and told a locator: who of them calls, calls with it. */
function likelyCallers(stations: StationsHeard): { call: string; locator: string }[] {
  return Object.values(stations)
    .sort((a, b) => b.lastSlotIndex - a.lastSlotIndex)
    .flatMap(({ call, locator }) => (locator ? [{ call, locator }] : []))
    .slice(0, MOST_CALLERS)
}
