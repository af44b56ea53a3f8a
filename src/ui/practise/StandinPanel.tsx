'use client'
import { useState } from 'react'
import { useMutation } from '@tanstack/react-query'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import type { ServerClock, StandinRequest, StandinWay } from '@/core/links'
import { GPS_FAULTS, TIME_FAULTS } from '@/standins'
import { setStandins } from '../clock/clockApi'
import { useStation } from '../live/StationProvider'
import { Panel, panelStyles } from '../parts/Panel'
import { Faults, useFaults } from './faults'
import { LinkStandins } from './LinkStandins'

const WAYS = [
  ['udp', 'UDP, as a phone sends'],
  ['tcp', 'TCP, as a phone sends'],
  ['serial', 'A serial port (pseudo-terminal)'],
] as const satisfies readonly (readonly [StandinWay, string])[]

const HINTS: Record<StandinWay, string> = {
  udp: 'Open "NMEA over UDP" on the Clock screen to hear it.',
  tcp: 'Open "NMEA over TCP" on the Clock screen first, then start it.',
  serial: 'It appears as "Practice receiver" among the field computer’s ports on the Clock screen.',
}

/** Simulated devices on real ports of the field computer, with faults to find. */
export function StandinPanel() {
  const running = useStation((s) => s.serverClock?.standins)
  const reached = useStation((s) => s.serverClock !== undefined)
  const change = useMutation({ mutationFn: setStandins })
  return (
    <Panel title="Practice devices">
      <p className="muted" style={{ marginBottom: 8 }}>
        They talk over real ports, and the other screens cannot tell them from devices. Faults can be switched while they run.
      </p>
      <GpsStandin running={running?.gps ?? null} disabled={!reached} change={change.mutate} />
      <TimeStandin running={running?.time ?? null} disabled={!reached} change={change.mutate} />
      <LinkStandins />
      {change.isError && (
        <p role="alert" className={panelStyles.problem}>
          {change.error.message}
        </p>
      )}
    </Panel>
  )
}

type Change = (request: StandinRequest) => void

function GpsStandin({ running, disabled, change }: { running: ServerClock['standins']['gps']; disabled: boolean; change: Change }) {
  const [chosenWay, setWay] = useState<StandinWay>('udp')
  // What runs is the truth, also when another tab started it.
  const way = running?.way ?? chosenWay
  const [faults, choose] = useFaults(running?.faults, (chosen) => change({ gps: { way, faults: chosen } }))
  return (
    <section aria-label="Practice GPS receiver">
      <div className={panelStyles.row}>
        <strong style={{ minWidth: 150 }}>GPS receiver</strong>
        <TextField
          select
          label="It talks by"
          size="small"
          value={way}
          disabled={running !== null}
          onChange={(e) => setWay(e.target.value as StandinWay)}
          sx={{ width: 290 }}
        >
          {WAYS.map(([value, label]) => (
            <MenuItem key={value} value={value}>
              {label}
            </MenuItem>
          ))}
        </TextField>
        <Button
          variant={running ? 'outlined' : 'contained'}
          disabled={disabled}
          aria-label={running ? 'Stop it: practice receiver' : 'Start it: practice receiver'}
          onClick={() => change({ gps: running ? null : { way, faults: [...faults] } })}
        >
          {running ? 'Stop it' : 'Start it'}
        </Button>
        <span className="muted">{running ? `Runs: ${running.where}. ${HINTS[way]}` : HINTS[way]}</span>
      </div>
      <Faults known={GPS_FAULTS} chosen={faults} onChange={choose} />
    </section>
  )
}

function TimeStandin({ running, disabled, change }: { running: ServerClock['standins']['time']; disabled: boolean; change: Change }) {
  const [faults, choose] = useFaults(running?.faults, (chosen) => change({ time: { faults: chosen } }))
  return (
    <section aria-label="Practice time server" style={{ borderTop: '1px solid var(--line)', marginTop: 10, paddingTop: 12 }}>
      <div className={panelStyles.row}>
        <strong style={{ minWidth: 150 }}>Time server</strong>
        <Button
          variant={running ? 'outlined' : 'contained'}
          disabled={disabled}
          aria-label={running ? 'Stop it: practice time server' : 'Start it: practice time server'}
          onClick={() => change({ time: running ? null : { faults: [...faults] } })}
        >
          {running ? 'Stop it' : 'Start it'}
        </Button>
        <span className="muted">
          {running
            ? `Runs on ${running.where.replace('UDP ', '')}: add that as a time server on the Clock screen.`
            : 'It answers on a free port, which is shown here.'}
        </span>
      </div>
      <Faults known={TIME_FAULTS} chosen={faults} onChange={choose} />
    </section>
  )
}
