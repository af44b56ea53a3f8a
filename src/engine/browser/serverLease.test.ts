import { jest } from '@jest/globals'
import type { LeaseOrder, LeaseState } from '@/core/station/lease'
import { LeaseKeeper } from '@/core/station/leaseKeeper'
import { newId } from '../station/newId'
import { holdOnServer, screenId, silenceOverServer } from './serverLease'

/** A server in memory; `dead` answers nothing. */
let server: LeaseKeeper
let dead = false
let unkeyed = 0
beforeEach(() => {
  jest.useFakeTimers({ now: 0 })
  dead = false
  unkeyed = 0
  server = new LeaseKeeper(
    () => unkeyed++,
    () => performance.now(),
  )
  globalThis.fetch = jest.fn(async (_path: unknown, init: RequestInit | undefined) => {
    if (dead) throw new TypeError('refused')
    const value: LeaseState = server.order(JSON.parse(String(init?.body)) as LeaseOrder)
    return { ok: true, status: 200, json: async () => value } as Response
  }) as never
})
afterEach(() => jest.useRealTimers())
const pass = (ms: number) => jest.advanceTimersByTimeAsync(ms)

/** A screen, and what it was told, in order. It follows the server for as long as it holds the station. */
function open(id: string) {
  const told: string[] = []
  let leave: (() => void) | undefined
  const unfollow = () => {
    leave?.()
    leave = undefined
  }
  const lease = holdOnServer(id, {
    onHeld: () => {
      told.push('held')
      leave = server.follow(id, () => lease.told(server.stateFor(id)))
    },
    onElsewhere: () => {
      told.push('elsewhere')
      unfollow()
    },
    onSilence: () => told.push('silence'),
  })
  return { told, lease, unfollow }
}

describe('the station for one screen of several', () => {
  it('is held by the first; the second follows when that one has gone', async () => {
    const first = open('screen-one')
    await pass(10)
    const second = open('screen-two')
    await pass(10_000)
    expect([first.told, second.told]).toEqual([['held'], ['elsewhere']])
    first.lease.end({ givenBack: false })
    first.unfollow()
    await pass(5000)
    expect(second.told).toEqual(['elsewhere', 'held'])
    second.lease.end({ givenBack: true })
    await pass(10)
    expect(server.stateFor(undefined).free).toBe(true)
  })

  it('is taken over by a person; the radio is unkeyed, and the other screen ends', async () => {
    const first = open('screen-one')
    await pass(10)
    const second = open('screen-two')
    await pass(10)
    second.lease.takeOver()
    await pass(10)
    expect([first.told, second.told]).toEqual([
      ['held', 'elsewhere'],
      ['elsewhere', 'held'],
    ])
    expect(unkeyed).toBe(1)
  })

  it('waits a moment for one that has just gone, without a word', async () => {
    const first = open('screen-one')
    await pass(10)
    first.lease.end({ givenBack: false })
    first.unfollow()
    const second = open('screen-two')
    await pass(3000)
    expect(second.told).toEqual(['held'])
  })

  it('is held where the server does not answer, and goes on being when it comes back', async () => {
    dead = true
    const only = open('screen-one')
    await pass(10)
    expect(only.told).toEqual(['held'])
    dead = false
    server = new LeaseKeeper(
      () => unkeyed++,
      () => performance.now(),
    )
    server.follow('screen-one', () => only.lease.told(server.stateFor('screen-one')))
    await pass(5000)
    expect(only.told).toEqual(['held'])
    expect(server.mayKey('screen-two')).toBe(false)
  })

  it('can be taken over also when the server has died: nothing else can answer for the other screen then', async () => {
    open('screen-one')
    await pass(10)
    const second = open('screen-two')
    await pass(10)
    dead = true
    second.lease.takeOver()
    await pass(5000)
    expect(second.told).toEqual(['elsewhere', 'held'])
  })

  it('is silenced from any screen', async () => {
    const first = open('screen-one')
    await pass(10)
    first.lease.told(server.stateFor('screen-one'))
    silenceOverServer()
    await pass(10)
    expect(first.told).toEqual(['held', 'silence'])
    expect(unkeyed).toBe(1)
  })

  it('has a name that a page keeps, and one where it may keep nothing', () => {
    const id = screenId()
    expect(id).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/)
    expect(newId()).not.toBe(newId())
  })
})
