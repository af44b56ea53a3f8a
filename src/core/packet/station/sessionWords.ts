import { pendingBytes, type LinkState } from '../link/linkState'

const count = (number: number, word: string) => `${number} ${word}${number === 1 ? '' : 's'}`
const ordinal = (n: number) =>
  ['first', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh', 'eighth', 'ninth', 'tenth'][n - 1] ?? `${n}th`

export function byteWords(bytes: number): string {
  return bytes < 1000 ? count(bytes, 'byte') : `${(bytes / 1000).toFixed(1)} kB`
}

/** What a session is doing now, and why it waits, in words. @param bytesPerS that were acknowledged lately */
export function sessionWords(state: LinkState, nowMs: number, bytesPerS?: number): string {
  const { phase, settings, tries, asked, recovering, sent, theyAreBusy, weAreBusy, ending } = state
  const nextS = state.answerBy === undefined ? undefined : Math.max(0, Math.ceil((state.answerBy - nowMs) / 1000))
  const again = nextS === undefined ? '' : ` The next in ${nextS} s.`
  if (phase === 'closed') return state.reason ?? 'Not connected.'
  if (phase === 'calling') return `Calling, ${ordinal(tries)} try of ${settings.tries}.${again}`
  if (phase === 'closing') return `All is acknowledged; saying goodbye, ${ordinal(tries)} try of ${settings.tries}.`
  if (state.negotiating) return 'Connected; asking what the other side can do.'
  if (recovering && asked) {
    const waitedS = Math.max(1, Math.round((nowMs - Math.min(nowMs, ...sent.map(({ leftMs }) => leftMs))) / 1000))
    return `No acknowledgement for ${waitedS} s, ${ordinal(tries)} try of ${settings.tries}.${again}`
  }
  if (theyAreBusy) return 'The other side takes nothing at the moment: it is asked again and again.'
  const pending = pendingBytes(state)
  if (pending > 0) {
    const rest = bytesPerS !== undefined && bytesPerS > 0 ? `, about ${Math.max(1, Math.round(pending / bytesPerS))} s more` : ''
    return `${byteWords(pending)} without an acknowledgement, ${count(sent.length, 'frame')} on the way${rest}.`
  }
  if (ending) return 'All is acknowledged; saying goodbye.'
  if (weAreBusy) return 'Connected; nothing is taken here at the moment.'
  return 'Connected; nothing waits to be sent.'
}
