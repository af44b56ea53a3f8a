/** What the operator sent, or a piece of it, as it left the modulator. */
export interface OperatorAudio {
  samples: Float32Array
  sampleRateHz: number
  /** When its first sample went out, in the world's time. */
  startUtcMs: number
  /** Whether the transmission ends with it. */
  last: boolean
}

/** A band for practice: a world in time, in which stations talk and hear the operator. The same seed and doings give the same world. */
export interface PracticeWorld {
  /** How many are on it, for the screen. */
  readonly label: string
  /** Milliseconds of audio that are best asked for at once: what stations do is settled for so long beforehand. */
  readonly stepMs: number
  /** What is on the air, at 12 kHz. Stretches are asked for in order; what was left out has passed by. */
  render(fromUtcMs: number, count: number): Float32Array
  /**
   * Hands over what the operator sent, in pieces of any length, in order. Stations answer only what they could copy.
   * @returns when a transmission has ended: what was copied of it, or null when nothing was; undefined before
   */
  hear(audio: OperatorAudio): string | null | undefined
  /** The operator has begun to send something that is going to end then: where stations listen before they send, they hear that. */
  keyed?(startUtcMs: number, endUtcMs: number): void
  /** Faults of the band itself, by their names, where it has any. */
  setFaults?(faults: readonly string[]): void
}
