import { open, type FileHandle } from 'node:fs/promises'
import { createResampler } from '@/core/dsp/resampler'
import { decodeChannels, decodeFrames, holdsNumbers, NO_NUMBERS, parseWavHeader, WAV_HEADER_BYTES, type WavFormat } from '@/core/audio/wav'
import { CommandError, fileProblem } from './errors'

const FRAMES_AT_A_TIME = 262_144

/** A WAV file that streams in pieces, so that a recording of a whole day needs little memory. */
export interface WavFile {
  format: WavFormat
  frames: number
  /** The samples of each channel, piece by piece; the file is closed at its end. */
  blocks: AsyncGenerator<Float32Array[]>
  /** The same as mono samples of another rate. */
  mono: (toHz: number) => AsyncGenerator<Float32Array>
}

/**
 * Opens a WAV file.
 * @throws {CommandError} no file, not a WAV, truncated, no audio; the generators throw it as well
 */
export async function openWavFile(path: string): Promise<WavFile> {
  const file = await open(path, 'r').catch((error: unknown) => {
    throw fileProblem(path, error)
  })
  try {
    const { size } = await file.stat()
    const start = new Uint8Array(Math.min(size, WAV_HEADER_BYTES))
    await file.read(start, 0, start.length, 0)
    const header = parseWavHeader(start, size)
    if (!header.ok) throw new CommandError(`${path}: ${header.error}`)
    const { format, dataOffset, dataBytes, frames } = header.value
    const pieces = () => readPieces(path, file, format, { from: dataOffset, bytes: dataBytes })
    return { format, frames, blocks: split(pieces(), format), mono: (toHz) => joined(pieces(), format, toHz) }
  } catch (error) {
    await file.close()
    throw error instanceof CommandError ? error : fileProblem(path, error)
  }
}

/** Streams a WAV file as mono samples of another rate. @throws {CommandError} as `openWavFile` */
export async function* readWavFile(path: string, toHz: number): AsyncGenerator<Float32Array> {
  yield* (await openWavFile(path)).mono(toHz)
}

async function* readPieces(
  path: string,
  file: FileHandle,
  format: WavFormat,
  data: { from: number; bytes: number },
): AsyncGenerator<Uint8Array> {
  const { bytesPerFrame } = format
  const buffer = new Uint8Array(FRAMES_AT_A_TIME * bytesPerFrame)
  let numbers = false
  try {
    for (let at = 0; at < data.bytes;) {
      const { bytesRead } = await file.read(buffer, 0, Math.min(buffer.length, data.bytes - at), data.from + at)
      const whole = bytesRead - (bytesRead % bytesPerFrame)
      if (whole === 0) throw new CommandError(`${path}: the file ended while it was read`)
      numbers ||= holdsNumbers(buffer.subarray(0, whole), format)
      yield buffer.subarray(0, whole)
      at += whole
    }
    if (!numbers) throw new CommandError(`${path}: ${NO_NUMBERS}`)
  } catch (error) {
    throw error instanceof CommandError ? error : fileProblem(path, error)
  } finally {
    await file.close()
  }
}

async function* split(pieces: AsyncGenerator<Uint8Array>, format: WavFormat): AsyncGenerator<Float32Array[]> {
  for await (const piece of pieces) yield decodeChannels(piece, format)
}

async function* joined(pieces: AsyncGenerator<Uint8Array>, format: WavFormat, toHz: number): AsyncGenerator<Float32Array> {
  const resampler = createResampler(format.sampleRateHz, toHz)
  for await (const piece of pieces) yield resampler.push(decodeFrames(piece, format))
  yield resampler.flush()
}
