'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import Switch from '@mui/material/Switch'
import TextField from '@mui/material/TextField'
import { deviceNames, useAudioDevices } from '../connect/devices'
import { ALERT_WORDS, canChooseOutput, soundAlert, vibrate, whyNoSounds, type Alert } from '../live/alerts'
import { saveDeviceSettings, useDeviceSettings, type DeviceSettings } from '../live/deviceSettings'
import { Caution, Panel, panelStyles } from '../parts/Panel'

const ALERTS = Object.keys(ALERT_WORDS) as Alert[]

/** What belongs to this tablet or laptop alone. */
export function DevicePanel() {
  const { awake, textSize, vibration, notifications } = useDeviceSettings()
  const [refused, setRefused] = useState(false)
  const notify = async (on: boolean) => {
    const allowed = !on || (await Notification.requestPermission()) === 'granted'
    setRefused(!allowed)
    saveDeviceSettings({ notifications: on && allowed })
  }
  const canNotify = typeof Notification !== 'undefined'
  return (
    <Panel title="This device">
      <div className={panelStyles.grid}>
        <TextField
          select
          label="Text size"
          value={textSize}
          onChange={(e) => saveDeviceSettings({ textSize: e.target.value as DeviceSettings['textSize'] })}
          helperText="All of the screens grow with it"
        >
          <MenuItem value="usual">Usual</MenuItem>
          <MenuItem value="large">Large</MenuItem>
          <MenuItem value="largest">Largest</MenuItem>
        </TextField>
      </div>
      <div className={panelStyles.row} style={{ marginTop: 8 }}>
        <Choice label="Keep the screen on while listening" checked={awake} onChange={(on) => saveDeviceSettings({ awake: on })} />
        <Choice label="Vibrate" checked={vibration} onChange={(on) => saveDeviceSettings({ vibration: on })} />
        {canNotify && <Choice label="Notify when another tab is in front" checked={notifications} onChange={(on) => void notify(on)} />}
      </div>
      {refused && (
        <p role="alert" className={panelStyles.problem}>
          The browser does not allow notifications for this page: allow them in its settings of the page.
        </p>
      )}
      <Sounds />
    </Panel>
  )
}

function Sounds() {
  const { sounds, soundsTo } = useDeviceSettings()
  const { outputs, chosen } = useAudioDevices()
  const [problem, setProblem] = useState<string>()
  const names = deviceNames(outputs, 'Output without a name (allow the microphone to see names)')
  const why = whyNoSounds(soundsTo, chosen.output, canChooseOutput())
  const play = async (alert: Alert) => {
    vibrate(alert)
    setProblem(await soundAlert(alert, soundsTo, chosen.output))
  }
  return (
    <div style={{ marginTop: 8 }}>
      <div className={panelStyles.row}>
        <Choice label="Sounds" checked={sounds} onChange={(on) => saveDeviceSettings({ sounds: on })} />
        <TextField
          select
          size="small"
          label="Output for sounds"
          value={outputs.some((d) => d.deviceId === soundsTo) ? soundsTo : ''}
          onChange={(e) => saveDeviceSettings({ soundsTo: e.target.value })}
          sx={{ minWidth: 240 }}
        >
          {outputs
            .filter((d) => d.deviceId !== 'default' && d.deviceId !== chosen.output)
            .map((d) => (
              <MenuItem key={d.deviceId} value={d.deviceId}>
                {names.get(d.deviceId)}
              </MenuItem>
            ))}
        </TextField>
        {ALERTS.map((alert) => (
          <Button key={alert} variant="outlined" disabled={why !== undefined} onClick={() => void play(alert)}>
            {ALERT_WORDS[alert]}
          </Button>
        ))}
      </div>
      {(problem ?? (sounds ? why : undefined)) && (
        <p role="alert" className={panelStyles.problem}>
          {problem ?? why}
        </p>
      )}
      <Caution>
        A sound that reaches the radio keys its VOX and goes on the air. Zeptik makes none at the output chosen for transmitting.
      </Caution>
    </div>
  )
}

function Choice({ label, checked, onChange }: { label: string; checked: boolean; onChange: (on: boolean) => void }) {
  return <FormControlLabel control={<Switch checked={checked} onChange={(e) => onChange(e.target.checked)} />} label={label} />
}
