/** A frame as a modem heard it. */
export interface HeardFrame {
  /** Without its check sequence. */
  bytes: Uint8Array
  /** Begin of its opening flag and end of its closing one, in seconds of what was pushed. */
  startS: number
  endS: number
  /** Bits on the air that were taken for wrong to make the check sequence fit. */
  mended: number
  /** Bytes that the error correction put right; absent in frames without it. */
  corrected?: number
  /** Strength in dB of full scale, of the stronger tone where there are two. */
  levelDb: number
  /** Signal over noise in 2500 Hz, in dB. A receiver takes its model of a signal to be exact to 20 dB a level: stronger ones are told as that. */
  snrDb: number
  /** How far its tones are above where they should be, in Hz; absent without tones. */
  offsetHz?: number
  /** How much stronger the higher tone is, in dB; absent without tones. */
  twistDb?: number
}

/** What all receivers of frames have in common. */
export interface FrameReceiver {
  /** Takes samples as they come. */
  push(block: Float32Array): HeardFrame[]
  /** Whether a sender is heard now: by the lock of the modem, not by loudness. A steady tone midway between the tones is taken for one. */
  readonly carrier: boolean
}
