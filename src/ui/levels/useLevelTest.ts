'use client'
import { useCallback, useState } from 'react'
import type { TestKind } from '@/core/transmit'
import type { TestOptions, TestResult } from '@/engine/station'
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
      const result = await station.sendTest(kind, options)
      setBusy(undefined)
      if (!result.sent) setRefusal({ why: result.why, need: result.need })
      return result
    },
    [station],
  )
  /** Does something now, or after the check when that has not been made. */
  const afterCheck = (act: () => void) => {
    const refused = station?.whyNot()
    if (refused?.need === 'firstCheck') setPending(() => act)
    else act()
  }
  const checked = () => {
    station?.passCheck()
    const act = pending
    setPending(undefined)
    act?.()
  }
  return { send, busy, refusal, afterCheck, checking: pending !== undefined, checked, notNow: () => setPending(undefined) }
}
