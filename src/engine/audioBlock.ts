/** A stretch of received audio: 12 kHz, mono, stamped by the timebase. */
export interface AudioBlock {
  samples: Float32Array
  /** UTC of the first sample. */
  startUtcMs: number
}

/** Where audio comes from: all kinds enter the station by this one door. */
export interface AudioSource {
  readonly kind: 'microphone' | 'recording' | 'practice'
  /** Name of the device, file or band, for the screen. */
  readonly label: string
  stop(): void
}

export type OnBlock = (block: AudioBlock) => void
