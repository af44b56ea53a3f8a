'use client'
import { useState } from 'react'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { netSchema, type Net } from '@/core/session'
import { newId } from '@/engine/station/newId'
import { UtcTimeField } from '../parts/UtcFields'
import { AddForm } from './AddForm'
import { DraftField } from './DraftField'

const DAYS = ['Sunday', 'Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday']

/** Adds a net, which comes back by itself, or changes one. @param given the one to be changed */
export function NetForm({ given, onDone }: { given: Net | undefined; onDone: (net: Net) => void }) {
  const [name, setName] = useState(given?.name ?? '')
  const [day, setDay] = useState(given && given.weekday !== null ? String(given.weekday) : '')
  const [startMinute, setStart] = useState<number | null>(given?.startMinute ?? 18 * 60)
  const [durationMin, setDuration] = useState<number | null>(given?.durationMin ?? 30)
  const [kilohertz, setKilohertz] = useState<number | null>(given && given.frequencyHz !== null ? given.frequencyHz / 1000 : null)
  const [note, setNote] = useState(given?.note ?? '')
  const [problem, setProblem] = useState<string>()
  const add = () => {
    if (startMinute === null) {
      setProblem('Say when it begins.')
      return
    }
    const parsed = netSchema.safeParse({
      ...{ id: given?.id ?? newId(), name, weekday: day === '' ? null : Number(day), startMinute },
      ...{ durationMin, frequencyHz: kilohertz === null ? null : Math.round(kilohertz * 1000), note },
    })
    if (parsed.success) onDone(parsed.data)
    else setProblem(parsed.error.issues[0]!.path[0] === 'durationMin' ? 'A net lasts 5 to 720 minutes.' : parsed.error.issues[0]!.message)
  }
  return (
    <AddForm problem={problem} verb={given ? 'Change it' : 'Add it'} onAdd={add}>
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
      <UtcTimeField label="Begins, UTC" value={startMinute} onChange={setStart} />
      <DraftField label="Lasts, minutes" value={durationMin} onChange={setDuration} />
      <DraftField label="Frequency in kHz" value={kilohertz} optional onChange={setKilohertz} />
      <TextField label="Note" value={note} onChange={(e) => setNote(e.target.value)} slotProps={{ htmlInput: { maxLength: 120 } }} />
    </AddForm>
  )
}
