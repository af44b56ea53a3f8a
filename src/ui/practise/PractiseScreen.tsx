'use client'
import { useState } from 'react'
import { useRouter } from 'next/navigation'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { useLive, useStation } from '../live/StationProvider'
import { readChosenDevices } from '../connect/devices'
import { Page, Panel, panelStyles } from '../parts/Panel'

const PACES = [1, 2, 4, 8] as const

/** The simulated band: real signals, no radio. */
export function PractiseScreen() {
  const { station, profile } = useLive()
  const router = useRouter()
  const source = useStation((s) => s.source)
  const [pace, setPace] = useState<number>(1)
  const [seed, setSeed] = useState('7')
  const [stations, setStations] = useState(24)
  const [audible, setAudible] = useState(false)
  const running = source.kind === 'practice'
  const seedNumber = Number(seed)
  const seedValid = /^\d{1,9}$/.test(seed)

  const start = async () => {
    await station?.startPractice({ seed: seedNumber, stations, pace, audible }, readChosenDevices().output)
    router.push('/slots')
  }
  return (
    <Page
      title="Practise"
      lead="A simulated band with noise, fading and other people’s clocks. Stations answer only what they can copy of the audio you really transmit."
    >
      <Panel title={running ? 'The practice band is running' : 'Practice band'} id="practice-band">
        <div className={panelStyles.grid}>
          <TextField
            select
            label="Pace"
            value={pace}
            onChange={(e) => setPace(Number(e.target.value))}
            helperText="Fast bands wait for the decoder, so nothing is missed"
          >
            {PACES.map((p) => (
              <MenuItem key={p} value={p}>
                {p === 1 ? 'Real time' : `${p} times as fast`}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            label="Stations"
            value={stations}
            onChange={(e) => setStations(Number(e.target.value))}
            helperText="How crowded it is"
          >
            {[8, 16, 24, 40].map((n) => (
              <MenuItem key={n} value={n}>
                {n}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            label="Band number"
            value={seed}
            onChange={(e) => setSeed(e.target.value)}
            error={!seedValid}
            helperText={seedValid ? 'The same number gives the same band' : 'A whole number'}
            slotProps={{ htmlInput: { inputMode: 'numeric' } }}
          />
        </div>
        <FormControlLabel
          sx={{ mt: 1 }}
          control={<Checkbox checked={audible} onChange={(e) => setAudible(e.target.checked)} disabled={pace !== 1} />}
          label={pace === 1 ? 'Let me hear my own transmissions' : 'Let me hear my own transmissions (in real time only)'}
        />
        <div className={panelStyles.row} style={{ marginTop: 8 }}>
          <Button variant="contained" size="large" disabled={!station || !seedValid} onClick={() => void start()}>
            {running ? 'Start anew' : 'Start the practice band'}
          </Button>
          {running && (
            <Button variant="outlined" size="large" onClick={() => station?.stopListening()}>
              Stop it
            </Button>
          )}
        </div>
      </Panel>
      <Panel title="What it is for">
        <p>
          Everything here works as on the air: lanes, answers, repeats, stations that vanish. Nothing reaches an antenna. Contacts made here
          are marked as practice in the log and kept apart from real ones.
          {!profile.station.call && ' Set your call and locator on the Station screen first, or you can only listen.'}
        </p>
      </Panel>
    </Page>
  )
}
