'use client'
import { useCallback, useState } from 'react'
import type { TestKind } from '@/core/transmit'
import type { TestOptions, TestResult } from '@/engine/station/testSender'
import { useLive } from '../live/StationProvider'

/** Sends tests of levels on a person's word, and the first-transmission check when the gate asks for it. */
export function useLevelTest() {
  const { station } = useLive()
  const [busy, setBusy] = useState<TestKind>()
  const [refusal, setRefusal] = useState<{ why: string; need: string }>()
  const [pending, setPending] = useState<() => void>()
  const send = useCallback(
    async (kind: TestKind, options: TestOptions): Promise<TestResult | undefined> => {
      if (!station) return undefined
      setBusy(kind)
      setRefusal(undefined)
      const done = await station.do({ type: 'test', kind, ...options })
      setBusy(undefined)
      if (done.ok) return { sent: true, complete: done.complete ?? false, heard: done.heard ?? new Float32Array(0) }
      const refused = { why: done.why, need: done.need ?? 'start' }
      setRefusal(refused)
      return { sent: false, ...refused }
    },
    [station],
  )
  /** Does something now, or after the check when that has not been made. */
  const afterCheck = (act: () => void) => {
    const refused = station?.slice('station').getState().refusal
    if (refused?.need === 'firstCheck') setPending(() => act)
    else act()
  }
  const checked = () => {
    void station?.do({ type: 'checkPassed' })
    const act = pending
    setPending(undefined)
    act?.()
  }
  return { send, busy, refusal, afterCheck, checking: pending !== undefined, checked, notNow: () => setPending(undefined) }
}
