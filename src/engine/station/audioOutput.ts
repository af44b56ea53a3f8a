/** Audio as it is made. */
export interface SampleStream {
  /** Fills a buffer. @returns how many samples of it were filled; fewer than its length once it is over */
  next(out: Float32Array): number
}

/** Audio that is there as a whole. */
export function streamOf(samples: Float32Array): SampleStream {
  let at = 0
  return {
    next(out) {
      const part = samples.subarray(at, at + out.length)
      out.set(part)
      at += part.length
      return part.length
    },
  }
}

/** A transmission as the output needs it. */
export interface PlayRequest {
  id: string
  what: string
  stream: SampleStream
  sampleRateHz: number
  /** UTC of the first sample. If that is past, as much is cut from the front: nothing is ever shifted. */
  startUtcMs: number
  /** Length of the whole in samples where it is known: it is then pulled at once, so that a busy page cannot tear it. Else it is pulled as it is played. */
  length?: number
  /** A test of levels: meant for nobody on the band. */
  test?: boolean
}

/** Where transmitted audio goes. */
export interface AudioOutput {
  readonly sampleRateHz: number
  /** Starts at the exact instant; `onEnded` comes once, when the last sample has been played or it was stopped. */
  play(request: PlayRequest, onEnded: (complete: boolean) => void): void
  /** Silent at once. */
  stop(): void
  /** How much earlier than asked audio is handed to the device, so that it leaves at its instant. */
  setDelayMs?(delayMs: number): void
  /** For outputs that are no sound device: what a monitor hears of the latest test, 12 kHz from its start on. */
  monitor?(): Float32Array | undefined
}

/** All samples of a stream whose length is known. */
export function drain(stream: SampleStream, length: number): Float32Array {
  const samples = new Float32Array(length)
  return samples.subarray(0, stream.next(samples))
}
