'use client'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { isAimed, nothingSteady, settle, type Steady } from './steadyOrder'
import { useMessages } from './Messages'

const LOOK_MS = 500

/**
 * Holds the order of a list still while a hand is on it.
 * @param wanted keys of all rows in the order that would be right now
 * @param question what was asked for, such as filter and order: another one is obeyed at once
 */
export function useSteadyOrder(wanted: readonly string[], question: string) {
  const { tell } = useMessages()
  const [steady, setSteady] = useState<Steady & { question: string }>({ ...nothingSteady, question })
  const handMs = useRef(-Infinity)
  const latest = useRef(wanted)
  const key = wanted.join(' ')
  const look = useCallback(
    (asked = false) =>
      setSteady((before) => {
        const at = { nowMs: performance.now(), handMs: handMs.current, asked: asked || before.question !== question }
        const next = settle(before, latest.current, at)
        const unchanged =
          before.question === question &&
          next.waits === before.waits &&
          next.keys.length === before.keys.length &&
          next.keys.every((k, i) => k === before.keys[i])
        return unchanged ? before : { ...next, question }
      }),
    [question],
  )
  useEffect(() => {
    latest.current = wanted
    look()
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the keys stand for the rows
  }, [key, look])
  useEffect(() => {
    const timer = setInterval(() => look(), LOOK_MS)
    return () => clearInterval(timer)
  }, [look])
  const hand = useMemo(() => {
    const here = () => void (handMs.current = performance.now())
    return { onPointerMove: here, onPointerDown: here, onWheel: here, onTouchMove: here, onKeyDownCapture: here, onFocus: here }
  }, [])
  const state = useRef(steady)
  useEffect(() => {
    state.current = steady
  })
  /** Does what a tap on a row asks for, unless the row came under the finger just now. */
  const aimed = useCallback(
    (row: string, act: () => void) => {
      if (isAimed(state.current, row, performance.now())) act()
      else tell({ kind: 'done', topic: 'moved', text: 'The list had just moved: nothing was begun. Tap again.' })
    },
    [tell],
  )
  // The first filling is shown in the moment it comes.
  return { keys: steady.keys.length === 0 ? wanted : steady.keys, waits: steady.waits, sortNow: () => look(true), hand, aimed }
}
