'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import { useLevelTest } from '../../levels/useLevelTest'
import { useLive, useStation } from '../../live/StationProvider'
import { FirstCheck } from '../../parts/FirstCheck'
import { Caution, Panel, panelStyles } from '../../parts/Panel'
import styles from './links.module.css'

/** A tuner needs a few seconds; a matching network burns in many. */
const CARRIER_S = 6
/** 10 dB below the usual level: a tenth of its power. */
const REDUCED = 0.316

/** A steady tone for a tuner, at a tenth of the power and for a few seconds, with the SWR beside it where it is read. */
export function TunePanel() {
  const { station, profile } = useLive()
  const onAir = useStation((s) => s.onAir)
  const control = useStation((s) => s.links?.control)
  const [clear, setClear] = useState(false)
  const [low, setLow] = useState(false)
  const test = useLevelTest()
  const sending = test.busy === 'carrier'
  const metered = control?.state === 'talking' && control.swrMeter
  const send = () =>
    test.afterCheck(() => {
      // Each time anew: between two carriers someone has gone to the antenna.
      setClear(false)
      void test.send('carrier', { amplitude: REDUCED * profile.station.transmitLevel, durationS: CARRIER_S })
    })
  return (
    <Panel title="Tuning carrier">
      <p>
        One tone of {CARRIER_S} s at a tenth of the usual power, then a rest. It ends by itself, with Silence, and above the SWR limit where
        the radio’s meter is read.
      </p>
      <p className={styles.readings} aria-live="polite">
        {metered ? (
          <span>
            SWR <span className={styles.dial}>{control.swr === null ? '—' : control.swr.toFixed(1)}</span>
            {control.swr === null && <span className="muted"> read while transmitting</span>}
          </span>
        ) : (
          <span className="muted">No SWR meter is read: watch the radio’s or the tuner’s own.</span>
        )}
        {sending && onAir && <strong>on the air</strong>}
      </p>
      <Caution>
        Hands clear of antenna, tuner and radials while it is on: they burn at any power. Adjust only between two carriers. Listen first
        that the frequency is free. The local rules and the manuals decide.
      </Caution>
      {test.checking ? (
        <FirstCheck what="Send the carrier" practice={false} onChecked={test.checked} onNotNow={test.notNow} />
      ) : (
        <div className={panelStyles.row} style={{ marginTop: 8 }}>
          <FormControlLabel
            control={<Checkbox checked={low} onChange={(e) => setLow(e.target.checked)} />}
            label="The radio’s power is turned down"
          />
          <FormControlLabel
            control={<Checkbox checked={clear} onChange={(e) => setClear(e.target.checked)} />}
            label="Hands are clear, now"
          />
          {sending ? (
            <Button variant="contained" onClick={() => void station?.do({ type: 'silence', why: 'The tuning carrier was ended.' })}>
              End it
            </Button>
          ) : (
            <Button variant="contained" disabled={!clear || !low || test.busy !== undefined} onClick={send}>
              Tuning carrier, {CARRIER_S} s
            </Button>
          )}
        </div>
      )}
      {test.refusal && (
        <p role="alert" className={panelStyles.problem} style={{ marginTop: 8 }}>
          {test.refusal.why}
        </p>
      )}
    </Panel>
  )
}
