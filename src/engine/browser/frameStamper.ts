const WINDOW_MS = 20_000

/**
 * Finds out when audio frames were captured from when their messages arrived. Messages come late by a scattering
 * delay but never early, so the smallest delay of the last seconds is the truth, and it follows the sound device's own rate.
 */
export class FrameStamper {
  private readonly delays: { atMs: number; delayMs: number }[] = []

  constructor(private readonly sampleRateHz: number) {}

  /**
   * @param firstFrame number of the batch's first frame, counted by the device
   * @param frames how many frames the batch holds
   * @param arrivedMs monotonic time at which it arrived
   * @returns monotonic time of the first frame
   */
  stamp(firstFrame: number, frames: number, arrivedMs: number): number {
    const frameMs = (frame: number) => (frame / this.sampleRateHz) * 1000
    const delayMs = arrivedMs - frameMs(firstFrame + frames)
    // Only delays smaller than all newer ones can ever become the smallest.
    while (this.delays.length > 0 && this.delays[this.delays.length - 1]!.delayMs >= delayMs) this.delays.pop()
    this.delays.push({ atMs: arrivedMs, delayMs })
    while (this.delays[0]!.atMs < arrivedMs - WINDOW_MS) this.delays.shift()
    return frameMs(firstFrame) + this.delays[0]!.delayMs
  }
}
