'use client'
import { useEffect, useRef, useState, useSyncExternalStore } from 'react'
import { useQuery } from '@tanstack/react-query'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { SERIAL_SPEEDS, type ClockConfig, type LinkStatus, type ListenerConfig } from '@/core/links'
import { readNmeaRecording, type NmeaSummary } from '@/core/nmea'
import type { BrowserReceiverLink } from '@/engine/browser/browserReceiver'
import { useLive, useStation } from '../../live/StationProvider'
import { FileInput } from '../../parts/FileInput'
import { panelStyles } from '../../parts/Panel'
import { StateMark } from '../../parts/StateMark'
import styles from '../ClockScreen.module.css'
import { ReceiverCard } from '../ReceiverCard'
import { fetchSerialPorts } from '../clockApi'
import { useClockConfig } from '../useClockConfig'

const MARKS = {
  opening: 'attention',
  searching: 'attention',
  waiting: 'attention',
  hearing: 'ready',
  problem: 'missing',
} as const
const SPEEDS = [...SERIAL_SPEEDS].sort((a, b) => a - b)
const LARGEST_NMEA_FILE = 50_000_000

/** Every way in for a GPS receiver: on this device, on the field computer, over the network, or recorded. */
export function GpsWay() {
  const server = useStation((s) => s.serverClock)
  const { config, problem, save } = useClockConfig()
  const status = (link: LinkStatus['link']) => server?.links.find((l) => l.link === link)
  return (
    <>
      <OwnDevice />
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
      <RecordedFile />
    </>
  )
}

function Row({
  title,
  status,
  children,
}: {
  title: string
  status: Pick<LinkStatus, 'state' | 'detail'> | undefined
  children: React.ReactNode
}) {
  return (
    <section aria-label={title} className={styles.wayRow}>
      <div className={panelStyles.row}>
        {status && status.state !== 'off' ? <StateMark state={MARKS[status.state]} size={22} /> : <span style={{ width: 22 }} />}
        <strong style={{ minWidth: 168 }}>{title}</strong>
        {children}
      </div>
      {status && status.state !== 'off' && (
        <p role={status.state === 'problem' ? 'alert' : 'status'} className={status.state === 'problem' ? panelStyles.problem : 'muted'}>
          {status.detail}
        </p>
      )}
    </section>
  )
}

function SpeedPicker({ value, onChange }: { value: number | null; onChange: (serialBaud: number | null) => void }) {
  return (
    <TextField
      select
      label="Serial speed"
      size="small"
      value={value ?? 0}
      onChange={(e) => onChange(Number(e.target.value) || null)}
      sx={{ width: 190 }}
    >
      <MenuItem value={0}>Find the speed</MenuItem>
      {SPEEDS.map((speed) => (
        <MenuItem key={speed} value={speed}>
          {speed} baud
        </MenuItem>
      ))}
    </TextField>
  )
}

/** The receiver's own delay in ms; empty for not known. */
function DelayField({ value, onChange }: { value: number | null; onChange: (ms: number | null) => void }) {
  const [text, setText] = useState(value === null ? '' : String(value))
  const ms = Number(text.replace(',', '.'))
  const valid = text.trim() === '' || (Number.isFinite(ms) && ms >= 0 && ms <= 2000)
  return (
    <TextField
      label="Its delay in ms"
      size="small"
      value={text}
      placeholder="not known"
      onChange={(e) => setText(e.target.value)}
      onBlur={() => valid && onChange(text.trim() === '' ? null : ms)}
      error={!valid}
      sx={{ width: 140 }}
      slotProps={{ htmlInput: { inputMode: 'decimal' }, inputLabel: { shrink: true } }}
    />
  )
}

/** Whether this browser has serial ports; it does not change while the page is open. */
const hasSerialPorts = () => 'serial' in navigator
const never = () => () => undefined

function OwnDevice() {
  const { station } = useLive()
  const receiver = useStation((s) => s.browserReceiver)
  const [serialBaud, setSerialBaud] = useState<number | null>(null)
  const [delayMs, setDelayMs] = useState<number | null>(null)
  const possible = useSyncExternalStore(never, hasSerialPorts, () => true)
  const link = useRef<BrowserReceiverLink | undefined>(undefined)
  useEffect(() => {
    let over = false
    // Ports exist in a browser only, so what reaches them is loaded when there is one.
    void import('@/engine/browser/browserReceiver').then((module) => {
      if (!over && station) link.current = module.browserReceiverOf(station)
    })
    return () => {
      over = true
    }
  }, [station])
  return (
    <>
      <Row title="On this device" status={receiver}>
        {possible ? (
          receiver.state === 'off' || receiver.state === 'problem' ? (
            <>
              <SpeedPicker value={serialBaud} onChange={setSerialBaud} />
              <DelayField value={delayMs} onChange={setDelayMs} />
              <Button variant="contained" disabled={!station} onClick={() => void link.current?.connect(serialBaud, delayMs)}>
                Pick the port
              </Button>
            </>
          ) : (
            <Button variant="outlined" onClick={() => void link.current?.disconnect()}>
              Let go of the port
            </Button>
          )
        ) : (
          <span>This browser has no serial ports. Plug the receiver into the field computer, or let a phone send over the network.</span>
        )}
      </Row>
      {receiver.gps && <ReceiverCard label="Receiver on this device" gps={receiver.gps} />}
    </>
  )
}

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
      <Row title="On the field computer" status={status}>
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
      </Row>
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
      <Row title={name} status={status}>
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
          label="Who may send"
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
        {config.reach === 'network' && (
          <span className="muted">Anybody in the network can send a wrong time: two sources keep each other honest.</span>
        )}
      </Row>
      {status?.receivers.map((r) => (
        <ReceiverCard key={r.source} label={r.label} gps={r.gps} />
      ))}
      {status && status.droppedBytes > 0 && <p className="muted">{status.droppedBytes} bytes were too many and thrown away.</p>}
    </>
  )
}

function RecordedFile() {
  const [summary, setSummary] = useState<{ name: string; value: NmeaSummary }>()
  const [problem, setProblem] = useState<string>()
  const picker = useRef<HTMLInputElement>(null)
  const { profile, saveStation } = useLive()
  const open = async (file: File) => {
    setProblem(undefined)
    setSummary(undefined)
    if (file.size > LARGEST_NMEA_FILE) {
      setProblem(
        `${file.name} has ${Math.round(file.size / 1e6)} MB; up to ${LARGEST_NMEA_FILE / 1e6} MB are opened here. Use "zeptik clock --nmea" for longer ones.`,
      )
      return
    }
    const value = readNmeaRecording(new Uint8Array(await file.arrayBuffer()), { notAfterUtcMs: Date.now() + 86_400_000 }, () => undefined)
    if (value.accepted === 0) setProblem(`${file.name} holds no sentence of a receiver (${value.rejected} lines were looked at).`)
    else setSummary({ name: file.name, value })
  }
  return (
    <Row title="A recording" status={undefined}>
      <FileInput
        inputRef={picker}
        label="Receiver recording to open"
        accept=".nmea,.txt,.log,.nma,text/plain"
        onFile={(file) => void open(file)}
      />
      <Button variant="outlined" onClick={() => picker.current?.click()}>
        Open an NMEA file
      </Button>
      {problem ? (
        <span role="alert" className={panelStyles.problem}>
          {problem}
        </span>
      ) : summary ? (
        <span role="status">
          {summary.name}: {summary.value.accepted} sentences, last {summary.value.utc?.slice(0, 19).replace('T', ' ') ?? 'without a time'},{' '}
          {summary.value.locator ?? 'no place'}
          {summary.value.trusted ? '' : `, doubtful: ${summary.value.doubt}`}.{' '}
          {summary.value.locator && summary.value.locator !== profile.station.locator && (
            <Button variant="outlined" onClick={() => void saveStation({ ...profile.station, locator: summary.value.locator! })}>
              Use {summary.value.locator} as the station’s place
            </Button>
          )}
        </span>
      ) : (
        <span className="muted">Gives a place, and what the time was then; it cannot tell what time it is now.</span>
      )}
    </Row>
  )
}
