'use client'
import Button from '@mui/material/Button'
import { useStation } from '../../live/StationProvider'
import { Panel, panelStyles } from '../../parts/Panel'
import { ControlPanel } from './ControlPanel'
import { TncPanel } from './TncPanel'
import { useLinkConfig } from './useLinkConfig'

/** Links that the field computer holds: radio control, keying, a TNC; each with its ladder. */
export function LinkPanels() {
  const links = useStation((s) => s.links)
  const { config, changed, saving, problem, change, save, discard } = useLinkConfig()
  if (!config)
    return (
      <Panel title="Control of the radio">
        <p className={problem ? panelStyles.problem : 'muted'}>{problem ?? 'Asking the field computer…'}</p>
      </Panel>
    )
  const apply = changed && (
    <div className={panelStyles.row} style={{ marginTop: 12 }}>
      <Button variant="contained" disabled={saving || problem !== undefined} onClick={() => save()}>
        Use these settings
      </Button>
      <Button variant="text" onClick={discard}>
        Leave it as it was
      </Button>
      {problem && (
        <span role="alert" className={panelStyles.problem}>
          {problem}
        </span>
      )}
    </div>
  )
  const parts = { config, links, change, onFix: save }
  return (
    <>
      {links?.alarm && (
        <p role="alert" className={panelStyles.problem}>
          {links.alarm.words}
        </p>
      )}
      {problem && !changed && (
        <p role="alert" className={panelStyles.problem}>
          {problem}
        </p>
      )}
      <ControlPanel {...parts} apply={apply} />
      <TncPanel {...parts} apply={apply} />
    </>
  )
}
