'use client'
import Button from '@mui/material/Button'
import ToggleButton from '@mui/material/ToggleButton'
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup'
import { describeExchange, nextTransmission, SLOT_MS } from '@/core/ft8'
import { parityOf, type Parity } from '@/core/time'
import { useLive, useStation } from '../live/StationProvider'
import { formatSigned, formatUtc } from '../parts/formats'
import { FirstCheck } from '../parts/FirstCheck'
import styles from './SlotsScreen.module.css'

interface ExchangePanelProps {
  now: number | undefined
  parity: Parity
  onParity: (parity: Parity) => void
  ownHz: number
  onCallCq: () => void
  onAnswer: (call: string) => void
  pending: string | undefined
  onChecked: () => void
  onNotNow: () => void
  practice: boolean
}

/** The contact in progress as a ladder of said and heard, with what comes next and when. */
export function ExchangePanel({
  now,
  parity,
  onParity,
  ownHz,
  onCallCq,
  onAnswer,
  pending,
  onChecked,
  onNotNow,
  practice,
}: ExchangePanelProps) {
  const { station } = useLive()
  const exchange = useStation((s) => s.exchange)
  const onAir = useStation((s) => s.onAir)
  const notice = useStation((s) => s.notice)
  const next = nextTransmission(exchange)
  const ladder = exchange.phase === 'idle' ? [] : exchange.ladder.slice(-6)
  const offers = exchange.phase === 'idle' ? [] : exchange.queue.map((caller) => caller.call)

  return (
    <section className={styles.card} aria-label="Exchange">
      <div className={styles.exchange}>
        {pending ? (
          <FirstCheck what={pending} practice={practice} onChecked={onChecked} onNotNow={onNotNow} />
        ) : (
          <>
            <div style={{ display: 'flex', justifyContent: 'space-between', gap: 12, alignItems: 'center' }}>
              <h2 role="status">{describeExchange(exchange)}</h2>
              {exchange.phase === 'underway' && (
                <Button variant="outlined" onClick={() => station?.stopExchange()} sx={{ flex: 'none' }}>
                  Stop after this
                </Button>
              )}
            </div>
            {next && !onAir && <NextUp text={next.text} parity={next.parity} now={now} hz={next.audioOffsetHz} />}
            {onAir && (
              <div className={styles.next}>
                <span className={`${styles.nextText} mono`}>{onAir.text}</span>
                <strong>on the air now</strong>
              </div>
            )}
            {ladder.length > 0 && (
              <ol className={styles.ladder} aria-label="Said and heard">
                {ladder.map((entry) => (
                  <li key={`${entry.utcMs} ${entry.direction} ${entry.text}`} className={styles.rung} data-direction={entry.direction}>
                    <span className="muted">{formatUtc(entry.utcMs)}</span>
                    <span>{entry.direction === 'sent' ? 'said' : 'heard'}</span>
                    <span className={`${styles.words} mono`}>{entry.text}</span>
                    <span className="muted" style={{ textAlign: 'right' }}>
                      {entry.snrDb === undefined ? '' : `${formatSigned(entry.snrDb)} dB`}
                    </span>
                  </li>
                ))}
              </ol>
            )}
            {offers.length > 0 && (
              <div style={{ display: 'flex', gap: 8, alignItems: 'center', flexWrap: 'wrap' }}>
                <span>Also calling you:</span>
                {offers.map((call) => (
                  <Button
                    key={call}
                    variant="outlined"
                    className="mono"
                    onClick={() => onAnswer(call)}
                    disabled={exchange.phase === 'underway'}
                  >
                    {call}
                  </Button>
                ))}
              </div>
            )}
            {notice && (
              <p className={styles.notice} role="alert">
                {notice.text}
              </p>
            )}
            {exchange.phase !== 'underway' && (
              <div style={{ display: 'flex', gap: 12, alignItems: 'center', flexWrap: 'wrap' }}>
                <Button variant="outlined" size="large" onClick={onCallCq}>
                  Call CQ at {ownHz} Hz
                </Button>
                <ToggleButtonGroup
                  exclusive
                  value={parity}
                  onChange={(_, value: Parity | null) => value && onParity(value)}
                  aria-label="Slots to transmit in"
                >
                  <ToggleButton value="even" sx={{ minHeight: 44 }}>
                    even :00 :30
                  </ToggleButton>
                  <ToggleButton value="odd" sx={{ minHeight: 44 }}>
                    odd :15 :45
                  </ToggleButton>
                </ToggleButtonGroup>
              </div>
            )}
          </>
        )}
      </div>
    </section>
  )
}

function NextUp({ text, parity, now, hz }: { text: string; parity: Parity; now: number | undefined; hz: number }) {
  let when = ''
  if (now !== undefined) {
    let slot = Math.floor(now / SLOT_MS)
    if (parityOf(slot) !== parity) slot++
    else if (now % SLOT_MS > 4000) slot += 2
    const inS = Math.ceil((slot * SLOT_MS - now) / 1000)
    when = inS > 0 ? `at ${formatUtc(slot * SLOT_MS)}, in ${inS} s` : 'in this slot'
  }
  return (
    <div className={styles.next}>
      <span className="muted">
        Next, {when}, {Math.round(hz)} Hz
      </span>
      <span />
      <span className={`${styles.nextText} mono`}>{text}</span>
    </div>
  )
}
