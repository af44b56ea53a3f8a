'use client'
import { useState } from 'react'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import type { LinkConfig, LinkState } from '@/core/links'
import { BUILT_IN_DIALECTS } from '@/core/links/cat'
import { RADIO_FAULTS, RADIO_VOICES, TNC_FAULTS, type RadioVoice } from '@/standins'
import { fetchLinkConfig, saveLinkConfig, setLinkStandins } from '../connect/links/linkApi'
import { useStation } from '../live/StationProvider'
import { panelStyles } from '../parts/Panel'
import { Faults, useFaults } from './faults'

const divided = { borderTop: '1px solid var(--line)', marginTop: 10, paddingTop: 12 }

/** The practice radio and TNC, which answer on TCP ports of the field computer. */
export function LinkStandins() {
  const running = useStation((s) => s.links?.standins)
  const client = useQueryClient()
  const change = useMutation({
    mutationFn: setLinkStandins,
    // What was linked to one that was stopped is linked no more.
    onSuccess: () => client.invalidateQueries({ queryKey: ['links', 'config'] }),
  })
  const connect = useMutation({
    mutationFn: async (part: (config: LinkConfig) => Partial<LinkConfig>) => {
      const config = await fetchLinkConfig()
      return saveLinkConfig({ ...config, ...part(config) })
    },
    onSuccess: (config) => client.setQueryData(['links', 'config'], config),
  })
  const problem = change.error ?? connect.error
  return (
    <>
      <Radio
        running={running?.radio ?? null}
        disabled={running === undefined}
        change={(radio) => change.mutate({ radio })}
        connect={(port, voice) =>
          connect.mutate((config) => ({
            control: {
              ...config.control,
              enabled: true,
              dialect: voice,
              radioAddress: null,
              port: { kind: 'tcp', host: '127.0.0.1', port },
            },
            keying: { ...config.keying, by: 'cat' },
          }))
        }
      />
      <Tnc
        running={running?.tnc ?? null}
        disabled={running === undefined}
        change={(tnc) => change.mutate({ tnc })}
        connect={(port) =>
          connect.mutate((config) => ({ tnc: { ...config.tnc, enabled: true, port: { kind: 'tcp', host: '127.0.0.1', port } } }))
        }
      />
      {problem && (
        <p role="alert" className={panelStyles.problem}>
          {problem.message}
        </p>
      )}
      {connect.isSuccess && !problem && <p role="status">It is linked: see the Connect screen.</p>}
    </>
  )
}

interface RadioProps {
  running: LinkState['standins']['radio']
  disabled: boolean
  change: (radio: { voice: string; faults: string[] } | null) => void
  connect: (port: number, voice: string) => void
}

function Radio({ running, disabled, change, connect }: RadioProps) {
  const [chosenVoice, setVoice] = useState<RadioVoice>('ascii-9')
  const voice = running?.voice ?? chosenVoice
  const [faults, choose] = useFaults(running?.faults, (chosen) => change({ voice, faults: chosen }))
  return (
    <section aria-label="Practice radio" style={divided}>
      <div className={panelStyles.row}>
        <strong style={{ minWidth: 150 }}>Radio</strong>
        <TextField
          select
          label="Its command set"
          size="small"
          value={voice}
          disabled={running !== null}
          onChange={(e) => setVoice(e.target.value as RadioVoice)}
          sx={{ width: 330 }}
        >
          {RADIO_VOICES.map((v) => (
            <MenuItem key={v} value={v}>
              {BUILT_IN_DIALECTS.find((d) => d.id === v)?.name}
            </MenuItem>
          ))}
        </TextField>
        <Button
          variant={running ? 'outlined' : 'contained'}
          disabled={disabled}
          aria-label={running ? 'Stop it: practice radio' : 'Start it: practice radio'}
          onClick={() => change(running ? null : { voice, faults: [...faults] })}
        >
          {running ? 'Stop it' : 'Start it'}
        </Button>
        {running && (
          <Button variant="contained" aria-label="Link to it: practice radio" onClick={() => connect(running.port, running.voice)}>
            Link to it
          </Button>
        )}
        <span className="muted">{running ? `Runs: ${running.where}.` : 'With CAT control and meters.'}</span>
      </div>
      <Faults known={RADIO_FAULTS} chosen={faults} onChange={choose} />
    </section>
  )
}

interface TncProps {
  running: LinkState['standins']['tnc']
  disabled: boolean
  change: (tnc: { faults: string[] } | null) => void
  connect: (port: number) => void
}

function Tnc({ running, disabled, change, connect }: TncProps) {
  const [faults, choose] = useFaults(running?.faults, (chosen) => change({ faults: chosen }))
  return (
    <section aria-label="Practice TNC" style={divided}>
      <div className={panelStyles.row}>
        <strong style={{ minWidth: 150 }}>TNC</strong>
        <Button
          variant={running ? 'outlined' : 'contained'}
          disabled={disabled}
          aria-label={running ? 'Stop it: practice TNC' : 'Start it: practice TNC'}
          onClick={() => change(running ? null : { faults: [...faults] })}
        >
          {running ? 'Stop it' : 'Start it'}
        </Button>
        {running && (
          <Button variant="contained" aria-label="Link to it: practice TNC" onClick={() => connect(running.port)}>
            Link to it
          </Button>
        )}
        <span className="muted">{running ? `Runs: ${running.where}.` : 'In KISS, on a channel with made-up beacons.'}</span>
      </div>
      <Faults known={TNC_FAULTS} chosen={faults} onChange={choose} />
    </section>
  )
}
