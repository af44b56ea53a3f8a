'use client'
import { frequencyWords } from '@/core/text/frequency'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import Switch from '@mui/material/Switch'
import TextField from '@mui/material/TextField'
import { KEYING_WAYS, type KeyingWay, type LinkConfig, type LinkState } from '@/core/links'
import { BUILT_IN_DIALECTS } from '@/core/links/cat'
import { KEY_PROOF_WORDS } from '@/core/readiness'
import { Caution, Panel, panelStyles } from '../../parts/Panel'
import { DialectPanel, useOwnDialects } from './DialectPanel'
import { Ladder } from './Ladder'
import { LinkStatusLine, type LinkPartProps } from './LinkStatusLine'
import styles from './links.module.css'
import { PortFields } from './PortFields'
import { Wire } from './Wire'

const KEYING_WORDS: Record<KeyingWay, string> = {
  none: 'Not by Zeptik',
  vox: 'By its VOX',
  cat: 'By CAT control',
  rts: 'By RTS of a serial port',
  dtr: 'By DTR of a serial port',
}

const CONTROL_WORDS: Record<LinkState['control']['state'], string> = {
  off: 'Off: the dial is set by hand',
  opening: 'Opening…',
  open: 'Asking the radio…',
  talking: 'The radio answers',
  silent: 'The radio does not answer',
  problem: 'Not connected',
}

/** The radio's control line and its keying, with the ladder that climbs to both. */
export function ControlPanel({ config, links, change, onFix, apply }: LinkPartProps) {
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
          label="CAT control"
        />
      }
    >
      <LinkStatusLine link="control" links={links} words={CONTROL_WORDS} />
      {state?.state === 'talking' && (
        <p className={styles.readings}>
          {state.frequencyHz !== null && <span className={styles.dial}>{frequencyWords(state.frequencyHz)}</span>}
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
      <div className={panelStyles.row} style={{ marginTop: 14 }}>
        <PortFields name="CAT control" port={control.port} serialBaud={control.serialBaud} onChange={setControl} />
        <TextField
          select
          label="Command set"
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
              label="Its port, if not that of CAT control"
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
        {links && keying.by !== 'vox' && keying.by !== 'none' && (
          <p className="muted" style={{ flexBasis: '100%', margin: 0 }}>
            {KEYING_WORDS[keying.by]}, {KEY_PROOF_WORDS[links.keying.proof]}. Set the radio’s own transmit timer as well.
          </p>
        )}
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
