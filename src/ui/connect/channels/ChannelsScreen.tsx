'use client'
import { useRef, useState } from 'react'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import {
  adviseChannel,
  CHANNEL_MODE_WORDS,
  channelListSchema,
  channelsFromCsv,
  channelsToCsv,
  emptyChannel,
  LARGEST_CSV_BYTES,
  megahertz,
  mergeChannels,
  MOST_CHANNELS,
  REGION_WORDS,
  REGIONS,
  shiftWords,
  startingChannels,
  type Channel,
  type Region,
} from '@/core/channels'
import { newId } from '@/engine/station/newId'
import { FileInput } from '../../parts/FileInput'
import { download } from '../../parts/download'
import { useMessages } from '../../parts/Messages'
import { Page, Panel, panelStyles } from '../../parts/Panel'
import { useDocument } from '../../parts/useDocument'
import { ConnectTabs } from '../ConnectTabs'
import { ChannelEditor } from './ChannelEditor'
import styles from './channels.module.css'
import { EnterSteps } from './EnterSteps'

/** The operator's list of memories, in and out as CSV, and how each is put into the radio. */
export function ChannelsScreen() {
  const { value: channels, problem, save, amend } = useDocument('channels', channelListSchema, '/api/channels')
  return (
    <Page
      title="Channels"
      lead="Memories for packet and positions, and whatever else you meet on. Customs differ: band plans and local rules decide."
    >
      <ConnectTabs />
      {problem && (
        <p role="alert" className={panelStyles.problem}>
          {problem}
        </p>
      )}
      {channels && <Channels channels={channels} save={save} amend={amend} />}
    </Page>
  )
}

/** Four digits after the point, so that points stand below one another; more where a channel needs them. */
const aligned = (hz: number) => (hz % 100 === 0 ? (hz / 1e6).toFixed(4) : megahertz(hz))

interface ChannelsProps {
  channels: Channel[]
  save: (channels: Channel[]) => void
  amend: (change: (channels: Channel[]) => Channel[]) => Promise<void>
}

function Channels({ channels, save, amend }: ChannelsProps) {
  const { tell } = useMessages()
  const [chosen, setChosen] = useState<string>()
  const [editing, setEditing] = useState<Channel>()
  const [said, setSaid] = useState('')
  const [region, setRegion] = useState<Region>('region1')
  const picker = useRef<HTMLInputElement>(null)
  const shown = channels.find((c) => c.id === chosen)
  const store = (channel: Channel) => {
    save(channels.some((c) => c.id === channel.id) ? channels.map((c) => (c.id === channel.id ? channel : c)) : [...channels, channel])
    setEditing(undefined)
    setChosen(channel.id)
  }
  const take = (more: readonly Channel[], from: string) => {
    const merged = mergeChannels(channels, more)
    if (merged.channels.length > MOST_CHANNELS) {
      setSaid(`At most ${MOST_CHANNELS} channels are kept; nothing was taken.`)
      return
    }
    save(merged.channels)
    setSaid(`${merged.added} added, ${merged.replaced} of the same name replaced, ${from}.`)
  }
  const open = async (file: File) => {
    if (file.size > LARGEST_CSV_BYTES) {
      setSaid(`${file.name} has ${Math.round(file.size / 1000)} kB; a list of channels has at most ${LARGEST_CSV_BYTES / 1000} kB.`)
      return
    }
    const read = channelsFromCsv(await file.text(), newId)
    if (read.ok) take(read.channels, `from ${file.name}`)
    else setSaid(`${file.name}: ${read.error} Nothing was taken.`)
  }
  return (
    <>
      <Panel
        title={channels.length === 1 ? 'One channel' : `${channels.length} channels`}
        id="channel-list"
        aside={
          <span className={panelStyles.row}>
            <Button variant="contained" onClick={() => setEditing({ ...emptyChannel(newId()) })}>
              New channel
            </Button>
            <Button
              variant="outlined"
              disabled={channels.length === 0}
              onClick={() => download('channels.csv', channelsToCsv(channels), 'text/csv')}
            >
              CSV out
            </Button>
            <Button variant="outlined" onClick={() => picker.current?.click()}>
              CSV in
            </Button>
          </span>
        }
      >
        <FileInput inputRef={picker} label="CSV file of channels" accept=".csv,text/csv" onFile={(file) => void open(file)} />
        {said && <p role="status">{said}</p>}
        {channels.length === 0 ? (
          <p className="muted">No channel yet. Begin with the customs of your region below, with a CSV file, or with one of your own.</p>
        ) : (
          <div className={styles.scroll}>
            <table className={styles.table}>
              <thead>
                <tr>
                  <th scope="col">Name</th>
                  <th scope="col" className={styles.number}>
                    Receive, MHz
                  </th>
                  <th scope="col">Shift</th>
                  <th scope="col">Tone</th>
                  <th scope="col">Mode</th>
                  <th scope="col" className={styles.number}>
                    On the air
                  </th>
                  <th scope="col">Purpose</th>
                </tr>
              </thead>
              <tbody>
                {channels.map((c) => (
                  <tr key={c.id} data-chosen={c.id === chosen}>
                    <td>
                      <Button variant="text" onClick={() => setChosen(c.id)} className={styles.name} aria-pressed={c.id === chosen}>
                        {c.name}
                      </Button>
                    </td>
                    <td className={styles.number}>{aligned(c.receiveHz)}</td>
                    <td>{shiftWords(c)}</td>
                    <td>{c.toneHz === null || c.tone === 'none' ? 'none' : `${c.toneHz.toFixed(1)} Hz`}</td>
                    <td>{CHANNEL_MODE_WORDS[c.mode]}</td>
                    <td className={styles.number}>{c.airBaud === null ? '' : `${c.airBaud} baud`}</td>
                    <td>{c.purpose}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
        <div className={panelStyles.row} style={{ marginTop: 12 }}>
          <TextField
            select
            size="small"
            label="Customs of"
            value={region}
            onChange={(e) => setRegion(e.target.value as Region)}
            sx={{ width: 260 }}
          >
            {REGIONS.map((r) => (
              <MenuItem key={r} value={r}>
                {REGION_WORDS[r]}
              </MenuItem>
            ))}
          </TextField>
          <Button variant="outlined" onClick={() => take(startingChannels(region, newId), `customs of ${REGION_WORDS[region]}`)}>
            Add its packet and position channels
          </Button>
        </div>
      </Panel>
      {editing && <ChannelEditor key={editing.id} channel={editing} onSave={store} onCancel={() => setEditing(undefined)} />}
      {shown && !editing && (
        <Panel
          title={shown.name}
          id="channel"
          aside={
            <span className={panelStyles.row}>
              <Button variant="outlined" onClick={() => setEditing(shown)}>
                Change
              </Button>
              <Button
                variant="text"
                onClick={() => {
                  save(channels.filter((c) => c.id !== shown.id))
                  tell({
                    kind: 'undo',
                    text: `Removed: the channel ${shown.name}.`,
                    action: { label: 'Undo', run: () => amend((now) => [...now, shown]) },
                  })
                }}
              >
                Remove
              </Button>
            </span>
          }
        >
          {adviseChannel(shown).map((words) => (
            <p key={words} className={panelStyles.problem}>
              {words}
            </p>
          ))}
          <EnterSteps key={shown.id} channel={shown} />
        </Panel>
      )}
    </>
  )
}
