// The slots found by ear alone: what is heard is gathered, searched, and proposed to the operator.
import { LONGEST_BLIND_S, SAMPLE_RATE_HZ, SLOT_MS, type SlotPhase } from '@/core/ft8'
import { utcAt } from '@/core/time'
import type { AudioBlock } from '../../station/audioBlock'
import { BlindCapture, BLIND_WANTED_S, type Captured } from './blindCapture'
import type { ModemClient } from './modem.client'
import type { StationClock } from '../../station/stationClock'
import type { Ft8State } from './state'

/** Stretches that are listened to before it is given up: a quiet band, or a device that drops sound, may do better later. */
const STRETCHES = 4

/** What the operator took of what was found: a slot start on the monotonic clock, and in UTC. */
export interface TakenSlots {
  stations: number
  monotonicMs: number
  utcMs: number
  uncertaintyMs: number
}

export class BlindSearch {
  private capture: BlindCapture | undefined
  private stretch = 0
  /** Why the last stretch gave nothing. */
  private because: string | undefined
  private finder: ModemClient | undefined
  private found: { phase: Extract<SlotPhase, { found: true }>; startMonotonicMs: number } | undefined

  constructor(
    private readonly clock: StationClock,
    private readonly createModem: () => ModemClient,
    private readonly set: (change: Pick<Ft8State, 'blind'>) => void,
  ) {}

  /** Looks for the slots in what is heard, or in a recording at hand. */
  find(recording?: { samples: Float32Array; startMonotonicMs: number }): void {
    this.cancel()
    if (recording) {
      void this.search({
        samples: recording.samples.slice(0, LONGEST_BLIND_S * SAMPLE_RATE_HZ),
        startMonotonicMs: recording.startMonotonicMs,
      })
      return
    }
    this.gather()
  }

  private gather(): void {
    this.stretch++
    this.capture = new BlindCapture()
    this.tellGathered(0)
  }

  private tellGathered(haveS: number): void {
    const { because } = this
    this.set({ blind: { phase: 'gathering', haveS, needS: BLIND_WANTED_S, ...(because && { because }) } })
  }

  /** Audio for the search, while one is under way. */
  block(block: AudioBlock): void {
    if (!this.capture) return
    const startMonotonicMs = this.clock.simulated ? this.clock.worldAtUtc(block.startUtcMs) : this.clock.monotonicAtUtc(block.startUtcMs)
    const captured = this.capture.push(block.samples, startMonotonicMs)
    if (captured) {
      this.capture = undefined
      void this.search(captured)
    } else this.tellGathered(this.capture.seconds)
  }

  private async search({ samples, startMonotonicMs }: Captured): Promise<void> {
    const finder = this.createModem()
    this.finder = finder
    this.set({ blind: { phase: 'searching', share: 0 } })
    this.clock.hold('blind search')
    try {
      const result = await finder.findSlots(samples, (share) => {
        if (this.finder === finder) this.set({ blind: { phase: 'searching', share } })
      })
      if (this.finder !== finder) return
      if (!result.ok) this.set({ blind: { phase: 'notFound', why: result.error } })
      else if (result.value.found) this.propose(result.value, startMonotonicMs)
      else this.nothingIn(result.value.why)
    } finally {
      this.clock.release('blind search')
      if (this.finder === finder) {
        finder.close()
        this.finder = undefined
      }
    }
  }

  /** Listens on by itself while it makes sense; a recording is all there is. */
  private nothingIn(why: string): void {
    if (this.stretch === 0 || this.stretch >= STRETCHES) {
      this.set({ blind: { phase: 'notFound', why } })
      return
    }
    this.because = why
    this.gather()
  }

  private propose(phase: Extract<SlotPhase, { found: true }>, startMonotonicMs: number): void {
    this.found = { phase, startMonotonicMs }
    const { monotonicMs, utcMs } = this.foundSlot()!
    this.set({
      blind: {
        phase: 'found',
        stations: phase.stations,
        uncertaintyMs: phase.uncertaintyS * 1000,
        /** How fast the clock is modulo a slot, if it is right to within half of one. */
        clockErrorMs: utcAt(this.clock.timebase, monotonicMs) - utcMs,
        slotMonotonicMs: monotonicMs,
        slotUtcMs: utcMs,
      },
    })
  }

  /** The latest slot start that the search knows of: on the monotonic clock, and as the believed time would have it. */
  private foundSlot(): { monotonicMs: number; utcMs: number } | undefined {
    if (!this.found) return undefined
    const first = this.found.startMonotonicMs + this.found.phase.slotPhaseS * 1000
    const monotonicMs = first + Math.floor((this.clock.monotonicMs() - first) / SLOT_MS) * SLOT_MS
    return { monotonicMs, utcMs: Math.round(utcAt(this.clock.timebase, monotonicMs) / SLOT_MS) * SLOT_MS }
  }

  /** The operator confirms what was found. @param slots whole slots to add to what the application proposes */
  take(slots: number): TakenSlots | undefined {
    const slot = this.foundSlot()
    if (!slot || !this.found) return undefined
    const { stations, uncertaintyS } = this.found.phase
    this.found = undefined
    this.set({ blind: { phase: 'idle' } })
    return { stations, monotonicMs: slot.monotonicMs, utcMs: slot.utcMs + slots * SLOT_MS, uncertaintyMs: uncertaintyS * 1000 }
  }

  cancel(): void {
    this.capture = undefined
    this.stretch = 0
    this.because = undefined
    this.found = undefined
    this.finder?.close()
    this.finder = undefined
    this.clock.release('blind search')
    this.set({ blind: { phase: 'idle' } })
  }
}
