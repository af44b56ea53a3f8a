'use client'
import { useState } from 'react'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import { enterSteps, type Channel } from '@/core/channels'

/** How to put it into the radio: steps to tick, which hold for nearly any radio. */
export function EnterSteps({ channel }: { channel: Channel }) {
  const [done, setDone] = useState<ReadonlySet<number>>(new Set())
  const steps = enterSteps(channel)
  return (
    <fieldset style={{ border: 0, margin: 0, padding: 0 }}>
      <legend>
        <strong>
          How to put it into the radio, {done.size} of {steps.length} done
        </strong>
      </legend>
      {steps.map((step, i) => (
        <div key={step} style={{ borderTop: '1px solid var(--line)' }}>
          <FormControlLabel
            control={
              <Checkbox
                checked={done.has(i)}
                onChange={(e) => {
                  const next = new Set(done)
                  if (e.target.checked) next.add(i)
                  else next.delete(i)
                  setDone(next)
                }}
              />
            }
            label={`${i + 1}. ${step}`}
          />
        </div>
      ))}
    </fieldset>
  )
}
