'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import { zodResolver } from '@hookform/resolvers/zod'
import { useQuery } from '@tanstack/react-query'
import { FormProvider, useForm } from 'react-hook-form'
import type { Contact } from '@/core/log'
import { formatSigned, formatUtc, formatUtcDate } from '../parts/formats'
import { FormText } from '../parts/formFields'
import { useFormDraft } from '../parts/useFormDraft'
import { changeFrom, contactFormSchema, toForm, type ContactForm } from './contactForm'
import { deleteContact, editContact, fetchContact } from './logApi'
import styles from './LogScreen.module.css'

const FIELDS: readonly { key: keyof ContactForm; label: string; kind?: 'capitals' | 'number'; wide?: boolean }[] = [
  { key: 'call', label: 'Call', kind: 'capitals' },
  { key: 'locator', label: 'Locator', kind: 'capitals' },
  { key: 'reportSent', label: 'Report sent' },
  { key: 'reportReceived', label: 'Report received' },
  { key: 'started', label: 'Began, UTC' },
  { key: 'mode', label: 'Mode', kind: 'capitals' },
  { key: 'band', label: 'Band' },
  { key: 'dialFrequencyHz', label: 'Dial frequency in kHz', kind: 'number' },
  { key: 'name', label: 'Name' },
  { key: 'place', label: 'Place' },
  { key: 'powerW', label: 'Own power in W', kind: 'number' },
  { key: 'ownLocator', label: 'Own locator', kind: 'capitals' },
  { key: 'ownProgramme', label: 'Own programme', kind: 'capitals' },
  { key: 'ownReference', label: 'Own reference', kind: 'capitals' },
  { key: 'otherProgramme', label: 'Their programme', kind: 'capitals' },
  { key: 'otherReference', label: 'Their reference', kind: 'capitals' },
  { key: 'comment', label: 'Comment', wide: true },
]

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
  const form = useForm<ContactForm>({ resolver: zodResolver(contactFormSchema), defaultValues: toForm(contact) })
  const { restored, forget } = useFormDraft(form, {
    key: `contact.${contact.id}`,
    name: `the contact with ${contact.call}`,
    href: '/log',
  })
  const { isDirty } = form.formState
  const [problem, setProblem] = useState<string>()
  const details = useQuery({ queryKey: ['contact', contact.id, contact.revision], queryFn: () => fetchContact(contact.id) })

  const save = form.handleSubmit(async (typed) => {
    const change = changeFrom(contact, typed)
    if (Object.keys(change).length === 0) return
    try {
      setProblem(undefined)
      const saved = await editContact(contact.id, contact.revision, change)
      forget()
      onSaved(saved)
    } catch (error) {
      setProblem((error as Error).message)
    }
  })
  const drop = () => {
    form.reset(toForm(contact))
    forget()
  }
  const restore = async () => {
    try {
      onSaved(await editContact(contact.id, contact.revision, { deletedUtcMs: null }))
    } catch (error) {
      setProblem((error as Error).message)
    }
  }
  const remove = async () => {
    try {
      const removed = await deleteContact(contact.id, contact.revision)
      forget()
      onRemoved(removed)
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
      <FormProvider {...form}>
        <form className={styles.fields} onSubmit={(e) => void save(e)} noValidate>
          {FIELDS.map(({ key, label, kind, wide }) => (
            <div key={key} className={wide ? styles.wide : ''}>
              <FormText<ContactForm> name={key} label={label} small {...(kind && { kind })} />
            </div>
          ))}
          {problem && (
            <p role="alert" className={styles.wide} style={{ color: 'var(--missing)' }}>
              {problem}
            </p>
          )}
          <div className={styles.acts}>
            <Button type="submit" variant="contained" disabled={!isDirty}>
              Save changes
            </Button>
            {isDirty && (
              <Button variant="outlined" onClick={drop}>
                Discard
              </Button>
            )}
            {contact.deletedUtcMs === null ? (
              <Button variant="outlined" onClick={() => void remove()}>
                Delete
              </Button>
            ) : (
              <Button variant="outlined" onClick={() => void restore()}>
                Restore
              </Button>
            )}
            {isDirty && <span className="muted">{restored ? 'From before: not saved yet.' : 'Not saved yet.'}</span>}
          </div>
        </form>
      </FormProvider>
      <div>
        <h2>Evidence</h2>
        {contact.evidence.length === 0 ? (
          <p className="muted">{contact.origin === 'import' ? 'Imported: none was recorded here.' : 'None was recorded.'}</p>
        ) : (
          <ul className={styles.list}>
            {contact.evidence.map((e) => (
              <li key={`${e.utcMs} ${e.direction} ${e.text}`}>
                {formatUtc(e.utcMs)} {e.direction === 'sent' ? 'sent' : 'received'} <span className="mono">{e.text}</span>
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
  const [was, is] = [toForm(before), toForm(after)]
  const changes = FIELDS.filter(({ key }) => was[key] !== is[key]).map(
    ({ key, label }) => `${label.toLowerCase()} was ${was[key] || 'empty'}`,
  )
  return changes.join(', ') || 'no visible change'
}
