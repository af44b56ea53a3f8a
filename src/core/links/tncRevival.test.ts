import { linkConfigSchema, defaultLinkConfig } from './linkContracts'
import { problemOfStartLine, quietRevival, reduceRevival, type RevivalAction, type TncRevival } from './tncRevival'

const bytes = (text: string) => Uint8Array.from(text, (c) => c.charCodeAt(0))
const LINES = ['MYCALL Q5RVR', 'TXDELAY 30']

/** Plays what a TNC says; gives all that was done. */
function play(events: ({ say: string; ms: number } | { ms: number })[], lines = LINES) {
  let state: TncRevival = quietRevival
  const done: RevivalAction[] = []
  for (const event of events) {
    const [next, actions] = reduceRevival(
      state,
      'say' in event ? { type: 'bytes', bytes: bytes(event.say), nowMs: event.ms } : { type: 'tick', nowMs: event.ms },
      lines,
    )
    state = next
    done.push(...actions)
  }
  return { state, done, words: done.map((a) => (a.type === 'write' ? a.words : a.type)) }
}

describe('a TNC that lost its settings', () => {
  it('is typed the operator’s lines, put into KISS, and told its parameters', () => {
    const { words, state } = play([
      { say: '\xc0\x00frame\xc0', ms: 0 },
      { say: '\r\nMade-up T', ms: 10 },
      { say: 'NC\r\ncmd:', ms: 20 },
      { say: '\r\nMYCALL was NOCALL\r\ncmd:', ms: 60 },
      { say: '\r\nTXDELAY was 30\r\ncmd:', ms: 100 },
      { say: '\r\nKISS ON\r\ncmd:', ms: 140 },
      { ms: 500 },
      { ms: 900 },
    ])
    expect(words).toEqual(['MYCALL Q5RVR\r', 'TXDELAY 30\r', 'KISS ON\r', 'RESTART\r', 'parameters', 'told'])
    expect(state.next).toBeNull()
  })

  it('is left alone while it talks in frames, whatever they carry', () => {
    expect(play([{ say: '\xc0\x00type cmd: \xc0', ms: 0 }, { say: 'cmd', ms: 5 }, { say: '\xc0', ms: 6 }, { ms: 9000 }]).done).toEqual([])
  })

  it('that falls silent half-way is given up, and helped at the next prompt', () => {
    expect(play([{ say: 'cmd:', ms: 0 }, { ms: 3100 }, { say: 'cmd:', ms: 4000 }]).words).toEqual(['MYCALL Q5RVR\r', 'MYCALL Q5RVR\r'])
  })

  it('that never goes into KISS is told of after three rounds, and tried again a minute later', () => {
    const prompts = Array.from({ length: 9 }, (_, i) => ({ say: 'cmd:', ms: 100 * i }))
    const { words } = play([...prompts, { say: 'cmd:', ms: 100_000 }], [])
    expect(words).toEqual([
      'KISS ON\r',
      'RESTART\r',
      'KISS ON\r',
      'RESTART\r',
      'KISS ON\r',
      'RESTART\r',
      'told',
      'told',
      'told',
      'KISS ON\r',
    ])
  })
})

describe('lines for power-up', () => {
  it.each([
    'BEACON EVERY 10',
    'b e 1',
    'CONNECT Q5CTL-7',
    'c q5ctl',
    'CONVERSE',
    'K',
    'CALIBRATE',
    'ID',
    'CQ',
    'DIGIPEAT ON',
    'GATEWAY ON',
  ])('refuse %s: it transmits', (line) => expect(problemOfStartLine(line)).toMatch(/transmit by itself/))
  it.each(['MYCALL Q5RVR', 'TXDELAY 30', 'PERSIST 63', 'KISSM ON', 'CWID OFF', 'HBAUD 1200', 'BBSMSGS ON'])('take %s', (line) =>
    expect(problemOfStartLine(line)).toBeUndefined(),
  )
  it('are part of the set-up', () => {
    const withLines = (startLines: string[]) =>
      linkConfigSchema.safeParse({ ...defaultLinkConfig, tnc: { ...defaultLinkConfig.tnc, startLines } })
    expect(withLines(['MYCALL Q5RVR']).success).toBe(true)
    expect(withLines(['BEACON EVERY 1']).error?.issues[0]?.message).toMatch(/transmit/)
    expect(withLines(['caf\u00e9']).error?.issues[0]?.message).toMatch(/ASCII/)
    const older = Object.fromEntries(Object.entries(defaultLinkConfig.tnc).filter(([name]) => name !== 'startLines'))
    expect(linkConfigSchema.parse({ ...defaultLinkConfig, tnc: older }).tnc.startLines).toEqual([])
  })
})
