/**
 * Text as every database and file can hold it: without U+0000, which the embedded database takes in no text, and with
 * U+FFFD for halves of characters, which UTF-8 cannot write. Such text comes from damaged files and from programs, never by hand.
 */
export function storable(text: string): string {
  return text.replaceAll('\u0000', '').replace(/\p{Surrogate}/gu, '\ufffd')
}
