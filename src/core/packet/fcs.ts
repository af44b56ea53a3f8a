/** CRC-16 of HDLC: x^16 + x^12 + x^5 + 1, initial FFFF, reflected. Source: "AX.25 Link Access Protocol", version 2.2, section 3.8. */
const TABLE = Uint16Array.from({ length: 256 }, (_, byte) => {
  let crc = byte
  for (let k = 0; k < 8; k++) crc = crc & 1 ? (crc >>> 1) ^ 0x8408 : crc >>> 1
  return crc
})

/** Of a frame that ends with its own check sequence, the remainder is always this. */
const GOOD_REMAINDER = 0xf0b8

const remainder = (bytes: Uint8Array): number => {
  let crc = 0xffff
  for (const byte of bytes) crc = (crc >>> 8) ^ TABLE[(crc ^ byte) & 255]!
  return crc
}

/** Check sequence of a frame; it goes out low byte first. */
export const fcsOf = (frame: Uint8Array): number => remainder(frame) ^ 0xffff

/** The frame with its check sequence behind it. */
export function withFcs(frame: Uint8Array): Uint8Array {
  const fcs = fcsOf(frame)
  const out = new Uint8Array(frame.length + 2)
  out.set(frame)
  out.set([fcs & 255, fcs >> 8], frame.length)
  return out
}

/** Whether bytes end with the check sequence of what stands before it. */
export const isGood = (bytes: Uint8Array): boolean => bytes.length > 2 && remainder(bytes) === GOOD_REMAINDER
