import { createRealFft } from '@/core/dsp/fft'

/** Time of a fixed set of transforms in this run, so that figures from different machines can be compared. */
export function measureReferenceMs(): number {
  const fft = createRealFft(3840)
  const samples = Float64Array.from({ length: 3840 }, (_, i) => Math.sin(i * i))
  const re = new Float64Array(1921)
  const im = new Float64Array(1921)
  const once = () => {
    const start = performance.now()
    for (let i = 0; i < 1000; i++) fft.forward(samples, re, im)
    return performance.now() - start
  }
  once()
  return median([once(), once(), once()])
}

export function median(values: number[]): number {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[sorted.length >> 1]!
}
