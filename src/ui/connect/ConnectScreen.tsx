'use client'
import { useRef, useState } from 'react'
import Link from 'next/link'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { decodeChannels, decodeFrames, parseWavHeader, WAV_HEADER_BYTES } from '@/core/audio'
import { resample } from '@/core/dsp'
import { SAMPLE_RATE_HZ } from '@/core/ft8'
import { useLive, useStation } from '../live/StationProvider'
import { TargetMeter } from '../levels/TargetMeter'
import { FileInput } from '../parts/FileInput'
import { Caution, Page, Panel, panelStyles } from '../parts/Panel'
import { ConnectTabs } from './ConnectTabs'
import { ChainPanel } from './links/ChainPanel'
import { deviceNames, useAudioDevices } from './devices'

/** Largest recording that a browser takes at once; longer ones are for the command line. */
const LARGEST_FILE = 400_000_000
const PACES = [1, 4, 10] as const

/** What is listened to, and where transmitted audio goes. */
export function ConnectScreen() {
  const { station } = useLive()
  const source = useStation((s) => s.source)
  const audio = useStation((s) => s.audio)
  const outputProblem = useStation((s) => s.outputProblem)
  const devices = useAudioDevices()
  const [pace, setPace] = useState<number>(1)
  const [fileProblem, setFileProblem] = useState<string>()
  const inputNames = deviceNames(devices.inputs, 'Input without a name (allow the microphone to see names)')
  const outputNames = deviceNames(devices.outputs, 'Output without a name')
  const sameName = devices.inputs.length > 1 && new Set(devices.inputs.map((d) => d.label)).size < devices.inputs.length
  const picker = useRef<HTMLInputElement>(null)

  const listen = async () => {
    setFileProblem(undefined)
    await station?.do({ type: 'listen', deviceId: devices.chosen.input || undefined, outputId: devices.chosen.output || undefined })
    void devices.refresh()
  }
  const open = async (file: File) => {
    setFileProblem(undefined)
    if (file.size > LARGEST_FILE) {
      setFileProblem(
        `${file.name} has ${Math.round(file.size / 1e6)} MB; up to ${LARGEST_FILE / 1e6} MB are opened here. Use "zeptik decode" for longer recordings.`,
      )
      return
    }
    const bytes = new Uint8Array(await file.arrayBuffer())
    const header = parseWavHeader(bytes.subarray(0, WAV_HEADER_BYTES), bytes.length)
    if (!header.ok) {
      setFileProblem(`${file.name}: ${header.error}.`)
      return
    }
    const { format, dataOffset, dataBytes } = header.value
    const data = bytes.subarray(dataOffset, dataOffset + dataBytes)
    const { sampleRateHz, bytesPerFrame } = format
    const at = (seconds: number) => Math.round(seconds * sampleRateHz) * bytesPerFrame
    await station?.do({
      type: 'play',
      pace,
      recording: {
        label: file.name,
        samples: resample(decodeFrames(data, format), sampleRateHz, SAMPLE_RATE_HZ),
        // Decoded as it is played: all channels of a long recording at once would fill the memory.
        original: { rateHz: sampleRateHz, channels: (fromS, toS) => decodeChannels(data.subarray(at(fromS), at(toS)), format) },
      },
    })
  }
  const on = source.kind === 'microphone' || source.kind === 'recording' || source.kind === 'practice'
  const worst = audio?.findings.find((f) => f.severity !== 'note')
  const problem = fileProblem ?? (source.kind === 'none' ? source.problem : undefined)

  return (
    <Page title="Connect" lead="What this station hears, and where its transmitted audio goes.">
      <ConnectTabs />
      <Panel
        title={on ? `Audio source: ${source.label}` : source.kind === 'starting' ? 'Opening…' : 'No audio source yet'}
        id="hearing"
        aside={
          on && (
            <Button variant="outlined" onClick={() => void station?.do({ type: 'stopListening' })}>
              Stop listening
            </Button>
          )
        }
      >
        {problem && (
          <p role="alert" className={panelStyles.problem} style={{ marginBottom: 8 }}>
            {problem}
          </p>
        )}
        {on &&
          source.warnings.map((warning) => (
            <p key={warning} className={panelStyles.problem}>
              {warning}
            </p>
          ))}
        <TargetMeter audio={audio} on={on} />
        {worst && (
          <p style={{ marginTop: 8 }} aria-live="polite">
            <strong>{worst.name}.</strong> {worst.advice} <Link href="/levels">All about the level</Link>
          </p>
        )}
      </Panel>
      <ChainPanel />
      <Panel title="A radio, by microphone or interface">
        <div className={panelStyles.grid}>
          <TextField
            select
            label="Audio input"
            value={devices.inputs.some((d) => d.deviceId === devices.chosen.input) ? devices.chosen.input : ''}
            onChange={(e) => devices.chooseInput(e.target.value)}
            helperText="The tablet’s own microphone works beside a loudspeaker"
            slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
          >
            <MenuItem value="">The system’s input</MenuItem>
            {devices.inputs.map((d) => (
              <MenuItem key={d.deviceId} value={d.deviceId}>
                {inputNames.get(d.deviceId)}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            label="Audio output for transmitting"
            value={devices.outputs.some((d) => d.deviceId === devices.chosen.output) ? devices.chosen.output : ''}
            onChange={(e) => devices.chooseOutput(e.target.value)}
            helperText="What keys the radio by VOX"
            slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
            error={outputProblem !== undefined}
          >
            <MenuItem value="">The system’s output</MenuItem>
            {devices.outputs.map((d) => (
              <MenuItem key={d.deviceId} value={d.deviceId}>
                {outputNames.get(d.deviceId)}
              </MenuItem>
            ))}
          </TextField>
        </div>
        {outputProblem && <p className={panelStyles.problem}>{outputProblem}</p>}
        {sameName && (
          <p className="muted" style={{ marginTop: 8 }}>
            Two inputs have the same name. Pull one out and see which one leaves the list, or listen to one and look at its level.
          </p>
        )}
        <div className={panelStyles.row} style={{ marginTop: 12 }}>
          <Button variant="contained" size="large" onClick={() => void listen()} disabled={!station || source.kind === 'starting'}>
            Start listening
          </Button>
          <span className="muted">
            The browser’s echo cancellation, noise suppression and automatic gain are switched off, and checked.
          </span>
        </div>
        <div style={{ marginTop: 12 }}>
          <Caution>System sounds and calls go out over a VOX-keyed radio too. Silence them on this device before connecting.</Caution>
        </div>
      </Panel>
      <Panel title="A recording">
        <div className={panelStyles.row}>
          <FileInput inputRef={picker} label="Recording to open" accept=".wav,audio/wav,audio/x-wav" onFile={(file) => void open(file)} />
          <Button variant="outlined" size="large" onClick={() => picker.current?.click()} disabled={!station}>
            Open a WAV file
          </Button>
          <TextField select label="Pace" value={pace} onChange={(e) => setPace(Number(e.target.value))} sx={{ minWidth: 150 }}>
            {PACES.map((p) => (
              <MenuItem key={p} value={p}>
                {p === 1 ? 'As recorded' : `${p} times as fast`}
              </MenuItem>
            ))}
          </TextField>
          <span className="muted">Taken as 15-second slots from its start. Recordings cannot be answered.</span>
        </div>
      </Panel>
    </Page>
  )
}
