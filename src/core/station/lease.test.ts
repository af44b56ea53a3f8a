import { createRandom } from '../dsp'
import { arriveLease, askLease, departLease, leaseAt, leaveLease, mayKey, takeLease, type Lease } from './lease'

const held = (id: string) => arriveLease(askLease({}, id, 0), id, 0)

describe('the lease of the station', () => {
  it('goes to the first that asks, and to another only when that one is gone for long, leaves, or is relieved', () => {
    const first = held('tablet')
    expect(first).toEqual({ holder: { id: 'tablet' } })
    expect(askLease(first, 'laptop', 1e9)).toEqual(first)
    const away = departLease(first, 'tablet', 1000)
    expect(askLease(away, 'laptop', 2000)).toEqual(away)
    // It was loaded anew.
    expect(arriveLease(away, 'tablet', 2000)).toEqual(first)
    expect(askLease(away, 'laptop', 2500).holder?.id).toBe('laptop')
    expect(leaveLease(first, 'tablet')).toEqual({})
    expect(takeLease('laptop', 5).holder?.id).toBe('laptop')
  })

  it('is lost by a screen that was given it and never begins', () => {
    const given = askLease({}, 'tablet', 0)
    expect(leaseAt(given, 9_999)).toEqual(given)
    expect(leaseAt(given, 10_000)).toEqual({})
    expect(arriveLease(given, 'tablet', 20_000)).toEqual({ holder: { id: 'tablet' } })
  })

  it('is not touched by who does not hold it', () => {
    const first = held('tablet')
    expect(departLease(first, 'laptop', 5)).toBe(first)
    expect(leaveLease(first, 'laptop')).toBe(first)
    expect(arriveLease(first, 'laptop', 5)).toEqual(first)
  })

  it('lets its holder key, and anybody while no screen holds the station', () => {
    expect(mayKey({}, undefined, 0)).toBe(true)
    expect(mayKey(held('tablet'), 'tablet', 0)).toBe(true)
    expect(mayKey(held('tablet'), 'laptop', 0)).toBe(false)
    expect(mayKey(held('tablet'), undefined, 0)).toBe(false)
    expect(mayKey(departLease(held('tablet'), 'tablet', 0), 'laptop', 1000)).toBe(false)
    expect(mayKey(departLease(held('tablet'), 'tablet', 0), 'laptop', 1500)).toBe(true)
  })

  it('never has two holders, whatever order things come in', () => {
    const random = createRandom(4)
    for (let walk = 0; walk < 200; walk++) {
      let lease: Lease = {}
      let nowMs = 0
      for (let step = 0; step < 60; step++) {
        const id = ['a', 'b', 'c'][Math.floor(3 * random())]!
        const before = leaseAt(lease, nowMs)
        const what = Math.floor(5 * random())
        lease = [
          () => askLease(lease, id, nowMs),
          () => takeLease(id, nowMs),
          () => arriveLease(lease, id, nowMs),
          () => departLease(lease, id, nowMs),
          () => leaveLease(lease, id),
        ][what]!()
        // Only a person's taking over relieves one that is there.
        if (before.holder && before.holder.untilMs === undefined && what !== 1 && before.holder.id !== id) expect(lease).toEqual(before)
        expect(['a', 'b', 'c'].filter((one) => leaseAt(lease, nowMs).holder && mayKey(lease, one, nowMs)).length).toBeLessThanOrEqual(1)
        nowMs += Math.floor(3000 * random())
      }
    }
  })
})
