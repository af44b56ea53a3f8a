import { LeaseKeeper } from './leaseKeeper'

const [TABLET, LAPTOP] = ['tablet-1', 'laptop-1']

function set() {
  let nowMs = 0
  let unkeyed = 0
  const lease = new LeaseKeeper(
    () => unkeyed++,
    () => nowMs,
  )
  return { lease, pass: (ms: number) => (nowMs += ms), unkeyed: () => unkeyed }
}

describe('the station’s lease on the server', () => {
  it('is held by one screen as long as it follows; another is told, and may take it over', () => {
    const { lease, pass, unkeyed } = set()
    const told: boolean[] = []
    expect(lease.order({ action: 'ask', id: TABLET })).toEqual({ held: true, free: false, away: true, silences: 0 })
    lease.follow(TABLET, () => told.push(lease.stateFor(TABLET).held))
    pass(1e7)
    expect(lease.order({ action: 'ask', id: LAPTOP })).toMatchObject({ held: false, free: false, away: false })
    expect([lease.mayKey(TABLET), lease.mayKey(LAPTOP), lease.mayKey(undefined)]).toEqual([true, false, false])
    expect(lease.order({ action: 'take', id: LAPTOP })).toMatchObject({ held: true })
    expect(told).toEqual([false])
    expect(unkeyed()).toBe(1)
    expect([lease.mayKey(TABLET), lease.mayKey(LAPTOP)]).toEqual([false, true])
  })

  it('goes on over a page that is loaded anew, in whatever order its streams come and go', () => {
    const { lease, pass, unkeyed } = set()
    lease.order({ action: 'ask', id: TABLET })
    const first = lease.follow(TABLET, () => undefined)
    const second = lease.follow(TABLET, () => undefined)
    first()
    first()
    pass(1e6)
    expect(lease.stateFor(TABLET).held).toBe(true)
    second()
    pass(1000)
    const third = lease.follow(TABLET, () => undefined)
    pass(1e6)
    expect(lease.stateFor(TABLET).held).toBe(true)
    expect(unkeyed()).toBe(0)
    third()
    pass(2000)
    expect(lease.stateFor(TABLET)).toEqual({ held: false, free: true, away: false, silences: 0 })
    expect(lease.order({ action: 'ask', id: LAPTOP }).held).toBe(true)
  })

  it('stays with who held it when the server was started anew', () => {
    const { lease, pass } = set()
    // The one that waited is quicker.
    expect(lease.order({ action: 'ask', id: LAPTOP, waiting: true })).toMatchObject({ held: false, free: true })
    pass(3000)
    lease.follow(TABLET, () => undefined)
    expect(lease.order({ action: 'ask', id: LAPTOP }).held).toBe(false)
    expect(lease.order({ action: 'leave', id: LAPTOP }).free).toBe(false)
    expect(lease.order({ action: 'leave', id: TABLET }).free).toBe(true)
  })

  it('obeys Silence from anybody: the radio first, then every screen', () => {
    const { lease, unkeyed } = set()
    const told: number[] = []
    lease.follow(TABLET, () => told.push(unkeyed(), lease.stateFor(TABLET).silences))
    told.length = 0
    lease.order({ action: 'silence' })
    expect(told).toEqual([1, 1])
    expect(lease.stateFor(TABLET).held).toBe(true)
  })
})
