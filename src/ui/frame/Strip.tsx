'use client'
import { useEffect, useRef, useState } from 'react'
import { MODES } from '@/core/modes'
import type { Slices } from '@/engine/port/stationPort'
import { MODE_SCREENS } from '../modes'
import { shortLevel } from '../levels/levelSentence'
import { counted, formatUtc } from '../parts/formats'
import { useLive, useStation } from '../live/StationProvider'
import { useClockVerdict } from '../live/useClockVerdict'
import { useNow } from '../live/useNow'
import { useServerGone } from '../live/useServerGone'
import styles from './Frame.module.css'

const SOURCE_WORDS = { none: 'nothing', starting: 'opening…', microphone: 'microphone', recording: 'recording', practice: 'practice band' }

const KEYED_BY = { none: 'by hand', cat: 'CAT control', rts: 'RTS line', dtr: 'DTR line' } as const

/** What is always in sight: time, clock, level, keying, battery, and Silence. */
export function Strip() {
  const { silence } = useLive()
  const now = useNow(100)
  const onAir = useStation((s) => s.onAir)
  const next = useStation((s) => s.next)
  const source = useStation((s) => s.source)
  const waiting = useStation((s) => s.waitingContacts)
  const gone = useServerGone()
  const silenceNow = useRef(silence)

  useEffect(() => {
    silenceNow.current = silence
  }, [silence])
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'Escape') silenceNow.current()
    }
    // Before any other listener, so that no dialog or field can swallow it.
    window.addEventListener('keydown', onKey, { capture: true })
    return () => window.removeEventListener('keydown', onKey, { capture: true })
  }, [])

  const mode = useStation((s) => s.mode)
  const { StripCell } = MODE_SCREENS[mode]
  return (
    <header className={styles.strip} data-onair={onAir ? 'true' : 'false'} data-armed={!onAir && next !== undefined}>
      <div className={styles.cell}>
        <span className={styles.time} suppressHydrationWarning>
          {now === undefined ? '--:--:--' : formatUtc(now)}
        </span>
        <span className={styles.label}>UTC</span>
      </div>
      <StripCell now={now} />
      {onAir && now !== undefined ? (
        <OnAirCells onAir={onAir} now={now} practice={source.kind === 'practice'} />
      ) : (
        <>
          <ClockCell />
          <LevelCell />
          {next && now !== undefined ? (
            // What is armed matters more than what is set up.
            <ArmedCell next={next} now={now} practice={source.kind === 'practice'} />
          ) : (
            <SetUpCells />
          )}
        </>
      )}
      {(gone || waiting > 0) && (
        <div className={styles.cell} role="status">
          <span className={styles.label}>{gone ? 'Log server not answering' : 'Waiting for the log server'}</span>
          <span className={styles.value}>
            {waiting > 0 ? `${counted(waiting, 'contact')} kept in this device` : 'contacts will be kept here'}
          </span>
        </div>
      )}
      <button type="button" className={styles.silence} onClick={silence} aria-keyshortcuts="Escape">
        Silence
        <small>or Escape</small>
      </button>
    </header>
  )
}

function SetUpCells() {
  const { profile } = useLive()
  const source = useStation((s) => s.source)
  const keyedBy = useStation((s) => s.links?.keying.by)
  const pace = 'pace' in source && source.pace !== 1 ? `, ${source.pace}× pace` : ''
  return (
    <>
      <div className={`${styles.cell} ${styles.grow}`}>
        <span className={styles.label}>Audio source{pace}</span>
        <span className={styles.value}>{SOURCE_WORDS[source.kind]}</span>
      </div>
      <div className={`${styles.cell} ${styles.narrow} ${styles.optional}`}>
        <span className={styles.label}>Keying</span>
        <span className={styles.value}>
          {source.kind === 'practice'
            ? 'simulated'
            : keyedBy !== undefined && keyedBy !== 'vox'
              ? KEYED_BY[keyedBy]
              : profile.station.voxLeadInMs > 0
                ? `VOX +${profile.station.voxLeadInMs} ms`
                : 'VOX'}
        </span>
      </div>
      <BatteryCell />
    </>
  )
}

interface ArmedCellProps {
  next: NonNullable<Slices['station']['next']>
  now: number
  practice: boolean
}

/** What goes out next by itself: between two transmissions of its own the station is armed, whatever screen is open. */
function ArmedCell({ next, now, practice }: ArmedCellProps) {
  const inS = Math.ceil((next.startUtcMs - now) / 1000)
  const what = next.onlyIfAsked ? 'Only if they ask again,' : practice ? 'Practice: next' : 'Next transmission'
  return (
    <div className={`${styles.cell} ${styles.grow}`}>
      <span className={`${styles.label} ${styles.armed}`}>
        {what} {inS > 0 ? `in ${inS} s` : 'now'}
      </span>
      {/* Read out when the words change, not with every second. */}
      <span className={`${styles.onair} mono`} role="status" aria-label={`${what}: ${next.text}`}>
        {next.text}
      </span>
    </div>
  )
}

function OnAirCells({ onAir, now, practice }: { onAir: NonNullable<Slices['station']['onAir']>; now: number; practice: boolean }) {
  const { startUtcMs, endUtcMs, text, open, mode } = onAir
  const keyedS = Math.max(0, (now - startUtcMs) / 1000)
  const leftS = Math.max(0, (endUtcMs - now) / 1000)
  const watchdogS = open ? leftS : Math.max(0, (MODES[mode].longestMs - (now - startUtcMs)) / 1000)
  return (
    <>
      <div className={`${styles.cell} ${styles.state}`}>
        <span className={styles.label}>{practice ? 'Practice: on the air' : 'On the air'}</span>
        <span className={styles.value}>TRANSMITTING</span>
      </div>
      <div className={`${styles.cell} ${styles.grow}`} role="status" aria-label={`Transmitting ${text}`}>
        <span className={styles.label}>Sending</span>
        <span className={`${styles.onair} mono`}>{text}</span>
      </div>
      <div className={`${styles.cell} ${styles.quiet}`}>
        <span className={styles.label}>Keyed {keyedS.toFixed(0)} s</span>
        <span className={styles.value}>{open ? 'until you end it' : `${leftS.toFixed(0)} s left`}</span>
      </div>
      <div className={`${styles.cell} ${styles.narrow}`}>
        <span className={styles.label}>Auto-stop in</span>
        <span className={styles.value}>{watchdogS.toFixed(0)} s</span>
      </div>
    </>
  )
}

function ClockCell() {
  const verdict = useClockVerdict(500)
  const band = useStation((s) => s.bandClock)
  const label = verdict?.kind === 'simulated' ? 'Clock' : band ? `Clock error, ${band.stations} heard` : 'Clock error'
  return (
    <div className={`${styles.cell} ${styles.quiet}`}>
      <span className={styles.label}>{label}</span>
      <span className={styles.value}>{verdict?.short ?? 'not checked'}</span>
    </div>
  )
}

function LevelCell() {
  const level = useStation((s) => s.level)
  const short = useStation((s) => s.audio && shortLevel(s.audio))
  const share = level && Number.isFinite(level.rmsDbfs) ? Math.max(0, Math.min(100, ((level.rmsDbfs + 80) / 80) * 100)) : 0
  return (
    <div className={`${styles.cell} ${styles.quiet}`}>
      <span className={styles.label}>Receive level</span>
      <span className={styles.value}>{short ?? (level ? (Number.isFinite(level.rmsDbfs) ? 'measuring' : 'no sound') : 'none')}</span>
      <div className={styles.meter} aria-hidden="true">
        <i style={{ width: `${share}%` }} />
      </div>
    </div>
  )
}

interface BatteryManager extends EventTarget {
  level: number
  charging: boolean
}

function BatteryCell() {
  const [battery, setBattery] = useState<{ level: number; charging: boolean }>()
  useEffect(() => {
    let manager: BatteryManager | undefined
    const read = () => manager && setBattery({ level: manager.level, charging: manager.charging })
    void (navigator as { getBattery?: () => Promise<BatteryManager> }).getBattery?.().then((found) => {
      manager = found
      read()
      manager.addEventListener('levelchange', read)
      manager.addEventListener('chargingchange', read)
    })
    return () => {
      manager?.removeEventListener('levelchange', read)
      manager?.removeEventListener('chargingchange', read)
    }
  }, [])
  // Some browsers do not tell: then the place is better used by the rest.
  if (!battery) return null
  return (
    <div className={`${styles.cell} ${styles.narrow} ${styles.optional}`}>
      <span className={styles.label}>This device</span>
      <span className={styles.value}>{`${Math.round(battery.level * 100)} %${battery.charging ? ', charging' : ''}`}</span>
    </div>
  )
}
