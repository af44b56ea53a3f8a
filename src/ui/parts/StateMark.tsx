import type { ReadyState } from '@/core/readiness'

/** Word for each state; the shape beside it says the same without colour. */
export const STATE_WORDS: Record<ReadyState, string> = { ready: 'Ready', attention: 'Warning', missing: 'Missing', unknown: 'Not known' }

const COLOURS: Record<ReadyState, string> = {
  ready: 'var(--ink)',
  attention: 'var(--attention)',
  missing: 'var(--missing)',
  unknown: 'var(--muted)',
}

/** A shape for a state: filled seal, half-filled hill, open crossed box, dotted ring. */
export function StateMark({ state, size = 28 }: { state: ReadyState; size?: number }) {
  const colour = COLOURS[state]
  return (
    <svg width={size} height={size} viewBox="0 0 28 28" aria-hidden="true" style={{ flex: 'none' }}>
      {state === 'ready' && (
        <>
          <circle cx="14" cy="14" r="12" fill={colour} />
          <path d="M8 14.5l4 4 8-9" fill="none" stroke="var(--card)" strokeWidth="3" strokeLinecap="round" strokeLinejoin="round" />
        </>
      )}
      {state === 'attention' && (
        <>
          <path d="M14 3l12 22H2z" fill="none" stroke={colour} strokeWidth="2.5" strokeLinejoin="round" />
          <path d="M14 3l12 22H14z" fill={colour} />
        </>
      )}
      {state === 'missing' && (
        <>
          <rect x="3" y="3" width="22" height="22" fill="none" stroke={colour} strokeWidth="2.5" />
          <path d="M9 9l10 10M19 9L9 19" stroke={colour} strokeWidth="3" strokeLinecap="round" />
        </>
      )}
      {state === 'unknown' && <circle cx="14" cy="14" r="11" fill="none" stroke={colour} strokeWidth="2.5" strokeDasharray="4 4" />}
    </svg>
  )
}
