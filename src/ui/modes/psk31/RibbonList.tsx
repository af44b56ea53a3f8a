'use client'
import { memo, useState } from 'react'
import dynamic from 'next/dynamic'
import Link from 'next/link'
import Button from '@mui/material/Button'
import ToggleButton from '@mui/material/ToggleButton'
import { allocationOf } from '@/core/place'
import type { Unread } from '@/core/psk31'
import type { ConversationView } from '@/engine/modes/psk31/state'
import type { StationState } from '@/engine/station/state'
import { useLive, usePsk31, useStation } from '../../live/StationProvider'
import { useNow } from '../../live/useNow'
import { counted, formatBearing, formatDistance, formatSigned, pathBetween } from '../../parts/formats'
import { FindText } from './FindText'
import { HeardText } from './HeardText'
import { SpectrumRail } from './SpectrumRail'
import { laidOut, RAIL_HZ } from './layout'
import styles from './Ribbons.module.css'

/** Only who looks at it loads the coasts. */
const BandMap = dynamic(() => import('./BandMap').then(({ BandMap: map }) => map), { ssr: false })

const DOING = { text: 'talks', idle: 'idles', carrier: 'carrier', gone: 'gone' } as const

/** All conversations, a running line each, joined to its place on the rail: by frequency, or who calls anybody first. */
export function RibbonList({ listening, onRefused }: { listening: boolean; onRefused: (why: string) => void }) {
  const { station } = useLive()
  const heard = usePsk31((s) => s.conversations)
  const focus = usePsk31((s) => s.focus)
  const unread = usePsk31((s) => s.unread)
  const worked = useStation((s) => s.worked)
  const now = useNow(1000)
  const [cqFirst, setCqFirst] = useState(false)
  const [finding, setFinding] = useState(false)
  const [onMap, setOnMap] = useState(false)
  const conversations = cqFirst ? [...heard].sort((a, b) => Number(callsAnybody(b)) - Number(callsAnybody(a))) : heard
  const present = conversations.filter((one) => one.doing !== 'gone').length
  const take = async (target: { channel: number } | { frequencyHz: number }) => {
    const done = await station?.do({ type: 'psk31.focus', target })
    if (done && !done.ok) onRefused(done.why)
  }
  return (
    <section className={styles.card} aria-labelledby="ribbons-heading">
      <div className={styles.cardHead}>
        <h2 id="ribbons-heading">
          {conversations.length === 0 ? 'Conversations' : counted(conversations.length, 'conversation')}{' '}
          {conversations.length > 0 && <span className={styles.now}>{present} now</span>}
        </h2>
        <div className={styles.headActions}>
          <ToggleButton size="small" value="cq" selected={cqFirst} onChange={() => setCqFirst(!cqFirst)}>
            CQ first
          </ToggleButton>
          <ToggleButton size="small" value="find" selected={finding} onChange={() => setFinding(!finding)}>
            Find text
          </ToggleButton>
          <ToggleButton size="small" value="map" selected={onMap} onChange={() => setOnMap(!onMap)}>
            Map
          </ToggleButton>
        </div>
      </div>
      {finding && <FindText onTake={(frequencyHz) => void take({ frequencyHz })} />}
      {onMap && now !== undefined && <BandMap conversations={heard} nowUtcMs={now} />}
      <div className={styles.band} hidden={onMap}>
        <SpectrumRail
          marks={laidOut(conversations.map((one) => one.frequencyHz))}
          focusHz={focus && (focus.sendHz ?? focus.frequencyHz)}
          onChoose={listening ? (frequencyHz) => void take({ frequencyHz }) : undefined}
        />
        {conversations.length === 0 ? (
          <Nothing listening={listening} />
        ) : (
          <ol className={styles.ribbons}>
            {conversations.map((one) => (
              <Ribbon
                key={one.channel}
                one={one}
                // Only who is gone tells for how long: the others need not be drawn every second.
                ago={now === undefined || one.doing !== 'gone' ? 0 : Math.max(0, Math.round((now - one.lastUtcMs) / 1000))}
                inFocus={focus?.channel === one.channel}
                before={one.from === undefined ? undefined : worked[one.from]}
                onTake={take}
              />
            ))}
          </ol>
        )}
      </div>
      {listening && unread.length > 0 && (
        <p className={styles.unread}>
          <strong>Not read here:</strong> {unread.map(unreadWords).join('; ')}
        </p>
      )}
    </section>
  )
}

const unreadWords = ({ frequencyHz, widthHz, kind }: Unread) =>
  kind === 'carrier' ? `a steady tone at ${frequencyHz} Hz` : `another signal at ${frequencyHz} Hz, ${widthHz} Hz wide`

const callsAnybody = ({ cq, doing, toMe }: ConversationView) => toMe || (cq && doing !== 'gone')

interface RibbonProps {
  one: ConversationView
  ago: number
  inFocus: boolean
  before: StationState['worked'][string] | undefined
  onTake: (target: { channel: number }) => Promise<void>
}

const Ribbon = memo(function Ribbon({ one, ago, inFocus, before, onTake }: RibbonProps) {
  const { channel, from, to, frequencyHz, fasterBaud, snrDb, doing, tail, tailFaint, cq, toMe, turn, told } = one
  const { profile } = useLive()
  const worked = before !== undefined && before.length > 0
  const name = told.name ?? before?.find((contact) => contact.name)?.name
  const path = pathBetween(profile.station.locator, told.locator ?? before?.find((contact) => contact.locator)?.locator)
  const what = toMe ? 'calls you' : cq ? 'calling CQ' : to ? `to ${to}${turn === 'over' ? ', ending' : ''}` : ''
  const state = doing === 'gone' ? `gone ${ago} s` : DOING[doing]
  const where = path
    ? `${formatDistance(path.distanceKm, profile.settings.distanceUnit)} ${formatBearing(path.bearingDeg)}`
    : from && allocationOf(from)
  return (
    <li>
      <button
        type="button"
        className={styles.ribbon}
        aria-pressed={inFocus}
        data-gone={doing === 'gone'}
        data-mine={toMe}
        onClick={() => void onTake({ channel })}
      >
        <span className={styles.where}>
          <span className={styles.hz}>{Math.round(frequencyHz)}</span>
          <span className="muted">{formatSigned(snrDb)} dB</span>
        </span>
        <span className={styles.who}>
          <span className={styles.name}>
            <strong className="mono">{from ?? '· · ·'}</strong>
            {name && ` ${name}`}
          </span>
          <span className="muted">
            {[worked ? 'worked' : '', what || state, fasterBaud && `${fasterBaud} baud`, where].filter(Boolean).join(', ')}
          </span>
        </span>
        <span className={`${styles.tail} mono`}>
          <bdi>
            <HeardText text={tail} faint={tailFaint} />
          </bdi>
        </span>
      </button>
    </li>
  )
}, isSameRibbon)

/** The list is made anew with each piece of sound; a ribbon is drawn anew only when something in it has changed. */
function isSameRibbon(a: RibbonProps, b: RibbonProps): boolean {
  return a.ago === b.ago && a.inFocus === b.inFocus && a.before === b.before && JSON.stringify(a.one) === JSON.stringify(b.one)
}

function Nothing({ listening }: { listening: boolean }) {
  return (
    <div className={styles.empty}>
      {listening ? (
        <p>
          Listening between {RAIL_HZ[0]} and {RAIL_HZ[1]} Hz. A conversation shows some three seconds after it begins.
        </p>
      ) : (
        <>
          <p>Nothing is being listened to. On PSK31’s usual frequencies a dozen conversations and more share one passband.</p>
          <Button component={Link} href="/practise" variant="contained">
            Start the practice band
          </Button>
          <Button component={Link} href="/connect" variant="outlined">
            Listen to a radio or a recording
          </Button>
        </>
      )}
    </div>
  )
}
