import { leaseStateSchema, type LeaseOrder, type LeaseState } from '@/core/station/lease'
import { newId } from '../station/newId'
import { ask, json } from './http'

const PATH = '/api/station'
const KEPT_AS = 'zeptik-screen'
const ASKS_EVERY_MS = 2000
const AWAY_AGAIN_MS = 250

/** The name of this tab for the server; it stays the same when the page is loaded anew. */
export function screenId(): string {
  try {
    const kept = sessionStorage.getItem(KEPT_AS)
    if (kept) return kept
    const id = newId()
    sessionStorage.setItem(KEPT_AS, id)
    return id
  } catch {
    // Storage may be forbidden: then a page that is loaded anew is another screen.
    return newId()
  }
}

/** @returns nothing when the server does not answer */
const order = (what: LeaseOrder): Promise<LeaseState | undefined> =>
  ask(leaseStateSchema, PATH, { ...json('POST', what), signal: AbortSignal.timeout(4000) }).catch(() => undefined)

/** Silences the station, whichever screen holds it. */
export const silenceOverServer = (): void => void order({ action: 'silence' })

export interface ServerLease {
  /** A person at this screen takes the station over. */
  takeOver(): void
  /** The server says how things stand. */
  told(state: LeaseState): void
  end(how: { givenBack: boolean }): void
}

/**
 * Holds the station for this screen on the server, which alone can tell screens of several devices apart. A server that does not
 * answer keeps nobody from operating: then the tab holds it that would hold it otherwise.
 */
export function holdOnServer(
  id: string,
  { onHeld, onElsewhere, onSilence }: { onHeld: () => void; onElsewhere: () => void; onSilence: () => void },
): ServerLease {
  let state: 'asking' | 'held' | 'elsewhere' = 'asking'
  let silences: number | undefined
  let over = false
  const be = (next: 'held' | 'elsewhere') => {
    if (over || state === next) return
    state = next
    if (next === 'held') onHeld()
    else onElsewhere()
  }
  const take = (told: LeaseState | undefined) => {
    if (over) return
    if (told) {
      if (silences !== undefined && told.silences > silences) onSilence()
      silences = told.silences
      // Somebody who has just gone may come back, or not: that is known in a moment.
      if (state === 'asking' && !told.held && told.away) setTimeout(look, AWAY_AGAIN_MS)
      else be(told.held ? 'held' : 'elsewhere')
    } else if (state === 'asking') be('held')
  }
  const look = () => void (over || order({ action: 'ask', id, waiting: state === 'elsewhere' }).then(take))
  look()
  // Whoever waits asks again; whoever holds it is told by the stream that it follows.
  const timer = setInterval(() => {
    if (state === 'elsewhere') look()
  }, ASKS_EVERY_MS)
  return {
    // Where no server answers, a person's word has to do.
    takeOver: () => void order({ action: 'take', id }).then((told) => (told ? take(told) : be('held'))),
    told(told) {
      // What is said to a screen that waits comes by its own questions.
      if (state === 'held' && !told.held && told.free) look()
      else if (state === 'held') take(told)
    },
    end({ givenBack }) {
      over = true
      clearInterval(timer)
      if (givenBack) void fetch(PATH, { ...json('POST', { action: 'leave', id }), keepalive: true }).catch(() => undefined)
    },
  }
}
