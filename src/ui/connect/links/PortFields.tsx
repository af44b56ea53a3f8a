'use client'
import { useState } from 'react'
import { useQuery } from '@tanstack/react-query'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { hasSerialSpeed, KISS_TCP_PORT, SERIAL_SPEEDS, type PortChoice } from '@/core/links'
import { LentPortField } from './LentPortField'
import { fetchPorts } from './linkApi'
import { PortFinder } from './PortFinder'

const SPEEDS = [...SERIAL_SPEEDS, 1200].sort((a, b) => a - b)

interface PortFieldsProps {
  /** What the port is for, for labels that are read out. */
  name: string
  port: PortChoice | null
  serialBaud: number
  onChange: (change: { port?: PortChoice | null; serialBaud?: number }) => void
}

type Way = 'serial' | 'tcp' | 'lentSerial' | 'lentBluetooth' | 'modem'
const LENT = { serial: 'lentSerial', bluetooth: 'lentBluetooth', modem: 'modem' } as const
const wayOf = (port: PortChoice): Way => (port.kind === 'browser' ? LENT[port.by] : port.kind)
/** What choosing a way means at once: ports of this device have no name to choose. */
const PORT_OF: Record<Way, PortChoice | null> = {
  serial: null,
  tcp: null,
  lentSerial: { kind: 'browser', by: 'serial' },
  lentBluetooth: { kind: 'browser', by: 'bluetooth' },
  modem: { kind: 'browser', by: 'modem' },
}

/** Where a device is reached: a serial port of the field computer or of this device, an address in the network, or Bluetooth. */
export function PortFields({ name, port, serialBaud, onChange }: PortFieldsProps) {
  const [chosenWay, setWay] = useState<Way>(port ? wayOf(port) : 'serial')
  // A port says itself how it is reached; until there is one, the choice does.
  const way = port === null ? chosenWay : wayOf(port)
  const ports = useQuery({ queryKey: ['clock', 'ports'], queryFn: fetchPorts, retry: 0 })
  const listed = ports.data ?? []
  const path = port?.kind === 'serial' ? port.path : ''
  const labelled = (label: string) => ({ htmlInput: { 'aria-label': `${name}, ${label}` } })
  return (
    <>
      <TextField
        select
        label="Reached by"
        size="small"
        value={way}
        onChange={(e) => {
          setWay(e.target.value as Way)
          onChange({ port: PORT_OF[e.target.value as Way] })
        }}
        sx={{ width: 260 }}
      >
        <MenuItem value="serial">Serial port</MenuItem>
        <MenuItem value="tcp">Network address</MenuItem>
        <MenuItem value="lentSerial">Serial port of this device</MenuItem>
        <MenuItem value="lentBluetooth">Bluetooth of this device</MenuItem>
        {name === 'TNC' && <MenuItem value="modem">Modem of this device</MenuItem>}
      </TextField>
      {way === 'serial' ? (
        <>
          <TextField
            select
            label="Port"
            size="small"
            value={path}
            onChange={(e) => onChange({ port: e.target.value === '' ? null : { kind: 'serial', path: e.target.value } })}
            sx={{ width: 260 }}
            slotProps={{ select: { displayEmpty: true, onOpen: () => void ports.refetch() }, inputLabel: { shrink: true } }}
          >
            <MenuItem value="">{listed.length === 0 ? 'No serial port there' : 'Choose a port'}</MenuItem>
            {path !== '' && !listed.some((p) => p.path === path) && <MenuItem value={path}>{path}, not there now</MenuItem>}
            {listed.map((p) => (
              <MenuItem key={p.path} value={p.path}>
                {p.name}
              </MenuItem>
            ))}
          </TextField>
          <PortFinder name={name} onFound={(path) => onChange({ port: { kind: 'serial', path } })} />
        </>
      ) : way === 'tcp' ? (
        <AddressFields key={JSON.stringify(port)} port={port} onChange={(next) => onChange({ port: next })} labelled={labelled} />
      ) : way === 'modem' ? (
        <span className="muted">
          Packet by the sound of this device: no TNC is needed. It runs while packet is in front and something is listened to.
        </span>
      ) : (
        <LentPortField by={way === 'lentSerial' ? 'serial' : 'bluetooth'} name={name} />
      )}
      {(way === 'serial' || (port && hasSerialSpeed(port))) && (
        <TextField
          select
          label="Serial speed"
          size="small"
          value={serialBaud}
          onChange={(e) => onChange({ serialBaud: Number(e.target.value) })}
          sx={{ width: 150 }}
        >
          {SPEEDS.map((baud) => (
            <MenuItem key={baud} value={baud}>
              {baud} baud
            </MenuItem>
          ))}
        </TextField>
      )}
    </>
  )
}

/** The address is told when both fields hold something that can be one. */
function AddressFields({
  port,
  onChange,
  labelled,
}: {
  port: PortChoice | null
  onChange: (port: PortChoice | null) => void
  labelled: (label: string) => { htmlInput: { 'aria-label': string } }
}) {
  const [host, setHost] = useState(port?.kind === 'tcp' ? port.host : '')
  const [number, setNumber] = useState(String(port?.kind === 'tcp' ? port.port : KISS_TCP_PORT))
  const tell = () => {
    const next: PortChoice | null = host.trim() === '' ? null : { kind: 'tcp', host: host.trim(), port: Number(number) }
    if (JSON.stringify(next) !== JSON.stringify(port)) onChange(next)
  }
  return (
    <>
      <TextField
        label="Address"
        size="small"
        value={host}
        onChange={(e) => setHost(e.target.value)}
        onBlur={tell}
        sx={{ width: 220 }}
        slotProps={labelled('address')}
      />
      <TextField
        label="TCP port"
        size="small"
        value={number}
        onChange={(e) => setNumber(e.target.value)}
        onBlur={tell}
        error={!/^\d+$/.test(number)}
        sx={{ width: 120 }}
        slotProps={labelled('TCP port')}
      />
    </>
  )
}
