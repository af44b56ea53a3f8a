'use client'
import { frequencyWords } from '@/core/text/frequency'
import { useState } from 'react'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { MODE_IDS, MODES } from '@/core/modes'
import { PLAN_MODES, planBlockSchema, type PlanBlock } from '@/core/session'
import { newId } from '@/engine/station/newId'
import { UtcDateTimeField } from '../parts/UtcFields'
import { AddForm } from './AddForm'
import { DraftField } from './DraftField'

const kilohertzOf = (hz: number | null) => (hz === null ? null : hz / 1000)
const QUARTER_MS = 15 * 60_000

interface BlockFormProps {
  now: number
  /** Where the last one ends: a new one goes on from there. */
  after: number | undefined
  /** The one to be changed; undefined for a new one. */
  given: PlanBlock | undefined
  onDone: (block: PlanBlock) => void
}

/** Adds an operating period to the plan, or changes one. */
export function BlockForm({ now, after, given, onDone }: BlockFormProps) {
  const first = after !== undefined && after > now ? after : Math.ceil(now / QUARTER_MS) * QUARTER_MS
  const [startUtcMs, setStart] = useState<number | null>(given?.startUtcMs ?? first)
  const [minutes, setMinutes] = useState<number | null>(given ? Math.round((given.endUtcMs - given.startUtcMs) / 60_000) : 60)
  const [kilohertz, setKilohertz] = useState<number | null>(given ? kilohertzOf(given.dialFrequencyHz) : 14_074)
  const [mode, setMode] = useState<PlanBlock['mode']>(given?.mode ?? 'FT8')
  const [note, setNote] = useState(given?.note ?? '')
  const [problem, setProblem] = useState<string>()
  const add = () => {
    if (startUtcMs === null) {
      setProblem('Say when it begins.')
      return
    }
    const block = {
      id: given?.id ?? newId(),
      startUtcMs,
      endUtcMs: startUtcMs + (minutes ?? 0) * 60_000,
      dialFrequencyHz: mode === 'Pause' || kilohertz === null ? null : Math.round(kilohertz * 1000),
      mode,
      note,
    }
    const parsed = planBlockSchema.safeParse(block)
    if (parsed.success) onDone(parsed.data)
    else setProblem(parsed.error.issues[0]!.message)
  }
  const dials = MODE_IDS.map((id) => MODES[id]).find((of) => of.name === mode)?.dials ?? []
  const known = dials.some((d) => d.dialFrequencyHz === Math.round((kilohertz ?? 0) * 1000))
  return (
    <AddForm problem={problem} verb={given ? 'Change it' : 'Add it'} onAdd={add}>
      <UtcDateTimeField label="Begins, UTC" value={startUtcMs} onChange={setStart} />
      <DraftField label="Lasts, minutes" value={minutes} onChange={setMinutes} />
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
              {d.band} · {frequencyWords(d.dialFrequencyHz)}
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
