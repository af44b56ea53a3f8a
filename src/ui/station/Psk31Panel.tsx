'use client'
import { Controller, useFieldArray, useFormContext } from 'react-hook-form'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import { PHRASE_WORDS } from '@/core/psk31'
import { FormChoice, FormText } from '../parts/formFields'
import { Panel, panelStyles } from '../parts/Panel'
import type { StationForm } from './stationForm'
import styles from './station.module.css'

const MOST_PHRASES = 12

/** How PSK31 is operated: reports, calling, identification, and phrases of one's own. */
export function Psk31Panel() {
  return (
    <Panel title="PSK31">
      <div className={panelStyles.grid}>
        <FormChoice<StationForm>
          name="modes.psk31.reports"
          label="Reports"
          help="Measured for you; you can change each one"
          options={{ rst: 'RST, such as 599', rsq: 'RSQ, such as 9579' }}
        />
        <FormText<StationForm> name="modes.psk31.gear" label="Gear" help="Radio, power, antenna, as you tell it on the air" />
        <FormText<StationForm> name="modes.psk31.cqTries" label="PSK31 CQs in a row" help="Then it waits for you" kind="number" />
        <FormText<StationForm>
          name="modes.psk31.cqPauseS"
          label="Pause after a CQ in s"
          help="Long enough to be answered in"
          kind="number"
        />
        <FormText<StationForm>
          name="modes.psk31.identifyEveryMin"
          label="Identify every, in min"
          help="Your call goes out as your rules say; you are reminded"
          kind="number"
        />
      </div>
      <Controller<StationForm, 'modes.psk31.listenOnly'>
        name="modes.psk31.listenOnly"
        render={({ field: { value, onChange, ref } }) => (
          <FormControlLabel
            sx={{ mt: 1 }}
            control={<Checkbox checked={value} onChange={(e) => onChange(e.target.checked)} slotProps={{ input: { ref } }} />}
            label="Only listen: no controls for sending on the ribbons"
          />
        )}
      />
      <PhraseFields />
    </Panel>
  )
}

/** Phrases of one's own, with words in braces that are filled in. */
function PhraseFields() {
  const { control } = useFormContext<StationForm>()
  const { fields, append, remove, move } = useFieldArray({ control, name: 'modes.psk31.phrases' })
  return (
    <fieldset className={styles.phrases}>
      <legend>Your own phrases</legend>
      <p className="muted">
        Filled in when they are used:{' '}
        {Object.entries(PHRASE_WORDS)
          .map(([word, meaning]) => `{${word}} ${meaning}`)
          .join(', ')}
        . What stands in [ ] is left out as a whole when something in it is not known.
      </p>
      {fields.map((field, k) => (
        <div key={field.id} className={styles.phrase}>
          <FormText<StationForm> name={`modes.psk31.phrases.${k}.label`} label={`Name of phrase ${k + 1}`} small />
          <FormText<StationForm> name={`modes.psk31.phrases.${k}.text`} label={`Words of phrase ${k + 1}`} small />
          <Button variant="outlined" disabled={k === 0} onClick={() => move(k, k - 1)}>
            Up
          </Button>
          <Button variant="outlined" onClick={() => remove(k)}>
            Remove
          </Button>
        </div>
      ))}
      <Button variant="outlined" disabled={fields.length >= MOST_PHRASES} onClick={() => append({ label: '', text: '{them} de {me} ' })}>
        Add a phrase
      </Button>
    </fieldset>
  )
}
