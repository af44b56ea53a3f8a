'use client'
import { useEffect } from 'react'
import { useMessages, useStandingMessage } from '../parts/Messages'
import { useStation } from './StationProvider'

/** What the running station has to say, whatever screen is open. */
export function StationMessages() {
  const { tell, withdraw } = useMessages()
  const sourceProblem = useStation((s) => (s.source.kind === 'none' ? s.source.problem : undefined))
  const outputProblem = useStation((s) => s.outputProblem)
  const storeProblem = useStation((s) => s.storeProblem)
  const alarm = useStation((s) => s.links?.alarm?.words)
  const notice = useStation((s) => s.notice)
  useStandingMessage('source', sourceProblem, { label: 'Audio source', href: '/connect' })
  useStandingMessage('output', outputProblem, { label: 'Audio output', href: '/connect' })
  useStandingMessage('store', storeProblem)
  useStandingMessage('alarm', alarm, { label: 'Radio control', href: '/connect/control' })
  useEffect(() => {
    // The same words again are a new notice, also for whoever has put the last one away.
    if (notice) tell({ kind: 'problem', topic: 'notice', text: notice.text })
    else withdraw('notice')
  }, [tell, withdraw, notice])
  return null
}
