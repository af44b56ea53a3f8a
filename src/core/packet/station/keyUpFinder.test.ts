import { createRandom } from '../../dsp'
import { beginKeyUpSearch, breakOffKeyUpSearch, stepKeyUpSearch, type KeyUpSearch } from './keyUpFinder'

/** Runs a search against a digipeater that copies from a key-up time on, with some loss. */
function run(beforeMs: number, copies: (keyUpMs: number) => boolean) {
  let search: KeyUpSearch = beginKeyUpSearch('Q8TOP', beforeMs)
  let keyUpMs = beforeMs
  const sent: string[] = []
  for (let nowMs = 0; nowMs < 3_600_000 && !search.result; nowMs += 1000) {
    const { search: next, actions } = stepKeyUpSearch(search, { type: 'tick', nowMs })
    search = next
    for (const action of actions) {
      if (action.type === 'keyUp') keyUpMs = action.ms
      else {
        sent.push(action.text)
        if (copies(keyUpMs)) search = stepKeyUpSearch(search, { type: 'repeated', text: action.text }).search
      }
    }
  }
  return { search, keyUpMs, sent }
}

describe('the search for the key-up time', () => {
  it.each([
    [300, 180, 250, 200],
    [300, 0, 100, 50],
    [320, 320, 320, 350],
    [500, 410, 500, 450],
  ])('from %i ms with a digipeater that needs %i ms ends with %i ms', (beforeMs, needsMs, resultMs, goodMs) => {
    const { search, keyUpMs } = run(beforeMs, (ms) => ms >= needsMs)
    expect(search.goodMs).toBe(goodMs)
    expect(search.result).toMatchObject({ words: expect.stringContaining(`still copies ${goodMs} ms`) })
    expect(keyUpMs).toBe(search.result!.ms)
    if (beforeMs >= goodMs) expect(keyUpMs).toBe(resultMs)
  })

  it('bears a lost frame here and there', () => {
    const random = createRandom(3)
    const { search } = run(300, (ms) => ms >= 150 && random() > 0.1)
    expect(search.goodMs).toBeLessThanOrEqual(200)
  })

  it('puts back what was before when nothing is repeated, or when it is broken off', () => {
    const { search, keyUpMs, sent } = run(300, () => false)
    expect([keyUpMs, search.result]).toEqual([300, { words: expect.stringMatching(/repeated 0 of 2 frames with 300 ms/) }])
    expect(sent).toEqual(['key-up test 300 ms, 1 of 3', 'key-up test 300 ms, 2 of 3'])
    const cut = breakOffKeyUpSearch(beginKeyUpSearch('Q8TOP', 320), 'Silenced.')
    expect(cut).toEqual({ search: expect.objectContaining({ result: { words: 'Silenced.' } }), actions: [{ type: 'keyUp', ms: 320 }] })
    expect(stepKeyUpSearch(cut.search, { type: 'tick', nowMs: 1e9 }).actions).toEqual([])
  })

  it('takes no other text, and none twice, for its own', () => {
    const begun = stepKeyUpSearch(beginKeyUpSearch('Q8TOP', 100), { type: 'tick', nowMs: 0 }).search
    expect(stepKeyUpSearch(begun, { type: 'repeated', text: 'key-up test 300 ms, 1 of 3' }).search).toEqual(begun)
    const once = stepKeyUpSearch(begun, { type: 'repeated', text: 'key-up test 100 ms, 1 of 3' }).search
    const next = stepKeyUpSearch(once, { type: 'tick', nowMs: 1 }).search
    expect(stepKeyUpSearch(next, { type: 'repeated', text: 'key-up test 100 ms, 1 of 3' }).search).toEqual(next)
  })
})
