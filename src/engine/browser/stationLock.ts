const NAME = 'zeptik-station'
const SILENCE = 'silence'

/** Silences the station from a tab that does not hold it. */
export function silenceElsewhere(): void {
  const channel = new BroadcastChannel(NAME)
  channel.postMessage(SILENCE)
  channel.close()
}

/** Obeys Silence from other tabs. @returns a function that ends it */
export function obeySilence(silence: () => void): () => void {
  const channel = new BroadcastChannel(NAME)
  channel.onmessage = ({ data }: MessageEvent<unknown>) => {
    if (data === SILENCE) silence()
  }
  return () => channel.close()
}

/**
 * Makes this tab the one that holds the station, as soon as no other does.
 * @returns a function that takes the station over from another tab
 */
export function holdStation(
  onHeld: () => void,
  onLost: () => void,
  onElsewhere: () => void,
): { takeOver: () => void; release: () => void } {
  let release: () => void = () => undefined
  if (!navigator.locks) {
    onHeld()
    return { takeOver: () => undefined, release }
  }
  const keep = () =>
    new Promise<void>((done) => {
      release = done
      onHeld()
    })
  const lost = (error: unknown) => {
    // A stolen lock rejects with AbortError: another tab has taken over.
    if ((error as DOMException).name === 'AbortError') onLost()
    else throw error
  }
  const wait = () => {
    navigator.locks.request(NAME, keep).catch(lost)
  }
  navigator.locks
    .request(NAME, { ifAvailable: true }, (lock) => {
      if (lock) return keep()
      onElsewhere()
      wait()
      return undefined
    })
    .catch(lost)
  return {
    takeOver: () => {
      navigator.locks.request(NAME, { steal: true }, keep).catch(lost)
    },
    release: () => release(),
  }
}
