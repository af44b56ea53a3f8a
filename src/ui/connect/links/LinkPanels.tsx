'use client'
import Button from '@mui/material/Button'
import type { TriedLink } from '@/core/links'
import { useStation } from '../../live/StationProvider'
import { Panel, panelStyles } from '../../parts/Panel'
import { ControlPanel } from './ControlPanel'
import { TncPanel } from './TncPanel'
import { useLinkConfig } from './useLinkConfig'

/** A link that the field computer holds, radio control with keying or a TNC, with its ladder. */
export function LinkPanels({ of }: { of: TriedLink }) {
  const links = useStation((s) => s.links)
  const { config, changed, saving, problem, change, save, discard } = useLinkConfig()
  if (!config)
    return (
      <Panel title={of === 'control' ? 'Control and keying of the radio' : 'A TNC, in KISS'}>
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
      {problem && !changed && (
        <p role="alert" className={panelStyles.problem}>
          {problem}
        </p>
      )}
      {of === 'control' ? <ControlPanel {...parts} apply={apply} /> : <TncPanel {...parts} apply={apply} />}
    </>
  )
}
