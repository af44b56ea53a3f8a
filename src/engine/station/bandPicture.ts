import { createRealFft, hannWindow, SAMPLE_RATE_HZ } from '@/core/dsp'
import type { AudioBlock } from './audioBlock'

/** One line of the band picture. */
export interface PictureRow {
  utcMs: number
  /** Level of each bin in dB over full scale, from 0 Hz, PICTURE_BIN_HZ apart. */
  levels: Float32Array
}

const FFT_SIZE = 3840
const HOP = 1920
export const PICTURE_BIN_HZ = SAMPLE_RATE_HZ / FFT_SIZE
const PICTURE_BINS = Math.ceil(3100 / PICTURE_BIN_HZ)

/** Turns the stream of blocks into lines of a spectrogram, one for each 0.16 s. */
export class BandPicture {
  private readonly fft = createRealFft(FFT_SIZE)
  private readonly window = hannWindow(FFT_SIZE)
  private readonly buffer = new Float32Array(FFT_SIZE)
  private readonly windowed = new Float64Array(FFT_SIZE)
  private readonly re = new Float64Array(FFT_SIZE / 2 + 1)
  private readonly im = new Float64Array(FFT_SIZE / 2 + 1)
  private filled = 0

  constructor(private readonly onRow: (row: PictureRow) => void) {}

  push(block: AudioBlock): void {
    for (let at = 0; at < block.samples.length;) {
      const take = Math.min(FFT_SIZE - this.filled, block.samples.length - at)
      this.buffer.set(block.samples.subarray(at, at + take), this.filled)
      this.filled += take
      at += take
      if (this.filled < FFT_SIZE) return
      this.emit(block.startUtcMs + (at / SAMPLE_RATE_HZ) * 1000)
      this.buffer.copyWithin(0, HOP)
      this.filled = FFT_SIZE - HOP
    }
  }

  private emit(endUtcMs: number): void {
    for (let i = 0; i < FFT_SIZE; i++) this.windowed[i] = this.buffer[i]! * this.window[i]!
    this.fft.forward(this.windowed, this.re, this.im)
    const levels = new Float32Array(PICTURE_BINS)
    // A full-scale sine gives a quarter of the length through this window.
    const scale = 1 / (FFT_SIZE / 4) ** 2
    for (let b = 0; b < PICTURE_BINS; b++) levels[b] = 10 * Math.log10(1e-15 + scale * (this.re[b]! ** 2 + this.im[b]! ** 2))
    this.onRow({ utcMs: endUtcMs - (FFT_SIZE / 2 / SAMPLE_RATE_HZ) * 1000, levels })
  }
}
