'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import type { CountedContact } from '@/core/activation'
import { editContact } from '../log/logApi'
import { formatUtc } from '../parts/formats'
import { Panel, panelStyles } from '../parts/Panel'
import styles from './plan.module.css'

const SHOWN = 8

/** The last contacts, and the reference of the other station's place where it has one. */
export function ReferenceList({ contacts, onChanged }: { contacts: readonly CountedContact[]; onChanged: () => void }) {
  if (contacts.length === 0) return null
  return (
    <Panel title="Stations at a reference of their own">
      <p className="muted">They seldom say it in FT8; a spot of theirs does. It goes into the log beside your own.</p>
      <ul className={styles.list}>
        {[...contacts]
          .reverse()
          .slice(0, SHOWN)
          .map((contact) => (
            <Line key={`${contact.id} ${contact.revision}`} contact={contact} onChanged={onChanged} />
          ))}
      </ul>
    </Panel>
  )
}

function Line({ contact, onChanged }: { contact: CountedContact; onChanged: () => void }) {
  const stored = contact.otherReference ?? ''
  const [reference, setReference] = useState(stored)
  const [problem, setProblem] = useState<string>()
  const save = async () => {
    try {
      await editContact(contact.id, contact.revision, { otherReference: reference.trim() || null })
      onChanged()
    } catch (error) {
      setProblem((error as Error).message)
    }
  }
  return (
    <li>
      <span className={styles.when}>{formatUtc(contact.startedUtcMs).slice(0, 5)}</span>
      <span className={`${styles.grow} mono`} style={{ fontWeight: 700 }}>
        {contact.call}
      </span>
      <span className="muted">
        {contact.band ?? 'no band'} {contact.mode}
      </span>
      <TextField
        size="small"
        label={`Reference of ${contact.call}`}
        value={reference}
        onChange={(e) => setReference(e.target.value.toUpperCase())}
        slotProps={{ htmlInput: { maxLength: 40 } }}
        sx={{ width: 210 }}
      />
      <Button
        variant="outlined"
        disabled={reference.trim() === stored}
        onClick={() => void save()}
        aria-label={`Keep reference of ${contact.call}`}
      >
        Keep
      </Button>
      {problem && (
        <span role="alert" className={panelStyles.problem}>
          {problem}
        </span>
      )}
    </li>
  )
}
