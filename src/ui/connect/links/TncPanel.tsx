'use client'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import Switch from '@mui/material/Switch'
import TextField from '@mui/material/TextField'
import { AIR_BAUDS, type LinkConfig, type LinkState } from '@/core/links'
import { adviseParameters, costOfParameters } from '@/core/packet'
import { Panel, panelStyles } from '../../parts/Panel'
import { FrameTable } from './FrameTable'
import { Ladder } from './Ladder'
import { LinkStatusLine, type LinkPartProps } from './LinkStatusLine'
import { PortFields } from './PortFields'
import { Wire } from './Wire'

const TNC_WORDS: Record<LinkState['tnc']['state'], string> = {
  off: 'Off',
  opening: 'Opening…',
  open: 'Open; nothing heard yet',
  talking: 'It hears',
  silent: 'Bytes come, but no frames',
  problem: 'Not connected',
}

/** A TNC in KISS: its port, its timing on the air, and the frames it hears. */
export function TncPanel({ config, links, change, onFix, apply }: LinkPartProps) {
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
      <LinkStatusLine link="tnc" links={links} words={TNC_WORDS} />
      {state && state.frames.length > 0 && <FrameTable frames={state.frames} />}
      <div className={panelStyles.row} style={{ marginTop: 14 }}>
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
