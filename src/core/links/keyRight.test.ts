import { createRandom } from '../dsp/random'
import { dropKey, keyRightEnded, LONGEST_ASKED_MS, LONGEST_KEYED_MS, stillAlive, takeKey, WATCHDOG_MS, type KeyRight } from './keyRight'

const take = (right: KeyRight, id: string, nowMs: number, askedMs?: number): KeyRight => {
  const taken = takeKey(right, id, nowMs, askedMs)
  if (!taken.ok) throw new Error(taken.error)
  return taken.right
}

describe('the right to key', () => {
  it('is one holder’s until it is given up', () => {
    const held = take({}, 'a', 0)
    expect(takeKey(held, 'b', 500)).toEqual({ ok: false, error: expect.stringMatching(/Another transmission holds the key/) })
    expect(stillAlive(held, 'b', 500)).toBeUndefined()
    expect(stillAlive(held, 'a', 500)!.held!.aliveMs).toBe(500)
    expect(take(dropKey(held, 600), 'b', 700).held!.id).toBe('b')
  })
  it('ends without a sign of life, and after the longest time', () => {
    let right = take({}, 'a', 0)
    expect(keyRightEnded(right, WATCHDOG_MS)).toBeUndefined()
    expect(keyRightEnded(right, WATCHDOG_MS + 1)).toBe('away')
    for (let ms = 500; ms <= LONGEST_KEYED_MS + 500; ms += 500) right = stillAlive(right, 'a', ms)!
    expect(keyRightEnded(right, LONGEST_KEYED_MS)).toBeUndefined()
    expect(keyRightEnded(right, LONGEST_KEYED_MS + 1)).toBe('tooLong')
  })
  it('is not made longer by new names', () => {
    let right: KeyRight = {}
    let keyedMs = 0
    for (let ms = 0, n = 0; ms < 60_000; ms += 900, n++) {
      const taken = takeKey(right, `id-${n}`, ms)
      if (!taken.ok) break
      right = dropKey(taken.right, ms + 890)
      keyedMs = ms + 890
    }
    expect(keyedMs).toBeLessThanOrEqual(LONGEST_KEYED_MS)
  })
  it('lasts longer for what says so, never longer than the gate lets through, and not for the next one', () => {
    let right = take({}, 'over', 0, 120_000)
    for (let ms = 500; ms <= 122_000; ms += 500) right = stillAlive(right, 'over', ms)!
    expect(keyRightEnded(right, 121_000)).toBeUndefined()
    expect(keyRightEnded(right, 121_001)).toBe('tooLong')
    expect(take({}, 'ever', 0, 1e9).held!.longestMs).toBe(LONGEST_ASKED_MS + 1000)
    expect(takeKey(dropKey(right, 100_000), 'slot', 100_500)).toMatchObject({ ok: false, error: expect.stringMatching(/let it rest/) })
  })
  it('comes back after a real pause', () => {
    const right = dropKey(take({}, 'a', 0), 14_900)
    expect(takeKey(right, 'b', 15_500)).toMatchObject({ ok: false, error: expect.stringMatching(/let it rest/) })
    expect(take(right, 'b', 15_900).unbrokenSinceMs).toBe(15_900)
  })
  it('never lets anybody key for longer than the limit, whatever is asked', () => {
    const random = createRandom(11)
    for (let walk = 0; walk < 200; walk++) {
      let right: KeyRight = {}
      let keyedSince: number | undefined
      for (let ms = 0; ms < 60_000; ms += 1 + Math.floor(700 * random())) {
        if (keyRightEnded(right, ms)) right = dropKey(right, ms)
        if (!right.held && ms - (right.endedMs ?? ms) >= 1000) keyedSince = undefined
        const id = `id-${Math.floor(3 * random())}`
        const dice = random()
        if (dice < 0.5) right = stillAlive(right, id, ms) ?? right
        else if (dice < 0.8) {
          const taken = takeKey(right, id, ms)
          if (taken.ok) right = taken.right
        } else if (dice < 0.83) right = dropKey(right, ms)
        if (right.held) {
          keyedSince ??= ms
          // The next look comes within the step of this walk.
          expect(ms - keyedSince).toBeLessThanOrEqual(LONGEST_KEYED_MS + 1000)
        }
      }
    }
  })
})
