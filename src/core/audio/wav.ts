/**
 * WAV files (RIFF, PCM and IEEE float), read in pieces so that a recording of any length fits in memory, and written.
 */
export interface WavFormat {
  encoding: 'pcm' | 'float'
  bitsPerSample: 8 | 16 | 24 | 32 | 64
  channels: number
  sampleRateHz: number
  /** Bytes of one sample of all channels. */
  bytesPerFrame: number
}

export interface WavHeader {
  format: WavFormat
  /** Where the samples begin and how many bytes they are. */
  dataOffset: number
  dataBytes: number
  frames: number
}

export type WavResult<T> = { ok: true; value: T } | { ok: false; error: string }

/** How much of the start of a file `parseWavHeader` wants to see; chunks of text before the samples may be this long. */
export const WAV_HEADER_BYTES = 1 << 20

const fail = (error: string) => ({ ok: false, error }) as const

/**
 * Reads the header of a WAV file.
 * @param start the first WAV_HEADER_BYTES of the file, or all of it when it is shorter
 * @param fileBytes the length of the whole file
 */
export function parseWavHeader(start: Uint8Array, fileBytes: number): WavResult<WavHeader> {
  if (fileBytes === 0) return fail('the file is empty')
  const tag = (at: number) => String.fromCharCode(...start.subarray(at, at + 4))
  if (start.length < 12 || tag(0) !== 'RIFF' || tag(8) !== 'WAVE')
    return fail('this is not a WAV file (it does not begin with RIFF … WAVE)')
  const view = new DataView(start.buffer, start.byteOffset, start.byteLength)
  let format: WavFormat | undefined
  let at = 12
  while (at + 8 <= start.length) {
    const id = tag(at)
    const size = view.getUint32(at + 4, true)
    if (id === 'fmt ') {
      const parsed = parseFormat(view, at + 8, size)
      if (!parsed.ok) return parsed
      format = parsed.value
    } else if (id === 'data') {
      if (!format) return fail('the samples come before their description (no "fmt " chunk)')
      return describeData(format, at + 8, size, fileBytes)
    }
    at += 8 + size + (size & 1)
  }
  return fail(
    fileBytes > start.length
      ? `no samples within the first ${start.length} bytes`
      : 'the file ends before its samples begin: it is truncated',
  )
}

function describeData(format: WavFormat, dataOffset: number, size: number, fileBytes: number): WavResult<WavHeader> {
  // A recorder that was still writing leaves the length open as all ones.
  const open = size === 0xffffffff
  const present = fileBytes - dataOffset
  if (!open && size > present)
    return fail(`the file is truncated: ${size} bytes of samples are announced, ${Math.max(0, present)} are there`)
  const dataBytes = open ? present : size
  const frames = Math.floor(dataBytes / format.bytesPerFrame)
  if (frames === 0) return fail('the file holds no audio')
  return { ok: true, value: { format, dataOffset, dataBytes: frames * format.bytesPerFrame, frames } }
}

function parseFormat(view: DataView, at: number, size: number): WavResult<WavFormat> {
  if (size < 16 || at + 16 > view.byteLength) return fail('the description of the samples is cut short ("fmt " chunk)')
  let code = view.getUint16(at, true)
  const channels = view.getUint16(at + 2, true)
  const sampleRateHz = view.getUint32(at + 4, true)
  const bits = view.getUint16(at + 14, true)
  // The extensible form keeps the real code at the start of its identifier.
  if (code === 0xfffe && size >= 40 && at + 26 <= view.byteLength) code = view.getUint16(at + 24, true)
  if (code !== 1 && code !== 3) return fail(`the samples are compressed (format ${code}); save the recording as PCM or float`)
  const encoding = code === 1 ? 'pcm' : 'float'
  const allowed = encoding === 'pcm' ? [8, 16, 24, 32] : [32, 64]
  if (!allowed.includes(bits)) return fail(`${bits}-bit ${encoding} samples are not supported; ${allowed.join(', ')} are`)
  if (channels < 1 || channels > 32) return fail(`${channels} channels are not supported`)
  if (sampleRateHz < 8000 || sampleRateHz > 192_000) return fail(`${sampleRateHz} samples a second are not supported; 8000 to 192000 are`)
  const bitsPerSample = bits as WavFormat['bitsPerSample']
  return { ok: true, value: { encoding, bitsPerSample, channels, sampleRateHz, bytesPerFrame: (bits / 8) * channels } }
}

/**
 * Turns whole frames into the samples of each channel, full scale ±1; what is no number becomes silence.
 * @param bytes a whole number of frames
 */
export function decodeChannels(bytes: Uint8Array, format: WavFormat): Float32Array[] {
  const { channels, bytesPerFrame } = format
  const frames = Math.floor(bytes.length / bytesPerFrame)
  const read = sampleReader(new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength), format)
  const width = format.bitsPerSample / 8
  return Array.from({ length: channels }, (_, c) => {
    const out = new Float32Array(frames)
    for (let i = 0; i < frames; i++) {
      out[i] = finite(read(i * bytesPerFrame + c * width))
    }
    return out
  })
}

/**
 * Turns whole frames into mono samples, full scale ±1. Two channels are averaged unless one of them is silent.
 * @param bytes a whole number of frames
 */
export function decodeFrames(bytes: Uint8Array, format: WavFormat): Float32Array {
  const { channels, bytesPerFrame } = format
  const frames = Math.floor(bytes.length / bytesPerFrame)
  const read = sampleReader(new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength), format)
  const width = format.bitsPerSample / 8
  const out = new Float32Array(frames)
  const energy = new Float64Array(channels)
  for (let i = 0; i < frames; i++) for (let c = 0; c < channels; c++) energy[c]! += Math.abs(finite(read(i * bytesPerFrame + c * width)))
  const loudest = Math.max(...energy)
  const used = [...energy.keys()].filter((c) => energy[c]! > loudest * 1e-3)
  if (used.length === 0) return out
  for (let i = 0; i < frames; i++) {
    let sum = 0
    for (const c of used) sum += finite(read(i * bytesPerFrame + c * width))
    out[i] = sum / used.length
  }
  return out
}

/** What is no number is silence, for itself alone. */
const finite = (value: number) => (Number.isFinite(value) ? value : 0)

/** Why a file of float samples cannot be heard although it has some. */
export const NO_NUMBERS = 'none of its samples is a number: whatever wrote this recording failed'

/** Whether any sample in these whole frames is a number; integers always are. */
export function holdsNumbers(bytes: Uint8Array, format: WavFormat): boolean {
  if (format.encoding !== 'float') return true
  const read = sampleReader(new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength), format)
  const width = format.bitsPerSample / 8
  for (let at = 0; at + width <= bytes.length; at += width) if (Number.isFinite(read(at))) return true
  return false
}

function sampleReader(view: DataView, { encoding, bitsPerSample }: WavFormat): (at: number) => number {
  if (encoding === 'float') return bitsPerSample === 32 ? (at) => view.getFloat32(at, true) : (at) => view.getFloat64(at, true)
  switch (bitsPerSample) {
    case 8:
      return (at) => (view.getUint8(at) - 128) / 128
    case 16:
      return (at) => view.getInt16(at, true) / 32_768
    case 24:
      return (at) => (view.getUint8(at) | (view.getUint8(at + 1) << 8) | (view.getInt8(at + 2) << 16)) / 8_388_608
    default:
      return (at) => view.getInt32(at, true) / 2_147_483_648
  }
}

/** Reads a whole WAV file that is already in memory as mono samples. */
export function decodeWav(bytes: Uint8Array): WavResult<{ samples: Float32Array; sampleRateHz: number }> {
  const header = parseWavHeader(bytes.subarray(0, WAV_HEADER_BYTES), bytes.length)
  if (!header.ok) return header
  const { dataOffset, dataBytes, format } = header.value
  const data = bytes.subarray(dataOffset, dataOffset + dataBytes)
  if (!holdsNumbers(data, format)) return { ok: false, error: NO_NUMBERS }
  return { ok: true, value: { samples: decodeFrames(data, format), sampleRateHz: format.sampleRateHz } }
}

/** Writes mono samples (full scale ±1, clipped beyond) as a 16-bit PCM file. */
export function encodeWav(samples: Float32Array, sampleRateHz: number): Uint8Array<ArrayBuffer> {
  return encodeWavChannels([samples], sampleRateHz)
}

/** Writes channels of equal length (full scale ±1, clipped beyond) as a 16-bit PCM file. @param channels 1 to 32 */
export function encodeWavChannels(channels: readonly Float32Array[], sampleRateHz: number): Uint8Array<ArrayBuffer> {
  const width = 2 * channels.length
  const frames = channels[0]!.length
  const bytes = new Uint8Array(44 + frames * width)
  const view = new DataView(bytes.buffer)
  const put = (at: number, text: string) => [...text].forEach((c, i) => view.setUint8(at + i, c.charCodeAt(0)))
  put(0, 'RIFF')
  view.setUint32(4, 36 + frames * width, true)
  put(8, 'WAVEfmt ')
  view.setUint32(16, 16, true)
  view.setUint16(20, 1, true)
  view.setUint16(22, channels.length, true)
  view.setUint32(24, sampleRateHz, true)
  view.setUint32(28, sampleRateHz * width, true)
  view.setUint16(32, width, true)
  view.setUint16(34, 16, true)
  put(36, 'data')
  view.setUint32(40, frames * width, true)
  channels.forEach((samples, c) => {
    for (let i = 0; i < frames; i++) {
      const scaled = Math.round(Math.max(-1, Math.min(1, samples[i]!)) * 32_767)
      view.setInt16(44 + width * i + 2 * c, scaled, true)
    }
  })
  return bytes
}
