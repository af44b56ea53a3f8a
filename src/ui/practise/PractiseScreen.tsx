'use client'
import { MODES, SOUND_MODE_IDS, type SoundModeId } from '@/core/modes'
import { useState } from 'react'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { CHANNEL_FAULT_NAMES, RECEIVE_FAULTS, type ChannelFault, type ReceiveFault } from '@/standins'
import { useLive, useStation } from '../live/StationProvider'
import { Page, Panel, panelStyles } from '../parts/Panel'
import { savePracticeOptions, usePracticeOptions, useStartPractice, type Pace } from './practiceOptions'
import { StandinPanel } from './StandinPanel'

const PACES = [1, 2, 4, 8, 30] as const
/** How far off the station's clock can be, as an exercise; the last one leaves even the slot to be found. */
const CLOCK_FAULTS = [
  [0, 'Right'],
  [1400, '1.4 s fast'],
  [-900, '0.9 s slow'],
  [-1_000_007_300, 'Days slow, and not on a slot'],
] as const

const FAULT_WORDS: Record<ReceiveFault, string> = {
  clipping: 'Clipping',
  'too-quiet': 'Far too quiet',
  'too-hot': 'No headroom',
  'digital-silence': 'Input muted',
  'dc-offset': 'Off centre',
  'hum-50': 'Hum, 50 Hz mains',
  'hum-60': 'Hum, 60 Hz mains',
  'agc-pumping': 'Automatic gain pumps',
  'noise-gate': 'Noise gate',
  'noise-reduction': 'Noise reduction left on',
  'narrow-filter': 'Narrow filter left in',
  speech: 'People talking',
  dropouts: 'Lost blocks',
  'one-channel': 'Right channel dead',
}

const CHANNEL_FAULT_WORDS: Record<ChannelFault, string> = {
  nobody: 'Nobody answers',
  shortKeyUp: 'Receivers need a long key-up',
  deafDigipeater: 'Deaf digipeater',
  squelch: 'Squelch cuts 200 ms',
  twisted: 'Twisted audio',
  overload: 'Overloaded by a neighbour',
  busy: 'Busy without end',
}

/** The simulated band: real signals, no radio. */
export function PractiseScreen() {
  const { station, profile } = useLive()
  const source = useStation((s) => s.source)
  const options = usePracticeOptions()
  const { pace, stations, audible, clockErrorMs } = options
  const [seed, setSeed] = useState<string>()
  const runningFaults = useStation((s) => s.practiceFaults)
  const running = source.kind === 'practice'
  const inFront = useStation((s) => s.mode)
  const mode = options.mode ?? inFront
  const begin = useStartPractice()
  const [problem, setProblem] = useState<string>()
  const inUse = SOUND_MODE_IDS.filter((id) => profile.settings.modes.includes(id))
  const faults = running ? runningFaults : options.faults
  const runningBandFaults = useStation((s) => s.practiceBandFaults)
  const channelFaults: readonly string[] = running ? runningBandFaults : options.channelFaults
  const toggleChannel = (fault: ChannelFault) => {
    const next = CHANNEL_FAULT_NAMES.filter((one) => channelFaults.includes(one) !== (one === fault))
    savePracticeOptions({ channelFaults: next })
    void station?.do({ type: 'practiceBandFaults', faults: next })
  }
  const toggle = (fault: ReceiveFault) => {
    const next = faults.includes(fault) ? faults.filter((f) => f !== fault) : [...faults, fault]
    savePracticeOptions({ faults: next })
    void station?.do({ type: 'practiceFaults', faults: next })
  }
  const typedSeed = seed ?? options.seed
  const seedValid = /^\d{1,9}$/.test(typedSeed)
  const start = async () => setProblem(await begin())
  return (
    <Page
      title="Practise"
      lead="A simulated band with noise, fading and other people’s clocks. Stations answer only what they can copy of the audio you really transmit."
    >
      <Panel title={running ? 'The practice band is running' : 'Practice band'} id="practice-band">
        <div className={panelStyles.grid}>
          {inUse.length > 1 && (
            <TextField
              select
              label="Mode"
              value={mode}
              onChange={(e) => savePracticeOptions({ mode: e.target.value as SoundModeId })}
              helperText="Each has a band of its own"
            >
              {inUse.map((id) => (
                <MenuItem key={id} value={id}>
                  {MODES[id].name}
                </MenuItem>
              ))}
            </TextField>
          )}
          <TextField
            select
            label="Pace"
            value={mode === 'packet' ? 1 : pace}
            onChange={(e) => savePracticeOptions({ pace: Number(e.target.value) as Pace })}
            disabled={mode === 'packet'}
            helperText={mode === 'packet' ? 'Sessions live by the real clock' : 'Fast bands wait for the decoder, so nothing is missed'}
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
            onChange={(e) => savePracticeOptions({ stations: Number(e.target.value) })}
            helperText="How crowded it is"
          >
            {[8, 16, 24, 40, 60].map((n) => (
              <MenuItem key={n} value={n}>
                {n}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            label="Your clock"
            value={clockErrorMs}
            onChange={(e) => savePracticeOptions({ clockErrorMs: Number(e.target.value) })}
            helperText="A fault to find and put right on the Clock screen"
          >
            {CLOCK_FAULTS.map(([ms, words]) => (
              <MenuItem key={ms} value={ms}>
                {words}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            label="Band number"
            value={typedSeed}
            onChange={(e) => {
              setSeed(e.target.value)
              if (/^\d{1,9}$/.test(e.target.value)) savePracticeOptions({ seed: e.target.value })
            }}
            error={!seedValid}
            helperText={seedValid ? 'The same number gives the same band' : 'A whole number'}
            slotProps={{ htmlInput: { inputMode: 'numeric' } }}
          />
        </div>
        {running && (
          <p role="status" style={{ marginTop: 12 }}>
            <strong>Running:</strong> {MODES[inFront].name}, {source.pace === 1 ? 'real time' : `${source.pace} times as fast`}, your clock{' '}
            {CLOCK_FAULTS.find(([ms]) => ms === clockErrorMs)?.[1].toLowerCase() ?? 'off'},{' '}
            {faults.length === 0 ? 'no fault' : faults.map((fault) => FAULT_WORDS[fault].toLowerCase()).join(', ')}.
          </p>
        )}
        <details style={{ marginTop: 12 }}>
          <summary className={panelStyles.summary}>
            Faults of the receiver{faults.length > 0 ? `: ${faults.length} on` : ', to be found and named on the Levels screen'}
          </summary>
          <div role="group" aria-label="Faults of the receiver" style={{ display: 'flex', flexWrap: 'wrap', gap: 8, marginTop: 6 }}>
            {RECEIVE_FAULTS.map((fault) => (
              <Button
                key={fault}
                variant={faults.includes(fault) ? 'contained' : 'outlined'}
                aria-pressed={faults.includes(fault)}
                onClick={() => toggle(fault)}
                sx={{ px: 1.6 }}
              >
                {faults.includes(fault) ? '✓ ' : ''}
                {FAULT_WORDS[fault]}
              </Button>
            ))}
          </div>
          {running && <p className="muted">They act within seconds.</p>}
        </details>
        {(running ? inFront : mode) === 'packet' && (
          <details style={{ marginTop: 12 }}>
            <summary className={panelStyles.summary}>
              Faults of the channel{channelFaults.length > 0 ? `: ${channelFaults.length} on` : ''}
            </summary>
            <div role="group" aria-label="Faults of the channel" style={{ display: 'flex', flexWrap: 'wrap', gap: 8, marginTop: 6 }}>
              {CHANNEL_FAULT_NAMES.map((fault) => (
                <Button
                  key={fault}
                  variant={channelFaults.includes(fault) ? 'contained' : 'outlined'}
                  aria-pressed={channelFaults.includes(fault)}
                  onClick={() => toggleChannel(fault)}
                  sx={{ px: 1.6 }}
                >
                  {channelFaults.includes(fault) ? '✓ ' : ''}
                  {CHANNEL_FAULT_WORDS[fault]}
                </Button>
              ))}
            </div>
          </details>
        )}
        <FormControlLabel
          sx={{ mt: 1 }}
          control={
            <Checkbox checked={audible} onChange={(e) => savePracticeOptions({ audible: e.target.checked })} disabled={pace !== 1} />
          }
          label={pace === 1 ? 'Let me hear my own transmissions' : 'Let me hear my own transmissions (in real time only)'}
        />
        <div className={panelStyles.saveBar}>
          <Button variant="contained" size="large" disabled={!station || !seedValid} onClick={() => void start()}>
            {running ? 'Restart' : 'Start the practice band'}
          </Button>
          {running && (
            <Button variant="outlined" size="large" onClick={() => void station?.do({ type: 'stopListening' })}>
              Stop it
            </Button>
          )}
        </div>
        {problem && (
          <p role="alert" className={panelStyles.problem}>
            {problem}
          </p>
        )}
      </Panel>
      <StandinPanel />
      <Panel title="What it is for">
        <p>
          Everything here works as on the air: offsets, answers, repeats, stations that vanish. Nothing reaches an antenna. Contacts made
          here are marked as practice in the log and kept apart from real ones.
          {!profile.station.call && ' Set your call and locator on the Station screen first, or you can only listen.'}
        </p>
      </Panel>
    </Page>
  )
}
