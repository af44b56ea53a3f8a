import { closedLink, usualLinkSettings, type LinkState } from '../link/linkState'
import { byteWords, sessionWords } from './sessionWords'

const link = (change: Partial<LinkState>): LinkState => ({ ...closedLink({ ...usualLinkSettings }), phase: 'open', ...change })
const sent = (bytes: number, leftMs = 0) => ({ info: new Uint8Array(bytes), leftMs, again: 0 })

const CASES: [string, Partial<LinkState>, number?][] = [
  ['Not connected.', { phase: 'closed' }],
  ['No answer to 10 calls.', { phase: 'closed', reason: 'No answer to 10 calls.' }],
  ['Calling, second try of 10. The next in 4 s.', { phase: 'calling', tries: 2, answerBy: 13_500 }],
  ['Connected; asking what the other side can do.', { negotiating: true }],
  ['Connected; nothing waits to be sent.', {}],
  ['Connected; nothing is taken here at the moment.', { weAreBusy: true }],
  ['128 bytes without an acknowledgement, 1 frame on the way.', { sent: [sent(128)] }],
  [
    '1.1 kB without an acknowledgement, 2 frames on the way, about 11 s more.',
    { sent: [sent(28), sent(72)], waiting: [new Uint8Array(1000)] },
    100,
  ],
  [
    'No acknowledgement for 9 s, third try of 10. The next in 2 s.',
    { sent: [sent(9, 1000)], asked: true, recovering: true, tries: 3, answerBy: 12_000 },
  ],
  ['The other side takes nothing at the moment: it is asked again and again.', { theyAreBusy: true, sent: [sent(9)] }],
  ['All is acknowledged; saying goodbye, first try of 10.', { phase: 'closing', tries: 1 }],
]

it.each(CASES)('a session says "%s"', (...[words, change, bytesPerS]) => {
  expect(sessionWords(link(change), 10_000, bytesPerS)).toBe(words)
})

it.each([
  [1, '1 byte'],
  [999, '999 bytes'],
  [1050, '1.1 kB'],
])('%i bytes are "%s"', (bytes, words) => expect(byteWords(bytes)).toBe(words))
