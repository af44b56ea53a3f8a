'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { burstSeconds, costNow, uiFrame, type PacketModemId } from '@/core/packet'
import { packetActSchema, type PacketAct, type PacketState } from '@/core/packet/station/contracts'
import { useLinkConfig } from '../../connect/links/useLinkConfig'
import { useLive, usePacketModem, useStation } from '../../live/StationProvider'
import { useNow } from '../../live/useNow'
import { Caution } from '../../parts/Panel'
import { formatUtc } from '../../parts/formats'
import styles from './Sessions.module.css'

const EVERY_MIN = [2, 5, 10, 15, 30, 60] as const
const TIMES = [3, 6, 12, 24] as const
/** Over so long the server reckons how much the channel is used. */
const SERVER_WINDOW_S = 120
const MODEMS: Record<number, PacketModemId> = { 300: 'packet300', 1200: 'packet1200', 9600: 'packet9600' }

/** Text without a session: to everybody once, or again and again as a beacon, with what it costs the channel. */
export function ToAllView({ packet, onAct }: { packet: PacketState | undefined; onAct: (act: PacketAct) => Promise<boolean> }) {
  const { profile } = useLive()
  const [text, setText] = useState('')
  const [to, setTo] = useState('BEACON')
  const [via, setVia] = useState('')
  const [everyMin, setEvery] = useState<number>(10)
  const [times, setTimes] = useState<number>(6)
  const baud = useStation((s) => s.links?.tnc.airBaud ?? 1200)
  const now = useNow(1000)
  const path = via.split(/[\s,]+/).filter(Boolean)
  const once = packetActSchema.safeParse({ act: 'unproto', to, via: path, text })
  const problem = text === '' || once.success ? undefined : once.error.issues[0]!.message
  const seconds = once.success ? secondsOf(profile.station.call, once.data, baud, packet?.txDelayMs ?? 0) : undefined
  const { call, operatorName, locator } = profile.station
  const identify = `${call}${operatorName ? `, ${operatorName}` : ''}${locator ? `, ${locator}` : ''}`
  const sendOnce = async () => {
    if (once.success && (await onAct(once.data))) setText('')
  }
  const beacon = packet?.beacon
  return (
    <div className={styles.view}>
      <form
        className={styles.toAll}
        onSubmit={(event) => {
          event.preventDefault()
          void sendOnce()
        }}
      >
        <TextField
          label="Text to everybody"
          size="small"
          fullWidth
          value={text}
          onChange={(e) => setText(e.target.value.slice(0, 256))}
          error={problem !== undefined}
          helperText={
            problem ??
            (seconds === undefined
              ? 'One frame, which nobody acknowledges'
              : `${seconds.toFixed(1)} s on the air at ${baud} baud; ${text.length} of 256 letters`)
          }
        />
        <div className={styles.viewHead}>
          <TextField label="To" size="small" value={to} onChange={(e) => setTo(e.target.value.toUpperCase())} sx={{ width: 130 }} />
          <TextField
            label="By digipeaters"
            placeholder="none"
            size="small"
            value={via}
            onChange={(e) => setVia(e.target.value.toUpperCase())}
            sx={{ width: 190 }}
            slotProps={{ inputLabel: { shrink: true } }}
          />
          <Button type="submit" variant="contained" disabled={!once.success}>
            Send once
          </Button>
          <Button variant="outlined" disabled={!call} onClick={() => setText(identify)}>
            Who we are
          </Button>
        </div>
      </form>
      <section className={styles.beacon} aria-labelledby="beacon-heading">
        <h2 id="beacon-heading">Beacon</h2>
        {beacon ? (
          <div className={styles.viewHead}>
            <p role="status">
              “{beacon.text}” every {beacon.everyMin} min, {beacon.left} more. The next at {formatUtc(beacon.nextUtcMs)}
              {now !== undefined && `, in ${Math.max(0, Math.round((beacon.nextUtcMs - now) / 1000))} s`}.
              {beacon.problem !== null && ` The last one did not go out: ${beacon.problem}`}
            </p>
            <Button variant="outlined" color="error" onClick={() => void onAct({ act: 'endBeacon' })}>
              End the beacon
            </Button>
          </div>
        ) : (
          <>
            <div className={styles.viewHead}>
              <TextField
                select
                label="Every"
                size="small"
                value={everyMin}
                onChange={(e) => setEvery(Number(e.target.value))}
                sx={{ width: 120 }}
              >
                {EVERY_MIN.map((minutes) => (
                  <MenuItem key={minutes} value={minutes}>
                    {minutes} min
                  </MenuItem>
                ))}
              </TextField>
              <TextField
                select
                label="In all"
                size="small"
                value={times}
                onChange={(e) => setTimes(Number(e.target.value))}
                sx={{ width: 120 }}
              >
                {TIMES.map((count) => (
                  <MenuItem key={count} value={count}>
                    {count} times
                  </MenuItem>
                ))}
              </TextField>
              <Button
                variant="outlined"
                disabled={!once.success}
                onClick={() => once.success && once.data.act === 'unproto' && void onAct({ ...once.data, act: 'beacon', everyMin, times })}
              >
                Begin a beacon
              </Button>
            </div>
            <p className="muted">
              {seconds === undefined
                ? 'The text above, sent by itself at intervals.'
                : `It takes ${((100 * seconds) / (60 * everyMin)).toFixed(1)} % of the channel for ${(everyMin * (times - 1)).toFixed(0)} min.`}
            </p>
            <Caution>
              A beacon goes out only while you are at the station: after ten minutes without a touch the gate shuts. Your local rules say
              whether beacons are allowed.
            </Caution>
          </>
        )}
      </section>
      <KeyUp packet={packet} onAct={onAct} />
    </div>
  )
}

function secondsOf(call: string, act: PacketAct, baud: number, txDelayMs: number): number | undefined {
  if (act.act !== 'unproto') return undefined
  try {
    const frame = uiFrame(/^[A-Z0-9]{1,6}$/.test(call) ? call : 'Q0AAA', act.to, act.via, act.text)
    return burstSeconds(MODEMS[baud] ?? 'packet1200', [frame], { txDelayMs })
  } catch {
    return undefined
  }
}

/** How long is keyed before a frame, and the search for the shortest that a digipeater still copies. */
function KeyUp({ packet, onAct }: { packet: PacketState | undefined; onAct: (act: PacketAct) => Promise<boolean> }) {
  const digipeaters = [...new Set((packet?.heard ?? []).flatMap(({ by }) => (by === null ? [] : [by])))]
  const [typed, setTyped] = useState<string>()
  if (!packet) return null
  const { keyUp, txDelayMs, busyShare } = packet
  const digipeater = typed ?? digipeaters[0] ?? ''
  const wanted = packetActSchema.safeParse({ act: 'findKeyUp', digipeater })
  return (
    <section className={styles.beacon} aria-labelledby="key-up-heading">
      <h2 id="key-up-heading">Key-up time: {txDelayMs} ms</h2>
      <CostNow busyShare={busyShare} />
      {keyUp && keyUp.words === null ? (
        <div className={styles.viewHead}>
          <p role="status">
            {keyUp.nowMs} ms is tried: {keyUp.by} has repeated {keyUp.repeated} of {keyUp.sent} frames.
          </p>
          <Button variant="outlined" color="error" onClick={() => void onAct({ act: 'endKeyUp' })}>
            Break off
          </Button>
        </div>
      ) : (
        <>
          <div className={styles.viewHead}>
            <TextField
              label="Digipeater"
              size="small"
              value={digipeater}
              onChange={(e) => setTyped(e.target.value.toUpperCase())}
              sx={{ width: 160 }}
            />
            <Button variant="outlined" disabled={!wanted.success} onClick={() => wanted.success && void onAct(wanted.data)}>
              Find the shortest
            </Button>
          </div>
          <p className="muted">
            {keyUp?.words ??
              'It is stepped down with three short frames each, until the digipeater repeats them no more; then a margin is added. Every millisecond saved is saved in every frame.'}
          </p>
        </>
      )}
    </section>
  )
}

/** What the timing costs on the channel as it is used now, and what another persistence would. */
function CostNow({ busyShare }: { busyShare: number }) {
  const { config } = useLinkConfig()
  const heard = usePacketModem((s) => (s.inUse ? s.use : undefined))
  const [others, overS] = heard ? [heard.othersShare, heard.overS] : [busyShare, SERVER_WINDOW_S]
  if (!config) return null
  const { parameters, airBaud } = config.tnc
  const other = parameters.persistence < 0.4 ? 0.5 : 0.25
  const [now, then] = [parameters.persistence, other].map((persistence) => costNow({ ...parameters, persistence }, airBaud, others)) as [
    ReturnType<typeof costNow>,
    ReturnType<typeof costNow>,
  ]
  const words = ({ outAfterS, collisionChance }: ReturnType<typeof costNow>) =>
    `${outAfterS.toFixed(1)} s, and ${Math.round(100 * collisionChance)} % collide`
  return (
    <p>
      In the last {overS < 60 ? `${Math.round(overS)} s` : `${Math.round(overS / 60)} min`} the channel was in use for{' '}
      {Math.round(100 * others)} %: with persistence {parameters.persistence} a frame of 128 bytes is out after {words(now)}. With {other}{' '}
      it would be {words(then)}.
    </p>
  )
}
