'use client'
import { useState } from 'react'
import Link from 'next/link'
import Button from '@mui/material/Button'
import { judgePlan, wordEvent, type PlanState } from '@/core/session'
import { frequencyWords } from '@/core/text/frequency'
import { formatUtc } from '../parts/formats'
import { usePlan } from './fieldDocuments'
import { useLive } from './StationProvider'
import { useDialOfRadio } from './useDialOfRadio'
import { useRealNow } from './useRealNow'
import styles from './PlanReminder.module.css'

/** What a reminder is about, so that one that was noted is not shown again. */
function subjectOf(reminder: NonNullable<PlanState['reminder']>): string {
  if (reminder.kind !== 'soon') return `${reminder.kind} ${reminder.block.id}`
  const { what, startUtcMs } = reminder.event
  return `soon ${what.kind === 'block' ? what.block.id : what.net.id} ${startUtcMs}`
}

function wordReminder(reminder: NonNullable<PlanState['reminder']>): string {
  switch (reminder.kind) {
    case 'soon':
      return `At ${formatUtc(reminder.event.startUtcMs).slice(0, 5)}, in ${reminder.inMin} min: ${wordEvent(reminder.event)}.`
    case 'dial':
      return `The plan is on ${frequencyWords(reminder.block.dialFrequencyHz!)} now.`
    case 'over':
      return 'What was planned is over.'
  }
}

/** A calm line when the plan asks for a change; it interrupts nothing. */
export function PlanReminder() {
  const { profile } = useLive()
  const plan = usePlan().value
  const now = useRealNow(5000)
  const dial = useDialOfRadio() ?? profile.station.dialFrequencyHz
  const [noted, setNoted] = useState<string>()
  if (!plan || now === undefined) return null
  const { reminder } = judgePlan(plan, now, dial)
  if (!reminder || subjectOf(reminder) === noted) return null
  return (
    <div className={styles.reminder} role="status">
      <span>{wordReminder(reminder)}</span>
      <Link href="/plan">The plan</Link>
      <Button onClick={() => setNoted(subjectOf(reminder))}>Noted</Button>
    </div>
  )
}
