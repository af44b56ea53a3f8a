import type { Span } from '@/engine/modes/psk31/state'
import styles from './Ribbons.module.css'

/** Text as it was heard; what the waveform alone does not carry stands faint, and is said to be. */
export function HeardText({ text, faint }: { text: string; faint: readonly Span[] | undefined }) {
  if (!faint || faint.length === 0) return <>{text}</>
  const pieces: { from: number; text: string; faint: boolean }[] = []
  let at = 0
  for (const [from, to] of faint) {
    if (from > at) pieces.push({ from: at, text: text.slice(at, from), faint: false })
    pieces.push({ from, text: text.slice(from, to), faint: true })
    at = to
  }
  if (at < text.length) pieces.push({ from: at, text: text.slice(at), faint: false })
  return (
    <>
      {pieces.map((piece) =>
        piece.faint ? (
          <span key={piece.from} className={styles.faint} title="Not sure: too weak to be read by itself">
            {piece.text}
          </span>
        ) : (
          piece.text
        ),
      )}
    </>
  )
}
