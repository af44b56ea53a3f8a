'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import {
  chainSetupSchema,
  CONNECTORS,
  FAMILIES,
  familyOf,
  kitFor,
  type ChainCheck,
  type ChainSetup,
  type ConnectorId,
  type KitItem,
} from '@/core/chain'
import { SHEET_NAMES } from '@/core/modes'
import { SERIAL_SPEEDS } from '@/core/links'
import type { ReadyState } from '@/core/readiness'
import { useLive } from '../../live/StationProvider'
import { useMessages } from '../../parts/Messages'
import { Page, Panel, panelStyles } from '../../parts/Panel'
import { StateMark } from '../../parts/StateMark'
import { useDocument } from '../../parts/useDocument'
import { ConnectTabs } from '../ConnectTabs'
import styles from './setup.module.css'
import { useChainChecks } from './useChainChecks'

/** The chain from this device to the radio: which family it is, whether its parts fit, and what to pack for it. */
export function SetupScreen() {
  const { value: setup, problem, save, amend } = useDocument('chain', chainSetupSchema, '/api/chain')
  const change = (part: Partial<ChainSetup>) => setup && save({ ...setup, ...part })
  return (
    <Page title="Chain and kit" lead="How this station is joined to its radio, whether the parts fit one another, and what to pack.">
      <ConnectTabs />
      {problem && (
        <p role="alert" className={panelStyles.problem}>
          {problem}
        </p>
      )}
      {setup && (
        <>
          <FamilyPanel setup={setup} change={change} />
          {setup.family && <CheckPanel />}
          <KitPanel setup={setup} change={change} amend={amend} />
        </>
      )}
    </Page>
  )
}

interface PartProps {
  setup: ChainSetup
  change: (part: Partial<ChainSetup>) => void
}

function FamilyPanel({ setup, change }: PartProps) {
  const family = setup.family && familyOf(setup.family)
  return (
    <Panel title="Which family is it?">
      <div className={styles.families} role="group" aria-label="Family of link">
        {FAMILIES.map(({ id, name, words }) => (
          <button
            key={id}
            type="button"
            aria-pressed={setup.family === id}
            className={styles.family}
            onClick={() => change({ family: id })}
          >
            <strong>{name}</strong>
            <span>{words}</span>
          </button>
        ))}
      </div>
      {family && (
        <p className={styles.trap}>
          <strong>What usually goes wrong:</strong> {family.trap}
        </p>
      )}
      <div className={panelStyles.row} role="group" aria-label="Modes" style={{ marginTop: 12 }}>
        <strong>Modes</strong>
        {SHEET_NAMES.map((mode) => (
          <FormControlLabel
            key={mode}
            control={
              <Checkbox
                checked={setup.modes.includes(mode)}
                onChange={(e) => change({ modes: SHEET_NAMES.filter((m) => (m === mode ? e.target.checked : setup.modes.includes(m))) })}
              />
            }
            label={mode}
          />
        ))}
      </div>
      <div className={panelStyles.grid} style={{ marginTop: 10 }}>
        <SocketField
          label="Socket of the radio"
          side="radio"
          value={setup.radioSocket}
          onChange={(radioSocket) => change({ radioSocket })}
        />
        <SocketField
          label="Socket of interface or TNC"
          side="box"
          value={setup.boxSocket}
          onChange={(boxSocket) => change({ boxSocket })}
        />
        <TextField
          select
          size="small"
          label="Control speed in the radio’s menu"
          value={setup.radioControlBaud ?? ''}
          onChange={(e) => change({ radioControlBaud: e.target.value === '' ? null : Number(e.target.value) })}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        >
          <MenuItem value="">Not looked up</MenuItem>
          {SERIAL_SPEEDS.map((baud) => (
            <MenuItem key={baud} value={baud}>
              {baud} baud
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          size="small"
          label="Data socket is set to"
          value={setup.dataSocketBaud ?? ''}
          onChange={(e) => change({ dataSocketBaud: e.target.value === '' ? null : (Number(e.target.value) as 1200 | 9600) })}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        >
          <MenuItem value="">Not looked up</MenuItem>
          <MenuItem value={1200}>1200, filtered</MenuItem>
          <MenuItem value={9600}>9600, unfiltered</MenuItem>
        </TextField>
        <TextField
          select
          size="small"
          label="This device takes"
          value={setup.hostSocket}
          onChange={(e) => change({ hostSocket: e.target.value as ChainSetup['hostSocket'] })}
        >
          <MenuItem value="usbC">USB-C plugs</MenuItem>
          <MenuItem value="usbA">USB-A plugs</MenuItem>
        </TextField>
      </div>
    </Panel>
  )
}

interface SocketFieldProps {
  label: string
  side: 'radio' | 'box'
  value: ConnectorId | null
  onChange: (socket: ConnectorId | null) => void
}

export function SocketField({ label, side, value, onChange }: SocketFieldProps) {
  return (
    <TextField
      select
      size="small"
      label={label}
      value={value ?? ''}
      onChange={(e) => onChange(e.target.value === '' ? null : (e.target.value as ConnectorId))}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      <MenuItem value="">Not told</MenuItem>
      {CONNECTORS.filter((c) => c.sides.includes(side)).map((c) => (
        <MenuItem key={c.id} value={c.id}>
          {c.name}
        </MenuItem>
      ))}
    </TextField>
  )
}

const CHECK_MARKS: Record<ChainCheck['state'], ReadyState> = { good: 'ready', attention: 'attention', stops: 'missing' }
const CHECK_WORDS: Record<ChainCheck['state'], string> = { good: 'Fits', attention: 'Look at it', stops: 'Cannot work' }

function CheckPanel() {
  const checks = useChainChecks()
  if (!checks) return null
  const stops = checks.filter((check) => check.state === 'stops').length
  const looks = checks.filter((check) => check.state === 'attention').length
  return (
    <Panel
      title={
        stops > 0
          ? `The parts do not fit yet: ${stops === 1 ? 'one thing' : `${stops} things`}`
          : looks > 0
            ? `The parts fit; ${looks === 1 ? 'one thing is' : `${looks} things are`} worth a look`
            : 'The parts fit'
      }
      id="chain-checks"
    >
      <ul className={styles.checks} aria-label="What the parts need of one another">
        {checks.map((check) => (
          <li key={check.id}>
            <StateMark state={CHECK_MARKS[check.state]} size={22} />
            <span>
              <span className="visually-hidden">{CHECK_WORDS[check.state]}: </span>
              {check.state === 'good' ? check.words : <strong>{check.words}</strong>} {check.todo}
            </span>
          </li>
        ))}
      </ul>
    </Panel>
  )
}

function KitPanel({ setup, change, amend }: PartProps & { amend: (change: (setup: ChainSetup) => ChainSetup) => Promise<void> }) {
  const { profile } = useLive()
  const { tell } = useMessages()
  const [more, setMore] = useState('')
  const { radio, interfaceName, antenna } = profile.station
  const kit = kitFor(setup, { radio, interfaceName, antenna })
  const packed = kit.filter((item) => setup.packed.includes(item.id)).length
  const groups = [...new Set(kit.map((item) => item.group))]
  const tick = (item: KitItem, on: boolean) =>
    change({ packed: on ? [...setup.packed, item.id] : setup.packed.filter((id) => id !== item.id) })
  const add = () => {
    const name = more.trim().slice(0, 80)
    if (name === '' || setup.ownKit.includes(name)) return
    change({ ownKit: [...setup.ownKit, name] })
    setMore('')
  }
  return (
    <Panel
      title={`Kit: ${packed} of ${kit.length} packed`}
      id="kit"
      aside={
        <span className={panelStyles.row}>
          <Button variant="outlined" onClick={() => window.print()}>
            Print
          </Button>
          <Button variant="outlined" disabled={setup.packed.length === 0} onClick={() => change({ packed: [] })}>
            Unpack all
          </Button>
        </span>
      }
    >
      <div className={styles.kit}>
        {groups.map((group) => (
          <fieldset key={group} className={styles.group}>
            <legend>{group}</legend>
            {kit
              .filter((item) => item.group === group)
              .map((item) => (
                <div key={item.id} className={styles.item}>
                  <FormControlLabel
                    control={<Checkbox checked={setup.packed.includes(item.id)} onChange={(e) => tick(item, e.target.checked)} />}
                    label={item.name}
                  />
                  {item.why && <span className="muted">{item.why}</span>}
                  {item.group === 'Own additions' && (
                    <Button
                      variant="text"
                      aria-label={`Remove ${item.name}`}
                      onClick={() => {
                        change({
                          ownKit: setup.ownKit.filter((name) => name !== item.name),
                          packed: setup.packed.filter((id) => id !== item.id),
                        })
                        tell({
                          kind: 'undo',
                          text: `Removed from the kit: ${item.name}.`,
                          action: { label: 'Undo', run: () => amend((now) => ({ ...now, ownKit: [...now.ownKit, item.name] })) },
                        })
                      }}
                    >
                      Remove
                    </Button>
                  )}
                </div>
              ))}
          </fieldset>
        ))}
      </div>
      <form
        className={panelStyles.row}
        style={{ marginTop: 12 }}
        onSubmit={(e) => {
          e.preventDefault()
          add()
        }}
      >
        <TextField
          size="small"
          label="Something of your own"
          value={more}
          onChange={(e) => setMore(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 80 } }}
          sx={{ width: 320 }}
        />
        <Button type="submit" variant="outlined">
          Add to the kit
        </Button>
      </form>
    </Panel>
  )
}
