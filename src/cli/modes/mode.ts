/** Options of `zeptik decode`, as they were given. */
export interface DecodeValues {
  json: boolean
  start?: string
  'slot-utc'?: string
  own?: string
  other?: string
  expect?: string[]
  depth?: string
  plain?: boolean
}

/** Reads one recording, block by block, and prints what it finds. */
export interface FileDecoder {
  push(block: Float32Array): void
  /** @returns something that deserves a word although nothing went wrong */
  flush(): string | undefined
}

export interface EncodeValues {
  sampleRateHz: number
  frequencyHz: number
  level: number
  /** Check bytes of an error correction, in modes that have one. */
  correction?: number
}

/** What the command line can do with a mode. */
export interface CliMode {
  /** Rate at which recordings are read. */
  sampleRateHz: number
  /** Options of `decode` that belong to this mode, beside those of every one. */
  decodeOptions: readonly (keyof DecodeValues)[]
  /** @param file named with each finding, where there are several @throws {UsageError} options that cannot be */
  openDecoder(values: DecodeValues, file: string | undefined): FileDecoder
  /** How wide a signal is, in Hz: it must fit below half the rate. */
  widthHz: number
  /** Middle of its signal where nothing is said; absent: where it lies is not a matter of choice. */
  usualHz: number | undefined
  /** @throws {CommandError} a text that cannot be sent */
  encode(text: string, values: EncodeValues): Float32Array
}

export const rounded = (value: number, digits: number): number => {
  const result = Number(value.toFixed(digits))
  return result === 0 ? 0 : result
}
