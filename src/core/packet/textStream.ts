import { textOf } from './ax25Frame'

/** Bytes that a character of UTF-8 has, by its first one. */
const bytesOf = (first: number) => (first >= 0xf0 ? 4 : first >= 0xe0 ? 3 : first >= 0xc0 ? 2 : 1)

/**
 * Text out of pieces as frames bring them: a character that is cut by the end of one waits for the next, and so does the LF of a CR and LF
 * that are cut apart.
 */
export class TextStream {
  private rest = new Uint8Array(0)
  private endsWithCr = false

  push(bytes: Uint8Array): string {
    const whole = new Uint8Array(this.rest.length + bytes.length)
    whole.set(this.rest)
    whole.set(bytes, this.rest.length)
    let end = whole.length
    for (let back = 1; back <= Math.min(3, whole.length); back++) {
      const byte = whole[whole.length - back]!
      if (byte < 0x80) break
      if (byte < 0xc0) continue
      if (bytesOf(byte) > back) end = whole.length - back
      break
    }
    this.rest = whole.slice(end)
    const text = textOf(whole.subarray(0, end))
    const told = this.endsWithCr && text.startsWith('\n') ? text.slice(1) : text
    if (text !== '') this.endsWithCr = text.endsWith('\r')
    return told
  }
}
