/** Does one piece of work after the other, whatever becomes of the one before. @returns what the piece itself gives */
export type InOrder = <T>(work: () => Promise<T>) => Promise<T>

/** For what reads, changes and writes again: two at once would each undo the other. */
export function createInOrder(): InOrder {
  let last: Promise<unknown> = Promise.resolve()
  return (work) => {
    const done = last.then(work)
    last = done.catch(() => undefined)
    return done
  }
}
