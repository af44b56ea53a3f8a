// How this process and the threads and processes that it starts ask each other for something.

type Methods = Record<string, (...args: never[]) => unknown>

/** One end of a way on which messages go both ways, in order. */
export interface Channel {
  send(message: unknown): void
  onMessage(listener: (message: unknown) => void): void
}

interface Fault {
  message: string
  code?: string
}

type Message = { kind: 'call'; n: number; name: string; args: unknown[] } | { kind: 'answer'; n: number; value?: unknown; fault?: Fault }

/** What can be told of an error elsewhere: its words, and the code of the first error in its chain that has one. */
function faultOf(error: unknown): Fault {
  let code: string | undefined
  for (let at: unknown = error; at instanceof Error && code === undefined; at = at.cause) {
    const found = (at as { code?: unknown }).code
    if (typeof found === 'string') code = found
  }
  return { message: error instanceof Error ? error.message : String(error), ...(code !== undefined && { code }) }
}

/** Calls to the other end, and answers to its calls. */
export class Calls<Theirs extends object> {
  private n = 0
  private readonly waiting = new Map<number, { done: (value: unknown) => void; fail: (error: Error) => void }>()
  private ended: Error | undefined

  /** @param own what the other end may call */
  constructor(
    private readonly channel: Channel,
    private readonly own: object = {},
  ) {
    channel.onMessage((message) => {
      const told = message as Message
      if (told.kind === 'call') void this.answer(told)
      else if (told.kind === 'answer') this.take(told)
    })
  }

  /** @throws what the other end throws, or that it has ended */
  call<K extends keyof Theirs & string>(
    name: K,
    ...args: Theirs[K] extends (...args: infer A) => unknown ? A : never
  ): Promise<Theirs[K] extends (...args: never[]) => infer R ? Awaited<R> : never> {
    return new Promise((done, fail) => {
      if (this.ended) return fail(this.ended)
      const n = ++this.n
      this.channel.send({ kind: 'call', n, name, args } satisfies Message)
      this.waiting.set(n, { done: done as (value: unknown) => void, fail })
    })
  }

  /** The other end is gone: whoever waits for it is told, and so is whoever calls it from now on. */
  end(why: Error): void {
    this.ended = why
    for (const { fail } of this.waiting.values()) fail(why)
    this.waiting.clear()
  }

  private async answer({ n, name, args }: Message & { kind: 'call' }): Promise<void> {
    let answer: Message
    try {
      const method = (this.own as Methods)[name]
      if (!method) throw new Error(`there is no "${name}" to be called`)
      answer = { kind: 'answer', n, value: await method.apply(this.own, args as never[]) }
    } catch (error) {
      answer = { kind: 'answer', n, fault: faultOf(error) }
    }
    try {
      this.channel.send(answer)
    } catch (error) {
      // What cannot be sent must not leave the other end waiting.
      this.channel.send({ kind: 'answer', n, fault: faultOf(error) } satisfies Message)
    }
  }

  private take({ n, value, fault }: Message & { kind: 'answer' }): void {
    const waiting = this.waiting.get(n)
    this.waiting.delete(n)
    if (fault) waiting?.fail(Object.assign(new Error(fault.message), fault.code !== undefined && { code: fault.code }))
    else waiting?.done(value)
  }
}
