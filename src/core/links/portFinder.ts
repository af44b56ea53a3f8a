/** Finding the right one of several ports by unplugging its device. */
export interface PortSearch {
  step: 'unplug' | 'plugIn' | 'found'
  /** Ports that are there now. */
  listed: readonly string[]
  /** Ports that vanished when it was unplugged. */
  gone: readonly string[]
  found: readonly string[]
}

export function startPortSearch(listed: readonly string[]): PortSearch {
  return { step: 'unplug', listed, gone: [], found: [] }
}

/**
 * Takes a new list of ports. A device may show several, and may get another name when it comes back: what appears after
 * unplugging is it. One that was not there at all and appears is it as well.
 */
export function reducePortSearch(search: PortSearch, listed: readonly string[]): PortSearch {
  if (search.step === 'found') return search
  const gone = [...new Set([...search.gone, ...search.listed.filter((path) => !listed.includes(path))])]
  const appeared = listed.filter((path) => !search.listed.includes(path))
  if (appeared.length > 0) return { step: 'found', listed, gone, found: appeared }
  return { step: gone.length > 0 ? 'plugIn' : 'unplug', listed, gone, found: [] }
}
