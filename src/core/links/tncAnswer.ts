import { KissDecoder, parseAx25, textOf } from '../packet'

/** What a TNC's answer shows about it. */
export type TncAnswer = 'command' | 'kiss' | 'garble' | 'text' | 'silent'

/**
 * Judges what came from a TNC: a prompt of its command mode, frames of KISS, readable text that is neither, garble as from
 * a line at another speed, or nothing.
 */
export function judgeTncAnswer(bytes: Uint8Array): TncAnswer {
  if (bytes.length === 0) return 'silent'
  for (const event of new KissDecoder().push(bytes))
    if (event.type === 'frame' && event.frame.command === 0 && parseAx25(event.frame.data).ok) return 'kiss'
  const text = textOf(bytes)
  if (/cmd:|\?eh\b|\?what\?/i.test(text)) return 'command'
  const readable = bytes.filter((byte) => byte === 0x0d || byte === 0x0a || byte === 0x09 || (byte >= 0x20 && byte < 0x7f)).length
  if (readable >= 0.9 * bytes.length && bytes.length >= 4) return 'text'
  return 'garble'
}

/** What puts a TNC that shows its prompt into KISS. */
export const ENTER_KISS = ['KISS ON\r', 'RESTART\r'] as const
