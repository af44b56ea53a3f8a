import { Calls, type Channel } from './calls'

/** Two ends of one way, over which only what can be sent to another thread goes. */
function pair(): [Channel, Channel] {
  const listeners: ((message: unknown) => void)[][] = [[], []]
  const end = (mine: number): Channel => ({
    send: (message) => {
      const copy = structuredClone(message)
      queueMicrotask(() => listeners[1 - mine]!.forEach((tell) => tell(copy)))
    },
    onMessage: (listener) => void listeners[mine]!.push(listener),
  })
  return [end(0), end(1)]
}

const theirs = {
  add: (a: number, b: number) => a + b,
  later: async (value: string) => value,
  fail: () => {
    throw new Error('outer', { cause: Object.assign(new Error('inner'), { code: '22P02' }) })
  },
  never: () => new Promise<void>(() => undefined),
}

describe('calls to another thread', () => {
  it('go both ways at once, and come back in whatever order', async () => {
    const [here, there] = pair()
    const calls = new Calls<typeof theirs>(here, { double: (n: number) => 2 * n })
    const back = new Calls<{ double(n: number): number }>(there, theirs)
    void calls.call('never')
    expect(await Promise.all([calls.call('later', 'x'), calls.call('add', 1, 2), back.call('double', 21)])).toEqual(['x', 3, 42])
  })

  it('fail with the words of what went wrong there, and the code behind them', async () => {
    const [here, there] = pair()
    const calls = new Calls<typeof theirs>(here)
    new Calls(there, theirs)
    await expect(calls.call('fail')).rejects.toMatchObject({ message: 'outer', code: '22P02' })
    await expect((calls as unknown as Calls<{ nothing(): void }>).call('nothing')).rejects.toThrow(/no "nothing"/)
  })

  it('fail when what is answered cannot be sent, or what is asked', async () => {
    const [here, there] = pair()
    const calls = new Calls<{ odd(): () => void; take(what: () => void): void }>(here)
    new Calls(there, { odd: () => () => undefined, take: () => undefined })
    await expect(calls.call('odd')).rejects.toThrow(/could not be cloned/)
    await expect(calls.call('take', () => undefined)).rejects.toThrow(/could not be cloned/)
  })

  it('fail when the other end is gone, those under way and those after', async () => {
    const [here] = pair()
    const calls = new Calls<typeof theirs>(here)
    const waiting = calls.call('never')
    calls.end(new Error('it has ended'))
    await expect(waiting).rejects.toThrow('it has ended')
    await expect(calls.call('add', 1, 2)).rejects.toThrow('it has ended')
  })
})
