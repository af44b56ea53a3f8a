'use client'
import { useState } from 'react'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { SERIAL_SPEEDS, type LinkStatus } from '@/core/links'
import { panelStyles } from '../../parts/Panel'
import { StateMark } from '../../parts/StateMark'
import styles from '../ClockScreen.module.css'

const MARKS = {
  opening: 'attention',
  searching: 'attention',
  waiting: 'attention',
  hearing: 'ready',
  problem: 'missing',
} as const
const SPEEDS = [...SERIAL_SPEEDS].sort((a, b) => a - b)

/** One way in for a receiver: its name, how it is, and its fields. */
export function ReceiverRow({
  title,
  status,
  children,
}: {
  title: string
  status: Pick<LinkStatus, 'state' | 'detail'> | undefined
  children: React.ReactNode
}) {
  return (
    <section aria-label={title} className={styles.wayRow}>
      <div className={panelStyles.row}>
        {status && status.state !== 'off' ? <StateMark state={MARKS[status.state]} size={22} /> : <span style={{ width: 22 }} />}
        <strong style={{ minWidth: 168 }}>{title}</strong>
        {children}
      </div>
      {status && status.state !== 'off' && (
        <p role={status.state === 'problem' ? 'alert' : 'status'} className={status.state === 'problem' ? panelStyles.problem : 'muted'}>
          {status.detail}
        </p>
      )}
    </section>
  )
}

export function SpeedPicker({ value, onChange }: { value: number | null; onChange: (serialBaud: number | null) => void }) {
  return (
    <TextField
      select
      label="Serial speed"
      size="small"
      value={value ?? 0}
      onChange={(e) => onChange(Number(e.target.value) || null)}
      sx={{ width: 190 }}
    >
      <MenuItem value={0}>Find the speed</MenuItem>
      {SPEEDS.map((speed) => (
        <MenuItem key={speed} value={speed}>
          {speed} baud
        </MenuItem>
      ))}
    </TextField>
  )
}

/** Takes sentences that carry no checksum; offered where a receiver sends none. */
export function ChecksumChoice({ value, offered, onChange }: { value: boolean; offered: boolean; onChange: (value: boolean) => void }) {
  if (!offered && !value) return null
  return (
    <FormControlLabel
      control={<Checkbox checked={value} onChange={(e) => onChange(e.target.checked)} />}
      label="Accept sentences without checksums; their time is never trusted"
    />
  )
}

/** The receiver's own delay in ms; empty for not known. */
export function DelayField({ value, onChange }: { value: number | null; onChange: (ms: number | null) => void }) {
  const [text, setText] = useState(value === null ? '' : String(value))
  const ms = Number(text.replace(',', '.'))
  const valid = text.trim() === '' || (Number.isFinite(ms) && ms >= 0 && ms <= 2000)
  return (
    <TextField
      label="Its delay in ms"
      size="small"
      value={text}
      placeholder="not known"
      onChange={(e) => setText(e.target.value)}
      onBlur={() => valid && onChange(text.trim() === '' ? null : ms)}
      error={!valid}
      sx={{ width: 140 }}
      slotProps={{ htmlInput: { inputMode: 'decimal' }, inputLabel: { shrink: true } }}
    />
  )
}
