import { decodeWindows1252, windows1252 } from './windows1252'

describe('Windows-1252', () => {
  it('is Latin-1 but for 128 to 159', () => {
    expect(decodeWindows1252(Uint8Array.of(0x5a, 0xf6, 0x20, 0x80, 0x93, 0x9f, 0xff))).toBe('Zö €“Ÿÿ')
    expect(Array.from({ length: 128 }, (_, code) => windows1252(code)).join('')).toBe(
      String.fromCharCode(...Array.from({ length: 128 }, (_, code) => code)),
    )
    expect(new Set(Array.from({ length: 256 }, (_, code) => windows1252(code))).size).toBe(256)
  })
})
