'use client'
import { useState } from 'react'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { MODE_IDS, MODES } from '@/core/modes'
import { PLAN_MODES, planBlockSchema, type PlanBlock } from '@/core/session'
import { newId } from '@/engine/station/newId'
import { formatKilohertz } from '../parts/formats'
import { AddForm } from './AddForm'
import { DraftField } from './DraftField'

const QUARTER_MS = 15 * 60_000

/** Adds a stretch to the plan. */
export function BlockForm({ now, after, onAdd }: { now: number; after: number | undefined; onAdd: (block: PlanBlock) => void }) {
  const first = after !== undefined && after > now ? after : Math.ceil(now / QUARTER_MS) * QUARTER_MS
  const [start, setStart] = useState(new Date(first).toISOString().slice(0, 16))
  const [minutes, setMinutes] = useState<number | null>(60)
  const [kilohertz, setKilohertz] = useState<number | null>(14_074)
  const [mode, setMode] = useState<PlanBlock['mode']>('FT8')
  const [note, setNote] = useState('')
  const [problem, setProblem] = useState<string>()
  const add = () => {
    const startUtcMs = Date.parse(`${start}Z`)
    const block = {
      id: newId(),
      startUtcMs,
      endUtcMs: startUtcMs + (minutes ?? 0) * 60_000,
      dialFrequencyHz: mode === 'Pause' || kilohertz === null ? null : Math.round(kilohertz * 1000),
      mode,
      note,
    }
    const parsed = planBlockSchema.safeParse(block)
    if (parsed.success) onAdd(parsed.data)
    else setProblem(Number.isNaN(startUtcMs) ? 'Say when it begins.' : parsed.error.issues[0]!.message)
  }
  const dials = MODE_IDS.map((id) => MODES[id]).find((of) => of.name === mode)?.dials ?? []
  const known = dials.some((d) => d.dialFrequencyHz === Math.round((kilohertz ?? 0) * 1000))
  return (
    <AddForm problem={problem} onAdd={add}>
      <TextField
        label="Begins, UTC"
        type="datetime-local"
        value={start}
        onChange={(e) => setStart(e.target.value)}
        slotProps={{ inputLabel: { shrink: true } }}
      />
      <DraftField label="Minutes" value={minutes} onChange={setMinutes} />
      <TextField select label="Mode" value={mode} onChange={(e) => setMode(e.target.value as PlanBlock['mode'])}>
        {PLAN_MODES.map((m) => (
          <MenuItem key={m} value={m}>
            {m}
          </MenuItem>
        ))}
      </TextField>
      {dials.length > 0 && (
        <TextField
          select
          label="Usual dials"
          value={known ? String(Math.round(kilohertz! * 1000)) : ''}
          onChange={(e) => setKilohertz(Number(e.target.value) / 1000)}
        >
          {dials.map((d) => (
            <MenuItem key={d.dialFrequencyHz} value={String(d.dialFrequencyHz)}>
              {d.band} · {formatKilohertz(d.dialFrequencyHz)} kHz
            </MenuItem>
          ))}
        </TextField>
      )}
      {mode !== 'Pause' && (
        <DraftField key={kilohertz === null ? 'none' : 'some'} label="Dial in kHz" value={kilohertz} optional onChange={setKilohertz} />
      )}
      <TextField label="Note" value={note} onChange={(e) => setNote(e.target.value)} slotProps={{ htmlInput: { maxLength: 120 } }} />
    </AddForm>
  )
}
