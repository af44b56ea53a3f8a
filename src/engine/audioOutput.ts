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
