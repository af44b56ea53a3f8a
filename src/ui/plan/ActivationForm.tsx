'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { activationSchema, type Activation } from '@/core/activation'
import { newId } from '@/engine/station/newId'
import { useLive, useStation } from '../live/StationProvider'
import { useRealNow } from '../live/useRealNow'
import { Panel, panelStyles } from '../parts/Panel'

/** Sets an activation up. */
export function ActivationForm({ onStart, last }: { onStart: (activation: Activation) => void; last: Activation | undefined }) {
  const { profile } = useLive()
  const now = useRealNow(1000)
  const practice = useStation((s) => s.source.kind === 'practice')
  const [draft, setDraft] = useState<{ name: string; programme: string; reference: string; goal: string }>()
  const [problem, setProblem] = useState<string>()
  const shown = draft ?? {
    name: profile.station.place,
    programme: last?.programme ?? '',
    reference: '',
    goal: String(last?.goal ?? 10),
  }
  const field = (key: keyof typeof shown, label: string, helperText: string) => (
    <TextField
      label={label}
      value={shown[key]}
      helperText={helperText}
      onChange={(e) => setDraft({ ...shown, [key]: e.target.value })}
      fullWidth
      {...(key === 'goal' && { inputMode: 'numeric' as const })}
    />
  )
  const start = () => {
    const parsed = activationSchema.safeParse({
      ...shown,
      id: newId(),
      goal: Number(shown.goal),
      startedUtcMs: now ?? Date.now(),
      endedUtcMs: null,
      practice,
    })
    if (!parsed.success) setProblem(parsed.error.issues[0]!.message)
    else onStart(parsed.data)
  }
  return (
    <Panel title="Set one up">
      <form
        onSubmit={(e) => {
          e.preventDefault()
          start()
        }}
      >
        <div className={panelStyles.grid}>
          {field('name', 'Place', 'What it is called')}
          {field('programme', 'Programme', 'Its short name, as it goes into the log; may stay empty')}
          {field('reference', 'Reference', 'The place’s own; may stay empty')}
          {field('goal', 'Goal', 'Contacts that are needed')}
        </div>
        {problem && (
          <p role="alert" className={panelStyles.problem}>
            {problem}
          </p>
        )}
        <div className={panelStyles.saveBar}>
          <Button type="submit" variant="contained" size="large">
            Start {practice ? 'for practice' : 'the activation'}
          </Button>
          <span className="muted">
            {practice
              ? 'The practice band is on: contacts there will count for it, and none on the air.'
              : 'Contacts on the air from now on carry the reference. Those of the practice band do not count.'}
          </span>
        </div>
      </form>
    </Panel>
  )
}
