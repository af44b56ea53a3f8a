import { holdStation, obeySilence, silenceElsewhere } from './stationLock'

type Callback = (lock: object | null) => Promise<void> | undefined

/** Web Locks of one name, by the standard's rules: a queue, `ifAvailable`, and `steal` that rejects whoever held it. */
class Locks {
  private held: { reject: (error: unknown) => void } | undefined
  private queue: (() => void)[] = []

  request(_name: string, optionsOrCallback: { ifAvailable?: boolean; steal?: boolean } | Callback, maybe?: Callback): Promise<void> {
    const callback = (typeof optionsOrCallback === 'function' ? optionsOrCallback : maybe)!
    const { ifAvailable = false, steal = false } = typeof optionsOrCallback === 'function' ? {} : optionsOrCallback
    return new Promise((resolve, reject) => {
      const run = () => {
        const mine = { reject }
        this.held = mine
        void Promise.resolve(callback({})).then(() => {
          if (this.held !== mine) return
          resolve()
          this.held = undefined
          this.queue.shift()?.()
        })
      }
      if (steal) {
        this.held?.reject(new DOMException('stolen', 'AbortError'))
        run()
      } else if (!this.held) run()
      else if (ifAvailable) resolve(callback(null))
      else this.queue.push(run)
    })
  }
}

const settle = () => new Promise((done) => setTimeout(done, 20))
const original = Object.getOwnPropertyDescriptor(globalThis, 'navigator')
const setNavigator = (value: unknown) => Object.defineProperty(globalThis, 'navigator', { value, configurable: true })
afterEach(() => {
  if (original) Object.defineProperty(globalThis, 'navigator', original)
  else Reflect.deleteProperty(globalThis, 'navigator')
})

/** A tab, and what it was told, in order. */
const openTab = () => {
  const told: string[] = []
  const lock = holdStation(
    () => told.push('held'),
    () => told.push('lost'),
    () => told.push('elsewhere'),
  )
  return { ...lock, told }
}

describe('which tab holds the station', () => {
  beforeEach(() => setNavigator({ locks: new Locks() }))

  it('is the first; the second waits, and follows when the first closes', async () => {
    const first = openTab()
    const second = openTab()
    await settle()
    expect([first.told, second.told]).toEqual([['held'], ['elsewhere']])
    first.release()
    await settle()
    expect(second.told).toEqual(['elsewhere', 'held'])
    expect(first.told).toEqual(['held'])
  })

  it('can be taken over; whoever loses it is told', async () => {
    const first = openTab()
    const second = openTab()
    await settle()
    second.takeOver()
    await settle()
    expect(second.told).toEqual(['elsewhere', 'held'])
    expect(first.told).toEqual(['held', 'lost'])
    // And back again.
    first.takeOver()
    await settle()
    expect(first.told).toEqual(['held', 'lost', 'held'])
    expect(second.told).toEqual(['elsewhere', 'held', 'lost'])
  })

  it('is this one where the browser knows no locks', async () => {
    setNavigator({})
    const only = openTab()
    await settle()
    expect(only.told).toEqual(['held'])
    expect(() => only.takeOver()).not.toThrow()
  })
})

describe('Silence from another tab', () => {
  it('is obeyed until the tab ends it', async () => {
    let silenced = 0
    const end = obeySilence(() => silenced++)
    silenceElsewhere()
    await settle()
    expect(silenced).toBe(1)
    end()
    silenceElsewhere()
    await settle()
    expect(silenced).toBe(1)
  })

  it('other words mean nothing', async () => {
    let silenced = 0
    const end = obeySilence(() => silenced++)
    const channel = new BroadcastChannel('zeptik-station')
    for (const message of ['go', null, { silence: true }]) channel.postMessage(message)
    await settle()
    channel.close()
    end()
    expect(silenced).toBe(0)
  })
})
