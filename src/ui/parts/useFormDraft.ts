'use client'
import { useEffect, useRef, useState } from 'react'
import type { FieldValues, Path, PathValue, UseFormReturn } from 'react-hook-form'
import { z } from 'zod'
import { localStore } from '@/engine/browser/localStore'
import { useMessages } from './Messages'

const NOTHING: Record<string, unknown> = {}
const draftSchema = z.record(z.string().max(200), z.unknown())

interface DraftOptions {
  /** What the form is about: one draft is kept for each. */
  key: string
  /** Said when the form is left before it was saved. */
  name: string
  /** Where it is taken up again. */
  href: string
}

/**
 * Keeps what is typed into a form until it is saved or dropped: over a change of screen, a reload, and an end of the browser.
 * @returns whether it began with what was kept, and how to end keeping it
 */
export function useFormDraft<Values extends FieldValues, Out>(
  form: UseFormReturn<Values, unknown, Out>,
  { key, name, href }: DraftOptions,
): { restored: boolean; forget: () => void } {
  const { tell, withdraw } = useMessages()
  const [restored, setRestored] = useState(false)
  const unsaved = useRef(false)
  const topic = `draft ${key}`
  useEffect(() => {
    const store = localStore(`zeptik.draft.${key}`, draftSchema, NOTHING)
    const kept = store.load()
    for (const [field, value] of Object.entries(kept))
      form.setValue(field as Path<Values>, value as PathValue<Values, Path<Values>>, { shouldDirty: true })
    unsaved.current = Object.keys(kept).length > 0
    if (unsaved.current) setRestored(true)
    withdraw(topic)
    const watched = form.watch((values) => {
      const before = form.formState.defaultValues ?? {}
      const changed = Object.entries(values as Record<string, unknown>).filter(
        ([field, value]) => JSON.stringify(value) !== JSON.stringify((before as Record<string, unknown>)[field]),
      )
      unsaved.current = changed.length > 0
      store.save(Object.fromEntries(changed))
    })
    return () => {
      watched.unsubscribe()
      if (unsaved.current)
        tell({ kind: 'undo', topic, text: `Not saved yet: ${name}. What you typed is kept.`, action: { label: 'Back to it', href } })
    }
  }, [form, key, name, href, topic, tell, withdraw])
  const forget = () => {
    unsaved.current = false
    setRestored(false)
    localStore(`zeptik.draft.${key}`, draftSchema, NOTHING).save({})
  }
  return { restored, forget }
}
