import { createRandom } from '@/core/dsp'
import { encodeKiss, KissDecoder, uiFrame } from '@/core/packet'
import { measureReferenceMs } from './reference'

const PIECE_BYTES = 4096

/** `zeptik bench kiss`: how fast the KISS parser is on frames and on noise. */
export function benchKiss(seed: number): void {
  const random = createRandom(seed)
  const frames: number[] = []
  while (frames.length < 10_000_000) {
    const text = String.fromCharCode(...Array.from({ length: Math.floor(200 * random()) }, () => Math.floor(256 * random())))
    frames.push(...encodeKiss({ port: 0, command: 0, data: uiFrame('Q5RVR-9', 'Q1POS', ['Q7HUT'], text) }))
  }
  const noise = Uint8Array.from({ length: 10_000_000 }, () => 256 * random())
  console.log(`reference: 1000 real transforms of 3840 points take ${measureReferenceMs().toFixed(0)} ms`)
  console.log('bytes      what          frames   bad      MB/s')
  for (const [what, bytes] of [
    ['AX.25 frames', Uint8Array.from(frames)],
    ['noise', noise],
  ] as const) {
    run(bytes)
    const { good, bad, seconds } = run(bytes)
    console.log(
      `${String(bytes.length).padEnd(9)}  ${what.padEnd(12)}  ${String(good).padEnd(7)}  ${String(bad).padEnd(7)}  ${(bytes.length / seconds / 1e6).toFixed(0)}`,
    )
  }
}

function run(bytes: Uint8Array): { good: number; bad: number; seconds: number } {
  const decoder = new KissDecoder()
  let good = 0
  let bad = 0
  const start = performance.now()
  for (let at = 0; at < bytes.length; at += PIECE_BYTES)
    for (const event of decoder.push(bytes.subarray(at, at + PIECE_BYTES))) {
      if (event.type === 'frame') good++
      else if (event.type === 'bad') bad++
    }
  return { good, bad, seconds: (performance.now() - start) / 1000 }
}
