'use client'
import { useState } from 'react'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import type { ClockConfig, ServerClock, StandinRequest, StandinWay } from '@/core/links'
import { GPS_FAULTS, TIME_FAULTS } from '@/standins'
import { fetchClockConfig, fetchSerialPorts, saveClockConfig, setStandins, syncNow } from '../clock/clockApi'
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
  udp: 'The Clock screen listens to it over UDP.',
  tcp: 'The Clock screen listens to it over TCP.',
  serial: 'The Clock screen listens to it on the port called "Practice receiver".',
}

/** Starts and stops practice devices, and has the clock listen to what was started. */
async function changeStandins(request: StandinRequest, before: ServerClock['standins'] | undefined): Promise<ClockConfig> {
  const config = await fetchClockConfig()
  const heard = request.gps && request.gps.way !== 'serial' ? request.gps.way : undefined
  // Who sends over a network wants somebody there.
  if (heard && !before?.gps) await saveClockConfig({ ...config, [heard]: { ...config[heard], enabled: true } })
  const standins = await setStandins(request)
  if (request.gps?.way === 'serial' && !before?.gps) {
    const port = (await fetchSerialPorts()).find((p) => p.name.startsWith('Practice receiver'))
    if (port) return saveClockConfig({ ...config, serial: { ...config.serial, enabled: true, path: port.path } })
  }
  if (request.gps === null) {
    // What was opened for it, and nothing that a real receiver uses.
    const way = before?.gps?.way
    const mine = way && (way === 'serial' || config[way].reach === 'thisComputer')
    return mine ? saveClockConfig({ ...config, [way]: { ...config[way], enabled: false } }) : config
  }
  if (request.time !== undefined && !(request.time && before?.time)) {
    const { hosts, automatic } = config.network
    const hostOf = (standin: ServerClock['standins']['time'] | undefined) => standin?.where.replace('UDP ', '')
    const here = hostOf(standins.time)
    const others = hosts.filter((host) => host !== hostOf(before?.time) && host !== here)
    const saved = await saveClockConfig({ ...config, network: { automatic, hosts: here ? [here, ...others].slice(0, 6) : others } })
    if (here) await syncNow()
    return saved
  }
  return fetchClockConfig()
}

/** Simulated devices on real ports of the field computer, with faults to find. */
export function StandinPanel() {
  const running = useStation((s) => s.serverClock?.standins)
  const reached = useStation((s) => s.serverClock !== undefined)
  const client = useQueryClient()
  const change = useMutation({
    mutationFn: (request: StandinRequest) => changeStandins(request, running),
    onSuccess: (config) => client.setQueryData(['clock', 'config'], config),
  })
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
            ? `Runs on ${running.where.replace('UDP ', '')}, and is among the time servers of the Clock screen.`
            : 'It answers on a free port, and the Clock screen asks it.'}
        </span>
      </div>
      <Faults known={TIME_FAULTS} chosen={faults} onChange={choose} />
    </section>
  )
}
