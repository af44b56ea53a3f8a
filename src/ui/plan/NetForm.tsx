'use client'
import { useState } from 'react'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { netSchema, type Net } from '@/core/session'
import { newId } from '@/engine/station/newId'
import { AddForm } from './AddForm'
import { DraftField } from './DraftField'

const DAYS = ['Sunday', 'Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday']

/** Adds a net, which comes back by itself. */
export function NetForm({ onAdd }: { onAdd: (net: Net) => void }) {
  const [name, setName] = useState('')
  const [day, setDay] = useState('')
  const [time, setTime] = useState('18:00')
  const [durationMin, setDuration] = useState<number | null>(30)
  const [kilohertz, setKilohertz] = useState<number | null>(null)
  const [note, setNote] = useState('')
  const [problem, setProblem] = useState<string>()
  const add = () => {
    const [hours = Number.NaN, minutes = Number.NaN] = time.split(':').map(Number)
    const parsed = netSchema.safeParse({
      ...{ id: newId(), name, weekday: day === '' ? null : Number(day), startMinute: hours * 60 + minutes },
      ...{ durationMin, frequencyHz: kilohertz === null ? null : Math.round(kilohertz * 1000), note },
    })
    if (parsed.success) onAdd(parsed.data)
    else setProblem(parsed.error.issues[0]!.path[0] === 'durationMin' ? 'A net lasts 5 to 720 minutes.' : parsed.error.issues[0]!.message)
  }
  return (
    <AddForm problem={problem} onAdd={add}>
      <TextField label="Name" value={name} onChange={(e) => setName(e.target.value)} />
      <TextField
        select
        label="Day, UTC"
        value={day}
        onChange={(e) => setDay(e.target.value)}
        slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      >
        <MenuItem value="">Every day</MenuItem>
        {DAYS.map((d, i) => (
          <MenuItem key={d} value={String(i)}>
            {d}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        label="Begins, UTC"
        type="time"
        value={time}
        onChange={(e) => setTime(e.target.value)}
        slotProps={{ inputLabel: { shrink: true } }}
      />
      <DraftField label="Minutes" value={durationMin} onChange={setDuration} />
      <DraftField label="Frequency in kHz" value={kilohertz} optional onChange={setKilohertz} />
      <TextField label="Note" value={note} onChange={(e) => setNote(e.target.value)} slotProps={{ htmlInput: { maxLength: 120 } }} />
    </AddForm>
  )
}
