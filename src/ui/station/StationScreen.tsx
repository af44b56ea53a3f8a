'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { stationSchema, type Station } from '@/core/station'
import { useLive } from '../live/StationProvider'
import { formatUtcDate } from '../parts/formats'
import { Caution, Page, Panel, panelStyles } from '../parts/Panel'

type TextKey = 'call' | 'operatorName' | 'locator' | 'place' | 'radio' | 'interfaceName' | 'antenna' | 'cqWord'
type NumberKey = 'powerW' | 'voxLeadInMs' | 'maxTries' | 'maxCqTries'

/** Who operates, from where, with what. */
export function StationScreen() {
  const { profile, profileState } = useLive()
  if (profileState !== 'ready')
    return (
      <Page title="Station">
        <p>
          {profileState === 'loading'
            ? 'Reading the station from the server.'
            : 'The server does not answer. Start Zeptik, then reload this page.'}
        </p>
      </Page>
    )
  return <StationForm saved={profile.station} />
}

interface Draft extends Omit<Station, NumberKey | 'transmitLevel'> {
  powerW: string
  voxLeadInMs: string
  maxTries: string
  maxCqTries: string
  transmitPercent: string
}

function toDraft(s: Station): Draft {
  return {
    ...s,
    powerW: s.powerW === null ? '' : String(s.powerW),
    voxLeadInMs: String(s.voxLeadInMs),
    maxTries: String(s.maxTries),
    maxCqTries: String(s.maxCqTries),
    transmitPercent: String(Math.round(s.transmitLevel * 100)),
  }
}

function StationForm({ saved }: { saved: Station }) {
  const { saveStation } = useLive()
  const [draft, setDraft] = useState(() => toDraft(saved))
  const [errors, setErrors] = useState<Record<string, string>>({})
  const [said, setSaid] = useState<{ ok: boolean; text: string }>()
  const set = (change: Partial<Draft>) => {
    setDraft({ ...draft, ...change })
    setSaid(undefined)
  }

  const save = async () => {
    const { transmitPercent, ...rest } = draft
    const number = (text: string) => (text.trim() === '' ? Number.NaN : Number(text.replace(',', '.')))
    const parsed = stationSchema.safeParse({
      ...rest,
      // The dial is set on the Slots screen; a form left open must not put an older one back.
      dialFrequencyHz: saved.dialFrequencyHz,
      dialSetUtcMs: saved.dialSetUtcMs,
      powerW: draft.powerW.trim() === '' ? null : number(draft.powerW),
      voxLeadInMs: number(draft.voxLeadInMs),
      maxTries: number(draft.maxTries),
      maxCqTries: number(draft.maxCqTries),
      transmitLevel: number(transmitPercent) / 100,
    })
    if (!parsed.success) {
      setErrors(Object.fromEntries(parsed.error.issues.map((issue) => [String(issue.path[0]), issue.message])))
      setSaid({ ok: false, text: 'Not saved: look at the marked fields.' })
      return
    }
    setErrors({})
    try {
      await saveStation(parsed.data)
      setDraft(toDraft(parsed.data))
      setSaid({ ok: true, text: 'Saved.' })
    } catch (error) {
      setSaid({ ok: false, text: (error as Error).message })
    }
  }

  const text = (key: TextKey, label: string, help: string, upper = false) => (
    <TextField
      label={label}
      value={draft[key]}
      onChange={(e) => set({ [key]: upper ? e.target.value.toUpperCase() : e.target.value })}
      error={errors[key] !== undefined}
      helperText={errors[key] ?? help}
      slotProps={{ htmlInput: { autoCapitalize: upper ? 'characters' : 'sentences', spellCheck: false } }}
      fullWidth
    />
  )
  const number = (key: Exclude<NumberKey, never> | 'transmitPercent', label: string, help: string, errorKey: string = key) => (
    <TextField
      label={label}
      value={draft[key]}
      onChange={(e) => set({ [key]: e.target.value })}
      error={errors[errorKey] !== undefined}
      helperText={errors[errorKey] ?? help}
      slotProps={{ htmlInput: { inputMode: 'decimal' } }}
      fullWidth
    />
  )

  const choice = <K extends 'finish' | 'opening' | 'callerOrder' | 'depth'>(
    key: K,
    label: string,
    help: string,
    options: Record<Station[K], string>,
  ) => (
    <TextField
      select
      label={label}
      value={draft[key]}
      onChange={(e) => set({ [key]: e.target.value as Station[K] })}
      helperText={help}
      fullWidth
    >
      {Object.entries<string>(options).map(([value, words]) => (
        <MenuItem key={value} value={value}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  )

  return (
    <Page title="Station" lead="Who operates, from where, with what. This goes into messages and into the log.">
      <form
        onSubmit={(e) => {
          e.preventDefault()
          void save()
        }}
        style={{ display: 'contents' }}
      >
        <Panel title="Operator and place">
          <div className={panelStyles.grid}>
            {text('call', 'Own call', 'As licensed, with /P and the like when you use them', true)}
            {text('operatorName', 'Name', 'For the log and for greetings')}
            {text('locator', 'Locator', '4, 6 or 8 characters; four are sent', true)}
            {text('place', 'Place', 'In your own words')}
          </div>
          <FormControlLabel
            sx={{ mt: 1 }}
            control={
              <Checkbox
                checked={draft.licenceConfirmedUtcMs !== null}
                onChange={(e) => set({ licenceConfirmedUtcMs: e.target.checked ? Date.now() : null })}
              />
            }
            label={
              draft.licenceConfirmedUtcMs === null
                ? 'I hold a licence for what this station transmits, and I am the operator in control'
                : `Licence confirmed on ${formatUtcDate(draft.licenceConfirmedUtcMs)}: I am the operator in control`
            }
          />
          <p className="muted">Zeptik cannot know what you may do where you are. The local rules and your licence decide.</p>
        </Panel>
        <Panel title="Equipment">
          <div className={panelStyles.grid}>
            {text('radio', 'Radio', 'The name you give it')}
            {text('interfaceName', 'Interface', 'What joins radio and computer')}
            {text('antenna', 'Antenna', 'Type, length, height')}
            {number('powerW', 'Power in W', 'What goes into the log')}
          </div>
        </Panel>
        <Panel title="Transmitting">
          <div className={panelStyles.grid}>
            {number('voxLeadInMs', 'VOX lead-in in ms', 'A tone before the message so that the VOX has tripped; 0 to 450')}
            {number('transmitPercent', 'Audio level in %', 'Peak of the transmitted audio, share of full scale', 'transmitLevel')}
            {number('maxTries', 'Tries for one step', 'Then the exchange stops by itself')}
            {number('maxCqTries', 'CQ calls in a row', 'Then calling stops by itself')}
            {choice('finish', 'How you finish', 'RR73 needs no answer; RRR waits for a 73', { RR73: 'RR73', RRR: 'RRR' })}
            {choice('opening', 'How you begin', 'What you say first to a station that calls CQ', {
              locator: 'With call and locator',
              report: 'At once with the report',
            })}
            {choice('callerOrder', 'Of several callers first', 'The others wait in this order; you can change it', {
              strongest: 'The strongest',
              first: 'Who called first',
              farthest: 'The farthest',
            })}
            {choice('depth', 'How hard the decoder looks', 'Quick spares a slow device’s battery', {
              quick: 'Quick',
              usual: 'Usual',
              deep: 'Deep',
            })}
            {text('cqWord', 'Word after CQ', 'None, one to four letters, or three digits', true)}
          </div>
          <div style={{ marginTop: 10 }}>
            <Caution>
              FT8 keys the radio for almost 13 of every 30 seconds. Set a power that radio, antenna and supply stand; the radio’s manual
              says how much.
            </Caution>
          </div>
        </Panel>
        <div className={panelStyles.row}>
          <Button type="submit" variant="contained" size="large">
            Save the station
          </Button>
          {said && (
            <span role={said.ok ? 'status' : 'alert'} className={said.ok ? '' : panelStyles.problem}>
              {said.text}
            </span>
          )}
        </div>
      </form>
    </Page>
  )
}
