const { sqrt, log, imul } = Math
/** A source of uniform numbers in [0, 1), passed in wherever chance plays a part so that every run replays. */
export type Random = () => number

/**
 * Creates a seeded uniform source (the public-domain xoshiro128** recurrence, seeded by splitmix32).
 * @param seed any integer; the same seed gives the same sequence
 */
export function createRandom(seed: number): Random {
  let mix = seed | 0
  const next32 = () => {
    mix = (mix + 0x9e3779b9) | 0
    let z = mix
    z = imul(z ^ (z >>> 16), 0x21f0aaad)
    z = imul(z ^ (z >>> 15), 0x735a2d97)
    return (z ^ (z >>> 15)) >>> 0
  }
  let a = next32()
  let b = next32()
  let c = next32()
  let d = next32()
  return () => {
    const r = imul(rotateLeft(imul(b, 5), 7), 9) >>> 0
    const t = b << 9
    c ^= a
    d ^= b
    b ^= c
    a ^= d
    c ^= t
    d = rotateLeft(d, 11)
    return r / 4294967296
  }
}

function rotateLeft(x: number, k: number): number {
  return (x << k) | (x >>> (32 - k))
}

/** Creates a source of normally distributed numbers, mean 0 and deviation 1 (Marsaglia's polar method). */
export function createGaussian(random: Random): () => number {
  let spare: number | undefined
  return () => {
    if (spare !== undefined) {
      const value = spare
      spare = undefined
      return value
    }
    for (;;) {
      const u = 2 * random() - 1
      const v = 2 * random() - 1
      const s = u * u + v * v
      if (s > 0 && s < 1) {
        const scale = sqrt((-2 * log(s)) / s)
        spare = v * scale
        return u * scale
      }
    }
  }
}

/** White noise of a given root mean square. */
export function whiteNoise(length: number, rms: number, seed: number): Float32Array {
  const gaussian = createGaussian(createRandom(seed))
  const out = new Float32Array(length)
  for (let i = 0; i < length; i++) out[i] = rms * gaussian()
  return out
}
