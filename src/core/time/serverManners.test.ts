import { FRESH_MANNERS, mayAsk, minded, type ServerManners } from './serverManners'

/** What a server's answers, one after another, lead to. */
const after = (...answers: (string | undefined)[]): ServerManners =>
  answers.reduce((manners: ServerManners, kiss, i) => minded(manners, kiss, i * 1000), FRESH_MANNERS)

describe('how a time server is asked', () => {
  it.each([
    ['nothing yet', after(), 0, undefined],
    ['an answer just now', after(undefined), 500, /a moment ago: again in 2 s/],
    ['an answer a while ago', after(undefined), 2000, undefined],
    ['RATE', after('RATE'), 30_000, /asked too often.* in 34 s/],
    ['RATE, waited for', after('RATE'), 64_000, undefined],
    ['RATE twice', after('RATE', 'RATE'), 120_000, /asked too often.* in 3 min/],
    ['RATE and then an answer', after('RATE', undefined), 64_999, /asked too often/],
    ['a code nobody knows', after('XBAD'), 1000, /asked too often/],
    ['DENY', after('DENY'), 1e9, /no more questions from here \(DENY\).*take it off the list/],
    ['RSTR', after('RSTR', undefined), 1e9, /\(RSTR\)/],
  ])('after %s', (_, manners, nowMs, why) => {
    if (why === undefined) expect(mayAsk(manners, nowMs)).toBeUndefined()
    else expect(mayAsk(manners, nowMs)).toMatch(why)
  })
  it('is never put off for longer than four hours', () => {
    const manners = after(...new Array<string>(20).fill('RATE'))
    expect(manners.spacingMs).toBe(4 * 3_600_000)
  })
})
