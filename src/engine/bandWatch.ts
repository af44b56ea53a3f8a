import { createLaneMeter } from '@/core/ft8'
import type { AudioBlock } from './audioBlock'
import { BandPicture, PICTURE_BIN_HZ, type PictureRow } from './bandPicture'
import type { StationState } from './stationState'

/** One minute of the band picture, six rows a second, so that it is there when its screen is opened. */
const KEPT_ROWS = 375

/** Watches the whole band: makes its picture, and measures which lanes are taken. */
export class BandWatch {
  private readonly listeners = new Set<(row: PictureRow) => void>()
  private rows: PictureRow[] = []
  private picture = this.createPicture()
  private laneMeter = this.createLaneMeter()

  constructor(private readonly onOccupancy: (occupancy: StationState['occupancy']) => void) {}

  /** Begins anew with another source. */
  restart(): void {
    this.rows = []
    this.picture = this.createPicture()
    this.laneMeter = this.createLaneMeter()
  }

  push(block: AudioBlock): void {
    this.picture.push(block)
  }

  /** While the own station transmits, what is heard says nothing of the lanes. */
  forget(slotIndex: number): void {
    this.laneMeter.forget(slotIndex)
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
      this.laneMeter.push(row.utcMs, row.levels)
    })
  }

  private createLaneMeter() {
    return createLaneMeter(PICTURE_BIN_HZ, (occupancy) => this.onOccupancy(occupancy))
  }
}
