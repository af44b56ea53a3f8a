'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { useQuery } from '@tanstack/react-query'
import { z } from 'zod'
import { monitorFrameSchema, type MonitorFrame } from '@/core/packet/station/contracts'
import { ask } from '@/engine/browser/http'
import { counted, formatUtc } from '../../parts/formats'
import styles from './Sessions.module.css'

const KINDS = {
  all: ['All frames', () => true],
  text: ['Text to all', ({ kind }: MonitorFrame) => kind === 'UI'],
  link: ['Of sessions', ({ kind }: MonitorFrame) => kind !== 'UI'],
  own: ['Our own', ({ way }: MonitorFrame) => way === 'out'],
} as const

const framesSchema = z.array(monitorFrameSchema)
const REFRESH_MS = 1000

/** What goes by on the channel, frame by frame. */
export function MonitorView({ practice }: { practice: boolean }) {
  const asked = useQuery({
    queryKey: ['packet frames'],
    queryFn: () => ask(framesSchema, '/api/packet/frames'),
    refetchInterval: REFRESH_MS,
    retry: 1,
  })
  const frames = asked.data ?? []
  const [kind, setKind] = useState<keyof typeof KINDS>('all')
  const [call, setCall] = useState('')
  const [hex, setHex] = useState(false)
  const wanted = call.trim().toUpperCase()
  const shown = frames.filter((frame) => KINDS[kind][1](frame) && (wanted === '' || frame.line.split(':')[0]!.includes(wanted)))
  return (
    <div className={styles.view}>
      <div className={styles.viewHead}>
        <TextField
          select
          label="Kind"
          size="small"
          value={kind}
          onChange={(e) => setKind(e.target.value as keyof typeof KINDS)}
          sx={{ width: 150 }}
        >
          {Object.entries(KINDS).map(([id, [words]]) => (
            <MenuItem key={id} value={id}>
              {words}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          label="Call"
          size="small"
          value={call}
          onChange={(e) => setCall(e.target.value.toUpperCase())}
          sx={{ width: 150 }}
          slotProps={{ htmlInput: { autoCapitalize: 'characters', autoComplete: 'off', spellCheck: false, maxLength: 9 } }}
        />
        <FormControlLabel control={<Checkbox checked={hex} onChange={(e) => setHex(e.target.checked)} />} label="Bytes" />
        <Button component="a" size="small" variant="outlined" href={`/api/heard/text?mode=packet&practice=${practice}&as=file`} download>
          Save all heard
        </Button>
      </div>
      <p className={styles.empty} role="status">
        {asked.error
          ? `The server did not answer: ${asked.error.message}`
          : shown.length === 0
            ? frames.length === 0
              ? 'No frame yet. All that is heard stands here and is kept for 30 days.'
              : `None of the last ${counted(frames.length, 'frame')} is of that kind.`
            : `${counted(shown.length, 'frame')}, the newest first`}
      </p>
      <ol className={styles.frames} tabIndex={0} aria-label="Frames on the channel">
        {shown.map((frame) => (
          <li key={frame.sequence} data-way={frame.way}>
            <time>{formatUtc(frame.utcMs)}</time>
            <span>
              {frame.way === 'out' && <strong>sent </strong>}
              {frame.line}
              {hex && <code>{frame.hex.replace(/../g, '$& ')}</code>}
            </span>
          </li>
        ))}
      </ol>
    </div>
  )
}
