import { finding, type Finding } from '../audio/findings'
import { lowerEnvelope, type DelayPoint } from '../time/lowerEnvelope'

/** What the device and the browser say of themselves. */
export interface DeviceFacts {
  /** Voice processing that the browser keeps on against our wish, in words. */
  processing: readonly string[]
  /** The device's samples against the timebase. */
  sampleClock?: SampleClock
  /** Batches of samples that never came, since listening began. */
  lostBlocks: number
}

export interface SampleClock {
  ppm: number
  uncertaintyPpm: number
}

/** Slots last 13 s: at this error a signal would slide by 4 ms and 0.5 Hz at most, which begins to matter. */
const RATE_NOTE_PPM = 150
const RATE_WARNING_PPM = 400

/** Findings that no sample shows by itself. */
export function judgeDevice({ processing, sampleClock, lostBlocks }: DeviceFacts): Finding[] {
  const found: Finding[] = []
  if (processing.length > 0)
    found.push(
      finding('browser-processing', {
        severity: 'warning',
        evidence: `${processing.join(', ')} ${processing.length > 1 ? 'are' : 'is'} on, though asked to be off`,
        advice: 'Switch it off in the system’s sound settings, or use another browser. It is made for voices and removes weak signals.',
        confidence: 1,
        costDb: 6,
      }),
    )
  if (sampleClock && Math.abs(sampleClock.ppm) - sampleClock.uncertaintyPpm > RATE_NOTE_PPM)
    found.push(
      finding('sample-clock', {
        severity: Math.abs(sampleClock.ppm) - sampleClock.uncertaintyPpm > RATE_WARNING_PPM ? 'warning' : 'note',
        evidence: `the device gives ${Math.abs(Math.round(sampleClock.ppm))} ppm ${sampleClock.ppm > 0 ? 'more' : 'fewer'} samples than it should (±${Math.round(sampleClock.uncertaintyPpm)})`,
        advice: 'Frequencies read wrong by that share. Use another sound device when it is a warning.',
        confidence: 0.9,
        costDb: 0.2,
      }),
    )
  if (lostBlocks > 0)
    found.push(
      finding('dropouts', {
        severity: 'warning',
        evidence: `${lostBlocks} ${lostBlocks === 1 ? 'block' : 'blocks'} of samples never arrived from the device`,
        advice: 'Close other programs and tabs, take the tablet off power saving, plug the interface straight in without a hub.',
        confidence: 1,
        costDb: 1,
      }),
    )
  return found
}

/** Points of frames counted against time that are kept for the rate. */
const MOST_POINTS = 400
const LEAST_SPAN_MS = 30_000
/** How late even the earliest message of a stretch can be. */
const JITTER_MS = 3

/** Measures the device's real rate from when its samples arrive: late by a scattering delay, but never early. */
export class SampleClockMeter {
  private points: DelayPoint[] = []
  private earliest: DelayPoint | undefined

  constructor(private readonly rateHz: number) {}

  /** @param frame number of the frame after the batch's last @param arrivedMs monotonic time */
  push(frame: number, arrivedMs: number): void {
    const y = arrivedMs - (frame / this.rateHz) * 1000
    // Of each second the earliest message is kept.
    if (this.earliest && arrivedMs - this.earliest.x < 1000) {
      if (y < this.earliest.y) this.earliest = { x: this.earliest.x, y }
      return
    }
    if (this.earliest) this.points.push(this.earliest)
    this.earliest = { x: arrivedMs, y }
    if (this.points.length > MOST_POINTS) this.points.shift()
  }

  /** Frames were lost: what came before says nothing of what follows. */
  restart(): void {
    this.points = []
    this.earliest = undefined
  }

  /** Undefined until half a minute was heard. A fast device gains frames, so its delay falls. */
  measure(): SampleClock | undefined {
    const first = this.points[0]
    const last = this.points[this.points.length - 1]
    if (!first || !last || last.x - first.x < LEAST_SPAN_MS) return undefined
    const { slope } = lowerEnvelope(this.points, last.x, 0, LEAST_SPAN_MS)
    return { ppm: -1e6 * slope, uncertaintyPpm: (1e6 * JITTER_MS) / (last.x - first.x) }
  }
}
