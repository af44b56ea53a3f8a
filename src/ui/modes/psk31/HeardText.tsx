import type { ReactNode } from 'react'
import type { Span, TranscriptLine } from '@/engine/modes/psk31/state'
import styles from './Ribbons.module.css'

interface HeardTextProps {
  text: string
  faint: readonly Span[] | undefined
  /** What of it goes to the log. */
  told?: TranscriptLine['told']
}

/** Text as it was heard; what the waveform alone does not carry stands faint, what goes to the log is marked, and both are said to be. */
export function HeardText({ text, faint = [], told = [] }: HeardTextProps) {
  if (faint.length === 0 && told.length === 0) return <>{text}</>
  const edges = [0, text.length, ...faint.flat(), ...told.flatMap(({ from, to }) => [from, to])]
  const cuts = [...new Set(edges.map((edge) => Math.max(0, Math.min(text.length, edge))))].sort((a, b) => a - b)
  return (
    <>
      {cuts.slice(0, -1).map((from, k) => {
        const to = cuts[k + 1]!
        const isFaint = faint.some((span) => span[0] <= from && to <= span[1])
        const isTold = told.some((one) => one.from <= from && to <= one.to)
        return <Piece key={from} isFaint={isFaint} isTold={isTold} text={text.slice(from, to)} />
      })}
    </>
  )
}

function Piece({ isFaint, isTold, text }: { isFaint: boolean; isTold: boolean; text: string }) {
  const read: ReactNode = isFaint ? (
    <span className={styles.faint} title="Not sure: too weak to be read by itself">
      {text}
    </span>
  ) : (
    text
  )
  return isTold ? <mark className={styles.told}>{read}</mark> : <>{read}</>
}
