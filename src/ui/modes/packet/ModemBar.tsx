'use client'
import Link from 'next/link'
import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import { z } from 'zod'
import { AIR_BAUDS, describePort, portChoiceSchema, type LinkConfig } from '@/core/links'
import { CHECK_BYTES } from '@/core/packet'
import { useLinkConfig } from '../../connect/links/useLinkConfig'
import { deviceStore } from '../../live/deviceStore'
import { useLive, usePacketModem, useStation } from '../../live/StationProvider'
import { FrontGate } from '../FrontGate'
import styles from './Sessions.module.css'

const PRACTICE_BAUD = 1200

/** The TNC that was linked before the modem took its place, so that it can be had back. */
const { use: useTncBefore, save: saveTncBefore } = deviceStore<{ port: LinkConfig['tnc']['port']; enabled: boolean }>(
  'zeptik.tncBefore',
  z.object({ port: portChoiceSchema.nullable(), enabled: z.boolean() }),
  { port: null, enabled: false },
)

/** What makes and hears the frames: the modem of this device or a TNC, at which speed, and what it hears now. */
export function ModemBar() {
  const links = useLinkConfig()
  const before = useTncBefore()
  const tnc = links.config?.tnc
  if (!tnc) return null
  const byModem = tnc.enabled && tnc.port?.kind === 'browser' && tnc.port.by === 'modem'
  const set = (part: Partial<LinkConfig['tnc']>) => links.save({ ...links.config!, tnc: { ...tnc, ...part } })
  const useModem = () => {
    if (!byModem) saveTncBefore({ port: tnc.port, enabled: tnc.enabled })
    set({ enabled: true, port: { kind: 'browser', by: 'modem' } })
  }
  return (
    <section className={styles.modem} aria-label="What makes the frames">
      <div className={styles.choice} role="group" aria-label="Frames are made by">
        <Button size="small" variant={byModem ? 'contained' : 'outlined'} aria-pressed={byModem} onClick={useModem}>
          Modem of this device
        </Button>
        <Button
          size="small"
          variant={byModem ? 'outlined' : 'contained'}
          aria-pressed={!byModem}
          onClick={() => byModem && set({ enabled: before.enabled && before.port !== null, port: before.port })}
        >
          {!byModem && tnc.enabled && tnc.port ? `TNC at ${describePort(tnc.port)}` : 'A TNC'}
        </Button>
      </div>
      <TextField
        select
        label="Speed on the air"
        size="small"
        value={tnc.airBaud}
        onChange={(e) => set({ airBaud: Number(e.target.value) as LinkConfig['tnc']['airBaud'] })}
        sx={{ width: 150 }}
      >
        {AIR_BAUDS.map((baud) => (
          <MenuItem key={baud} value={baud}>
            {baud} baud
          </MenuItem>
        ))}
      </TextField>
      {byModem && <ModemState baud={tnc.airBaud} />}
      {links.problem !== undefined && <Alert severity="warning">{links.problem}</Alert>}
    </section>
  )
}

function ModemState({ baud }: { baud: number }) {
  const { station, profile, saveStation } = useLive()
  const source = useStation((s) => s.source)
  const inFront = useStation((s) => s.mode === 'packet')
  const modem = usePacketModem((s) => s)
  const [refused, setRefused] = useState<string>()
  const on = ['microphone', 'recording', 'practice'].includes(source.kind)
  const [last] = modem.heard
  const { correction } = profile.station.modes.packet
  const letSend = async () => {
    const done = await station?.do({ type: 'packet.begin' })
    setRefused(done && !done.ok ? done.why : undefined)
  }
  return (
    <>
      <TextField
        select
        label="Error correction"
        size="small"
        value={correction}
        onChange={(e) =>
          void saveStation({
            ...profile.station,
            modes: { ...profile.station.modes, packet: { correction: Number(e.target.value) as typeof correction } },
          })
        }
        sx={{ width: 170 }}
      >
        <MenuItem value={0}>Not sent</MenuItem>
        {CHECK_BYTES.map((bytes) => (
          <MenuItem key={bytes} value={bytes}>
            {bytes} check bytes
          </MenuItem>
        ))}
      </TextField>
      <FrontGate mode="packet" />
      {inFront && !on && (
        <p className={styles.modemWords}>
          Nothing is listened to. <Link href="/connect">Start the microphone</Link> or <Link href="/practise">a practice channel</Link>.
        </p>
      )}
      {inFront && on && (
        <p className={styles.modemWords} role="status">
          <span className={styles.lamp} data-on={modem.carrier} aria-hidden />
          <strong>{modem.carrier ? 'Somebody sends' : 'Channel free'}</strong>
          {last ? `, last frame ${measuresOf(last)}` : ', no frame read yet'}
          {modem.waiting > 0 && `; ${modem.waiting} ${modem.waiting === 1 ? 'frame waits' : 'frames wait'} for the channel`}
          {gainOf(modem.counted)}
          {modem.use.bursts > 3 &&
            modem.use.spoiled > 0 &&
            `; ${modem.use.spoiled} of ${modem.use.bursts} transmissions were not read, collided or too weak`}
          .
        </p>
      )}
      {source.kind === 'practice' && inFront && baud !== PRACTICE_BAUD && (
        <Alert severity="info">The practice channel is at {PRACTICE_BAUD} baud: at another speed nothing is heard there.</Alert>
      )}
      {inFront && on && modem.deaf !== undefined && <Alert severity="warning">{modem.deaf}</Alert>}
      {inFront && on && modem.held !== undefined && (
        <Alert
          severity="warning"
          action={
            <Button color="inherit" size="small" onClick={() => void letSend()}>
              Let it send
            </Button>
          }
        >
          {refused ?? modem.held}
        </Alert>
      )}
    </>
  )
}

function measuresOf({
  levelDb,
  snrDb,
  twistDb,
  mended,
  corrected,
}: {
  levelDb: number
  snrDb: number
  twistDb?: number
  mended: number
  corrected?: number
}) {
  const twist =
    twistDb === undefined || Math.abs(twistDb) < 1
      ? ''
      : `, higher tone ${Math.abs(twistDb).toFixed(0)} dB ${twistDb > 0 ? 'stronger' : 'weaker'}`
  const repaired = corrected ? `, ${corrected} bytes corrected` : mended > 0 ? `, ${mended} bits mended` : ''
  return `${levelDb.toFixed(0)} dB of full scale, ${snrDb.toFixed(0)} dB over the noise${twist}${repaired}`
}

/** What the error correction and mending gained. */
function gainOf({ frames, saved, mended }: { frames: number; saved: number; mended: number }): string {
  const parts = []
  if (saved > 0) parts.push(`error correction saved ${saved} of ${frames} frames`)
  if (mended > 0) parts.push(`${mended} of ${frames} were mended`)
  return parts.length > 0 ? `; ${parts.join(', ')}` : ''
}
