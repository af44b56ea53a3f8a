/** Where Windows-1252 differs from Latin-1: the codes 128 to 159. */
const FROM_128 = '€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009dž\u0178'

/** The character of a code of Windows-1252, 0 to 255. */
export const windows1252 = (code: number): string => FROM_128[code - 128] ?? String.fromCharCode(code)

/** Text in Windows-1252. Some systems take that name for Latin-1, so it is not left to them. */
export function decodeWindows1252(bytes: Uint8Array): string {
  let text = ''
  for (const code of bytes) text += windows1252(code)
  return text
}
