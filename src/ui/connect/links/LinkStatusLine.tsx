'use client'
import { LINE_STATES, RUNG_NAMES, type LinkConfig, type LinkState, type Rung, type TriedLink } from '@/core/links'
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

interface StatusLineProps {
  link: TriedLink
  links: LinkState | undefined
  /** What each state is called. */
  words: Record<LinkState['control']['state'], string>
}

/** What may be wrong although the other end talks: a radio answers and refuses, or is not keyed. */
const WRONG_THOUGH_TALKING: Record<TriedLink, readonly Rung[]> = { control: ['mode', 'keys'], tnc: ['keys'] }

/** In one line how a link is. What its ladder found wrong stands in it until it is tried again, or shown to be over. */
export function LinkStatusLine({ link, links, words }: StatusLineProps) {
  const { state, detail } = links?.[link] ?? { state: 'off' as const, detail: '' }
  const verdict = links?.diagnosis?.link === link ? links.diagnosis.now.verdict : undefined
  const failed = verdict && !verdict.ok ? verdict : undefined
  if (failed && state !== 'off' && (state !== 'talking' || WRONG_THOUGH_TALKING[link].includes(failed.rung)))
    return (
      <p className={panelStyles.row} aria-live="polite">
        <StateMark state="missing" size={22} />
        <strong>Does not work: {RUNG_NAMES[failed.rung].toLowerCase()}</strong>
        <span className="muted">{state === 'talking' ? `${words[state]}, but: ${failed.evidence}` : failed.evidence}</span>
      </p>
    )
  return (
    <p className={panelStyles.row} aria-live="polite">
      <StateMark state={LINE_STATES[state]} size={22} />
      <strong>{words[state]}</strong>
      {state !== 'off' && <span className="muted">{detail}</span>}
    </p>
  )
}
