'use client'
import { useState } from 'react'
import { useQuery } from '@tanstack/react-query'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import type { ClockConfig, LinkStatus, ListenerConfig } from '@/core/links'
import { useStation } from '../../live/StationProvider'
import { panelStyles } from '../../parts/Panel'
import { ReceiverCard } from '../ReceiverCard'
import { fetchSerialPorts } from '../clockApi'
import { useClockConfig } from '../useClockConfig'
import { NmeaRecordingRow } from './NmeaRecordingRow'
import { OwnDeviceRow } from './OwnDeviceRow'
import { ChecksumChoice, DelayField, ReceiverRow, SpeedPicker } from './ReceiverRow'

/** Every way in for a GPS receiver: on this device, on the field computer, over the network, or recorded. */
export function GpsWay() {
  const server = useStation((s) => s.serverClock)
  const { config, problem, save } = useClockConfig()
  const status = (link: LinkStatus['link']) => server?.links.find((l) => l.link === link)
  return (
    <>
      <OwnDeviceRow />
      {problem && (
        <p role="alert" className={panelStyles.problem}>
          {problem}
        </p>
      )}
      {config && (
        <>
          <ServerSerial config={config.serial} status={status('serial')} save={(serial) => save({ serial })} />
          <Listener name="NMEA over UDP" config={config.udp} status={status('udp')} save={(udp) => save({ udp })} />
          <Listener name="NMEA over TCP" config={config.tcp} status={status('tcp')} save={(tcp) => save({ tcp })} />
        </>
      )}
      <NmeaRecordingRow />
    </>
  )
}

const sendsNoChecksums = (status: LinkStatus | undefined) => status?.receivers.some((r) => r.gps.sendsNoChecksums) ?? false

function ServerSerial({
  config,
  status,
  save,
}: {
  config: ClockConfig['serial']
  status: LinkStatus | undefined
  save: (serial: ClockConfig['serial']) => void
}) {
  const ports = useQuery({ queryKey: ['clock', 'ports'], queryFn: fetchSerialPorts, retry: 0 })
  const listed = ports.data ?? []
  return (
    <>
      <ReceiverRow title="On the field computer" status={status}>
        <TextField
          select
          label="Port"
          size="small"
          value={config.path}
          onChange={(e) => save({ ...config, path: e.target.value })}
          sx={{ width: 300 }}
          slotProps={{ select: { displayEmpty: true, onOpen: () => void ports.refetch() }, inputLabel: { shrink: true } }}
        >
          <MenuItem value="">{listed.length === 0 ? 'No serial port there' : 'Choose a port'}</MenuItem>
          {config.path !== '' && !listed.some((p) => p.path === config.path) && (
            <MenuItem value={config.path}>{config.path}, not there now</MenuItem>
          )}
          {listed.map((port) => (
            <MenuItem key={port.path} value={port.path}>
              {port.name}
            </MenuItem>
          ))}
        </TextField>
        <SpeedPicker value={config.serialBaud} onChange={(serialBaud) => save({ ...config, serialBaud })} />
        <DelayField
          value={config.receiverDelayMs}
          onChange={(receiverDelayMs) => receiverDelayMs !== config.receiverDelayMs && save({ ...config, receiverDelayMs })}
        />
        <Button
          variant={config.enabled ? 'outlined' : 'contained'}
          disabled={config.path === '' && !config.enabled}
          onClick={() => save({ ...config, enabled: !config.enabled })}
        >
          {config.enabled ? 'Let go of the port' : 'Listen to it'}
        </Button>
        <ChecksumChoice
          value={config.acceptUnchecked === true}
          offered={sendsNoChecksums(status)}
          onChange={(acceptUnchecked) => save({ ...config, acceptUnchecked })}
        />
      </ReceiverRow>
      {status?.receivers.map((r) => (
        <ReceiverCard key={r.source} label={`${r.label}${status.serialBaud ? `, ${status.serialBaud} baud` : ''}`} gps={r.gps} />
      ))}
    </>
  )
}

function Listener({
  name,
  config,
  status,
  save,
}: {
  name: string
  config: ListenerConfig
  status: LinkStatus | undefined
  save: (config: ListenerConfig) => void
}) {
  const [port, setPort] = useState(String(config.port))
  const number = Number(port)
  const valid = /^\d+$/.test(port) && number >= 1 && number <= 65_535
  return (
    <>
      <ReceiverRow title={name} status={status}>
        <TextField
          label="Port"
          size="small"
          value={port}
          onChange={(e) => setPort(e.target.value)}
          onBlur={() => valid && number !== config.port && save({ ...config, port: number })}
          error={!valid}
          sx={{ width: 110 }}
          slotProps={{ htmlInput: { inputMode: 'numeric', 'aria-label': `${name}, port` } }}
        />
        <TextField
          select
          label="Accept data from"
          size="small"
          value={config.reach}
          onChange={(e) => save({ ...config, reach: e.target.value as ListenerConfig['reach'] })}
          sx={{ width: 250 }}
        >
          <MenuItem value="thisComputer">The field computer alone</MenuItem>
          <MenuItem value="network">Everybody in its network</MenuItem>
        </TextField>
        <Button
          variant={config.enabled ? 'outlined' : 'contained'}
          disabled={!valid}
          aria-label={`${config.enabled ? 'Close it' : 'Open it'}: ${name}`}
          onClick={() => save({ ...config, port: valid ? number : config.port, enabled: !config.enabled })}
        >
          {config.enabled ? 'Close it' : 'Open it'}
        </Button>
        <ChecksumChoice
          value={config.acceptUnchecked === true}
          offered={sendsNoChecksums(status)}
          onChange={(acceptUnchecked) => save({ ...config, acceptUnchecked })}
        />
        {config.reach === 'network' && (
          <span className="muted">Anybody in the network can send a wrong time: two sources keep each other honest.</span>
        )}
      </ReceiverRow>
      {status?.receivers.map((r) => (
        <ReceiverCard key={r.source} label={r.label} gps={r.gps} />
      ))}
      {status && status.droppedBytes > 0 && <p className="muted">{status.droppedBytes} bytes were too many and thrown away.</p>}
    </>
  )
}
