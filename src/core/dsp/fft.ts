/**
 * A fast Fourier transform for lengths whose only prime factors are 2, 3 and 5.
 *
 * FT8's symbol is 1920 samples at 12 kHz (2^7 x 15), so a power-of-two transform would force a resampler
 * between the protocol's own grid and ours. Autosorting (Stockham) butterflies keep every pass sequential in memory.
 */
export interface ComplexFft {
  readonly length: number
  /** Transforms in place; `re` and `im` hold `length` values each. No scaling. */
  forward(re: Float64Array, im: Float64Array): void
  /** Inverse transform in place, scaled by 1 / length. */
  inverse(re: Float64Array, im: Float64Array): void
}

export interface RealFft {
  readonly length: number
  /** Fills the first length / 2 + 1 bins of `re` and `im` from `length` real samples. No scaling. */
  forward(samples: ArrayLike<number>, re: Float64Array, im: Float64Array): void
  /** Inverse of `forward`: length / 2 + 1 bins to `length` real samples, scaled by 1 / length. */
  inverse(re: Float64Array, im: Float64Array, samples: Float64Array | Float32Array): void
}

function factorise(length: number): number[] {
  const factors: number[] = []
  let rest = length
  for (const radix of [4, 2, 3, 5]) {
    while (rest % radix === 0) {
      factors.push(radix)
      rest /= radix
    }
  }
  if (rest !== 1) throw new RangeError(`FFT length may only hold the factors 2, 3 and 5, got ${length}`)
  return factors
}

/**
 * Creates a complex transform.
 * @param length product of powers of 2, 3 and 5, at least 1
 * @throws {RangeError} any other length
 */
export function createFft(length: number): ComplexFft {
  if (!Number.isInteger(length) || length < 1) throw new RangeError(`FFT length must be a positive integer, got ${length}`)
  const factors = factorise(length)
  const cos = new Float64Array(length)
  const sin = new Float64Array(length)
  for (let i = 0; i < length; i++) {
    cos[i] = Math.cos((2 * Math.PI * i) / length)
    sin[i] = -Math.sin((2 * Math.PI * i) / length)
  }
  const scratchRe = new Float64Array(length)
  const scratchIm = new Float64Array(length)

  const forward = (re: Float64Array, im: Float64Array): void => {
    let xr: Plane = re
    let xi: Plane = im
    let yr: Plane = scratchRe
    let yi: Plane = scratchIm
    let n = length
    let stride = 1
    for (const radix of factors) {
      const m = n / radix
      if (radix === 4) pass4(xr, xi, yr, yi, m, stride, cos, sin)
      else if (radix === 2) pass2(xr, xi, yr, yi, m, stride, cos, sin)
      else if (radix === 3) pass3(xr, xi, yr, yi, m, stride, cos, sin)
      else pass5(xr, xi, yr, yi, m, stride, cos, sin)
      const tr = xr
      const ti = xi
      xr = yr
      xi = yi
      yr = tr
      yi = ti
      n = m
      stride *= radix
    }
    if (xr !== re) {
      re.set(xr)
      im.set(xi)
    }
  }

  return {
    length,
    forward,
    inverse(re, im) {
      // Swapping the parts conjugates before and after, which turns the forward transform into the inverse.
      forward(im, re)
      const scale = 1 / length
      for (let i = 0; i < length; i++) {
        re[i]! *= scale
        im[i]! *= scale
      }
    },
  }
}

type Plane = Float64Array

function pass2(xr: Plane, xi: Plane, yr: Plane, yi: Plane, m: number, s: number, cos: Plane, sin: Plane): void {
  for (let p = 0; p < m; p++) {
    const wr = cos[p * s]!
    const wi = sin[p * s]!
    const a = s * p
    const b = s * (p + m)
    const o = s * 2 * p
    for (let q = 0; q < s; q++) {
      const ar = xr[a + q]!
      const ai = xi[a + q]!
      const br = xr[b + q]!
      const bi = xi[b + q]!
      yr[o + q] = ar + br
      yi[o + q] = ai + bi
      const dr = ar - br
      const di = ai - bi
      yr[o + s + q] = dr * wr - di * wi
      yi[o + s + q] = dr * wi + di * wr
    }
  }
}

function pass3(xr: Plane, xi: Plane, yr: Plane, yi: Plane, m: number, s: number, cos: Plane, sin: Plane): void {
  const half = -0.5
  const root = -Math.sqrt(3) / 2
  for (let p = 0; p < m; p++) {
    const w1r = cos[p * s]!
    const w1i = sin[p * s]!
    const w2r = cos[2 * p * s]!
    const w2i = sin[2 * p * s]!
    const a = s * p
    const b = s * (p + m)
    const c = s * (p + 2 * m)
    const o = s * 3 * p
    for (let q = 0; q < s; q++) {
      const ar = xr[a + q]!
      const ai = xi[a + q]!
      const sr = xr[b + q]! + xr[c + q]!
      const si = xi[b + q]! + xi[c + q]!
      const dr = (xr[b + q]! - xr[c + q]!) * root
      const di = (xi[b + q]! - xi[c + q]!) * root
      yr[o + q] = ar + sr
      yi[o + q] = ai + si
      const hr = ar + half * sr
      const hi = ai + half * si
      const ur = hr - di
      const ui = hi + dr
      const vr = hr + di
      const vi = hi - dr
      yr[o + s + q] = ur * w1r - ui * w1i
      yi[o + s + q] = ur * w1i + ui * w1r
      yr[o + 2 * s + q] = vr * w2r - vi * w2i
      yi[o + 2 * s + q] = vr * w2i + vi * w2r
    }
  }
}

function pass4(xr: Plane, xi: Plane, yr: Plane, yi: Plane, m: number, s: number, cos: Plane, sin: Plane): void {
  for (let p = 0; p < m; p++) {
    const w1r = cos[p * s]!
    const w1i = sin[p * s]!
    const w2r = cos[2 * p * s]!
    const w2i = sin[2 * p * s]!
    const w3r = cos[3 * p * s]!
    const w3i = sin[3 * p * s]!
    const a = s * p
    const b = s * (p + m)
    const c = s * (p + 2 * m)
    const d = s * (p + 3 * m)
    const o = s * 4 * p
    for (let q = 0; q < s; q++) {
      const apcR = xr[a + q]! + xr[c + q]!
      const apcI = xi[a + q]! + xi[c + q]!
      const amcR = xr[a + q]! - xr[c + q]!
      const amcI = xi[a + q]! - xi[c + q]!
      const bpdR = xr[b + q]! + xr[d + q]!
      const bpdI = xi[b + q]! + xi[d + q]!
      const bmdR = xr[b + q]! - xr[d + q]!
      const bmdI = xi[b + q]! - xi[d + q]!
      yr[o + q] = apcR + bpdR
      yi[o + q] = apcI + bpdI
      const t2r = apcR - bpdR
      const t2i = apcI - bpdI
      const t1r = amcR + bmdI
      const t1i = amcI - bmdR
      const t3r = amcR - bmdI
      const t3i = amcI + bmdR
      yr[o + s + q] = t1r * w1r - t1i * w1i
      yi[o + s + q] = t1r * w1i + t1i * w1r
      yr[o + 2 * s + q] = t2r * w2r - t2i * w2i
      yi[o + 2 * s + q] = t2r * w2i + t2i * w2r
      yr[o + 3 * s + q] = t3r * w3r - t3i * w3i
      yi[o + 3 * s + q] = t3r * w3i + t3i * w3r
    }
  }
}

function pass5(xr: Plane, xi: Plane, yr: Plane, yi: Plane, m: number, s: number, cos: Plane, sin: Plane): void {
  const c1 = Math.cos((2 * Math.PI) / 5)
  const c2 = Math.cos((4 * Math.PI) / 5)
  const s1 = -Math.sin((2 * Math.PI) / 5)
  const s2 = -Math.sin((4 * Math.PI) / 5)
  for (let p = 0; p < m; p++) {
    const o = s * 5 * p
    for (let q = 0; q < s; q++) {
      const i0 = s * p + q
      const i1 = i0 + s * m
      const i2 = i1 + s * m
      const i3 = i2 + s * m
      const i4 = i3 + s * m
      const t1r = xr[i1]! + xr[i4]!
      const t1i = xi[i1]! + xi[i4]!
      const t2r = xr[i2]! + xr[i3]!
      const t2i = xi[i2]! + xi[i3]!
      const t3r = xr[i1]! - xr[i4]!
      const t3i = xi[i1]! - xi[i4]!
      const t4r = xr[i2]! - xr[i3]!
      const t4i = xi[i2]! - xi[i3]!
      const ar = xr[i0]!
      const ai = xi[i0]!
      yr[o + q] = ar + t1r + t2r
      yi[o + q] = ai + t1i + t2i
      const m1r = ar + c1 * t1r + c2 * t2r
      const m1i = ai + c1 * t1i + c2 * t2i
      const m2r = ar + c2 * t1r + c1 * t2r
      const m2i = ai + c2 * t1i + c1 * t2i
      const n1r = s1 * t3r + s2 * t4r
      const n1i = s1 * t3i + s2 * t4i
      const n2r = s2 * t3r - s1 * t4r
      const n2i = s2 * t3i - s1 * t4i
      rotate(yr, yi, o + s + q, m1r - n1i, m1i + n1r, cos[p * s]!, sin[p * s]!)
      rotate(yr, yi, o + 2 * s + q, m2r - n2i, m2i + n2r, cos[2 * p * s]!, sin[2 * p * s]!)
      rotate(yr, yi, o + 3 * s + q, m2r + n2i, m2i - n2r, cos[3 * p * s]!, sin[3 * p * s]!)
      rotate(yr, yi, o + 4 * s + q, m1r + n1i, m1i - n1r, cos[4 * p * s]!, sin[4 * p * s]!)
    }
  }
}

function rotate(yr: Plane, yi: Plane, at: number, r: number, i: number, wr: number, wi: number): void {
  yr[at] = r * wr - i * wi
  yi[at] = r * wi + i * wr
}

/**
 * Creates a transform of real samples, done as a complex one of half the length.
 * @param length even product of powers of 2, 3 and 5
 * @throws {RangeError} odd or unfactorable length
 */
export function createRealFft(length: number): RealFft {
  if (length % 2 !== 0) throw new RangeError(`real FFT length must be even, got ${length}`)
  const half = length / 2
  const fft = createFft(half)
  const zr = new Float64Array(half)
  const zi = new Float64Array(half)
  const cos = new Float64Array(half + 1)
  const sin = new Float64Array(half + 1)
  for (let k = 0; k <= half; k++) {
    cos[k] = Math.cos((2 * Math.PI * k) / length)
    sin[k] = -Math.sin((2 * Math.PI * k) / length)
  }
  return {
    length,
    forward(samples, re, im) {
      for (let i = 0; i < half; i++) {
        zr[i] = samples[2 * i]!
        zi[i] = samples[2 * i + 1]!
      }
      fft.forward(zr, zi)
      for (let k = 0; k <= half; k++) {
        const a = k === half ? 0 : k
        const b = k === 0 ? 0 : half - k
        const er = 0.5 * (zr[a]! + zr[b]!)
        const ei = 0.5 * (zi[a]! - zi[b]!)
        const or = 0.5 * (zi[a]! + zi[b]!)
        const oi = -0.5 * (zr[a]! - zr[b]!)
        re[k] = er + or * cos[k]! - oi * sin[k]!
        im[k] = ei + or * sin[k]! + oi * cos[k]!
      }
    },
    inverse(re, im, samples) {
      for (let k = 0; k < half; k++) {
        const b = half - k
        const er = 0.5 * (re[k]! + re[b]!)
        const ei = 0.5 * (im[k]! - im[b]!)
        const dr = 0.5 * (re[k]! - re[b]!)
        const di = 0.5 * (im[k]! + im[b]!)
        const or = dr * cos[k]! + di * sin[k]!
        const oi = di * cos[k]! - dr * sin[k]!
        zr[k] = er - oi
        zi[k] = ei + or
      }
      fft.inverse(zr, zi)
      for (let i = 0; i < half; i++) {
        samples[2 * i] = zr[i]!
        samples[2 * i + 1] = zi[i]!
      }
    },
  }
}
