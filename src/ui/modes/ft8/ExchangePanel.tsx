'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import ToggleButton from '@mui/material/ToggleButton'
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup'
import { describeExchange, likelyNext, SLOT_MS, type Intruder } from '@/core/ft8'
import type { Parity } from '@/core/time'
import type { Slices } from '@/engine/port/stationPort'
import { useFt8, useLive, useStation } from '../../live/StationProvider'
import { formatSigned, formatUtc } from '../../parts/formats'
import { useMessages } from '../../parts/Messages'
import { FirstCheck } from '../../parts/FirstCheck'
import { CallerQueue } from './CallerQueue'
import { FreeTextForm } from './FreeTextForm'
import styles from './SlotsScreen.module.css'

interface ExchangePanelProps {
  now: number | undefined
  parity: Parity
  onParity: (parity: Parity) => void
  ownHz: number
  onCallCq: () => void
  onAnswer: (call: string) => void
  onSay: (text: string) => void
  onSayAgain: () => void
  pending: string | undefined
  onChecked: () => void
  onNotNow: () => void
  practice: boolean
  /** Who came upon the own lane. */
  intruder: Intruder | undefined
}

/** The contact in progress as a ladder of said and heard, with what comes next and when. */
export function ExchangePanel(props: ExchangePanelProps) {
  const { now, parity, onParity, ownHz, onCallCq, onAnswer, onSay, onSayAgain, intruder } = props
  const { station } = useLive()
  const exchange = useFt8((s) => s.exchange)
  const onAir = useStation((s) => s.onAir)
  const listeningSlot = useFt8((s) => s.listeningSlot)
  const [writing, setWriting] = useState(false)
  const next = useStation((s) => s.next)
  const underway = exchange.phase === 'underway'
  const slotNow = now === undefined ? 0 : Math.floor(now / SLOT_MS)
  const ladder = exchange.phase === 'idle' ? [] : exchange.ladder.slice(-5)

  if (props.pending)
    return (
      <section className={`${styles.card} ${styles.acting}`} aria-label="Exchange">
        <div className={styles.exchange}>
          <FirstCheck what={props.pending} practice={props.practice} onChecked={props.onChecked} onNotNow={props.onNotNow} />
        </div>
      </section>
    )
  return (
    <section className={`${styles.card} ${styles.acting}`} aria-label="Exchange">
      <div className={styles.exchange}>
        <div style={{ display: 'flex', justifyContent: 'space-between', gap: 12, alignItems: 'center' }}>
          <h2 role="status">{describeExchange(exchange)}</h2>
          {underway && (
            <Button variant="outlined" onClick={() => void station?.do({ type: 'ft8.stop' })} sx={{ flex: 'none' }}>
              Stop after this
            </Button>
          )}
        </div>
        {next && <NextUp next={next} now={now} listens={listeningSlot === slotNow} />}
        {onAir && (
          <div className={styles.next}>
            <span className={`${styles.nextText} mono`}>{onAir.text}</span>
            <strong>on the air now</strong>
          </div>
        )}
        {underway && <Afterwards />}
        {ladder.length > 0 && (
          <ol className={styles.ladder} aria-label="Sent and received">
            {ladder.map((entry) => (
              <li key={`${entry.utcMs} ${entry.direction} ${entry.text}`} className={styles.rung} data-direction={entry.direction}>
                <span className="muted">{formatUtc(entry.utcMs)}</span>
                <span>{entry.direction === 'sent' ? 'sent' : 'received'}</span>
                <span className={`${styles.words} mono`}>{entry.text}</span>
                <span className="muted" style={{ textAlign: 'right' }}>
                  {entry.snrDb === undefined ? '' : `${formatSigned(entry.snrDb)} dB`}
                </span>
              </li>
            ))}
          </ol>
        )}
        {intruder && (
          <p className={styles.notice} role="status">
            {intruder.call ?? 'Someone'} sends in your slots at {Math.round(intruder.frequencyHz)} Hz, on your transmit offset. Stop, and
            take another one.
          </p>
        )}
        {exchange.phase === 'ended' && exchange.asksAgain && (
          <div className={styles.notice} style={{ display: 'flex', gap: 10, alignItems: 'center', flexWrap: 'wrap' }}>
            <span>{exchange.otherCall} did not hear your ending.</span>
            <Button variant="contained" onClick={onSayAgain}>
              Say it once more
            </Button>
          </div>
        )}
        {exchange.phase !== 'idle' && (
          <CallerQueue
            queue={exchange.queue}
            busy={underway}
            slotNow={slotNow}
            onAnswer={onAnswer}
            onFirst={(call) => void station?.do({ type: 'ft8.arrangeCallers', calls: [call] })}
          />
        )}
        {writing && <FreeTextForm onSay={onSay} onClose={() => setWriting(false)} />}
        <div style={{ display: 'flex', gap: 12, alignItems: 'center', flexWrap: 'wrap' }}>
          {!underway && (
            <>
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
              <CqAgain />
            </>
          )}
          {!writing && (
            <Button variant="outlined" onClick={() => setWriting(true)}>
              Free text
            </Button>
          )}
        </div>
      </div>
    </section>
  )
}

const CQ_AGAIN = [0, 1, 2, 3, 5, 10] as const

/** How often CQ goes on by itself after a contact, while somebody is at the station. */
function CqAgain() {
  const { profile, saveStation } = useLive()
  const { tell } = useMessages()
  const { ft8 } = profile.station.modes
  const choices = [...new Set<number>([...CQ_AGAIN, ft8.cqAgain])].sort((a, b) => a - b)
  return (
    <TextField
      select
      size="small"
      label="CQ again after a contact"
      value={ft8.cqAgain}
      onChange={(e) =>
        void saveStation({
          ...profile.station,
          modes: { ...profile.station.modes, ft8: { ...ft8, cqAgain: Number(e.target.value) } },
        }).catch((error: Error) => tell({ kind: 'problem', topic: 'cqAgain', text: `Not kept: ${error.message}` }))
      }
      sx={{ minWidth: 210 }}
    >
      {choices.map((times) => (
        <MenuItem key={times} value={times}>
          {times === 0 ? 'Not by itself' : `By itself, ${times === 1 ? 'once' : `${times} times`}`}
        </MenuItem>
      ))}
    </TextField>
  )
}

/** What is waited for after that, and what would then be said. */
function Afterwards() {
  const exchange = useFt8((s) => s.exchange)
  const after = likelyNext(exchange)
  if (!after) return null
  return (
    <p className="muted" style={{ margin: 0 }}>
      After that {after.when}
      {after.text && (
        <>
          : <span className="mono">{after.text}</span>
        </>
      )}
    </p>
  )
}

interface NextUpProps {
  next: NonNullable<Slices['station']['next']>
  now: number | undefined
  /** Whether this slot is one to listen in. */
  listens: boolean
}

function NextUp({ next, now, listens }: NextUpProps) {
  const inS = now === undefined ? undefined : Math.ceil((next.startUtcMs - now) / 1000)
  const when = inS === undefined ? '' : inS > 0 ? `at ${formatUtc(next.startUtcMs)}, in ${inS} s` : 'in this slot'
  return (
    <div className={styles.next}>
      <span className="muted">
        {listens ? 'Listening whether your offset is still clear. ' : ''}
        {next.onlyIfAsked ? 'Only if they ask again' : 'Next'}, {when}, {Math.round(next.audioOffsetHz)} Hz
      </span>
      <span className={`${styles.nextText} mono`} style={{ gridColumn: '1 / -1' }}>
        {next.text}
      </span>
    </div>
  )
}
