'use client'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { isSure } from '@/core/psk31'
import type { ContactDraft, FactField, FocusView } from '@/engine/modes/psk31/state'
import { useLive } from '../../live/StationProvider'
import { formatUtc } from '../../parts/formats'
import styles from './Ribbons.module.css'

const FIELDS: readonly { name: keyof ContactDraft; label: string; capitals?: boolean }[] = [
  { name: 'call', label: 'Call', capitals: true },
  { name: 'name', label: 'Name' },
  { name: 'place', label: 'Place' },
  { name: 'reportSent', label: 'Report given' },
  { name: 'reportReceived', label: 'Report got' },
  { name: 'locator', label: 'Locator', capitals: true },
]

interface ContactFieldsProps {
  focus: FocusView
  /** Who only listens logs nothing. */
  listenOnly: boolean
}

/** What goes into the log: filled from what was read, with what speaks for it, until the operator says otherwise. */
export function ContactFields({ focus, listenOnly }: ContactFieldsProps) {
  const { station } = useLive()
  const { draft, loggedUtcMs, facts } = focus
  const fill = (change: Partial<ContactDraft>) => void station?.do({ type: 'psk31.fill', change })
  return (
    <div className={styles.fields}>
      {FIELDS.filter(({ name }) => !listenOnly || (name !== 'reportSent' && name !== 'reportReceived')).map(({ name, label, capitals }) => (
        <TextField
          key={name}
          size="small"
          label={`${label}${evidence(name, focus)}`}
          value={draft[name]}
          onChange={(e) => fill({ [name]: capitals ? e.target.value.toUpperCase() : e.target.value })}
          slotProps={{
            inputLabel: { shrink: true },
            htmlInput: { spellCheck: false, maxLength: 60, ...(capitals && { autoCapitalize: 'characters' }) },
          }}
        />
      ))}
      {FIELDS.flatMap(({ name, label }) => {
        const fact = name === 'reportSent' ? undefined : facts[name as FactField]
        if (!fact || isSure(fact) || draft[name] || listenOnly) return []
        return (
          <Button key={name} variant="text" onClick={() => fill({ [name]: fact.value })}>
            {label} {fact.value}? Take it
          </Button>
        )
      })}
      {loggedUtcMs !== undefined && (
        <span role="status" className={styles.logged}>
          In the log since {formatUtc(loggedUtcMs)}.
        </span>
      )}
    </div>
  )
}

/** What speaks for a field: how often it was read so, of how often it was sent. */
function evidence(name: keyof ContactDraft, { draft, byHand, facts }: FocusView): string {
  if (byHand.includes(name) || !draft[name] || name === 'reportSent') return ''
  const fact = facts[name]
  if (!fact || !isSure(fact) || draft[name] !== fact.value) return ''
  return fact.of > 1 ? `, read ${fact.times} of ${fact.of}` : ', read once'
}
