import { TextStream } from './textStream'

const text = (value: string) => new TextEncoder().encode(value)

it('puts characters together wherever frames cut them', () => {
  const whole = text('Grüße, 73 de Q5RVR €𝄞\r\n>')
  for (let cut = 0; cut <= whole.length; cut++) {
    const stream = new TextStream()
    const told = stream.push(whole.subarray(0, cut)) + stream.push(whole.subarray(cut))
    expect(told.replace('\r\n', '\r')).toBe('Grüße, 73 de Q5RVR €𝄞\r>')
  }
})

it('shows bytes that are no UTF-8 as characters of their own, and holds back no more than three', () => {
  const stream = new TextStream()
  expect(stream.push(Uint8Array.of(0x41, 0xfc, 0x42))).toBe('AüB')
  expect(stream.push(Uint8Array.of(0x43, 0xfc))).toBe('C')
  expect(stream.push(text('D'))).toBe('üD')
})
