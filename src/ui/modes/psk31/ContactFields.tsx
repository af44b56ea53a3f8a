'use client'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import type { ContactDraft, FocusView } from '@/engine/modes/psk31/state'
import { useLive } from '../../live/StationProvider'
import { formatUtc } from '../../parts/formats'
import styles from './Ribbons.module.css'

const FIELDS: readonly { name: keyof ContactDraft; label: string; capitals?: boolean }[] = [
  { name: 'call', label: 'Call', capitals: true },
  { name: 'name', label: 'Name' },
  { name: 'reportSent', label: 'Report sent' },
  { name: 'reportReceived', label: 'Report received' },
  { name: 'locator', label: 'Locator', capitals: true },
  { name: 'place', label: 'Place' },
]

/** What goes into the log: filled from what was read, until the operator says otherwise. */
export function ContactFields({ focus, onRefused }: { focus: FocusView; onRefused: (why: string) => void }) {
  const { station } = useLive()
  const { draft, loggedUtcMs, byHand } = focus
  const log = async () => {
    const done = await station?.do({ type: 'psk31.log' })
    if (done && !done.ok) onRefused(done.why)
  }
  return (
    <div className={styles.fields}>
      {FIELDS.map(({ name, label, capitals }) => (
        <TextField
          key={name}
          size="small"
          label={byHand.includes(name) || !draft[name] || name === 'reportSent' ? label : `${label}, read`}
          value={draft[name]}
          onChange={(e) =>
            void station?.do({ type: 'psk31.fill', change: { [name]: capitals ? e.target.value.toUpperCase() : e.target.value } })
          }
          slotProps={{
            inputLabel: { shrink: true },
            htmlInput: { spellCheck: false, maxLength: 60, ...(capitals && { autoCapitalize: 'characters' }) },
          }}
        />
      ))}
      <Button variant="contained" disabled={!draft.call || loggedUtcMs !== undefined} onClick={() => void log()}>
        Log it
      </Button>
      {loggedUtcMs !== undefined && (
        <span role="status" className={styles.logged}>
          In the log since {formatUtc(loggedUtcMs)}.
        </span>
      )}
    </div>
  )
}
