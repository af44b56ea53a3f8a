'use client'
import { useMemo, useRef, type KeyboardEvent } from 'react'
import Link from 'next/link'
import Button from '@mui/material/Button'
import { useVirtualizer } from '@tanstack/react-virtual'
import type { Doing, HeardStation } from '@/core/ft8'
import type { WorkedBefore } from '@/engine/stationState'
import { bandOf } from '@/core/log'
import { allocationOf } from '@/core/place'
import { useLive, useStation } from '../live/StationProvider'
import { useDialOfRadio } from '../live/useDialOfRadio'
import { formatDistance, formatSigned, formatUtcDate, pathBetween } from '../parts/formats'
import { orderStations, QUIET_AFTER_SLOTS } from './stationOrder'
import styles from './SlotsScreen.module.css'

const ROW_PX = 56

/** One row for each station heard: who, where, how strong lately, what it does now, worked before. */
export function StationList({ slotNow, onAnswer, listening }: { slotNow: number; onAnswer: (call: string) => void; listening: boolean }) {
  const stations = useStation((s) => s.stations)
  const worked = useStation((s) => s.worked)
  const slots = useStation((s) => s.slots)
  const decodingSlot = useStation((s) => s.decodingSlot)
  const exchange = useStation((s) => s.exchange)
  const ordered = useMemo(() => orderStations(stations.values(), slotNow), [stations, slotNow])
  const scroller = useRef<HTMLDivElement>(null)
  // eslint-disable-next-line react-hooks/incompatible-library
  const rows = useVirtualizer({ count: ordered.length, getScrollElement: () => scroller.current, estimateSize: () => ROW_PX, overscan: 8 })
  const last = slots[slots.length - 1]
  const other = exchange.phase === 'underway' ? exchange.otherCall : undefined

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
    <section className={styles.card} aria-labelledby="stations-heading">
      <div className={styles.cardHead}>
        <h2 id="stations-heading">Stations{ordered.length > 0 ? `, ${ordered.length} heard` : ''}</h2>
        <span className="muted" role="status">
          {decodingSlot !== undefined
            ? 'Decoding…'
            : last?.transmitted
              ? 'Last slot: sent, not heard'
              : last
                ? `Last slot: ${last.decodes.length} messages in ${(last.decodeMs / 1000).toFixed(1)} s${last.missingMs > 300 ? `, ${(last.missingMs / 1000).toFixed(1)} s of audio missing` : ''}`
                : ''}
        </span>
      </div>
      {ordered.length === 0 ? (
        <EmptyList listening={listening} slotsHeard={slots.length} />
      ) : (
        <div ref={scroller} className={styles.stations} onKeyDown={onKey}>
          <div role="list" style={{ height: rows.getTotalSize(), position: 'relative' }}>
            {rows.getVirtualItems().map((item) => {
              const heard = ordered[item.index]!
              return (
                <div
                  role="listitem"
                  key={heard.call}
                  style={{ position: 'absolute', top: 0, left: 0, right: 0, transform: `translateY(${item.start}px)` }}
                >
                  <StationRow
                    heard={heard}
                    slotNow={slotNow}
                    worked={worked.get(heard.call) ?? []}
                    onAnswer={onAnswer}
                    busy={other === heard.call}
                  />
                </div>
              )
            })}
          </div>
        </div>
      )}
    </section>
  )
}

function EmptyList({ listening, slotsHeard }: { listening: boolean; slotsHeard: number }) {
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

function wordDoing(doing: Doing): string {
  switch (doing.kind) {
    case 'callingAll':
      return doing.word === 'CQ' ? 'calls anyone' : `calls anyone: ${doing.word}`
    case 'callingMe':
      return 'calls you'
    case 'workingMe':
      return 'answers you'
    case 'calling':
      return `calls ${doing.whom}`
    case 'working':
      return `works ${doing.whom}`
    case 'ending':
      return `ends with ${doing.whom}`
    case 'other':
      return 'sends something else'
  }
}

function StationRow({
  heard,
  slotNow,
  worked,
  onAnswer,
  busy,
}: {
  heard: HeardStation
  slotNow: number
  worked: readonly WorkedBefore[]
  onAnswer: (call: string) => void
  busy: boolean
}) {
  const { profile } = useLive()
  const path = pathBetween(profile.station.locator, heard.locator)
  const dial = useDialOfRadio() ?? profile.station.dialFrequencyHz
  const band = dial === null ? undefined : bandOf(dial)
  const here = worked.find((w) => w.band === band && w.mode === 'FT8')
  const before = here ?? worked[0]
  const mine = heard.doing.kind === 'callingMe' || heard.doing.kind === 'workingMe'
  const stale = slotNow - heard.lastSlotIndex > QUIET_AFTER_SLOTS
  const snr = heard.strengths[heard.strengths.length - 1]!.snrDb
  return (
    <div className={styles.station} data-mine={mine} data-stale={stale}>
      <span>
        <span className={`${styles.call} mono`}>{heard.call}</span>
        <br />
        <span className={`${styles.small} muted`}>
          {heard.parity} · {Math.round(heard.frequencyHz)} Hz
        </span>
      </span>
      <span className={styles.small}>
        <span className="mono">{heard.locator ?? '····'}</span>
        <br />
        <span className="muted" aria-label={`time offset ${formatSigned(heard.timeOffsetS, 1)} seconds`}>
          {formatSigned(heard.timeOffsetS, 1)} s
        </span>
      </span>
      <span className={styles.doing} data-two={before ? 'true' : 'false'}>
        {stale
          ? `quiet for ${Math.round((slotNow - heard.lastSlotIndex) / 4) || 1} min`
          : `${wordDoing(heard.doing)}${heard.lastDecode.how === 'expected' ? ' · expected' : ''}`}
        {before && (
          <span className={`${styles.before} muted`}>
            {here ? 'worked' : (before.band ?? 'worked')} {formatUtcDate(before.startedUtcMs)}
            {before.name ? `, ${before.name}` : ''}
          </span>
        )}
      </span>
      <span className={styles.small}>
        {path ? (
          <span style={{ display: 'flex', alignItems: 'center', gap: 6 }}>
            <svg
              width="18"
              height="18"
              viewBox="0 0 18 18"
              aria-hidden="true"
              style={{ transform: `rotate(${path.bearingDeg}deg)`, flex: 'none' }}
            >
              <path d="M9 1l5 15-5-4-5 4z" fill="var(--ink)" />
            </svg>
            <span style={{ whiteSpace: 'nowrap' }}>
              {formatDistance(path.distanceKm, profile.settings.distanceUnit)}
              <br />
              <span className="muted">{Math.round(path.bearingDeg)}°</span>
            </span>
          </span>
        ) : (
          <span className="muted">{allocationOf(heard.call) ?? 'place unknown'}</span>
        )}
      </span>
      <Strengths heard={heard} slotNow={slotNow} snr={snr} />
      <Button
        data-answer
        variant={!stale && (mine || heard.doing.kind === 'callingAll') ? 'contained' : 'outlined'}
        disabled={busy}
        onClick={() => onAnswer(heard.call)}
        sx={{ px: 1, whiteSpace: 'nowrap' }}
        aria-label={`Answer ${heard.call}`}
      >
        {busy ? 'With you' : 'Answer'}
      </Button>
    </div>
  )
}

/** Strength in this and the last slots as bars, and the newest as a number. */
function Strengths({ heard, slotNow, snr }: { heard: HeardStation; slotNow: number; snr: number }) {
  const bars = heard.strengths.filter((s) => slotNow - s.slotIndex < 16)
  return (
    <span className={styles.number}>
      <span className={styles.small}>
        <strong>{formatSigned(snr)}</strong> dB
      </span>
      <svg width="56" height="18" viewBox="0 0 56 18" aria-hidden="true" style={{ display: 'block' }}>
        {bars.map(({ slotIndex, snrDb }) => {
          const height = Math.max(2, Math.min(18, ((snrDb + 25) / 35) * 18))
          return (
            <rect
              key={slotIndex}
              x={56 - 3.5 * (slotNow - slotIndex + 1)}
              y={18 - height}
              width="5"
              height={height}
              fill="var(--receive)"
            />
          )
        })}
      </svg>
    </span>
  )
}
