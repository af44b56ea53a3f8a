import { Psk31Band } from '@/core/psk31'
import { Over } from './over'

const RATE = 12_000
/** Pulls so many milliseconds of an over. */
const pull = (stream: ReturnType<Over['open']>, ms: number) => {
  const out = new Float32Array((ms / 1000) * RATE)
  return out.subarray(0, stream.next(out))
}

describe('an over', () => {
  it('sends what was typed before and while it goes out, and tells what is out when it is heard', () => {
    const over = new Over(1000, 0.5)
    over.type('de Q5RVR \u{1f600}')
    expect(over.text).toBe('de Q5RVR ')
    const stream = over.open(RATE)
    const pieces = [pull(stream, 1500)]
    over.type('hello')
    over.end()
    for (;;) {
      const piece = pull(stream, 500)
      pieces.push(piece)
      if (piece.length < RATE / 2) break
    }
    // Nothing is out before it is played, whatever has been pulled.
    expect(over.sentAfter(0)).toBe(0)
    expect(over.sentAfter(1500)).toBeLessThan(9)
    expect(over.sentAfter(60_000)).toBe(14)
    const band = new Psk31Band()
    const heard = [...pieces, new Float32Array(RATE)].flatMap((piece) => band.push(piece))
    expect([...heard, ...band.flush()].map((one) => one.character).join('')).toContain('de Q5RVR hello')
  })

  it('takes back what has not begun, also before it is on the air', () => {
    const early = new Over(1000, 0.5)
    early.type('not this')
    early.takeBack()
    expect(early.text).toBe('')
    const over = new Over(1000, 0.5)
    over.type('abcdefghij klmnop')
    const stream = over.open(RATE)
    pull(stream, 2000)
    over.takeBack()
    expect(over.text.length).toBeGreaterThan(0)
    expect('abcdefghij klmnop'.startsWith(over.text)).toBe(true)
    expect(over.text.length).toBeLessThan(10)
  })

  it('ends by itself when nobody types, and before it would be cut off', () => {
    const idle = new Over(1000, 0.5)
    idle.open(RATE)
    idle.watch(1000, 120_000, 0)
    idle.watch(20_900, 120_000, 0)
    expect(idle.isEnding).toBe(false)
    idle.watch(21_100, 120_000, 0)
    expect(idle.isEnding).toBe(true)
    const long = new Over(1000, 0.5)
    long.open(RATE)
    long.type('much to say')
    long.watch(115_900, 120_000, 3)
    expect([long.isEnding, long.text]).toEqual([false, 'much to say'])
    long.watch(116_100, 120_000, 3)
    expect(long.isEnding).toBe(true)
    expect(long.text.length).toBeLessThan(3)
    const ended = new Over(1000, 0.5)
    ended.type('a story '.repeat(200))
    ended.end()
    ended.open(RATE)
    ended.watch(115_900, 120_000, 400)
    expect(ended.text.length).toBe(1600)
    ended.watch(116_100, 120_000, 400)
    expect(ended.text.length).toBeLessThan(3)
  })
})
