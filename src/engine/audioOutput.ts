/** A transmission as the output needs it. */
export interface PlayRequest {
  id: string
  text: string
  samples: Float32Array
  sampleRateHz: number
  /** UTC of the first sample. If that is past, as much is cut from the front: nothing is ever shifted. */
  startUtcMs: number
  /** What the transmission carries, for outputs that are no sound device. */
  audioOffsetHz: number
  slotIndex: number
}

/** Where transmitted audio goes. */
export interface AudioOutput {
  readonly sampleRateHz: number
  /** Starts at the exact instant; `onEnded` comes once, when the last sample has been played or it was stopped. */
  play(request: PlayRequest, onEnded: (complete: boolean) => void): void
  /** Silent at once. */
  stop(): void
}
