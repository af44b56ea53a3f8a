'use client'
import Link from 'next/link'
import Button from '@mui/material/Button'
import type { ConversationView } from '@/engine/modes/psk31/state'
import { useLive, usePsk31, useStation } from '../../live/StationProvider'
import { useNow } from '../../live/useNow'
import { counted, formatSigned } from '../../parts/formats'
import { HeardText } from './HeardText'
import { SpectrumRail } from './SpectrumRail'
import { laidOut, RAIL_HZ } from './layout'
import styles from './Ribbons.module.css'

const DOING = { text: 'talks', idle: 'idles', carrier: 'carrier', gone: 'gone' } as const

/** All conversations by frequency: a running line each, joined to its place on the rail. */
export function RibbonList({ listening, onRefused }: { listening: boolean; onRefused: (why: string) => void }) {
  const { station } = useLive()
  const conversations = usePsk31((s) => s.conversations)
  const focus = usePsk31((s) => s.focus)
  const worked = useStation((s) => s.worked)
  const now = useNow(1000)
  const present = conversations.filter((one) => one.doing !== 'gone').length
  const take = async (target: { channel: number } | { frequencyHz: number }) => {
    const done = await station?.do({ type: 'psk31.focus', target })
    if (done && !done.ok) onRefused(done.why)
  }
  return (
    <section className={styles.card} aria-labelledby="ribbons-heading">
      <div className={styles.cardHead}>
        <h2 id="ribbons-heading">{conversations.length === 0 ? 'Conversations' : counted(present, 'conversation')}</h2>
        <span className="muted">{listening ? 'Touch one, or the scale for a free place' : ''}</span>
      </div>
      <div className={styles.band}>
        <SpectrumRail
          marks={laidOut(conversations.map((one) => one.frequencyHz))}
          focusHz={focus?.frequencyHz}
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
                now={now}
                inFocus={focus?.channel === one.channel}
                worked={one.from !== undefined && (worked[one.from]?.length ?? 0) > 0}
                onTake={() => void take({ channel: one.channel })}
              />
            ))}
          </ol>
        )}
      </div>
    </section>
  )
}

interface RibbonProps {
  one: ConversationView
  now: number | undefined
  inFocus: boolean
  worked: boolean
  onTake: () => void
}

function Ribbon({ one, now, inFocus, worked, onTake }: RibbonProps) {
  const { from, to, frequencyHz, snrDb, doing, tail, tailFaint, cq, toMe, lastUtcMs } = one
  const ago = now === undefined ? 0 : Math.max(0, Math.round((now - lastUtcMs) / 1000))
  const what = toMe ? 'calls you' : cq ? 'calling CQ' : to ? `to ${to}` : ''
  return (
    <li>
      <button type="button" className={styles.ribbon} aria-pressed={inFocus} data-gone={doing === 'gone'} data-mine={toMe} onClick={onTake}>
        <span className={styles.where}>
          <span className={styles.hz}>{Math.round(frequencyHz)}</span>
          <span className="muted">{formatSigned(snrDb)} dB</span>
        </span>
        <span className={styles.who}>
          <strong className="mono">{from ?? '· · ·'}</strong>
          <span className="muted">
            {[worked ? 'worked' : '', what].filter(Boolean).join(', ') || (doing === 'gone' ? `gone ${ago} s` : DOING[doing])}
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
