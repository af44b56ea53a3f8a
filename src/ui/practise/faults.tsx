'use client'
import { useState } from 'react'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'

/** What is ticked: at once what was chosen here, and what the server runs as soon as it says something new. */
export function useFaults(
  running: readonly string[] | undefined,
  tell: (faults: string[]) => void,
): [readonly string[], (faults: string[]) => void] {
  const [chosen, setChosen] = useState<readonly string[]>([])
  const told = running?.join()
  const [lastTold, setLastTold] = useState(told)
  if (told !== lastTold) {
    setLastTold(told)
    if (running) setChosen(running)
  }
  return [
    chosen,
    (faults) => {
      setChosen(faults)
      if (running) tell(faults)
    },
  ]
}

/** A tick for each fault. */
export function Faults({
  known,
  chosen,
  onChange,
}: {
  known: Record<string, string>
  chosen: readonly string[]
  onChange: (faults: string[]) => void
}) {
  return (
    <div style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(300px, 1fr))' }}>
      {Object.entries(known).map(([fault, words]) => (
        <FormControlLabel
          key={fault}
          control={
            <Checkbox
              checked={chosen.includes(fault)}
              onChange={(e) => onChange(e.target.checked ? [...chosen, fault] : chosen.filter((f) => f !== fault))}
            />
          }
          label={words}
        />
      ))}
    </div>
  )
}
