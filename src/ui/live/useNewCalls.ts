'use client'
import { useEffect, useRef } from 'react'

/** Tells each call that was not there before. @param calls with a space between them, so that the same ones are the same */
export function useNewCalls(calls: string, onCalled: (call: string) => void): void {
  const known = useRef<ReadonlySet<string>>(new Set())
  const latest = useRef(onCalled)
  useEffect(() => {
    latest.current = onCalled
  })
  useEffect(() => {
    const now = calls === '' ? [] : calls.split(' ')
    for (const call of now) if (!known.current.has(call)) latest.current(call)
    known.current = new Set(now)
  }, [calls])
}
