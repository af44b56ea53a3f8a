'use client'
import { useCallback, useEffect, useRef, useState } from 'react'
import Link from 'next/link'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { answerParity, conventionalDials, SLOT_MS } from '@/core/ft8'
import { bandOf } from '@/core/log'
import type { Parity } from '@/core/time'
import type { StartResult } from '@/engine/station'
import { useLive, useStation } from '../live/StationProvider'
import { useDialOfRadio } from '../live/useDialOfRadio'
import { setRadio } from '../connect/links/linkApi'
import { useNow } from '../live/useNow'
import { formatKilohertz } from '../parts/formats'
import { BandCanvas } from './BandCanvas'
import { ExchangePanel } from './ExchangePanel'
import { StationList } from './StationList'
import { useLanes } from './useLanes'
import styles from './SlotsScreen.module.css'

/** FT8: who is there, where there is room, and the contact in progress. */
export function SlotsScreen() {
  const { station, profile, saveStation } = useLive()
  const now = useNow(500)
  const source = useStation((s) => s.source)
  const spoilt = useStation((s) => s.spoiltSlots)
  const exchange = useStation((s) => s.exchange)
  const [chosenHz, setChosenHz] = useState<number>()
  const [parity, setParity] = useState<Parity>('even')
  const [pending, setPending] = useState<{ start: () => StartResult; what: string }>()
  const [refusal, setRefusal] = useState<{ why: string; need: string }>()

  const slotNow = now === undefined ? 0 : Math.floor(now / SLOT_MS)
  const { lanesOf, intruderAt } = useLanes()

  const underway = exchange.phase === 'underway'
  const shownParity = underway ? exchange.txParity : parity
  const lanes = lanesOf(shownParity)
  const intruder = underway ? intruderAt(exchange.audioOffsetHz, exchange.txParity) : undefined
  const ownHz = underway ? exchange.audioOffsetHz : (chosenHz ?? lanes[0]?.audioOffsetHz ?? 1500)

  const chosenLane = lanes.find((lane) => lane.audioOffsetHz === ownHz)

  const attempt = (what: string, start: () => StartResult) => {
    setRefusal(undefined)
    const result = start()
    if (result.ok) {
      setPending(undefined)
      return
    }
    if (result.need === 'firstCheck') setPending({ start, what })
    else setRefusal(result)
  }
  const answer = (call: string) => {
    if (!station) return
    const { stations, exchange: last } = station.store.getState()
    const heard = stations.get(call)
    const waiting = last.phase === 'idle' ? undefined : last.queue.find((caller) => caller.call === call)
    const txParity = heard ? answerParity(heard) : waiting && last.phase !== 'idle' ? last.txParity : parity
    setParity(txParity)
    const hz = chosenHz ?? lanesOf(txParity)[0]?.audioOffsetHz ?? 1500
    attempt(`Answer ${call}`, () => station.answer(call, hz))
  }
  const callCq = () => {
    if (station) attempt('Call CQ', () => station.callCq(parity, ownHz))
  }
  const say = (text: string) => {
    if (station) attempt(`Send "${text}"`, () => station.say(text, shownParity, ownHz))
  }
  // The list must not be drawn anew with every tick of the clock.
  const latestAnswer = useRef(answer)
  useEffect(() => {
    latestAnswer.current = answer
  })
  const answerLatest = useCallback((call: string) => latestAnswer.current(call), [])
  const readHz = useDialOfRadio()
  const setDial = (hz: number) => {
    const failed = (error: Error) => setRefusal({ why: error.message, need: '' })
    if (readHz !== undefined) void setRadio(hz).catch(failed)
    void saveStation({ ...profile.station, dialFrequencyHz: hz, dialSetUtcMs: Date.now() }).catch(failed)
  }

  const talking = spoilt.find((s) => s.slotIndex >= slotNow - 1)
  const dial = readHz ?? profile.station.dialFrequencyHz
  const on = source.kind === 'microphone' || source.kind === 'recording' || source.kind === 'practice'
  return (
    <div className={styles.screen}>
      <div className={styles.bar}>
        <h1>Slots</h1>
        <span className={styles.dial}>{dial === null ? 'dial not told' : `${formatKilohertz(dial)} kHz`}</span>
        {dial !== null && (
          <span className="muted">
            {bandOf(dial) ?? 'outside the bands'}, upper sideband{readHz === undefined ? '' : ', read from the radio'}
          </span>
        )}
        <TextField
          select
          size="small"
          label="Set the dial"
          value={dial !== null && conventionalDials.some((d) => d.dialFrequencyHz === dial) ? String(dial) : ''}
          onChange={(e) => setDial(Number(e.target.value))}
          sx={{ minWidth: 190, ml: 'auto' }}
        >
          {conventionalDials.map((d) => (
            <MenuItem key={d.dialFrequencyHz} value={String(d.dialFrequencyHz)}>
              {d.band} · {formatKilohertz(d.dialFrequencyHz)} kHz{d.note ? ` (${d.note})` : ''}
            </MenuItem>
          ))}
        </TextField>
        {dial !== null && readHz === undefined && (
          <Button variant="outlined" onClick={() => setDial(dial)}>
            The radio is there
          </Button>
        )}
      </div>
      <StationList slotNow={slotNow} onAnswer={answerLatest} listening={on} />
      <div className={styles.side}>
        <section className={styles.card} aria-label="Band picture">
          <div className={styles.cardHead}>
            <h2>{underway ? `Your lane: ${Math.round(ownHz)} Hz, ${shownParity} slots` : `Free lanes, ${shownParity}`}</h2>
            <div className={styles.lanes}>
              {(underway ? [] : lanes).map((lane, i) => (
                <Button
                  key={lane.audioOffsetHz}
                  variant={ownHz === lane.audioOffsetHz ? 'contained' : 'outlined'}
                  aria-pressed={ownHz === lane.audioOffsetHz}
                  onClick={() => setChosenHz(lane.audioOffsetHz)}
                  sx={{ px: 1.2, py: 0, lineHeight: 1.15, fontSize: 15 }}
                >
                  <span className="visually-hidden">Lane {i + 1}, clear on either side: </span>
                  {lane.audioOffsetHz}
                  <span style={{ fontWeight: 400, fontSize: 13, marginLeft: 5 }}>±{Math.round(lane.clearanceHz)}</span>
                </Button>
              ))}
            </div>
          </div>
          {!underway && chosenLane && <p className={styles.reasons}>{chosenLane.reasons.join(', ')}</p>}
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
          onSayAgain={() => station && attempt('Say it again', () => station.sayAgain())}
          intruder={intruder}
          pending={pending?.what}
          onChecked={() => {
            station?.passCheck()
            if (pending) attempt(pending.what, pending.start)
          }}
          onNotNow={() => setPending(undefined)}
          practice={source.kind === 'practice'}
        />
        {talking && (
          <div className={styles.notice} role="status">
            Talking was heard in the last slot, {talking.speechS.toFixed(0)} s of it. Ask for quiet, or{' '}
            <Link href="/levels">see what it costs</Link>.
          </div>
        )}
        {refusal && (
          <div className={styles.notice} role="alert">
            {refusal.why} {(refusal.need === 'ownCall' || refusal.need === 'licence') && <Link href="/station">Set up the station</Link>}
            {refusal.need === 'source' && <Link href="/connect">Choose what to hear</Link>}
          </div>
        )}
      </div>
    </div>
  )
}
