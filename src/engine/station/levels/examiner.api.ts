import type { AudioReport } from '@/core/audio'

/** A stretch of audio on its way to the level coach. */
export interface AudioPiece {
  channels: Float32Array[]
  rateHz: number
  /** The same at 12 kHz, as the station has made it. */
  mono: Float32Array
}

/** What the level worker does. */
export interface ExaminerApi {
  /** Takes the next samples of each channel, and the same as mono at 12 kHz. @returns a report when one is wanted and there is enough to judge */
  examine(piece: AudioPiece, wantReport: boolean): AudioReport | undefined
  /** Forgets what was heard. */
  restart(): void
}
