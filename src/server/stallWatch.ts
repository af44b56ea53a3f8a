import { monitorEventLoopDelay, type IntervalHistogram } from 'node:perf_hooks'

const RESOLUTION_MS = 5
const KEPT_MS = 60_000

/** How long this process was deaf at most within the last one to two minutes: whoever presses "off" must not wait for it. */
export class StallWatch {
  private readonly now: IntervalHistogram = monitorEventLoopDelay({ resolution: RESOLUTION_MS })
  private before = 0
  private readonly timer: ReturnType<typeof setInterval>

  constructor() {
    this.now.enable()
    this.timer = setInterval(() => {
      this.before = this.now.max / 1e6
      this.now.reset()
    }, KEPT_MS)
    this.timer.unref()
  }

  /** In ms; 0 while nothing was measured. */
  get longestMs(): number {
    return Math.max(0, Math.max(this.before, this.now.max / 1e6) - RESOLUTION_MS)
  }

  close(): void {
    clearInterval(this.timer)
    this.now.disable()
  }
}
