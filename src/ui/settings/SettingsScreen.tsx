'use client'
import { useState } from 'react'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { MODE_IDS, MODES, SOUND_MODE_IDS, type ModeId } from '@/core/modes'
import type { Settings } from '@/core/station'
import { useLive } from '../live/StationProvider'
import { Page, Panel, panelStyles } from '../parts/Panel'
import { FindSetting } from './FindSetting'
import { DevicePanel } from './DevicePanel'

/** How the screens look and count. */
export function SettingsScreen() {
  const { profile, saveSettings } = useLive()
  const [problem, setProblem] = useState<string>()
  const change = async (next: Partial<Settings>) => {
    setProblem(undefined)
    try {
      await saveSettings({ ...profile.settings, ...next })
    } catch (error) {
      setProblem((error as Error).message)
    }
  }
  const { modes } = profile.settings
  const use = (mode: ModeId, on: boolean) => change({ modes: MODE_IDS.filter((one) => (one === mode ? on : modes.includes(one))) })
  // One whose sound is made here is always in front.
  const isLast = (mode: ModeId) => SOUND_MODE_IDS.filter((one) => modes.includes(one)).join() === mode
  return (
    <Page title="Settings" lead="How Zeptik looks, counts and calls you. Changes apply at once; the keys stand under Help.">
      <FindSetting />
      <Panel title="Look and units">
        <div className={panelStyles.grid}>
          <TextField
            select
            label="Theme"
            value={profile.settings.theme}
            onChange={(e) => void change({ theme: e.target.value as Settings['theme'] })}
            helperText="Night protects eyes used to the dark"
          >
            <MenuItem value="day">Daylight</MenuItem>
            <MenuItem value="night">Night</MenuItem>
            <MenuItem value="auto">As the system says</MenuItem>
          </TextField>
          <TextField
            select
            label="Distances"
            value={profile.settings.distanceUnit}
            onChange={(e) => void change({ distanceUnit: e.target.value as Settings['distanceUnit'] })}
          >
            <MenuItem value="km">Kilometres</MenuItem>
            <MenuItem value="mi">Miles</MenuItem>
          </TextField>
        </div>
        {problem && (
          <p role="alert" className={panelStyles.problem}>
            {problem}
          </p>
        )}
      </Panel>
      <Panel title="Modes in use">
        <p className="muted">Only these stand among the stages. What another one has set up or logged is kept.</p>
        <div className={panelStyles.row} role="group" aria-label="Modes in use">
          {MODE_IDS.map((mode) => (
            <FormControlLabel
              key={mode}
              control={
                <Checkbox checked={modes.includes(mode)} disabled={isLast(mode)} onChange={(e) => void use(mode, e.target.checked)} />
              }
              label={MODES[mode].name}
            />
          ))}
        </div>
      </Panel>
      <DevicePanel />
    </Page>
  )
}
