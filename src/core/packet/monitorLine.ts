import { frameLine, textOf, uiFrame, type Ax25Frame } from './ax25Frame'

const POLL_FINAL = 0x10

/** Whether the poll or final bit of a frame counted modulo 8 is set. */
const isPollFinal = ({ control }: Pick<Ax25Frame, 'control'>): boolean => (control & POLL_FINAL) !== 0

/** N(S), which only I frames have, and N(R) of a frame counted modulo 8. */
const sentCount = (control: number): number => (control >> 1) & 7
const receivedCount = (control: number): number => control >> 5

/** What a frame is, beside who sent it: text of UI frames, and in angle brackets what others are. */
function contentOf(frame: Ax25Frame): string {
  const { kind, control, info } = frame
  if (kind === 'UI') return textOf(info)
  const words = [kind as string]
  if (isPollFinal(frame)) words.push(frame.role === 'response' ? 'F' : 'P')
  if (kind === 'I') words.push(`S${sentCount(control)}`)
  if (['I', 'RR', 'RNR', 'REJ', 'SREJ'].includes(kind)) words.push(`R${receivedCount(control)}`)
  return `<${words.join(' ')}>${textOf(info)}`
}

/** A frame as a line: "Q1ABC>APZ001,WIDE1-1:text", "Q5RVR>Q5CTL-7:<SABM P>". */
export const monitorLine = (frame: Ax25Frame): string => `${frameLine(frame)}:${contentOf(frame)}`

/** A UI frame out of such a line. @returns what is wrong where it is none */
export function frameOfLine(line: string): { ok: true; value: Uint8Array } | { ok: false; error: string } {
  const match = /^([^>:]+)>([^:]+):([\s\S]*)$/.exec(line)
  if (!match) return { ok: false, error: `"${line}" is no frame: SOURCE>DESTINATION,PATH:text is` }
  const [destination, ...path] = match[2]!.split(',')
  if (path.length > 8) return { ok: false, error: `a path has at most 8 hops, not ${path.length}` }
  try {
    return { ok: true, value: withRepeated(uiFrame(match[1]!, destination!, path.map(withoutStar), match[3]!), path) }
  } catch (error) {
    return { ok: false, error: (error as Error).message }
  }
}

const withoutStar = (hop: string) => hop.replace(/\*$/, '')

/** A star stands at the last hop that has repeated a frame: those before it have, too. */
function withRepeated(frame: Uint8Array, path: readonly string[]): Uint8Array {
  const last = path.findLastIndex((hop) => hop.endsWith('*'))
  for (let hop = 0; hop <= last; hop++) frame[7 * (hop + 2) + 6]! |= 0x80
  return frame
}
