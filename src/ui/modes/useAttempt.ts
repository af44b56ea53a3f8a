'use client'
import { useState } from 'react'
import type { Command } from '@/engine/port/commands'
import { useLive } from '../live/StationProvider'

/** Why nothing was begun, what it needs, and where the finger was. */
export interface Refused {
  why: string
  need: string
  at?: { top: number; left: number }
}

/** The lower left corner of what was pressed. */
function pressedAt(): Pick<Refused, 'at'> {
  const pressed = document.activeElement
  if (!(pressed instanceof HTMLElement) || pressed === document.body) return {}
  const { bottom, left } = pressed.getBoundingClientRect()
  return { at: { top: bottom + 4, left } }
}

/** Asks the station to begin something that transmits: after the first check where that is missing, and else it says why not. */
export function useAttempt() {
  const { station } = useLive()
  const [pending, setPending] = useState<{ command: Command; what: string }>()
  const [refusal, setRefusal] = useState<Refused>()
  /** @returns whether it was begun */
  const attempt = async (what: string, command: Command): Promise<boolean> => {
    setRefusal(undefined)
    const at = pressedAt()
    const done = await station?.do(command)
    if (!done) return false
    if (done.ok) setPending(undefined)
    else if (done.need === 'firstCheck') setPending({ command, what })
    else setRefusal({ why: done.why, need: done.need ?? '', ...at })
    return done.ok
  }
  const checked = () => {
    void station?.do({ type: 'checkPassed' })
    if (pending) void attempt(pending.what, pending.command)
  }
  return { attempt, pending: pending?.what, checked, notNow: () => setPending(undefined), refusal, setRefusal }
}
