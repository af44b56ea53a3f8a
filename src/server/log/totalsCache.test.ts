import { TotalsCache } from './totalsCache'

describe('TotalsCache', () => {
  it('counts once for a question, and anew after a change', async () => {
    const cache = new TotalsCache()
    let counted = 0
    const count = async () => ({ total: ++counted, stations: 1 })
    expect(await cache.get('a', count)).toEqual({ total: 1, stations: 1 })
    expect(await cache.get('a', count)).toEqual({ total: 1, stations: 1 })
    expect(await cache.get('b', count)).toEqual({ total: 2, stations: 1 })
    cache.clear()
    expect(await cache.get('a', count)).toEqual({ total: 3, stations: 1 })
  })
  it('does not keep what was counted while the log changed', async () => {
    const cache = new TotalsCache()
    let finish: () => void = () => undefined
    const slow = cache.get('a', () => new Promise((done) => (finish = () => done({ total: 1, stations: 1 }))))
    cache.clear()
    finish()
    expect((await slow).total).toBe(1)
    expect((await cache.get('a', async () => ({ total: 2, stations: 2 }))).total).toBe(2)
  })
  it('stays small', async () => {
    const cache = new TotalsCache()
    let counted = 0
    for (let i = 0; i < 200; i++) await cache.get(String(i), async () => ({ total: ++counted, stations: 0 }))
    await cache.get('0', async () => ({ total: ++counted, stations: 0 }))
    expect(counted).toBe(201)
  })
})
