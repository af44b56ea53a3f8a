import { EXERCISES, exercisesDone, saysThrice, type PracticeEvent } from './exercises'

const logged = { type: 'logged', sent: true, reportSent: '599', reportReceived: '579', calledCq: false, saidAgain: false } as const
const sent = { type: 'sent', text: 'Q2LMN de Q5RVR k', lengthMs: 6000 } as const
const fading = { depthDb: 12, periodS: 20 }
const linearity = { productsDb: -13, atMost: false, withinDb: 1 }

describe('exercises are judged by what happened', () => {
  it.each<[PracticeEvent, string[]]>([
    [{ type: 'read', name: true, locator: true }, ['listen']],
    [{ type: 'read', name: true, locator: false }, []],
    [logged, ['answer']],
    [{ ...logged, calledCq: true }, ['cq']],
    [{ ...logged, snrDb: -11 }, ['answer', 'weak']],
    [{ ...logged, snrDb: -3 }, ['answer']],
    [{ ...logged, saidAgain: true }, ['answer', 'again']],
    [{ ...logged, reportReceived: '' }, []],
    // Written into the log without a word on the air.
    [{ ...logged, sent: false }, []],
    [{ ...sent, fading }, ['fading']],
    [{ ...sent, fading, lengthMs: 12_000 }, []],
    [{ ...sent, fading: { depthDb: 4 } }, []],
    [{ ...sent, linearity, text: 'ur imd abt minus 13 db om' }, ['overdriven']],
    [{ ...sent, linearity: { ...linearity, atMost: true }, text: 'ur imd is fine' }, []],
    [{ ...sent, linearity: { ...linearity, productsDb: -40, hum: { db: -18, hz: 100 } }, text: 'i see hum om' }, ['overdriven']],
    [{ ...sent, linearity }, []],
    [{ type: 'silenced' }, ['silence']],
  ])('%j', (event, done) => expect(exercisesDone(event)).toEqual(done))

  it('each of them can be done, and says how', () => {
    for (const { title, todo } of EXERCISES) expect(title && /\.$/.test(todo)).toBeTruthy()
    expect(new Set(EXERCISES.map(({ id }) => id)).size).toBe(EXERCISES.length)
  })
})

it.each([
  ['Q2LMN de Q5RVR Q5RVR Q5RVR k', true],
  ['name Rowan Rowan Rowan', true],
  ['cq cq cq de Q5RVR', true],
  ['Q2LMN de Q5RVR Q5RVR k', false],
  ['', false],
])('"%s" says something three times: %s', (text, thrice) => expect(saysThrice(text)).toBe(thrice))
