'use client'
import { LINE_STATES, type LinkConfig, type LinkState } from '@/core/links'
import { panelStyles } from '../../parts/Panel'
import { StateMark } from '../../parts/StateMark'

/** What the panel of one link is given: the settings being changed, and what the field computer says of the links. */
export interface LinkPartProps {
  config: LinkConfig
  links: LinkState | undefined
  change: (part: Partial<LinkConfig>) => void
  onFix: (config: LinkConfig) => void
  apply: React.ReactNode
}

/** In one line how a link is. */
export function LinkStatusLine({ state, detail, words }: { state: LinkState['control']['state']; detail: string; words: string }) {
  return (
    <p className={panelStyles.row} aria-live="polite">
      <StateMark state={LINE_STATES[state]} size={22} />
      <strong>{words}</strong>
      {state !== 'off' && <span className="muted">{detail}</span>}
    </p>
  )
}
