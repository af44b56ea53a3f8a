import { ENTER_KISS } from './tncAnswer'

const FRAME_END = 0xc0
const PROMPT = /cmd:\s*$/i
const KEPT_TEXT = 200
/** A TNC that says nothing for this long after a line is left alone. */
const ANSWER_MS = 3000
/** After the restart it must stay without a prompt for this long. */
const SETTLE_MS = 700
const MOST_IN_A_MINUTE = 3

/** A TNC that should be in KISS, watched for its prompt: after a power-up it may have forgotten everything. */
export interface TncRevival {
  /** What came since the last frame end. */
  text: string
  /** The line that goes out at the next prompt; null while nothing is wrong. */
  next: number | null
  sentMs: number
  begunMs: readonly number[]
}

export type RevivalAction =
  | { type: 'write'; words: string }
  /** It is in KISS again: its parameters are to be told. */
  | { type: 'parameters' }
  | { type: 'told'; words: string }

export const quietRevival: TncRevival = { text: '', next: null, sentMs: 0, begunMs: [] }

/**
 * At each prompt the next line goes out: the operator's own, then what puts it into KISS. A TNC that keeps coming back
 * with its prompt is given up for a minute.
 * @param lines of the operator, typed at the prompt before KISS
 */
export function reduceRevival(
  state: TncRevival,
  event: { type: 'bytes'; bytes: Uint8Array; nowMs: number } | { type: 'tick'; nowMs: number },
  lines: readonly string[],
): [TncRevival, RevivalAction[]] {
  const { nowMs } = event
  const all = [...lines.map((line) => `${line}\r`), ...ENTER_KISS]
  if (event.type === 'tick') {
    if (state.next === null) return [state, []]
    const waitedMs = nowMs - state.sentMs
    if (state.next === all.length && waitedMs > SETTLE_MS)
      return [
        { ...state, next: null, text: '' },
        [{ type: 'parameters' }, { type: 'told', words: 'It had left KISS; it was set up and put into KISS again.' }],
      ]
    return waitedMs > ANSWER_MS ? [{ ...state, next: null, text: '' }, []] : [state, []]
  }
  const last = event.bytes.lastIndexOf(FRAME_END)
  const fresh = String.fromCharCode(...event.bytes.subarray(last + 1))
  const text = ((last >= 0 ? '' : state.text) + fresh).slice(-KEPT_TEXT)
  if (!PROMPT.test(text)) return [{ ...state, text }, []]
  // A prompt after the restart: it did not go into KISS, and the round is begun anew or given up.
  const going = state.next !== null && state.next < all.length
  if (!going) {
    const begunMs = state.begunMs.filter((ms) => nowMs - ms < 60_000)
    if (begunMs.length >= MOST_IN_A_MINUTE)
      return [
        { ...state, text: '', next: null },
        [
          {
            type: 'told',
            words: 'It shows its prompt and does not stay in KISS. Set KISS in its own menu, or look at its memory battery.',
          },
        ],
      ]
    return [{ text: '', next: 1, sentMs: nowMs, begunMs: [...begunMs, nowMs] }, [{ type: 'write', words: all[0]! }]]
  }
  return [{ ...state, text: '', next: state.next! + 1, sentMs: nowMs }, [{ type: 'write', words: all[state.next!]! }]]
}

/** Commands that make a classic TNC transmit by itself: everything that is sent goes through the one gate. */
const TRANSMITS = /^\s*(c|co[a-z]*|k|b|be[a-z]*|cal[a-z]*|id|cq|t|trans|dig[a-z]*|gate[a-z]*|node[a-z]*)(\s|$)/i

/** What is wrong with a line that is typed at power-up, or undefined. */
export function problemOfStartLine(line: string): string | undefined {
  if (!/^[\x20-\x7e]*$/.test(line)) return 'Letters, digits and signs of ASCII only'
  if (TRANSMITS.test(line)) return `"${line.trim()}" can make the TNC transmit by itself; it is not sent`
  return undefined
}
