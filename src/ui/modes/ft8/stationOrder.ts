import { SLOT_MS, type HeardStation, type Unfinished } from '@/core/ft8'
import { allocationOf } from '@/core/place'
import type { WorkedBefore, WorkedPlaces } from '@/engine/station/state'
import { pathBetween } from '../../parts/formats'

/** Slots after which a station counts as gone quiet. */
const QUIET_AFTER_SLOTS = 4
/** Who has not answered a moment ago is let be for so long: others are waiting. */
const LET_BE_MS = 2 * 60_000
/** No contact takes longer. */
const JUST_MS = 10 * 60_000

/** A station with all that its row says of it. */
export interface StationView {
  heard: HeardStation
  path: { distanceKm: number; bearingDeg: number } | undefined
  /** To whom its series of calls is allocated; undefined for none. */
  entity: string | undefined
  /** Worked on this band in this mode, the last time. */
  here: WorkedBefore | undefined
  /** Worked at all, the last time. */
  before: WorkedBefore | undefined
  newLocator: boolean
  newEntity: boolean
  /** What is new of it and not of nearly all: a mark that most rows bear tells nothing. */
  fresh: 'entity' | 'locator' | undefined
  /** Calls or answers this station. */
  mine: boolean
  quiet: boolean
  /** An exchange with it broke off and can be taken up. */
  open: boolean
  /** It broke off a moment ago. */
  justTried: boolean
  snrDb: number
}

export const SHOWN = ['all', 'workable', 'forMe', 'new'] as const
export type Shown = (typeof SHOWN)[number]
export const ORDERS = ['now', 'farthest', 'strongest', 'newest', 'call'] as const
export type Order = (typeof ORDERS)[number]

export interface Surroundings {
  slotNow: number
  ownLocator: string
  band: string | undefined
  worked: Readonly<Record<string, readonly WorkedBefore[]>>
  places: WorkedPlaces
  unfinished: readonly Unfinished[]
}

/** Gathers what is known of each station. */
export function viewStations(stations: Iterable<HeardStation>, around: Surroundings): StationView[] {
  const { slotNow, ownLocator, band, worked, places, unfinished } = around
  const open = new Map(unfinished.map((u) => [u.otherCall, u.endedUtcMs]))
  return markFresh(
    [...stations].map((heard) => {
      const contacts = worked[heard.call] ?? []
      const here = contacts.find((w) => w.band === (band ?? null) && w.mode === 'FT8')
      const entity = allocationOf(heard.call)
      const toMe = heard.doing.kind === 'callingMe' || heard.doing.kind === 'workingMe'
      // What it said last belongs to the contact that has just been made.
      const justWorked = here !== undefined && heard.lastSlotIndex * SLOT_MS - here.startedUtcMs < JUST_MS
      return {
        heard,
        path: pathBetween(ownLocator, heard.locator),
        entity,
        here,
        before: here ?? contacts[0],
        // Where nothing was worked yet everything is new, and saying so helps nobody.
        newLocator: heard.locator !== undefined && places.locators.length > 0 && !places.locators.includes(heard.locator.slice(0, 4)),
        newEntity: entity !== undefined && places.entities.length > 0 && !places.entities.includes(entity),
        mine: toMe && !justWorked,
        quiet: slotNow - heard.lastSlotIndex > QUIET_AFTER_SLOTS,
        open: open.has(heard.call),
        justTried: slotNow * SLOT_MS - (open.get(heard.call) ?? -Infinity) < LET_BE_MS,
        snrDb: heard.strengths[heard.strengths.length - 1]!.snrDb,
      }
    }),
  )
}

const MOST = 0.5

function markFresh(views: readonly Omit<StationView, 'fresh'>[]): StationView[] {
  const tells = (flag: 'newEntity' | 'newLocator') => views.filter((view) => view[flag]).length <= Math.max(1, MOST * views.length)
  const entity = tells('newEntity')
  const locator = tells('newLocator')
  return views.map((view) => ({
    ...view,
    fresh: view.newEntity && entity ? 'entity' : view.newLocator && locator ? 'locator' : undefined,
  }))
}

/** The one row that the eye is led to: the first, in the order shown, that can be answered with sense now. */
export const leadingCall = (views: readonly StationView[]): string | undefined =>
  (views.find((view) => view.mine && !view.quiet) ?? views.find((view) => !view.quiet && !view.justTried && isWorkable(view)))?.heard.call

/** Whether it could be answered now: it calls anyone, or is about to be free, and was not worked here. */
const isWorkable = ({ heard, quiet, here, mine, open }: StationView) =>
  mine || open || (!quiet && !here && (heard.doing.kind === 'callingAll' || heard.doing.kind === 'ending'))

export function isShown(view: StationView, shown: Shown): boolean {
  switch (shown) {
    case 'all':
      return true
    case 'workable':
      return isWorkable(view)
    case 'forMe':
      return view.mine || view.open
    case 'new':
      return view.newLocator || view.newEntity
  }
}

/** Rank of what can be done with a station now; lower comes first. */
function rank({ heard, quiet, mine, open, justTried, here }: StationView): number {
  if (mine) return quiet ? 4 : 0
  // Whoever has faded out cannot be taken up just now.
  if (open) return quiet ? 4 : justTried ? 3 : 1
  if (quiet) return 7
  if (heard.doing.kind === 'callingAll') return here ? 5 : 2
  if (heard.doing.kind === 'ending') return here ? 5 : 3
  return 5
}

/** How a station compares with another in an order; equal ones stay by call, so that rows keep still. */
function difference(order: Order, a: StationView, b: StationView): number {
  switch (order) {
    case 'now':
      return rank(a) - rank(b)
    case 'farthest':
      return (b.path?.distanceKm ?? -1) - (a.path?.distanceKm ?? -1)
    case 'strongest':
      return Number(a.quiet) - Number(b.quiet) || b.snrDb - a.snrDb
    case 'newest':
      return b.heard.lastSlotIndex - a.heard.lastSlotIndex
    case 'call':
      return 0
  }
}

export function orderViews(views: readonly StationView[], order: Order): StationView[] {
  return [...views].sort((a, b) => difference(order, a, b) || (a.heard.call < b.heard.call ? -1 : a.heard.call > b.heard.call ? 1 : 0))
}
