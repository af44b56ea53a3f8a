'use client'
import { useState } from 'react'
import { zodResolver } from '@hookform/resolvers/zod'
import { Controller, FormProvider, useForm } from 'react-hook-form'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import { dutyReminder } from '@/core/transmit'
import type { Station } from '@/core/station'
import { useLive } from '../live/StationProvider'
import { formatUtcDate } from '../parts/formats'
import { FormChoice, FormText } from '../parts/formFields'
import { Caution, Page, Panel, panelStyles } from '../parts/Panel'
import { useFormDraft } from '../parts/useFormDraft'
import { Psk31Panel } from './Psk31Panel'
import { stationFormSchema, toForm, type StationForm } from './stationForm'

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
  return <StationFields saved={profile.station} />
}

function StationFields({ saved }: { saved: Station }) {
  const { saveStation } = useLive()
  const form = useForm<StationForm, unknown, Station>({ resolver: zodResolver(stationFormSchema), defaultValues: toForm(saved) })
  const { restored, forget } = useFormDraft(form, { key: 'station', name: 'the station', href: '/station' })
  const { isDirty } = form.formState
  const [said, setSaid] = useState<{ ok: boolean; text: string }>()
  const save = form.handleSubmit(
    async (station) => {
      try {
        // The dial is set on the screen of the mode; a form left open must not put an older one back.
        const next = { ...station, dialFrequencyHz: saved.dialFrequencyHz, dialSetUtcMs: saved.dialSetUtcMs }
        await saveStation(next)
        form.reset(toForm(next))
        forget()
        setSaid({ ok: true, text: 'Saved.' })
      } catch (error) {
        setSaid({ ok: false, text: (error as Error).message })
      }
    },
    () => setSaid({ ok: false, text: 'Not saved: look at the marked fields.' }),
  )
  return (
    <Page title="Station" lead="Who operates, from where, with what. This goes into messages and into the log.">
      <FormProvider {...form}>
        <form onSubmit={(e) => void save(e)} onChange={() => setSaid(undefined)} style={{ display: 'contents' }} noValidate>
          <WhoPanel />
          <Panel title="Equipment">
            <div className={panelStyles.grid}>
              <FormText<StationForm> name="radio" label="Radio" help="The name you give it" />
              <FormText<StationForm> name="interfaceName" label="Interface" help="What joins radio and computer" />
              <FormText<StationForm> name="antenna" label="Antenna" help="Type, length, height" />
              <FormText<StationForm> name="powerW" label="Power in W" help="What goes into the log" kind="number" />
            </div>
          </Panel>
          <TransmitPanel />
          <Ft8Panel />
          <Psk31Panel />
          <div className={panelStyles.saveBar}>
            <Button type="submit" variant="contained" size="large">
              Save the station
            </Button>
            {isDirty && (
              <Button
                variant="outlined"
                size="large"
                onClick={() => {
                  form.reset(toForm(saved))
                  forget()
                }}
              >
                Discard changes
              </Button>
            )}
            {isDirty && !said && <span className="muted">{restored ? 'From before: not saved yet.' : 'Not saved yet.'}</span>}
            {said && (
              <span role={said.ok ? 'status' : 'alert'} className={said.ok ? '' : panelStyles.problem}>
                {said.text}
              </span>
            )}
          </div>
        </form>
      </FormProvider>
    </Page>
  )
}

function WhoPanel() {
  return (
    <Panel title="Operator and place">
      <div className={panelStyles.grid}>
        <FormText<StationForm> name="call" label="Own call" help="As licensed, with /P and the like when you use them" kind="capitals" />
        <FormText<StationForm> name="operatorName" label="Name" help="For the log and for greetings" />
        <FormText<StationForm> name="locator" label="Locator" help="4, 6 or 8 characters; four are sent" kind="capitals" />
        <FormText<StationForm> name="place" label="Place" help="In your own words" />
      </div>
      <Controller<StationForm, 'licenceConfirmedUtcMs'>
        name="licenceConfirmedUtcMs"
        render={({ field: { value, onChange, ref } }) => (
          <FormControlLabel
            sx={{ mt: 1 }}
            control={
              <Checkbox
                checked={value !== null}
                onChange={(e) => onChange(e.target.checked ? Date.now() : null)}
                slotProps={{ input: { ref } }}
              />
            }
            label={
              value === null
                ? 'I hold a licence for what this station transmits, and I am the operator in control'
                : `Licence confirmed on ${formatUtcDate(value)}: I am the operator in control`
            }
          />
        )}
      />
      <p className="muted">Zeptik cannot know what you may do where you are. The local rules and your licence decide.</p>
    </Panel>
  )
}

function TransmitPanel() {
  return (
    <Panel title="Transmitting">
      <div className={panelStyles.grid}>
        <FormText<StationForm>
          name="voxLeadInMs"
          label="VOX lead-in in ms"
          help="A tone before the message so that the VOX has tripped; 0 to 450"
          kind="number"
        />
        <FormText<StationForm>
          name="transmitLevel"
          label="Audio level in %"
          help="Peak of the transmitted audio, share of full scale"
          kind="number"
        />
      </div>
    </Panel>
  )
}

function Ft8Panel() {
  return (
    <Panel title="FT8">
      <div className={panelStyles.grid}>
        <FormText<StationForm>
          name="modes.ft8.maxTries"
          label="Tries for one step"
          help="Then the exchange stops by itself"
          kind="number"
        />
        <FormText<StationForm> name="modes.ft8.maxCqTries" label="CQ calls in a row" help="Then calling stops by itself" kind="number" />
        <FormChoice<StationForm>
          name="modes.ft8.finish"
          label="How you finish"
          help="RR73 needs no answer; RRR waits for a 73"
          options={{ RR73: 'RR73', RRR: 'RRR' }}
        />
        <FormChoice<StationForm>
          name="modes.ft8.opening"
          label="How you begin"
          help="What you say first to a station that calls CQ"
          options={{ locator: 'With call and locator', report: 'At once with the report' }}
        />
        <FormChoice<StationForm>
          name="modes.ft8.callerOrder"
          label="Of several callers first"
          help="The others wait in this order; you can change it"
          options={{ strongest: 'The strongest', first: 'Who called first', farthest: 'The farthest' }}
        />
        <FormChoice<StationForm>
          name="modes.ft8.depth"
          label="Decoding depth"
          help="Quick spares a slow device’s battery"
          options={{ quick: 'Quick', usual: 'Usual', deep: 'Deep' }}
        />
        <FormText<StationForm>
          name="modes.ft8.cqWord"
          label="Word after CQ"
          help="None, one to four letters, or three digits"
          kind="capitals"
        />
      </div>
      <div style={{ marginTop: 10 }}>
        <Caution>{dutyReminder('ft8', null)} Set a power that radio, antenna and supply stand; the radio’s manual says how much.</Caution>
      </div>
    </Panel>
  )
}
