import type { Span } from './state'

/** Stretches of what is marked. */
export function spansOf(marks: readonly boolean[]): Span[] {
  const spans: [number, number][] = []
  marks.forEach((marked, k) => {
    const last = spans.at(-1)
    if (!marked) return
    if (last && last[1] === k) last[1] = k + 1
    else spans.push([k, k + 1])
  })
  return spans
}
