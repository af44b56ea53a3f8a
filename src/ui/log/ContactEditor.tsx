'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { useQuery } from '@tanstack/react-query'
import type { Contact } from '@/core/log'
import { bandOf } from '@/core/log'
import { formatSigned, formatUtc, formatUtcDate } from '../parts/formats'
import { deleteContact, editContact, fetchContact } from './logApi'
import styles from './LogScreen.module.css'

const FIELDS: readonly { key: keyof Contact; label: string; wide?: boolean }[] = [
  { key: 'call', label: 'Call' },
  { key: 'locator', label: 'Locator' },
  { key: 'reportSent', label: 'Report sent' },
  { key: 'reportReceived', label: 'Report received' },
  { key: 'band', label: 'Band' },
  { key: 'dialFrequencyHz', label: 'Dial frequency in kHz' },
  { key: 'name', label: 'Name' },
  { key: 'place', label: 'Place' },
  { key: 'powerW', label: 'Own power in W' },
  { key: 'ownLocator', label: 'Own locator' },
  { key: 'ownProgramme', label: 'Own programme' },
  { key: 'ownReference', label: 'Own reference' },
  { key: 'otherProgramme', label: 'Their programme' },
  { key: 'otherReference', label: 'Their reference' },
  { key: 'comment', label: 'Comment', wide: true },
]

const CAPITALS = new Set<keyof Contact>([
  'call',
  'locator',
  'ownLocator',
  'ownProgramme',
  'ownReference',
  'otherProgramme',
  'otherReference',
])
const NUMBERS = new Set<keyof Contact>(['powerW', 'dialFrequencyHz'])

function show(contact: Contact, key: keyof Contact): string {
  const value = contact[key]
  if (value === null || value === undefined) return ''
  return key === 'dialFrequencyHz' ? String(Number(value) / 1000) : String(value)
}

/** One contact with its evidence and its earlier forms; edits are kept beside what was there before. */
export function ContactEditor({
  contact,
  onSaved,
  onRemoved,
  onClose,
}: {
  contact: Contact
  onSaved: (contact: Contact) => void
  onRemoved: (contact: Contact) => void
  onClose: () => void
}) {
  const [draft, setDraft] = useState(() => Object.fromEntries(FIELDS.map(({ key }) => [key, show(contact, key)])))
  const [problem, setProblem] = useState<string>()
  const details = useQuery({ queryKey: ['contact', contact.id, contact.revision], queryFn: () => fetchContact(contact.id) })

  const save = async () => {
    const change: Record<string, string | number | null> = {}
    for (const { key, label } of FIELDS) {
      const text = draft[key]!.trim()
      if (text === show(contact, key)) continue
      if (NUMBERS.has(key) && text !== '') {
        const number = Number(text.replace(',', '.'))
        if (!Number.isFinite(number)) {
          setProblem(`${label}: "${text}" is no number.`)
          return
        }
        change[key] = key === 'dialFrequencyHz' ? Math.round(number * 1000) : number
      } else change[key] = text === '' ? null : text
    }
    // A new dial frequency decides the band unless a band was typed too.
    if (typeof change.dialFrequencyHz === 'number' && change.band === undefined)
      change.band = bandOf(change.dialFrequencyHz) ?? contact.band
    if (Object.keys(change).length === 0) return
    try {
      setProblem(undefined)
      onSaved(await editContact(contact.id, contact.revision, change as Partial<Contact>))
    } catch (error) {
      setProblem((error as Error).message)
    }
  }
  const remove = async () => {
    try {
      onRemoved(await deleteContact(contact.id, contact.revision))
    } catch (error) {
      setProblem((error as Error).message)
    }
  }
  return (
    <section className={styles.side} aria-label={`Contact with ${contact.call}`}>
      <div style={{ display: 'flex', justifyContent: 'space-between', alignItems: 'center' }}>
        <h2>
          <span className="mono">{contact.call}</span>, {formatUtcDate(contact.startedUtcMs)} {formatUtc(contact.startedUtcMs)}
        </h2>
        <Button onClick={onClose}>Close</Button>
      </div>
      <form
        className={styles.fields}
        onSubmit={(e) => {
          e.preventDefault()
          void save()
        }}
      >
        {FIELDS.map(({ key, label, wide }) => (
          <TextField
            key={key}
            size="small"
            label={label}
            className={wide ? styles.wide : ''}
            value={draft[key]}
            onChange={(e) => setDraft({ ...draft, [key]: CAPITALS.has(key) ? e.target.value.toUpperCase() : e.target.value })}
          />
        ))}
        {problem && (
          <p role="alert" className={styles.wide} style={{ color: 'var(--missing)' }}>
            {problem}
          </p>
        )}
        <div className={styles.acts}>
          <Button type="submit" variant="contained">
            Save changes
          </Button>
          <Button variant="outlined" onClick={() => void remove()}>
            Delete
          </Button>
        </div>
      </form>
      <div>
        <h2>Evidence</h2>
        {contact.evidence.length === 0 ? (
          <p className="muted">{contact.origin === 'import' ? 'Imported: none was recorded here.' : 'None was recorded.'}</p>
        ) : (
          <ul className={styles.list}>
            {contact.evidence.map((e) => (
              <li key={`${e.utcMs} ${e.direction} ${e.text}`}>
                {formatUtc(e.utcMs)} {e.direction === 'sent' ? 'said' : 'heard'} <span className="mono">{e.text}</span>
                {e.snrDb !== undefined && ` ${formatSigned(e.snrDb)} dB`}
              </li>
            ))}
          </ul>
        )}
        {contact.clockUncertaintyMs !== null && contact.origin !== 'practice' && (
          <p className="muted">Clock within {(contact.clockUncertaintyMs / 1000).toFixed(2)} s</p>
        )}
      </div>
      {(details.data?.history.length ?? 0) > 0 && (
        <div>
          <h2>Earlier forms</h2>
          <ul className={styles.list}>
            {details.data!.history.map(({ record, replacedUtcMs }, i) => (
              <li key={record.revision}>
                until {formatUtcDate(replacedUtcMs)} {formatUtc(replacedUtcMs).slice(0, 5)}:{' '}
                {describeChange(record, i === 0 ? contact : details.data!.history[i - 1]!.record)}
              </li>
            ))}
          </ul>
        </div>
      )}
    </section>
  )
}

function describeChange(before: Contact, after: Contact): string {
  if (before.deletedUtcMs !== after.deletedUtcMs) return before.deletedUtcMs === null ? 'then deleted' : 'then restored'
  const changes = FIELDS.filter(({ key }) => before[key] !== after[key]).map(
    ({ key, label }) => `${label.toLowerCase()} was ${show(before, key) || 'empty'}`,
  )
  return changes.join(', ') || 'no visible change'
}
