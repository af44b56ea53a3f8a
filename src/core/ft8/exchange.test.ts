import {
  describeExchange,
  nextTransmission,
  reduceExchange,
  type ExchangeEvent,
  type ExchangeManner,
  type ExchangeState,
  type MadeContact,
} from './exchange'
import { createCallMemory } from './callHash'
import { packMessage } from './payload'
import { heardAs } from './simulate'

const manner: ExchangeManner = { ownCall: 'Q5RVR', ownLocator: 'JN97LK', finish: 'RR73', maxTries: 3, maxCqTries: 2 }

const decode = (text: string, snrDb = -8) => heardAs(text, { snrDb }, createCallMemory(50, ['Q5RVR', 'Q1ABC', 'Q0/Q5RVR']))!

/** Runs an exchange: even slots are heard, odd ones are sent in, for an answer to a CQ heard in slot 0. */
function play(start: ExchangeEvent, heard: readonly (readonly string[])[], silencedAt?: number) {
  let state: ExchangeState = { phase: 'idle' }
  const contacts: MadeContact[] = []
  const said: string[] = []
  const step = (event: ExchangeEvent) => {
    const [next, effects] = reduceExchange(state, event)
    state = next
    effects.forEach((effect) => contacts.push(effect.contact))
  }
  step(start)
  const calling = start.type === 'callCq'
  let slot = calling ? 0 : 1
  for (const texts of [...heard, undefined]) {
    const next = nextTransmission(state)
    if (next) {
      said.push(next.text)
      step({ type: 'sent', slotIndex: slot, slotUtcMs: slot * 15_000, text: next.text, complete: slot !== silencedAt })
    }
    if (!texts) break
    step({ type: 'heard', slotIndex: slot + 1, slotUtcMs: (slot + 1) * 15_000, decodes: texts.map((t) => decode(t)) })
    slot += 2
  }
  return { state: state as ExchangeState, contacts, said }
}

const answer = (text: string, own = manner): ExchangeEvent => ({
  type: 'answer',
  manner: own,
  decode: decode(text),
  slotIndex: 0,
  slotUtcMs: 0,
  audioOffsetHz: 1500,
})
const callCq = (own = manner): ExchangeEvent => ({ type: 'callCq', manner: own, txParity: 'even', audioOffsetHz: 1500 })

describe('answering', () => {
  it('runs from a CQ to a contact in the log and a 73', () => {
    const { state, contacts, said } = play(answer('CQ Q1ABC JO31'), [['Q5RVR Q1ABC -05'], ['Q5RVR Q1ABC RR73']])
    expect(said).toEqual(['Q1ABC Q5RVR JN97', 'Q1ABC Q5RVR R-08', 'Q1ABC Q5RVR 73'])
    expect(state).toMatchObject({ phase: 'ended', reason: 'complete' })
    expect(contacts).toHaveLength(1)
    expect(contacts[0]).toMatchObject({ call: 'Q1ABC', locator: 'JO31', reportSentDb: -8, reportReceivedDb: -5, startedUtcMs: 0 })
    expect(contacts[0]!.evidence.map((e) => e.direction)).toEqual(['heard', 'sent', 'heard', 'sent', 'heard'])
  })

  it.each([
    ['a station that starts with its report', 'Q5RVR Q1ABC -05', 'Q1ABC Q5RVR R-08'],
    ['a station that calls with its locator', 'Q5RVR Q1ABC JO31', 'Q1ABC Q5RVR -08'],
    ['a station that calls bare', 'Q5RVR Q1ABC', 'Q1ABC Q5RVR -08'],
    ['a station that ends with another', 'Q2DEF Q1ABC 73', 'Q1ABC Q5RVR JN97'],
  ])('answers %s rightly', (_, heard, says) => expect(play(answer(heard), []).said).toEqual([says]))

  it('repeats a step until its tries run out, then says so', () => {
    const { state, said, contacts } = play(answer('CQ Q1ABC JO31'), [[], [], [], []])
    expect(said).toEqual(Array(3).fill('Q1ABC Q5RVR JN97'))
    expect(state).toMatchObject({ phase: 'ended', reason: 'noAnswer' })
    expect(describeExchange(state)).toBe('Q1ABC did not answer 3 times: stopped.')
    expect(contacts).toEqual([])
  })

  it('counts tries anew when the exchange moves on', () => {
    const { said, state } = play(answer('CQ Q1ABC JO31'), [[], [], ['Q5RVR Q1ABC -05'], [], ['Q5RVR Q1ABC RRR']])
    expect(said).toEqual([...Array<string>(3).fill('Q1ABC Q5RVR JN97'), 'Q1ABC Q5RVR R-08', 'Q1ABC Q5RVR R-08', 'Q1ABC Q5RVR 73'])
    expect(state).toMatchObject({ phase: 'ended', reason: 'complete' })
  })

  it('notices that they went to someone else', () => {
    const { state } = play(answer('CQ Q1ABC JO31'), [['Q7XYZ Q1ABC -03']])
    expect(state).toMatchObject({ phase: 'ended', reason: 'workingOther' })
  })

  it('does not take an acknowledgement for a contact before a report', () => {
    const { contacts, state } = play(answer('CQ Q1ABC JO31'), [['Q5RVR Q1ABC RR73']])
    expect(contacts).toEqual([])
    expect(state.phase).toBe('underway')
  })

  it('stores a contact once however often RR73 is repeated', () => {
    let state: ExchangeState = { phase: 'idle' }
    let contacts = 0
    for (const event of [
      answer('CQ Q1ABC JO31'),
      { type: 'sent', slotIndex: 1, slotUtcMs: 15_000, text: 'Q1ABC Q5RVR JN97', complete: true },
      { type: 'heard', slotIndex: 2, slotUtcMs: 30_000, decodes: [decode('Q5RVR Q1ABC -05')] },
      { type: 'sent', slotIndex: 3, slotUtcMs: 45_000, text: 'Q1ABC Q5RVR R-08', complete: true },
      { type: 'heard', slotIndex: 4, slotUtcMs: 60_000, decodes: [decode('Q5RVR Q1ABC RR73')] },
      { type: 'heard', slotIndex: 6, slotUtcMs: 90_000, decodes: [decode('Q5RVR Q1ABC RR73')] },
    ] as ExchangeEvent[]) {
      const [next, effects] = reduceExchange(state, event)
      state = next
      contacts += effects.length
    }
    expect(contacts).toBe(1)
  })

  it('ignores what it cannot have heard in its own slots', () => {
    let [state] = reduceExchange({ phase: 'idle' }, answer('CQ Q1ABC JO31'))
    ;[state] = reduceExchange(state, { type: 'heard', slotIndex: 1, slotUtcMs: 15_000, decodes: [decode('Q5RVR Q1ABC -05')] })
    expect(nextTransmission(state)?.step).toBe('locator')
  })
})

describe('calling CQ', () => {
  it('takes who answers through to the log', () => {
    const { said, state, contacts } = play(callCq(), [['Q5RVR Q1ABC JO31'], ['Q5RVR Q1ABC R-11'], ['Q5RVR Q1ABC 73']])
    expect(said).toEqual(['CQ Q5RVR JN97', 'Q1ABC Q5RVR -08', 'Q1ABC Q5RVR RR73'])
    expect(state).toMatchObject({ phase: 'ended', reason: 'complete' })
    expect(contacts[0]).toMatchObject({ call: 'Q1ABC', locator: 'JO31', reportSentDb: -8, reportReceivedDb: -11 })
  })

  it('takes silence after RR73 for consent', () => {
    const { state, contacts } = play(callCq(), [['Q5RVR Q1ABC JO31'], ['Q5RVR Q1ABC R-11'], []])
    expect(state).toMatchObject({ phase: 'ended', reason: 'complete' })
    expect(contacts).toHaveLength(1)
  })

  it('waits for a 73 after RRR', () => {
    const { said, state } = play(callCq({ ...manner, finish: 'RRR' }), [['Q5RVR Q1ABC JO31'], ['Q5RVR Q1ABC R-11'], [], ['Q5RVR Q1ABC 73']])
    expect(said.slice(2)).toEqual(['Q1ABC Q5RVR RRR', 'Q1ABC Q5RVR RRR'])
    expect(state).toMatchObject({ phase: 'ended', reason: 'complete' })
  })

  it('sends the report again when the call is repeated', () => {
    const { said } = play(callCq(), [['Q5RVR Q1ABC JO31'], ['Q5RVR Q1ABC JO31'], ['Q5RVR Q1ABC R-11']])
    expect(said).toEqual(['CQ Q5RVR JN97', 'Q1ABC Q5RVR -08', 'Q1ABC Q5RVR -08', 'Q1ABC Q5RVR RR73'])
  })

  it('takes one of several and offers the others, never both', () => {
    const { state, said } = play(callCq(), [['Q5RVR Q1ABC JO31', 'Q5RVR Q2DEF KN44']])
    expect(said).toHaveLength(2)
    expect(state.phase === 'underway' && state.offers).toEqual(['Q2DEF'])
  })

  it('stops by itself when nobody answers', () => {
    const { state, said } = play(callCq(), [[], [], []])
    expect(said).toHaveLength(2)
    expect(describeExchange(state)).toBe('Nobody answered 2 calls: stopped.')
  })

  it('makes no contact of an RR73 that was cut off', () => {
    const { contacts } = play(callCq(), [['Q5RVR Q1ABC JO31'], ['Q5RVR Q1ABC R-11']], 4)
    expect(contacts).toEqual([])
  })
})

describe('compound calls', () => {
  it('says the own call in full first, then as a hash beside reports', () => {
    const own = { ...manner, ownCall: 'Q0/Q5RVR' }
    const { said } = play(answer('CQ Q1ABC JO31', own), [['<Q0/Q5RVR> Q1ABC -05'], ['<Q0/Q5RVR> Q1ABC RR73']])
    expect(said).toEqual(['<Q1ABC> Q0/Q5RVR', 'Q1ABC <Q0/Q5RVR> R-08', '<Q1ABC> Q0/Q5RVR 73'])
    said.forEach((text) => expect(packMessage(text).ok).toBe(true))
  })
})

describe('a person', () => {
  it.each([
    ['stop', 'stopped'],
    ['silence', 'silenced'],
  ] as const)('ends it by %s', (type, reason) => {
    const [state] = reduceExchange(reduceExchange({ phase: 'idle' }, callCq())[0], { type })
    expect(state).toMatchObject({ phase: 'ended', reason })
    expect(nextTransmission(state)).toBeUndefined()
  })
  it('may stop nothing', () => expect(reduceExchange({ phase: 'idle' }, { type: 'stop' })).toEqual([{ phase: 'idle' }, []]))
})
