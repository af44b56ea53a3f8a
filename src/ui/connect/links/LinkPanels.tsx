'use client'
import Button from '@mui/material/Button'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import Switch from '@mui/material/Switch'
import TextField from '@mui/material/TextField'
import { AIR_BAUDS, KEYING_WAYS, LINE_STATES, type KeyingWay, type LinkConfig, type LinkState } from '@/core/links'
import { BUILT_IN_DIALECTS } from '@/core/links/cat'
import { adviseParameters, costOfParameters } from '@/core/packet'
import { useStation } from '../../live/StationProvider'
import { formatKilohertz } from '../../parts/formats'
import { Caution, Panel, panelStyles } from '../../parts/Panel'
import { StateMark } from '../../parts/StateMark'
import { DialectPanel, useOwnDialects } from './DialectPanel'
import { Ladder } from './Ladder'
import styles from './links.module.css'
import { PortFields } from './PortFields'
import { useLinkConfig } from './useLinkConfig'
import { Wire } from './Wire'

const KEYING_WORDS: Record<KeyingWay, string> = {
  none: 'Not by Zeptik',
  vox: 'By its VOX',
  cat: 'By the control line',
  rts: 'By RTS of a serial port',
  dtr: 'By DTR of a serial port',
}

/** Links that the field computer holds: radio control, keying, a TNC; each with its ladder. */
export function LinkPanels() {
  const links = useStation((s) => s.links)
  const { config, changed, saving, problem, change, save, discard } = useLinkConfig()
  if (!config)
    return (
      <Panel title="Control of the radio">
        <p className={problem ? panelStyles.problem : 'muted'}>{problem ?? 'Asking the field computer…'}</p>
      </Panel>
    )
  const apply = changed && (
    <div className={panelStyles.row} style={{ marginTop: 12 }}>
      <Button variant="contained" disabled={saving || problem !== undefined} onClick={() => save()}>
        Use these settings
      </Button>
      <Button variant="text" onClick={discard}>
        Leave it as it was
      </Button>
      {problem && (
        <span role="alert" className={panelStyles.problem}>
          {problem}
        </span>
      )}
    </div>
  )
  const parts = { config, links, change, onFix: save }
  return (
    <>
      {links?.alarm && (
        <p role="alert" className={panelStyles.problem}>
          {links.alarm.words}
        </p>
      )}
      {problem && !changed && (
        <p role="alert" className={panelStyles.problem}>
          {problem}
        </p>
      )}
      <ControlPanel {...parts} apply={apply} />
      <TncPanel {...parts} apply={apply} />
    </>
  )
}

interface PartProps {
  config: LinkConfig
  links: LinkState | undefined
  change: (part: Partial<LinkConfig>) => void
  onFix: (config: LinkConfig) => void
  apply: React.ReactNode
}

function Status({ state, detail, words }: { state: LinkState['control']['state']; detail: string; words: string }) {
  return (
    <p className={panelStyles.row} aria-live="polite">
      <StateMark state={LINE_STATES[state]} size={22} />
      <strong>{words}</strong>
      {state !== 'off' && <span className="muted">{detail}</span>}
    </p>
  )
}

const CONTROL_WORDS: Record<LinkState['control']['state'], string> = {
  off: 'Off: the dial is set by hand',
  opening: 'Opening…',
  open: 'Asking the radio…',
  talking: 'The radio answers',
  silent: 'The radio does not answer',
  problem: 'Not connected',
}

function ControlPanel({ config, links, change, onFix, apply }: PartProps) {
  const { control, keying } = config
  const state = links?.control
  const dialects = [...BUILT_IN_DIALECTS, ...(useOwnDialects().data ?? [])]
  const framed = dialects.find((d) => d.id === control.dialect)?.radioAddress
  const setControl = (part: Partial<LinkConfig['control']>) => change({ control: { ...control, ...part } })
  const setKeying = (part: Partial<LinkConfig['keying']>) => change({ keying: { ...keying, ...part } })
  return (
    <Panel
      title="Control and keying of the radio"
      aside={
        <FormControlLabel
          control={<Switch checked={control.enabled} onChange={(e) => setControl({ enabled: e.target.checked })} />}
          label="Control line"
        />
      }
    >
      <Status state={state?.state ?? 'off'} detail={state?.detail ?? ''} words={CONTROL_WORDS[state?.state ?? 'off']} />
      {state?.state === 'talking' && (
        <p className={styles.readings}>
          {state.frequencyHz !== null && <span className={styles.dial}>{formatKilohertz(state.frequencyHz)} kHz</span>}
          {state.mode && <span>mode {state.mode}</span>}
          {links?.keying.state === 'keyed' && <strong>keyed</strong>}
          {state.swr !== null && (
            <span>
              SWR <strong>{state.swr.toFixed(1)}</strong>
            </span>
          )}
          {state.power !== null && <span>power {Math.round(state.power * 100)} %</span>}
        </p>
      )}
      <div className={panelStyles.row} style={{ marginTop: 8 }}>
        <PortFields name="Control line" port={control.port} serialBaud={control.serialBaud} onChange={setControl} />
        <TextField
          select
          label="Dialect"
          size="small"
          value={dialects.some((d) => d.id === control.dialect) ? control.dialect : ''}
          onChange={(e) => setControl({ dialect: e.target.value, radioAddress: null })}
          sx={{ width: 400 }}
        >
          {dialects.map((d) => (
            <MenuItem key={d.id} value={d.id}>
              {d.name}
            </MenuItem>
          ))}
        </TextField>
        {framed !== undefined && (
          <TextField
            select
            label="Radio’s address"
            size="small"
            value={control.radioAddress ?? framed}
            onChange={(e) => setControl({ radioAddress: Number(e.target.value) })}
            sx={{ width: 150 }}
          >
            {Array.from({ length: 223 }, (_, i) => i + 1).map((address) => (
              <MenuItem key={address} value={address}>
                {address.toString(16).toUpperCase().padStart(2, '0')} hex
              </MenuItem>
            ))}
          </TextField>
        )}
      </div>
      <div className={panelStyles.row} style={{ marginTop: 12 }}>
        <TextField
          select
          label="The radio is keyed"
          size="small"
          value={keying.by}
          onChange={(e) => setKeying({ by: e.target.value as KeyingWay })}
          sx={{ width: 240 }}
        >
          {KEYING_WAYS.map((by) => (
            <MenuItem key={by} value={by}>
              {KEYING_WORDS[by]}
            </MenuItem>
          ))}
        </TextField>
        {(keying.by === 'rts' || keying.by === 'dtr') && (
          <>
            <TextField
              label="Its port, if not the control line’s"
              size="small"
              value={keying.path ?? ''}
              onChange={(e) => setKeying({ path: e.target.value.trim() === '' ? null : e.target.value })}
              sx={{ width: 280 }}
            />
            <FormControlLabel
              control={<Switch checked={keying.inverted} onChange={(e) => setKeying({ inverted: e.target.checked })} />}
              label="The line is low while transmitting"
            />
          </>
        )}
        <TextField
          label="Stop above SWR"
          type="number"
          size="small"
          value={config.swrLimit}
          onChange={(e) => change({ swrLimit: Number(e.target.value) })}
          sx={{ width: 150 }}
          slotProps={{ htmlInput: { min: 1.2, max: 10, step: 0.1 } }}
        />
      </div>
      {(keying.by === 'rts' || keying.by === 'dtr') && (
        <div style={{ marginTop: 12 }}>
          <Caution>
            Many systems raise both lines for an instant when a port is opened or the computer starts. Switch the radio on after Zeptik,
            with a dummy load the first time. The radio’s manual and the local rules decide.
          </Caution>
        </div>
      )}
      <DialectPanel onUse={(dialect) => setControl({ dialect, radioAddress: null })} />
      {apply}
      <hr style={{ border: 0, borderTop: '1px solid var(--line)', margin: '14px 0' }} />
      <Ladder link="control" state={links} config={config} onFix={onFix} />
      <Wire link="control" state={links} />
    </Panel>
  )
}

const TNC_WORDS: Record<LinkState['tnc']['state'], string> = {
  off: 'Off',
  opening: 'Opening…',
  open: 'Open; nothing heard yet',
  talking: 'It hears',
  silent: 'Bytes come, but no frames',
  problem: 'Not connected',
}

function TncPanel({ config, links, change, onFix, apply }: PartProps) {
  const { tnc } = config
  const state = links?.tnc
  const setTnc = (part: Partial<LinkConfig['tnc']>) => change({ tnc: { ...tnc, ...part } })
  const { parameters } = tnc
  const setParameters = (part: Partial<LinkConfig['tnc']['parameters']>) => setTnc({ parameters: { ...parameters, ...part } })
  const cost = costOfParameters(parameters, tnc.airBaud)
  const advice = adviseParameters(parameters, tnc.airBaud)
  return (
    <Panel
      title="A TNC, in KISS"
      aside={
        <FormControlLabel control={<Switch checked={tnc.enabled} onChange={(e) => setTnc({ enabled: e.target.checked })} />} label="TNC" />
      }
    >
      <Status state={state?.state ?? 'off'} detail={state?.detail ?? ''} words={TNC_WORDS[state?.state ?? 'off']} />
      {state && state.frames.length > 0 && (
        <ul className={styles.frames} aria-label="Frames heard">
          {state.frames.slice(-5).map((frame) => (
            <li key={frame.sequence}>
              <strong className={styles.mono}>{frame.line}</strong> <span className="muted">{frame.kind}</span> {frame.text}
            </li>
          ))}
        </ul>
      )}
      <div className={panelStyles.row} style={{ marginTop: 8 }}>
        <PortFields name="TNC" port={tnc.port} serialBaud={tnc.serialBaud} onChange={setTnc} />
        <TextField
          select
          label="Speed on the air"
          size="small"
          value={tnc.airBaud}
          onChange={(e) => setTnc({ airBaud: Number(e.target.value) as LinkConfig['tnc']['airBaud'] })}
          sx={{ width: 170 }}
        >
          {AIR_BAUDS.map((baud) => (
            <MenuItem key={baud} value={baud}>
              {baud} baud
            </MenuItem>
          ))}
        </TextField>
      </div>
      <details style={{ marginTop: 10 }}>
        <summary>Timing on the air, and power-up: most never touch it</summary>
        <div className={panelStyles.row} style={{ marginTop: 10 }}>
          <Figure label="Key-up, ms" value={parameters.txDelayMs} step={10} onChange={(txDelayMs) => setParameters({ txDelayMs })} />
          <Figure
            label="Persistence, 0 to 1"
            value={parameters.persistence}
            step={0.05}
            onChange={(persistence) => setParameters({ persistence })}
          />
          <Figure label="Slot time, ms" value={parameters.slotTimeMs} step={10} onChange={(slotTimeMs) => setParameters({ slotTimeMs })} />
          <Figure label="Tail, ms" value={parameters.txTailMs} step={10} onChange={(txTailMs) => setParameters({ txTailMs })} />
          <FormControlLabel
            control={<Switch checked={parameters.fullDuplex} onChange={(e) => setParameters({ fullDuplex: e.target.checked })} />}
            label="Full duplex"
          />
        </div>
        <p style={{ marginTop: 8 }}>
          A frame of 128 bytes takes <strong>{cost.frameS.toFixed(2)} s</strong>, {Math.round(cost.overheadShare * 100)} % of it key-up and
          tail; on a free channel it waits {Math.round(cost.meanWaitMs)} ms on average; two others that wait too collide with{' '}
          {Math.round(cost.collisionChance * 100)} % of yours.
        </p>
        {advice.map((line) => (
          <p key={line} className={panelStyles.problem}>
            {line}
          </p>
        ))}
        <TextField
          multiline
          fullWidth
          minRows={2}
          label="Typed at its prompt after a power-up, a line each"
          helperText="For what a flat memory battery loses, such as MYCALL. Then it is put into KISS, and told the timing above."
          value={tnc.startLines.join('\n')}
          onChange={(e) => setTnc({ startLines: e.target.value === '' ? [] : e.target.value.split('\n') })}
          sx={{ marginTop: 2 }}
          slotProps={{ htmlInput: { className: 'mono', spellCheck: false } }}
        />
      </details>
      {apply}
      <hr style={{ border: 0, borderTop: '1px solid var(--line)', margin: '14px 0' }} />
      <Ladder link="tnc" state={links} config={config} onFix={onFix} />
      <Wire link="tnc" state={links} />
    </Panel>
  )
}

function Figure({ label, value, step, onChange }: { label: string; value: number; step: number; onChange: (value: number) => void }) {
  return (
    <TextField
      label={label}
      type="number"
      size="small"
      value={value}
      onChange={(e) => onChange(Number(e.target.value))}
      sx={{ width: 150 }}
      slotProps={{ htmlInput: { step, min: 0 } }}
    />
  )
}
