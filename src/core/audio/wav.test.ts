import fc from 'fast-check'
import { decodeWav, encodeWav, parseWavHeader } from './wav'

interface Wanted {
  code?: number
  bits: number
  channels?: number
  rate?: number
  frames: number[][]
  extensible?: boolean
  before?: Uint8Array
}

/** Writes a WAV file of any kind, for reading it back. */
function makeWav({
  code = 1,
  bits,
  channels = 1,
  rate = 12_000,
  frames,
  extensible = false,
  before = new Uint8Array(0),
}: Wanted): Uint8Array {
  const width = bits / 8
  const fmt = extensible ? 40 : 16
  const data = frames.length * channels * width
  const bytes = new Uint8Array(12 + 8 + fmt + before.length + 8 + data)
  const view = new DataView(bytes.buffer)
  const put = (at: number, text: string) => [...text].forEach((c, i) => view.setUint8(at + i, c.charCodeAt(0)))
  put(0, 'RIFF')
  view.setUint32(4, bytes.length - 8, true)
  put(8, 'WAVEfmt ')
  view.setUint32(16, fmt, true)
  view.setUint16(20, extensible ? 0xfffe : code, true)
  view.setUint16(22, channels, true)
  view.setUint32(24, rate, true)
  view.setUint16(34, bits, true)
  if (extensible) view.setUint16(44, code, true)
  let at = 20 + fmt
  bytes.set(before, at)
  at += before.length
  put(at, 'data')
  view.setUint32(at + 4, data, true)
  at += 8
  for (const frame of frames)
    for (const value of frame) {
      if (code === 3 && bits === 32) view.setFloat32(at, value, true)
      else if (code === 3) view.setFloat64(at, value, true)
      else if (bits === 8) view.setUint8(at, Math.round(value * 127) + 128)
      else if (bits === 16) view.setInt16(at, Math.round(value * 32_767), true)
      else if (bits === 24) {
        const n = Math.round(value * 8_388_607)
        view.setUint8(at, n & 255)
        view.setUint8(at + 1, (n >> 8) & 255)
        view.setInt8(at + 2, n >> 16)
      } else view.setInt32(at, Math.round(value * 2_147_483_647), true)
      at += width
    }
  return bytes
}

const values = [0, 0.5, -0.5, 0.99, -0.99]

describe('decodeWav', () => {
  it.each([
    [1, 8, 0.01],
    [1, 16, 1e-4],
    [1, 24, 1e-6],
    [1, 32, 1e-6],
    [3, 32, 1e-6],
    [3, 64, 1e-6],
  ])('reads format %i with %i bits', (code, bits, error) => {
    for (const extensible of [false, true]) {
      const read = decodeWav(makeWav({ code, bits, extensible, frames: values.map((v) => [v]) }))
      if (!read.ok) throw new Error(read.error)
      expect(read.value.sampleRateHz).toBe(12_000)
      read.value.samples.forEach((v, i) => expect(Math.abs(v - values[i]!)).toBeLessThan(error))
    }
  })

  it('averages two channels, and takes the live one when the other is dead', () => {
    const both = decodeWav(makeWav({ bits: 16, channels: 2, frames: [[0.2, 0.4]] }))
    expect(both.ok && both.value.samples[0]).toBeCloseTo(0.3, 3)
    const one = decodeWav(
      makeWav({
        bits: 16,
        channels: 2,
        frames: [
          [0, 0.4],
          [0, -0.4],
        ],
      }),
    )
    expect(one.ok && one.value.samples[0]).toBeCloseTo(0.4, 3)
  })

  it('passes over chunks that it does not know', () => {
    const note = new Uint8Array([...'LIST'].map((c) => c.charCodeAt(0)).concat([3, 0, 0, 0, 1, 2, 3, 0]))
    expect(decodeWav(makeWav({ bits: 16, before: note, frames: [[0.1]] })).ok).toBe(true)
  })

  const good = makeWav({ bits: 16, frames: values.map((v) => [v]) })
  it.each([
    ['nothing', new Uint8Array(0), /empty/],
    ['other things', new TextEncoder().encode('this is a letter, not a recording'), /not a WAV/],
    ['a cut header', good.subarray(0, 30), /cut short|truncated/],
    ['cut samples', good.subarray(0, good.length - 3), /truncated/],
    ['no samples', makeWav({ bits: 16, frames: [] }), /no audio/],
    ['compressed samples', makeWav({ code: 6, bits: 8, frames: [[0]] }), /compressed/],
    ['odd widths', makeWav({ bits: 16, frames: [[0]] }).map((b, i) => (i === 34 ? 12 : b)), /12-bit/],
    ['an odd rate', makeWav({ bits: 16, rate: 4000, frames: [[0]] }), /8000 to 192000/],
  ])('says what is wrong with %s', (_, bytes, why) => {
    const read = decodeWav(bytes)
    expect(read.ok).toBe(false)
    if (!read.ok) expect(read.error).toMatch(why)
  })

  it('never throws on garbage', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), fc.nat(200), (garbage, cut) => {
        const mixed = good.slice()
        mixed.set(garbage.subarray(0, Math.max(0, mixed.length - (cut % mixed.length))), cut % mixed.length)
        expect(() => decodeWav(mixed)).not.toThrow()
        expect(() => parseWavHeader(garbage, garbage.length)).not.toThrow()
      }),
      { seed: 3, numRuns: 500 },
    )
  })
})

describe('encodeWav', () => {
  it('comes back the same to a 16-bit step, and clips', () => {
    const read = decodeWav(encodeWav(Float32Array.from([...values, 2, -2]), 48_000))
    if (!read.ok) throw new Error(read.error)
    ;[...values, 1, -1].forEach((v, i) => expect(Math.abs(read.value.samples[i]! - v)).toBeLessThan(1e-4))
  })

  it('of which one sample is no number loses that one alone, and of which none is one is refused', () => {
    const file = (values: number[]) => {
      const bytes = new Uint8Array(44 + 4 * values.length)
      const view = new DataView(bytes.buffer)
      const put = (at: number, text: string) => [...text].forEach((c, i) => view.setUint8(at + i, c.charCodeAt(0)))
      put(0, 'RIFF')
      view.setUint32(4, bytes.length - 8, true)
      put(8, 'WAVEfmt ')
      view.setUint32(16, 16, true)
      view.setUint16(20, 3, true)
      view.setUint16(22, 1, true)
      view.setUint32(24, 12_000, true)
      view.setUint32(28, 48_000, true)
      view.setUint16(32, 4, true)
      view.setUint16(34, 32, true)
      put(36, 'data')
      view.setUint32(40, 4 * values.length, true)
      values.forEach((value, i) => view.setFloat32(44 + 4 * i, value, true))
      return bytes
    }
    const some = decodeWav(file([0.5, Number.NaN, -0.25]))
    expect(some.ok && [...some.value.samples]).toEqual([0.5, 0, -0.25])
    expect(decodeWav(file([Number.NaN, Infinity]))).toEqual({ ok: false, error: expect.stringMatching(/none of its samples is a number/) })
  })
})
