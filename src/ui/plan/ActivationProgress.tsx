'use client'
import Link from 'next/link'
import { useQuery } from '@tanstack/react-query'
import { judgeActivation, type Activation } from '@/core/activation'
import { useActivations } from '../live/fieldDocuments'
import { useStation } from '../live/StationProvider'
import { useRealNow } from '../live/useRealNow'
import { activationQuery } from './activationContacts'
import styles from './plan.module.css'

/** How far the activation under way is, where the contacts for it are made. */
export function ActivationProgress() {
  const { value } = useActivations()
  const practising = useStation((s) => s.source.kind === 'practice')
  const current = value?.current
  return current && current.practice === practising ? <Progress activation={current} /> : null
}

function Progress({ activation }: { activation: Activation }) {
  const stored = useStation((s) => s.storedCount)
  const now = useRealNow(10_000) ?? 0
  const { data } = useQuery(activationQuery(activation, stored))
  const contacts = data ?? []
  const { counted, goal, reached } = judgeActivation(activation, contacts, Math.max(now, contacts.at(-1)?.endedUtcMs ?? 0))
  return (
    <Link
      href="/plan/activation"
      className={styles.chip}
      aria-label={`Activation: ${counted} of ${goal} contacts${reached ? ', reached' : ''}`}
    >
      <strong>
        {counted} of {goal}
      </strong>{' '}
      {reached ? 'reached' : activation.name || 'activation'}
      <span className={styles.chipBar} aria-hidden="true">
        <i style={{ width: `${Math.min(100, (100 * counted) / goal)}%` }} />
      </span>
    </Link>
  )
}
