'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import {
  adviseChannel,
  CHANNEL_MODE_WORDS,
  CHANNEL_MODES,
  channelSchema,
  megahertz,
  TONE_KINDS,
  TONE_WORDS,
  TONES_HZ,
  type Channel,
} from '@/core/channels'
import { AIR_BAUDS } from '@/core/links'
import { Panel, panelStyles } from '../../parts/Panel'

interface ChannelEditorProps {
  channel: Channel
  onSave: (channel: Channel) => void
  onCancel: () => void
}

const hertz = (text: string) => (/^\d+([.,]\d+)?$/.test(text.trim()) ? Math.round(Number(text.trim().replace(',', '.')) * 1e6) : NaN)

/** The fields of a channel. */
export function ChannelEditor({ channel, onSave, onCancel }: ChannelEditorProps) {
  const [draft, setDraft] = useState(channel)
  const [receive, setReceive] = useState(megahertz(channel.receiveHz))
  const [transmit, setTransmit] = useState(megahertz(channel.transmitHz))
  const [problem, setProblem] = useState('')
  const change = (part: Partial<Channel>) => setDraft({ ...draft, ...part })
  const whole = { ...draft, receiveHz: hertz(receive), transmitHz: hertz(transmit) }
  const parsed = channelSchema.safeParse(whole)
  const follow = (text: string) => {
    // As long as both are the same, they stay so.
    if (hertz(receive) === hertz(transmit)) setTransmit(text)
    setReceive(text)
  }
  return (
    <Panel title={channel.name === '' ? 'New channel' : `Change ${channel.name}`} id="channel-editor">
      <form
        style={{ display: 'flex', flexDirection: 'column', gap: 12 }}
        onSubmit={(e) => {
          e.preventDefault()
          if (parsed.success) onSave(parsed.data)
          else setProblem(`${parsed.error.issues[0]!.message}.`)
        }}
      >
        <div className={panelStyles.grid}>
          <TextField size="small" label="Name" value={draft.name} onChange={(e) => change({ name: e.target.value })} />
          <TextField
            size="small"
            label="Receive, MHz"
            value={receive}
            onChange={(e) => follow(e.target.value)}
            slotProps={{ htmlInput: { inputMode: 'decimal' } }}
          />
          <TextField
            size="small"
            label="Transmit, MHz"
            value={transmit}
            onChange={(e) => setTransmit(e.target.value)}
            slotProps={{ htmlInput: { inputMode: 'decimal' } }}
          />
          <TextField
            select
            size="small"
            label="Mode"
            value={draft.mode}
            onChange={(e) => change({ mode: e.target.value as Channel['mode'] })}
          >
            {CHANNEL_MODES.map((mode) => (
              <MenuItem key={mode} value={mode}>
                {CHANNEL_MODE_WORDS[mode]}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            size="small"
            label="Tone"
            value={draft.tone}
            onChange={(e) => {
              const tone = e.target.value as Channel['tone']
              change({ tone, toneHz: tone === 'none' ? null : (draft.toneHz ?? 88.5) })
            }}
          >
            {TONE_KINDS.map((tone) => (
              <MenuItem key={tone} value={tone}>
                {TONE_WORDS[tone]}
              </MenuItem>
            ))}
          </TextField>
          {draft.tone !== 'none' && (
            <TextField
              select
              size="small"
              label="Tone, Hz"
              value={draft.toneHz ?? ''}
              onChange={(e) => change({ toneHz: Number(e.target.value) })}
            >
              {[...new Set([...TONES_HZ, ...(draft.toneHz === null ? [] : [draft.toneHz])])].map((tone) => (
                <MenuItem key={tone} value={tone}>
                  {tone.toFixed(1)}
                </MenuItem>
              ))}
            </TextField>
          )}
          <TextField
            select
            size="small"
            label="Speed on the air"
            value={draft.airBaud ?? 0}
            onChange={(e) => change({ airBaud: (Number(e.target.value) || null) as Channel['airBaud'] })}
          >
            <MenuItem value={0}>No packet</MenuItem>
            {AIR_BAUDS.map((baud) => (
              <MenuItem key={baud} value={baud}>
                {baud} baud
              </MenuItem>
            ))}
          </TextField>
          <TextField size="small" label="Purpose" value={draft.purpose} onChange={(e) => change({ purpose: e.target.value })} />
        </div>
        {parsed.success &&
          adviseChannel(parsed.data).map((words) => (
            <p key={words} className={panelStyles.problem}>
              {words}
            </p>
          ))}
        {problem && !parsed.success && (
          <p role="alert" className={panelStyles.problem}>
            {problem}
          </p>
        )}
        <div className={panelStyles.row}>
          <Button type="submit" variant="contained">
            Save the channel
          </Button>
          <Button variant="text" onClick={onCancel}>
            Leave it as it was
          </Button>
        </div>
      </form>
    </Panel>
  )
}
