import type { AudioBlock } from './audioBlock'
import { BandPicture, type PictureRow } from './bandPicture'

/** One minute of the band picture, six rows a second, so that it is there when its screen is opened. */
const KEPT_ROWS = 375

/** Watches the whole band and makes its picture. */
export class BandWatch {
  private readonly listeners = new Set<(row: PictureRow) => void>()
  private rows: PictureRow[] = []
  private picture = this.createPicture()

  constructor(private readonly onRow: (row: PictureRow) => void) {}

  /** Begins anew with another source. */
  restart(): void {
    this.rows = []
    this.picture = this.createPicture()
  }

  push(block: AudioBlock): void {
    this.picture.push(block)
  }

  /** Hands over the rows of the last minute at once, then each new one. @returns a function that ends it */
  onPicture(listener: (row: PictureRow) => void): () => void {
    this.rows.forEach(listener)
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  private createPicture(): BandPicture {
    return new BandPicture((row) => {
      this.rows.push(row)
      if (this.rows.length > KEPT_ROWS) this.rows.shift()
      this.listeners.forEach((listener) => listener(row))
      this.onRow(row)
    })
  }
}
