'use client'
import { MODES } from '@/core/modes'
import { useState } from 'react'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { CHEMISTRIES, dutyWarning, powerSetupSchema, reckonPower, type Chemistry, type PowerBudget, type PowerSetup } from '@/core/power'
import { useFieldSetup } from '../live/fieldDocuments'
import { keyedSince } from '../live/keyedTime'
import { useLive, useStation } from '../live/StationProvider'
import { useRealNow } from '../live/useRealNow'
import { formatUtc } from '../parts/formats'
import { Caution, Page, Panel, panelStyles } from '../parts/Panel'
import { DraftField } from './DraftField'
import { PlanTabs } from './PlanTabs'
import styles from './plan.module.css'

const CHEMISTRY_WORDS: Record<Chemistry, string> = { lifepo4: 'Lithium iron phosphate', liIon: 'Lithium ion', lead: 'Lead, gel or AGM' }

/** Will the battery last? From capacity, draw, cold, and the seconds that were really keyed. */
export function PowerScreen() {
  const { value, save, problem } = useFieldSetup()
  const { profile } = useLive()
  const mode = useStation((s) => s.mode)
  const now = useRealNow(5000)
  const [refused, setRefused] = useState<string>()
  if (!value)
    return (
      <Page title="Battery">
        <PlanTabs />
        <p role="status">{problem ?? 'Reading…'}</p>
      </Page>
    )
  const setup = value.power
  const change = (part: Partial<PowerSetup>) => {
    const parsed = powerSetupSchema.safeParse({ ...setup, ...part })
    if (!parsed.success) {
      setRefused(parsed.error.issues[0]!.message)
      return
    }
    setRefused(undefined)
    save({ ...value, power: parsed.data })
  }
  const keyedMs = setup.connectedUtcMs === null || now === undefined ? 0 : keyedSince(setup.connectedUtcMs)
  const budget = now === undefined ? undefined : reckonPower(setup, keyedMs, now, MODES[mode].duty.keyedShare)
  const warning = budget && dutyWarning({ powerW: profile.station.powerW ?? 0, duty: budget.duty })
  const field = (key: 'capacityAh' | 'voltageV' | 'receiveA' | 'transmitA' | 'otherW', label: string, helper: string) => (
    <DraftField label={label} helperText={helper} value={setup[key]} onChange={(number) => number !== null && change({ [key]: number })} />
  )
  return (
    <Page title="Battery" lead="How long it lasts, from what it holds, what draws on it, and the seconds that were really keyed.">
      <PlanTabs />
      {(refused ?? problem) && (
        <p role="alert" className={panelStyles.problem}>
          {refused ?? problem}
        </p>
      )}
      {budget && now !== undefined && (
        <BudgetPanel
          budget={budget}
          setup={setup}
          keyedMs={keyedMs}
          onConnected={(connectedUtcMs) => change({ connectedUtcMs })}
          now={now}
        />
      )}
      {warning && <Caution>{warning}</Caution>}
      <Panel title="What it holds, what draws on it">
        <div className={panelStyles.grid}>
          {field('capacityAh', 'Capacity in Ah', 'As printed on it')}
          {field('voltageV', 'Voltage in V', 'Nominal')}
          <TextField
            select
            label="Kind"
            value={setup.chemistry}
            onChange={(e) => change({ chemistry: e.target.value as Chemistry })}
            helperText="Decides what the cold takes away"
            fullWidth
          >
            {CHEMISTRIES.map((c) => (
              <MenuItem key={c} value={c}>
                {CHEMISTRY_WORDS[c]}
              </MenuItem>
            ))}
          </TextField>
          <DraftField
            label="Usable share in %"
            helperText="Before radio or battery switch off"
            value={Math.round(setup.usableShare * 100)}
            onChange={(percent) => percent !== null && change({ usableShare: percent / 100 })}
          />
          <DraftField
            label="Temperature in °C"
            helperText="Of the battery; empty when not known"
            value={setup.temperatureC}
            optional
            onChange={(temperatureC) => change({ temperatureC })}
          />
          {field('receiveA', 'Draw while receiving in A', 'Measured, or from the manual')}
          {field('transmitA', 'Draw while transmitting in A', 'At the power in use')}
          {field('otherW', 'Others on it in W', 'Tablet, field computer, TNC')}
        </div>
      </Panel>
      <Caution>
        Fuse the lead at the battery. A lithium battery that is swollen, hot or was wet is not to be used or charged; its maker’s
        instructions decide.
      </Caution>
    </Page>
  )
}

interface BudgetPanelProps {
  budget: PowerBudget
  setup: PowerSetup
  keyedMs: number
  now: number
  onConnected: (utcMs: number | null) => void
}

function BudgetPanel({ budget, setup, keyedMs, now, onConnected }: BudgetPanelProps) {
  const { minutesLeft, emptyUtcMs, leftAh, usedAh, usableAh, duty, meanA, derating } = budget
  const used = setup.connectedUtcMs !== null
  const share = usableAh > 0 ? leftAh / usableAh : 0
  const until = emptyUtcMs - now < 20 * 3_600_000 ? `, until ${formatUtc(emptyUtcMs).slice(0, 5)} UTC` : ''
  return (
    <Panel title={used ? 'In use' : 'Before the outing'}>
      <p className={styles.big} role="status" style={{ margin: '0 0 8px' }}>
        {Number.isFinite(minutesLeft)
          ? `About ${wordMinutes(minutesLeft)}${used ? ` left${until}` : ' of operating'}.`
          : 'Nothing draws on it.'}
      </p>
      <div
        className={styles.bar}
        role="meter"
        aria-label="Left in the battery"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(100 * share)}
        aria-valuetext={`${leftAh.toFixed(1)} of ${usableAh.toFixed(1)} Ah`}
      >
        <i style={{ width: `${100 * share}%` }} />
      </div>
      <dl className={styles.facts} style={{ margin: '10px 0' }}>
        <dt>Left of what can be used</dt>
        <dd>
          {leftAh.toFixed(1)} of {usableAh.toFixed(1)} Ah
        </dd>
        <dt>Mean draw</dt>
        <dd>
          {meanA.toFixed(2)} A, {(meanA * setup.voltageV).toFixed(1)} W
        </dd>
        <dt>On the air</dt>
        <dd>
          {Math.round(duty * 100)} % of the time
          {used ? `, keyed for ${wordSeconds(keyedMs / 1000)} so far, ${usedAh.toFixed(1)} Ah used` : ', as FT8 in every second slot'}
        </dd>
        {derating < 1 && (
          <>
            <dt>The cold leaves</dt>
            <dd>about {Math.round(derating * 100)} % of the capacity: an estimate</dd>
          </>
        )}
      </dl>
      <div className={panelStyles.row}>
        <Button variant={used ? 'outlined' : 'contained'} onClick={() => onConnected(now)}>
          {used ? 'Fresh battery fitted' : 'Full battery connected'}
        </Button>
        {used && <Button onClick={() => onConnected(null)}>Battery disconnected</Button>}
        <span className="muted">Seconds on the air are counted by this browser; practice is not counted.</span>
      </div>
    </Panel>
  )
}

function wordMinutes(minutes: number): string {
  const m = Math.max(0, Math.round(minutes))
  return m < 90 ? `${m} min` : `${Math.floor(m / 60)} h ${m % 60} min`
}

function wordSeconds(seconds: number): string {
  return seconds < 120 ? `${Math.round(seconds)} s` : `${Math.round(seconds / 60)} min`
}
