'use client'
import { MODE_IDS, MODES, type ModeId } from '@/core/modes'
import { useState } from 'react'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { antennaSetupSchema, estimateExposure, type AntennaSetup, type ExposureEstimate } from '@/core/power'
import { useFieldSetup } from '../live/fieldDocuments'
import { useLive } from '../live/StationProvider'
import { useDialOfRadio } from '../live/useDialOfRadio'
import { frequencyWords } from '@/core/text/frequency'
import { Caution, Page, Panel, panelStyles } from '../parts/Panel'
import { StateMark } from '../parts/StateMark'
import { DistanceDrawing } from './DistanceDrawing'
import { DraftField } from './DraftField'
import { PlanTabs } from './PlanTabs'
import styles from './plan.module.css'

/** By mode, and keyed all the time: for as long as an over lasts, and while tuning. */
const DUTIES: readonly { id: ModeId | 'solid'; label: string; duty: number }[] = [
  ...MODE_IDS.map((id) => ({ id, label: MODES[id].name, duty: MODES[id].duty.keyedShare })),
  { id: 'solid', label: 'One over, tuning', duty: 1 },
]

/** How far people should be from the antenna: an estimate, with its formula. */
export function ExposureScreen() {
  const { value, save, problem } = useFieldSetup()
  const { profile } = useLive()
  const dial = useDialOfRadio() ?? profile.station.dialFrequencyHz
  const [dutyId, setDutyId] = useState<(typeof DUTIES)[number]['id']>('ft8')
  const [refused, setRefused] = useState<string>()
  const [trialW, setTrialW] = useState<number | null>(null)
  const powerW = trialW ?? profile.station.powerW
  const antenna = value?.antenna
  const change = (part: Partial<AntennaSetup>) => {
    const parsed = antennaSetupSchema.safeParse({ ...antenna, ...part })
    setRefused(parsed.success ? undefined : parsed.error.issues[0]!.message)
    if (parsed.success && value) save({ ...value, antenna: parsed.data })
  }
  const { duty } = DUTIES.find((d) => d.id === dutyId)!
  const estimate = antenna && powerW !== null && dial !== null ? estimateExposure({ powerW, duty, frequencyHz: dial, antenna }) : undefined
  return (
    <Page
      title="Exposure"
      lead="How strong the field is where people are, against two international tables. An estimate: your regulator’s rules decide."
    >
      <PlanTabs />
      {(refused ?? problem) && (
        <p role="alert" className={panelStyles.problem}>
          {refused ?? problem}
        </p>
      )}
      {antenna && (
        <Panel title="Antenna and power">
          <div className={panelStyles.grid}>
            <DraftField label="Power in W" helperText="To try out; the station’s own is not changed" value={powerW} onChange={setTrialW} />
            <DraftField
              label="Gain in dBi"
              helperText="Dipole 2.15, short whip about 0"
              value={antenna.gainDbi}
              onChange={(gainDbi) => gainDbi !== null && change({ gainDbi })}
            />
            <DraftField
              label="Feed line loss in dB"
              value={antenna.feedLossDb}
              onChange={(feedLossDb) => feedLossDb !== null && change({ feedLossDb })}
            />
            <DraftField
              label="Distance in m"
              helperText="From the nearest part of the antenna"
              value={antenna.distanceM}
              onChange={(distanceM) => distanceM !== null && change({ distanceM })}
            />
            <TextField
              select
              label="What is sent"
              helperText="Share of the time that it is keyed"
              value={dutyId}
              onChange={(e) => setDutyId(e.target.value as typeof dutyId)}
              fullWidth
            >
              {DUTIES.map((d) => (
                <MenuItem key={d.id} value={d.id}>
                  {d.label}: {Math.round(d.duty * 100)} %
                </MenuItem>
              ))}
            </TextField>
            <TextField
              select
              label="Worn"
              value={antenna.bodyWorn ? 'yes' : 'no'}
              onChange={(e) => change({ bodyWorn: e.target.value === 'yes' })}
              fullWidth
            >
              <MenuItem value="no">Stands by itself</MenuItem>
              <MenuItem value="yes">In the hand or on the body</MenuItem>
            </TextField>
          </div>
        </Panel>
      )}
      {!estimate && (
        <p role="status">
          {dial === null ? 'Set the dial on the Slots screen first.' : powerW === null ? 'Say a power above.' : 'Reading…'}
        </p>
      )}
      {estimate && antenna && <Estimate estimate={estimate} antenna={antenna} dialHz={dial!} />}
      {antenna?.bodyWorn && (
        <Caution>
          An antenna in the hand or on the body is nearer than any formula here holds. Keep the power at the lowest that works, the antenna
          away from head and eyes, and transmissions short; the radio’s manual says at which distance it was tested.
        </Caution>
      )}
      <Caution>
        Nobody may touch antenna, radials or open feed line while it is keyed: that burns, whatever the figures say. Keep antennas clear of
        power lines.
      </Caution>
    </Page>
  )
}

function Estimate({ estimate, antenna, dialHz }: { estimate: ExposureEstimate; antenna: AntennaSetup; dialHz: number }) {
  const worst = estimate.limits.reduce((a, b) => (b.safeDistanceM > a.safeDistanceM ? b : a))
  const within = estimate.limits.every((l) => l.within)
  return (
    <Panel title={`At ${frequencyWords(dialHz)}`}>
      <p className={styles.big} role="status" style={{ margin: '0 0 8px' }}>
        {estimate.inNearField
          ? `Too near for the formula: it holds from ${estimate.nearFieldM.toFixed(1)} m on.`
          : within
            ? `${estimate.fieldVPerM.toFixed(1)} V/m at ${antenna.distanceM} m: below all four limits.`
            : `${estimate.fieldVPerM.toFixed(1)} V/m at ${antenna.distanceM} m: above a limit. Keep people ${worst.safeDistanceM.toFixed(1)} m away.`}
      </p>
      <DistanceDrawing estimate={estimate} distanceM={antenna.distanceM} />
      <table className={styles.table}>
        <thead>
          <tr>
            <th>Table</th>
            <th className={styles.number}>Mean over</th>
            <th className={styles.number}>Limit</th>
            <th className={styles.number}>Kept from</th>
            <th>At {antenna.distanceM} m</th>
          </tr>
        </thead>
        <tbody>
          {estimate.limits.map(({ limit, limitVPerM, safeDistanceM, within: ok }) => (
            <tr key={limit.id}>
              <td>{limit.name}</td>
              <td className={styles.number}>{limit.averagingMin} min</td>
              <td className={styles.number}>{limitVPerM.toFixed(1)} V/m</td>
              <td className={styles.number}>{safeDistanceM.toFixed(2)} m</td>
              <td>
                <StateMark state={ok && !estimate.inNearField ? 'ready' : ok ? 'attention' : 'missing'} size={18} />{' '}
                {ok ? 'below' : 'above'}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="muted">
        E = 1.6 · √(30 · P · G) / r: mean power sent out times gain, {estimate.eirpW.toFixed(1)} W as if from a point, in the main beam over
        reflecting ground. It does not hold nearer than a wavelength over 2π, here {estimate.nearFieldM.toFixed(1)} m.
      </p>
    </Panel>
  )
}
