'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import {
  chainSetupSchema,
  connectorOf,
  joinPins,
  NET_WORDS,
  NETS,
  packetSpeeds,
  pinsOf,
  type ChainSetup,
  type ConnectorId,
  type Net,
} from '@/core/chain'
import { Caution, Page, Panel, panelStyles } from '../../parts/Panel'
import { useDocument } from '../../parts/useDocument'
import { ConnectTabs } from '../ConnectTabs'
import { PinDrawing } from './PinDrawing'
import styles from './setup.module.css'
import { SocketField } from './SetupScreen'

/** Which pin joins to which between radio and interface, as a drawing and a table to print. */
export function PinsScreen() {
  const { value: setup, problem, save } = useDocument('chain', chainSetupSchema, '/api/chain')
  return (
    <Page title="Pins" lead="Which pin of the radio joins to which pin of the interface, TNC or device.">
      <ConnectTabs />
      {problem && (
        <p role="alert" className={panelStyles.problem}>
          {problem}
        </p>
      )}
      {setup && <Lead setup={setup} save={save} />}
    </Page>
  )
}

function Lead({ setup, save }: { setup: ChainSetup; save: (setup: ChainSetup) => void }) {
  const speeds = packetSpeeds(setup)
  const [chosen, setChosen] = useState<number | null>()
  const airBaud = chosen === undefined ? (speeds.includes(9600) ? 9600 : (speeds[0] ?? null)) : chosen
  const { radioSocket, boxSocket } = setup
  const plan = radioSocket && boxSocket ? joinPins(radioSocket, boxSocket, { airBaud, ownPins: setup.ownPins }) : undefined
  const wired = plan && (plan.joins.length > 0 || plan.open.length > 0)
  return (
    <>
      <Panel
        title="The lead"
        aside={
          wired && (
            <Button variant="outlined" onClick={() => window.print()}>
              Print
            </Button>
          )
        }
      >
        <div className={panelStyles.grid}>
          <SocketField
            label="Socket of the radio"
            side="radio"
            value={radioSocket}
            onChange={(socket) => save({ ...setup, radioSocket: socket })}
          />
          <SocketField
            label="Socket of interface or TNC"
            side="box"
            value={boxSocket}
            onChange={(socket) => save({ ...setup, boxSocket: socket })}
          />
          <TextField
            select
            size="small"
            label="For"
            value={airBaud ?? 0}
            onChange={(e) => setChosen(Number(e.target.value) === 0 ? null : Number(e.target.value))}
          >
            <MenuItem value={0}>FT8, PSK31, voice filters</MenuItem>
            <MenuItem value={1200}>Packet, 1200 on the air</MenuItem>
            <MenuItem value={9600}>Packet, 9600 on the air</MenuItem>
          </TextField>
        </div>
        {!plan && (
          <p className="muted" style={{ marginTop: 10 }}>
            Choose both sockets: the lead is then drawn here.
          </p>
        )}
        {plan?.lacks.map((words) => (
          <p key={words} className={panelStyles.problem} style={{ marginTop: 8 }}>
            {words}
          </p>
        ))}
        {plan && !wired && plan.lacks.length === 0 && <p style={{ marginTop: 10 }}>{connectorOf('usb').note}</p>}
      </Panel>
      {plan && wired && radioSocket && boxSocket && (
        <>
          <Panel title={`${connectorOf(radioSocket).name}  ↔  ${connectorOf(boxSocket).name}`} id="pin-drawing">
            <PinDrawing plan={plan} radioName={connectorOf(radioSocket).name} boxName={connectorOf(boxSocket).name} />
            <table className={styles.table} aria-label="Wires of the lead">
              <thead>
                <tr>
                  <th scope="col">Radio</th>
                  <th scope="col">Interface or TNC</th>
                  <th scope="col">Carries</th>
                </tr>
              </thead>
              <tbody>
                {plan.joins.map(({ net, radio, box }) => (
                  <tr key={`${radio.pin} ${box.pin}`}>
                    <td>
                      <strong>{radio.pin}</strong> {radio.label}
                    </td>
                    <td>
                      <strong>{box.pin}</strong> {box.label}
                    </td>
                    <td>{NET_WORDS[net]}</td>
                  </tr>
                ))}
              </tbody>
            </table>
            {plan.open.length > 0 && (
              <p className="muted" style={{ marginTop: 8 }}>
                Left open:{' '}
                {plan.open
                  .map(({ side, pin, why }) => `${side === 'radio' ? 'radio' : 'interface'} ${pin.pin} (${pin.label}; ${why})`)
                  .join(', ')}
                .
              </p>
            )}
            <p style={{ marginTop: 8 }}>{connectorOf(radioSocket).note}</p>
            <p>{connectorOf(boxSocket).note}</p>
            <div style={{ marginTop: 10 }}>
              <Caution>
                Check both manuals pin by pin before soldering, and from which side each drawing looks at the plug. Measure for shorts
                before plugging in, and try it with a dummy load. The manuals decide, not this page.
              </Caution>
            </div>
            {plan.cautions.map((words) => (
              <div key={words} style={{ marginTop: 8 }}>
                <Caution>{words}</Caution>
              </div>
            ))}
          </Panel>
          <OwnPins title="Radio’s pins, as its manual has them" id={radioSocket} setup={setup} save={save} />
          <OwnPins title="Interface’s pins, as its manual has them" id={boxSocket} setup={setup} save={save} />
        </>
      )}
    </>
  )
}

interface OwnPinsProps {
  title: string
  id: ConnectorId
  setup: ChainSetup
  save: (setup: ChainSetup) => void
}

/** The operator's manual goes before what is usual. */
function OwnPins({ title, id, setup, save }: OwnPinsProps) {
  const own = setup.ownPins[id] as Record<string, Net> | undefined
  const usual = connectorOf(id).pins
  const set = (pin: string, net: Net) => {
    const others = Object.fromEntries(Object.entries(own ?? {}).filter(([name]) => name !== pin))
    const next = net === usual.find((p) => p.pin === pin)?.net ? others : { ...others, [pin]: net }
    save({ ...setup, ownPins: { ...setup.ownPins, [id]: next } })
  }
  return (
    <details className={styles.own}>
      <summary>
        {title}
        {own && Object.keys(own).length > 0 && ` (${Object.keys(own).length} changed)`}
      </summary>
      <div className={panelStyles.grid} style={{ marginTop: 12 }}>
        {pinsOf(id, own).map((pin) => (
          <TextField
            key={pin.pin}
            select
            size="small"
            label={`Pin ${pin.pin}`}
            value={pin.net}
            onChange={(e) => set(pin.pin, e.target.value as Net)}
          >
            {NETS.map((net) => (
              <MenuItem key={net} value={net}>
                {NET_WORDS[net]}
              </MenuItem>
            ))}
          </TextField>
        ))}
      </div>
    </details>
  )
}
