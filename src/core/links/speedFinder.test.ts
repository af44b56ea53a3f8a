import { reduceSpeedSearch, SERIAL_SPEEDS, startSpeedSearch, type SpeedSearch } from './speedFinder'

/** Listens to a talker at one speed, hearing garble at the others. */
function search(talksAt: number | undefined): { result: SpeedSearch; tookMs: number } {
  let state = startSpeedSearch(0)
  let nowMs = 0
  while (state.phase === 'listening' && nowMs < 60_000) {
    nowMs += 250
    if (talksAt !== undefined && nowMs % 1000 === 0) {
      const right = state.serialBaud === talksAt
      state = reduceSpeedSearch(state, { type: 'heard', valid: right ? 5 : 0, garbled: right ? 0 : 3, nowMs })
    }
    state = reduceSpeedSearch(state, { type: 'tick', nowMs })
  }
  return { result: state, tookMs: nowMs }
}

describe('the search for the serial speed', () => {
  it.each(SERIAL_SPEEDS)('finds %i baud in under ten seconds', (baud) => {
    const { result, tookMs } = search(baud)
    expect(result).toMatchObject({ phase: 'found', serialBaud: baud })
    expect(tookMs).toBeLessThan(10_000)
  })
  it('says that nothing was heard, or that it makes no sense', () => {
    expect(search(undefined).result).toMatchObject({ phase: 'notFound', why: expect.stringMatching(/Nothing was heard/) })
    expect(search(1_000_000).result).toMatchObject({ phase: 'notFound', why: expect.stringMatching(/not sentences/) })
  })
  it('is not fooled by one sentence among garble, and stays where it ended', () => {
    const state = reduceSpeedSearch(startSpeedSearch(0), { type: 'heard', valid: 2, garbled: 9, nowMs: 100 })
    expect(state).toMatchObject({ phase: 'listening' })
    const { result } = search(9600)
    expect(reduceSpeedSearch(result, { type: 'heard', valid: 0, garbled: 50, nowMs: 1e6 })).toBe(result)
  })
})
