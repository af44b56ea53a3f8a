'use client'
import { memo, useCallback, useMemo, useRef, useState, type KeyboardEvent } from 'react'
import Link from 'next/link'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { useVirtualizer } from '@tanstack/react-virtual'
import { bandOf } from '@/core/log'
import { useFt8, useLive, useStation } from '../../live/StationProvider'
import { counted } from '../../parts/formats'
import { useSteadyOrder } from '../../parts/useSteadyOrder'
import { useDial } from '../DialField'
import { StationRow } from './StationRow'
import { isShown, leadingCall, ORDERS, orderViews, SHOWN, viewStations, type Order, type Shown } from './stationOrder'
import styles from './SlotsScreen.module.css'

const ROW_PX = 56
const SHOWN_WORDS: Record<Shown, string> = { all: 'All', workable: 'Can be worked', forMe: 'For you', new: 'New' }
const ORDER_WORDS: Record<Order, string> = {
  now: 'priority',
  farthest: 'farthest',
  strongest: 'strongest',
  newest: 'last heard',
  call: 'call',
}

interface StationListProps {
  slotNow: number
  onAnswer: (call: string) => void
  listening: boolean
}

/** One row for each station heard: who, where, how strong lately, what it does now, worked before. */
export const StationList = memo(function StationList({ slotNow, onAnswer, listening }: StationListProps) {
  const { profile } = useLive()
  const stations = useFt8((s) => s.stations)
  const worked = useStation((s) => s.worked)
  const places = useStation((s) => s.workedPlaces)
  const unfinished = useFt8((s) => s.unfinished)
  const slots = useFt8((s) => s.slots)
  const other = useFt8((s) => (s.exchange.phase === 'underway' ? s.exchange.otherCall : undefined))
  const [shown, setShown] = useState<Shown>('all')
  const [order, setOrder] = useState<Order>('now')
  const { dial } = useDial()
  const band = dial === null ? undefined : bandOf(dial)
  const ownLocator = profile.station.locator
  const views = useMemo(
    () => viewStations(Object.values(stations), { slotNow, ownLocator, band, worked, places, unfinished }),
    [stations, slotNow, ownLocator, band, worked, places, unfinished],
  )
  const counts = useMemo(() => SHOWN.map((what) => views.filter((view) => isShown(view, what)).length), [views])
  const right = useMemo(
    () =>
      orderViews(
        views.filter((view) => isShown(view, shown)),
        order,
      ),
    [views, shown, order],
  )
  // What a finger aims at does not move: each row has a button that transmits.
  const { keys, waits, sortNow, hand, aimed } = useSteadyOrder(
    right.map((view) => view.heard.call),
    `${shown} ${order}`,
  )
  const ordered = useMemo(() => {
    const byCall = new Map(right.map((view) => [view.heard.call, view]))
    return keys.flatMap((call) => byCall.get(call) ?? [])
  }, [keys, right])
  const answer = useCallback((call: string) => aimed(call, () => onAnswer(call)), [aimed, onAnswer])
  const scroller = useRef<HTMLDivElement>(null)
  const leads = other ? undefined : leadingCall(ordered)
  // eslint-disable-next-line react-hooks/incompatible-library
  const rows = useVirtualizer({ count: ordered.length, getScrollElement: () => scroller.current, estimateSize: () => ROW_PX, overscan: 8 })

  const onKey = (event: KeyboardEvent<HTMLDivElement>) => {
    if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return
    const buttons = [...(scroller.current?.querySelectorAll<HTMLButtonElement>('button[data-answer]') ?? [])]
    const at = buttons.indexOf(document.activeElement as HTMLButtonElement)
    const next = buttons[at + (event.key === 'ArrowDown' ? 1 : -1)]
    if (next) {
      event.preventDefault()
      next.focus()
    }
  }
  return (
    <section className={`${styles.card} ${styles.heard}`} aria-labelledby="stations-heading">
      <div className={styles.cardHead}>
        <h2 id="stations-heading">Stations{views.length > 0 ? `, ${views.length} heard` : ''}</h2>
        {waits && (
          <Button onClick={sortNow} sx={{ ml: 'auto', whiteSpace: 'nowrap' }}>
            Sort now
          </Button>
        )}
        <LastSlot />
      </div>
      {views.length > 0 && (
        <div className={styles.filters} role="group" aria-label="Which stations, in which order">
          {SHOWN.map((what, i) => (
            <Button
              key={what}
              variant={shown === what ? 'contained' : 'outlined'}
              aria-pressed={shown === what}
              onClick={() => setShown(what)}
              sx={{ px: 1.2, minWidth: 0, whiteSpace: 'nowrap' }}
            >
              {SHOWN_WORDS[what]} <span style={{ fontWeight: 400, marginLeft: 5 }}>{counts[i]}</span>
            </Button>
          ))}
          <TextField
            select
            size="small"
            label="Sort by"
            value={order}
            onChange={(e) => setOrder(e.target.value as Order)}
            sx={{ ml: 'auto', minWidth: 150 }}
          >
            {ORDERS.map((o) => (
              <MenuItem key={o} value={o}>
                {ORDER_WORDS[o]}
              </MenuItem>
            ))}
          </TextField>
        </div>
      )}
      {ordered.length === 0 ? (
        <EmptyList listening={listening} slotsHeard={slots.length} hidden={views.length} onShowAll={() => setShown('all')} />
      ) : (
        <div ref={scroller} className={styles.stations} onKeyDown={onKey} {...hand}>
          <div role="list" style={{ height: rows.getTotalSize(), position: 'relative' }}>
            {rows.getVirtualItems().map((item) => {
              const view = ordered[item.index]!
              return (
                <div
                  role="listitem"
                  key={view.heard.call}
                  style={{ position: 'absolute', top: 0, left: 0, right: 0, transform: `translateY(${item.start}px)` }}
                >
                  <StationRow
                    view={view}
                    slotNow={slotNow}
                    unit={profile.settings.distanceUnit}
                    onAnswer={answer}
                    busy={other === view.heard.call}
                    leads={view.heard.call === leads}
                  />
                </div>
              )
            })}
          </div>
        </div>
      )}
    </section>
  )
})

/** What became of the last slot. */
function LastSlot() {
  const last = useFt8((s) => s.slots[s.slots.length - 1])
  const decodingSlot = useFt8((s) => s.decodingSlot)
  const words = () => {
    if (decodingSlot !== undefined) return 'Decoding…'
    if (!last) return ''
    if (last.transmitted) return 'Last slot: sent, not heard'
    const gap = last.missingMs > 300 ? `, ${(last.missingMs / 1000).toFixed(1)} s of audio missing` : ''
    const short = last.cutShort ? ', time ran out' : ''
    return `Last slot: ${counted(last.decodes.length, 'message')} in ${(last.decodeMs / 1000).toFixed(1)} s${gap}${short}`
  }
  return (
    <span className="muted" role="status">
      {words()}
    </span>
  )
}

interface EmptyListProps {
  listening: boolean
  slotsHeard: number
  hidden: number
  onShowAll: () => void
}

function EmptyList({ listening, slotsHeard, hidden, onShowAll }: EmptyListProps) {
  if (hidden > 0)
    return (
      <div className={styles.empty}>
        <p>None of the {hidden} stations heard is of this kind now.</p>
        <Button variant="outlined" onClick={onShowAll}>
          Show all of them
        </Button>
      </div>
    )
  if (!listening)
    return (
      <div className={styles.empty}>
        <p>Nothing is being listened to.</p>
        <Button component={Link} href="/practise" variant="contained">
          Start the practice band
        </Button>
        <Button component={Link} href="/connect" variant="outlined">
          Listen to a radio or a recording
        </Button>
      </div>
    )
  return (
    <div className={styles.empty}>
      <p>
        {slotsHeard === 0
          ? 'Listening. Stations appear here at the end of each 15-second slot.'
          : slotsHeard < 4
            ? 'Nothing decoded yet. Give it a few slots of both parities.'
            : 'Nothing decoded in several slots. Is the dial right, does the level move, and is the clock within two seconds?'}
      </p>
    </div>
  )
}
