import { frequencyWords } from '@/core/text/frequency'
import { useState } from 'react'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { MODES, practiceDialHz } from '@/core/modes'
import { setRadio } from '../connect/links/linkApi'
import { useLive, useStation } from '../live/StationProvider'
import { useDialOfRadio } from '../live/useDialOfRadio'

/** Where the dial stands, how that is known, and what sets it: the radio too, where its control line is read. */
export function useDial() {
  const { profile, saveStation } = useLive()
  const dials = useStation((s) => MODES[s.mode].dials)
  const practice = useStation((s) => s.source.kind === 'practice')
  const readHz = useDialOfRadio()
  const set = readHz ?? profile.station.dialFrequencyHz
  const setDial = (hz: number) =>
    Promise.all([
      readHz === undefined ? undefined : setRadio(hz),
      saveStation({ ...profile.station, dialFrequencyHz: hz, dialSetUtcMs: Date.now() }),
    ])
  return { dial: set ?? (practice ? practiceDialHz(dials) : null), readHz, dials, assumed: set === null, setDial }
}

/** The customary frequencies of the mode in front, to be chosen from. */
export function DialField({ onSet }: { onSet?: () => void }) {
  const { dial, dials, assumed, setDial } = useDial()
  const [problem, setProblem] = useState<string>()
  const choose = (hz: number) => {
    setProblem(undefined)
    setDial(hz).then(
      () => onSet?.(),
      (error: Error) => setProblem(error.message),
    )
  }
  return (
    <TextField
      select
      size="small"
      label="Set the dial"
      // What is only assumed has not been chosen: it can still be.
      value={dial !== null && !assumed && dials.some((d) => d.dialFrequencyHz === dial) ? String(dial) : ''}
      onChange={(e) => choose(Number(e.target.value))}
      error={problem !== undefined}
      helperText={problem}
      sx={{ minWidth: 190, ml: 'auto' }}
    >
      {dials.map((d) => (
        <MenuItem key={d.dialFrequencyHz} value={String(d.dialFrequencyHz)}>
          {d.band} · {frequencyWords(d.dialFrequencyHz)}
          {d.note ? ` (${d.note})` : ''}
        </MenuItem>
      ))}
    </TextField>
  )
}
