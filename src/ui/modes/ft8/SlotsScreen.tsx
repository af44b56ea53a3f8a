'use client'
import { useCallback, useEffect, useRef, useState } from 'react'
import Link from 'next/link'
import Button from '@mui/material/Button'
import { answerParity, SLOT_MS } from '@/core/ft8'
import type { Parity } from '@/core/time'
import { useFt8, useLive, useStation } from '../../live/StationProvider'
import { useNow } from '../../live/useNow'
import { DialBar } from '../DialBar'
import { Refusal } from '../Refusal'
import { useAttempt } from '../useAttempt'
import { BandCanvas } from './BandCanvas'
import { ExchangePanel } from './ExchangePanel'
import { StationList } from './StationList'
import { useLanes } from './useLanes'
import styles from './SlotsScreen.module.css'

/** FT8: who is there, where there is room, and the contact in progress. */
export function SlotsScreen() {
  const { station } = useLive()
  const now = useNow(500)
  const source = useStation((s) => s.source)
  const spoilt = useStation((s) => s.spoiltSlots)
  const exchange = useFt8((s) => s.exchange)
  const [chosenHz, setChosenHz] = useState<number>()
  const [parity, setParity] = useState<Parity>('even')
  const { attempt, pending, checked, notNow, refusal, setRefusal } = useAttempt()

  const slotNow = now === undefined ? 0 : Math.floor(now / SLOT_MS)
  const { lanesOf, intruderAt } = useLanes()

  const underway = exchange.phase === 'underway'
  const shownParity = underway ? exchange.txParity : parity
  const lanes = lanesOf(shownParity)
  const intruder = underway ? intruderAt(exchange.audioOffsetHz, exchange.txParity) : undefined
  const ownHz = underway ? exchange.audioOffsetHz : (chosenHz ?? lanes[0]?.audioOffsetHz ?? 1500)

  const chosenLane = lanes.find((lane) => lane.audioOffsetHz === ownHz)

  const answer = (call: string) => {
    if (!station) return
    const { stations, exchange: last } = station.slice('ft8').getState()
    const heard = stations[call]
    const waiting = last.phase === 'idle' ? undefined : last.queue.find((caller) => caller.call === call)
    const txParity = heard ? answerParity(heard) : waiting && last.phase !== 'idle' ? last.txParity : parity
    setParity(txParity)
    const hz = chosenHz ?? lanesOf(txParity)[0]?.audioOffsetHz ?? 1500
    void attempt(`Answer ${call}`, { type: 'ft8.answer', call, audioOffsetHz: hz })
  }
  const callCq = () => void attempt('Call CQ', { type: 'ft8.callCq', txParity: parity, audioOffsetHz: ownHz })
  const say = (text: string) => void attempt(`Send "${text}"`, { type: 'ft8.say', text, txParity: shownParity, audioOffsetHz: ownHz })
  // The list must not be drawn anew with every tick of the clock.
  const latestAnswer = useRef(answer)
  useEffect(() => {
    latestAnswer.current = answer
  })
  const answerLatest = useCallback((call: string) => latestAnswer.current(call), [])
  const talking = spoilt.find((s) => s.slotIndex >= slotNow - 1)
  const other = useStation((s) => s.mode !== 'ft8' && s.source.kind !== 'none')
  const on = source.kind === 'microphone' || source.kind === 'recording' || source.kind === 'practice'
  const bar = <DialBar title="Slots" mode="ft8" onProblem={(why) => setRefusal({ why, need: '' })} />
  if (other) return <div className={styles.screen}>{bar}</div>
  return (
    <div className={styles.screen}>
      {bar}
      <Refusal refusal={refusal} onClose={() => setRefusal(undefined)} />
      <StationList slotNow={slotNow} onAnswer={answerLatest} listening={on} />
      <div className={styles.side}>
        <section className={`${styles.card} ${styles.seen}`} aria-label="Band picture">
          <div className={styles.cardHead}>
            <h2>{underway ? `Your offset: ${Math.round(ownHz)} Hz, ${shownParity} slots` : 'Clear offsets'}</h2>
            <div className={styles.lanes}>
              {(underway ? [] : lanes).map((lane, i) => (
                <Button
                  key={lane.audioOffsetHz}
                  variant={ownHz === lane.audioOffsetHz ? 'contained' : 'outlined'}
                  aria-pressed={ownHz === lane.audioOffsetHz}
                  onClick={() => setChosenHz(lane.audioOffsetHz)}
                  sx={{ px: 1.2, py: 0, lineHeight: 1.15, fontSize: 15 }}
                >
                  <span className="visually-hidden">Offset {i + 1}, clear on either side: </span>
                  {lane.audioOffsetHz}
                  <span style={{ fontWeight: 400, fontSize: 13, marginLeft: 5 }}>±{Math.round(lane.clearanceHz)}</span>
                </Button>
              ))}
            </div>
          </div>
          {!underway && chosenLane && <p className={styles.reasons}>{`${shownParity} slots: ${chosenLane.reasons.join(', ')}`}</p>}
          <BandCanvas
            ownHz={ownHz}
            lanes={underway ? [] : lanes}
            txParity={shownParity}
            onChoose={underway ? undefined : setChosenHz}
            listening={on}
          />
        </section>
        <ExchangePanel
          now={now}
          parity={parity}
          onParity={setParity}
          ownHz={ownHz}
          onCallCq={callCq}
          onAnswer={answer}
          onSay={say}
          onSayAgain={() => void attempt('Say it again', { type: 'ft8.sayAgain' })}
          intruder={intruder}
          pending={pending}
          onChecked={checked}
          onNotNow={notNow}
          practice={source.kind === 'practice'}
        />
        {talking && (
          <div className={styles.notice} role="status">
            Talking was heard in the last slot, {talking.speechS.toFixed(0)} s of it. Ask for quiet, or{' '}
            <Link href="/levels">see what it costs</Link>.
          </div>
        )}
      </div>
    </div>
  )
}
