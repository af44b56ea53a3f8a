import { open, type FileHandle } from 'node:fs/promises'
import { createResampler } from '@/core/dsp/resampler'
import { decodeFrames, parseWavHeader, WAV_HEADER_BYTES } from '@/core/audio/wav'
import { CommandError, fileProblem } from './errors'

const FRAMES_AT_A_TIME = 262_144

/**
 * Streams a WAV file as mono samples of another rate, so that a recording of a whole day needs little memory.
 * @throws {CommandError} no file, not a WAV, truncated, no audio
 */
export async function* readWavFile(path: string, toHz: number): AsyncGenerator<Float32Array> {
  let file: FileHandle
  try {
    file = await open(path, 'r')
  } catch (error) {
    throw fileProblem(path, error)
  }
  try {
    const { size } = await file.stat()
    const start = new Uint8Array(Math.min(size, WAV_HEADER_BYTES))
    await file.read(start, 0, start.length, 0)
    const header = parseWavHeader(start, size)
    if (!header.ok) throw new CommandError(`${path}: ${header.error}`)
    const { format, dataOffset, dataBytes } = header.value
    const resampler = createResampler(format.sampleRateHz, toHz)
    const buffer = new Uint8Array(FRAMES_AT_A_TIME * format.bytesPerFrame)
    for (let at = 0; at < dataBytes;) {
      const { bytesRead } = await file.read(buffer, 0, Math.min(buffer.length, dataBytes - at), dataOffset + at)
      const whole = bytesRead - (bytesRead % format.bytesPerFrame)
      if (whole === 0) throw new CommandError(`${path}: the file ended while it was read`)
      yield resampler.push(decodeFrames(buffer.subarray(0, whole), format))
      at += whole
    }
    yield resampler.flush()
  } catch (error) {
    throw error instanceof CommandError ? error : fileProblem(path, error)
  } finally {
    await file.close()
  }
}
