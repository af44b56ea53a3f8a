import { describeExchange, likelyNext, nextTransmission } from './describeExchange'
import { reduceExchange } from './exchange'
import type { ExchangeEvent, ExchangeManner, ExchangeState, MadeContact } from './exchangeState'
import { createCallMemory } from './callHash'
import { packMessage } from './payload'
import { heardAs } from './simulate'
import { finishedByEvidence, keepUnfinished, unfinishedFrom } from './unfinished'

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
    expect(describeExchange(state)).toBe('Q1ABC did not answer 3 tries: stopped.')
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

  it.each([
    ['stops when they want the figures of a contest', 'Q5RVR', 'contest', /wants the figures of a contest/],
    ['notices that they went to someone else in a contest', 'Q7XYZ', 'workingOther', /working another station/],
  ])('%s', (_name, to, reason, words) => {
    const started = reduceExchange({ phase: 'idle' }, answer('CQ Q1ABC JO31'))[0]
    const text = `${to} Q1ABC R 2A #11`
    const heard = { ...decode('Q5RVR Q1ABC -05'), text, message: { kind: 'contest', text, to, from: 'Q1ABC' } as const }
    const [state, effects] = reduceExchange(started, { type: 'heard', slotIndex: 2, slotUtcMs: 30_000, decodes: [heard] })
    expect(state).toMatchObject({ phase: 'ended', reason })
    expect(describeExchange(state)).toMatch(words)
    expect(effects).toEqual([])
    expect(unfinishedFrom(state, 60_000)).toBeUndefined()
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

  it('says that it only waits for their end after RR73, and that it will repeat RRR', () => {
    const upTo = (finish: 'RR73' | 'RRR') => play(callCq({ ...manner, finish }), [['Q5RVR Q1ABC JO31'], ['Q5RVR Q1ABC R-11']]).state
    expect(describeExchange(upTo('RR73'))).toBe('Contact with Q1ABC is made; waiting for their 73.')
    expect(describeExchange(upTo('RRR'))).toBe('With Q1ABC, try 2 of 3')
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

  const again = { ...manner, cqAgain: 2 }
  const worked = [['Q5RVR Q1ABC JO31'], ['Q5RVR Q1ABC R-11'], ['Q5RVR Q1ABC 73']]
  it('calls again by itself after a contact, as often as was said and no more', () => {
    const second = worked.map(([text]) => [text!.replace('Q1ABC', 'Q2DEF')])
    const third = worked.map(([text]) => [text!.replace('Q1ABC', 'Q3LMN')])
    const { said, state, contacts } = play(callCq(again), [...worked, ...second, ...third, [], []])
    expect(said.filter((text) => text.startsWith('CQ'))).toHaveLength(3)
    expect(contacts.map((c) => c.call)).toEqual(['Q1ABC', 'Q2DEF', 'Q3LMN'])
    expect(state).toMatchObject({ phase: 'ended', reason: 'complete', otherCall: 'Q3LMN' })
  })
  it('says so beforehand, and how often it still will', () => {
    expect(likelyNext(play(callCq(again), worked.slice(0, 2)).state)).toEqual({ when: 'it is complete', text: 'CQ Q5RVR JN97' })
    expect(describeExchange(play(callCq(again), worked).state)).toBe('Calling CQ, 1 of 2 sent; again after a contact, 1 more time')
  })
  it('does not call over somebody who waits: a person says who is next, and then it goes on', () => {
    const { state, said } = play(callCq(again), [worked[0]!, [...worked[1]!, 'Q5RVR Q2DEF KN44'], worked[2]!])
    expect(state).toMatchObject({ phase: 'ended', reason: 'complete', cqLeft: 2 })
    expect(said.filter((text) => text.startsWith('CQ'))).toHaveLength(1)
    const waits = state.phase === 'ended' && state.queue[0]!
    if (!waits) throw new Error('nobody waits')
    const next = { manner: again, decode: waits.decode, slotIndex: waits.slotIndex, slotUtcMs: 0, audioOffsetHz: 1500 }
    expect(reduceExchange(state, { type: 'answer', ...next })[0]).toMatchObject({ phase: 'underway', otherCall: 'Q2DEF', cqLeft: 2 })
  })
  it('gives its roger once more to whoever missed it, before it goes on calling', () => {
    const { said, contacts } = play(callCq(again), [...worked.slice(0, 2), [], ['Q5RVR Q1ABC R-11'], [], []])
    expect(said).toEqual([
      ...['CQ Q5RVR JN97', 'Q1ABC Q5RVR -08', 'Q1ABC Q5RVR RR73'],
      ...['CQ Q5RVR JN97', 'Q1ABC Q5RVR RR73', 'CQ Q5RVR JN97', 'CQ Q5RVR JN97'],
    ])
    expect(contacts).toHaveLength(1)
  })
  it('gives its roger first, and keeps who answered the CQ in the same slot waiting', () => {
    const { state, said } = play(callCq(again), [...worked, ['Q5RVR Q1ABC R-11', 'Q5RVR Q2DEF KN44']])
    expect(said.at(-1)).toBe('Q1ABC Q5RVR RR73')
    expect(state.phase === 'underway' && state.queue.map((caller) => caller.call)).toEqual(['Q2DEF'])
  })
  it('does not call again after nobody answered, after an answer to another, after Stop and Silence', () => {
    expect(play(callCq(again), [[], [], []]).state).toMatchObject({ phase: 'ended', reason: 'noAnswer' })
    expect(play(answer('CQ Q1ABC JO31', again), [['Q5RVR Q1ABC -05'], ['Q5RVR Q1ABC RR73']]).state.phase).toBe('ended')
    const { state } = play(callCq(again), worked.slice(0, 2))
    expect(reduceExchange(state, { type: 'stop' })[0].phase).toBe('ended')
    expect(reduceExchange(state, { type: 'silence' })[0].phase).toBe('ended')
  })

  it('takes one of several and offers the others, never both', () => {
    const { state, said } = play(callCq(), [['Q5RVR Q1ABC JO31', 'Q5RVR Q2DEF KN44']])
    expect(said).toHaveLength(2)
    expect(state.phase === 'underway' && state.queue.map((caller) => caller.call)).toEqual(['Q2DEF'])
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

describe('what calls nobody', () => {
  it.each(['RRR', 'RR73', '73'])('a stray %s from an earlier contact does not take a CQ', (word) => {
    const { state, said } = play(callCq(), [[`Q5RVR Q1ABC ${word}`], ['Q5RVR Q7XYZ JO31']])
    expect(said.slice(0, 2)).toEqual(['CQ Q5RVR JN97', 'CQ Q5RVR JN97'])
    expect(state).toMatchObject({ phase: 'underway', otherCall: 'Q7XYZ' })
  })

  it('a free text that finds no slot any more is not forgotten in silence', () => {
    const started = play(answer('CQ Q1ABC JO31'), []).state
    const [asked] = reduceExchange(started, { type: 'say', manner, text: 'TNX ROWAN', txParity: 'odd', audioOffsetHz: 1500 })
    const [state] = reduceExchange(asked, { type: 'heard', slotIndex: 2, slotUtcMs: 30_000, decodes: [decode('Q7XYZ Q1ABC -03')] })
    expect(describeExchange(state)).toMatch(/working another station.*"TNX ROWAN" was not sent\.$/)
  })
})

describe('compound calls', () => {
  it('are not tried against each other, for no message with a report holds two', () => {
    const own = { ...manner, ownCall: 'Q0/Q5RVR' }
    const answered = play(answer('CQ DL/Q6ABC', own), [[]])
    expect(answered).toMatchObject({ said: [], state: { phase: 'ended', reason: 'unsendable' } })
    expect(describeExchange(answered.state)).toMatch(/DL\/Q6ABC cannot be worked with Q0\/Q5RVR/)
    expect(unfinishedFrom(answered.state, 60_000)).toBeUndefined()
    const called = play(callCq(own), [['<Q0/Q5RVR> DL/Q6ABC'], ['<Q0/Q5RVR> Q1ABC JO31']])
    expect(called.state).toMatchObject({ phase: 'underway', otherCall: 'Q1ABC', queue: [{ call: 'DL/Q6ABC' }] })
  })

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

/** Steps through events and keeps what came out. */
function run(events: readonly ExchangeEvent[], from: ExchangeState = { phase: 'idle' }) {
  let state = from
  const contacts: MadeContact[] = []
  for (const event of events) {
    const [next, effects] = reduceExchange(state, event)
    state = next
    effects.forEach((effect) => contacts.push(effect.contact))
  }
  return { state, contacts, next: nextTransmission(state)?.text }
}
const heard = (slotIndex: number, texts: readonly string[], more: { early?: boolean; snrDb?: number } = {}): ExchangeEvent => ({
  type: 'heard',
  slotIndex,
  slotUtcMs: slotIndex * 15_000,
  decodes: texts.map((text, i) => decode(text, (more.snrDb ?? -8) + i)),
  ...(more.early && { early: true }),
})
const sent = (slotIndex: number, text: string, complete = true): ExchangeEvent => ({
  type: 'sent',
  slotIndex,
  slotUtcMs: slotIndex * 15_000,
  text,
  complete,
})

describe('every answer at every step', () => {
  /** Brings an exchange with Q1ABC to a step, as the one who answers or the one who called CQ. */
  const AT: Record<string, readonly ExchangeEvent[]> = {
    locator: [answer('CQ Q1ABC JO31'), sent(1, 'Q1ABC Q5RVR JN97')],
    report: [answer('Q5RVR Q1ABC JO31'), sent(1, 'Q1ABC Q5RVR -08')],
    rogerReport: [answer('CQ Q1ABC JO31'), sent(1, 'Q1ABC Q5RVR JN97'), heard(2, ['Q5RVR Q1ABC -05']), sent(3, 'Q1ABC Q5RVR R-08')],
    roger: [answer('Q5RVR Q1ABC JO31'), sent(1, 'Q1ABC Q5RVR -08'), heard(2, ['Q5RVR Q1ABC R-05']), sent(3, 'Q1ABC Q5RVR RR73')],
  }
  it.each([
    ['locator', 'JO31', 'Q1ABC Q5RVR -08', 0],
    ['locator', '-05', 'Q1ABC Q5RVR R-08', 0],
    ['locator', 'R-05', 'Q1ABC Q5RVR R-08', 0],
    ['locator', 'RR73', 'Q1ABC Q5RVR JN97', 0],
    ['locator', '73', 'Q1ABC Q5RVR JN97', 0],
    ['report', 'JO31', 'Q1ABC Q5RVR -08', 0],
    ['report', '-05', 'Q1ABC Q5RVR R-08', 0],
    ['report', 'R-05', 'Q1ABC Q5RVR RR73', 0],
    ['report', 'RR73', 'Q1ABC Q5RVR -08', 0],
    ['rogerReport', 'JO31', 'Q1ABC Q5RVR -08', 0],
    ['rogerReport', '-05', 'Q1ABC Q5RVR R-08', 0],
    ['rogerReport', 'R-05', 'Q1ABC Q5RVR RR73', 0],
    ['rogerReport', 'RR73', 'Q1ABC Q5RVR 73', 1],
    ['rogerReport', 'RRR', 'Q1ABC Q5RVR 73', 1],
    ['rogerReport', '73', undefined, 1],
    ['roger', 'JO31', 'Q1ABC Q5RVR -08', 1],
    ['roger', 'R-05', 'Q1ABC Q5RVR RR73', 1],
    ['roger', 'RR73', 'Q1ABC Q5RVR 73', 1],
    ['roger', '73', undefined, 1],
  ] as const)('at %s, hearing %s', (step, said, says, contacts) => {
    const result = run([...AT[step]!, heard(step === 'locator' || step === 'report' ? 2 : 4, [`Q5RVR Q1ABC ${said}`])])
    expect(result.next).toBe(says)
    expect(result.contacts).toHaveLength(contacts)
  })

  it.each(Object.keys(AT))('at %s, hearing nothing, says the same again or is done', (step) => {
    const at = run(AT[step]!)
    const after = run([heard(step === 'locator' || step === 'report' ? 2 : 4, [])], at.state)
    if (step === 'roger') expect(after.state).toMatchObject({ phase: 'ended', reason: 'complete' })
    else expect(after.next).toBe(at.next)
  })

  it('says 73 once', () => {
    const events = [...AT.rogerReport!, heard(4, ['Q5RVR Q1ABC RR73']), sent(5, 'Q1ABC Q5RVR 73')]
    expect(run(events).state).toMatchObject({ phase: 'ended', reason: 'complete' })
    // They did not hear it: it is offered once more, and a person decides.
    const repeated = run([...events, heard(6, ['Q5RVR Q1ABC RR73'])])
    expect(repeated.next).toBeUndefined()
    expect(repeated.state).toMatchObject({ phase: 'ended', asksAgain: 'seventyThree' })
    const again = run([{ type: 'again' }], repeated.state)
    expect(again.next).toBe('Q1ABC Q5RVR 73')
    expect(run([sent(7, 'Q1ABC Q5RVR 73')], again.state)).toMatchObject({ contacts: [], state: { phase: 'ended', reason: 'complete' } })
  })
})

describe('two looks at a slot', () => {
  const begun = [answer('CQ Q1ABC JO31'), sent(1, 'Q1ABC Q5RVR JN97')]
  it('acts on an early answer, and only once', () => {
    const early = run([...begun, heard(2, ['Q5RVR Q1ABC -05'], { early: true })])
    expect(early.next).toBe('Q1ABC Q5RVR R-08')
    const both = run([heard(2, ['Q5RVR Q1ABC -05', 'Q5RVR Q7XYZ JN18'])], early.state)
    expect(both.next).toBe('Q1ABC Q5RVR R-08')
    expect(both.state).toMatchObject({ queue: [{ call: 'Q7XYZ' }] })
    expect(both.state.phase === 'underway' && both.state.ladder.filter((e) => e.text === 'Q5RVR Q1ABC -05')).toHaveLength(1)
  })
  it('takes nothing missing for silence before the second look', () => {
    const tired = run([...begun, sent(3, 'Q1ABC Q5RVR JN97'), sent(5, 'Q1ABC Q5RVR JN97'), heard(6, [], { early: true })])
    expect(tired.state.phase).toBe('underway')
    expect(run([heard(6, [])], tired.state).state).toMatchObject({ phase: 'ended', reason: 'noAnswer' })
    expect(run([heard(6, ['Q7XYZ Q1ABC -05'], { early: true })], tired.state).state.phase).toBe('underway')
  })
})

describe('the queue', () => {
  const cq = (callerOrder: ExchangeManner['callerOrder']) => [callCq({ ...manner, callerOrder }), sent(0, 'CQ Q5RVR JN97')]
  const three = heard(1, ['Q5RVR Q1ABC JO31', 'Q5RVR Q2DEF FN20', 'Q5RVR Q3GHI JN97'])
  it.each([
    ['first', 'Q3GHI', ['Q2DEF', 'Q1ABC']],
    ['strongest', 'Q3GHI', ['Q2DEF', 'Q1ABC']],
    ['farthest', 'Q2DEF', ['Q1ABC', 'Q3GHI']],
  ] as const)('%s takes %s', (order, first, rest) => {
    const { state } = run([...cq(order), three])
    expect(state).toMatchObject({ otherCall: first })
    expect(state.phase === 'underway' && state.queue.map((c) => c.call)).toEqual(rest)
  })

  it('is put in an order by hand, kept through the end, and the next is taken from it with what it said', () => {
    const ended = run([
      ...cq('strongest'),
      three,
      { type: 'arrange', calls: ['Q1ABC'] },
      sent(2, 'Q3GHI Q5RVR -06'),
      heard(3, ['Q5RVR Q3GHI R-11', 'Q5RVR Q4JKL JO50']),
      sent(4, 'Q3GHI Q5RVR RR73'),
      heard(5, []),
    ])
    expect(ended.state).toMatchObject({ phase: 'ended', queue: [{ call: 'Q1ABC' }, { call: 'Q2DEF' }, { call: 'Q4JKL' }] })
    expect(ended.next).toBeUndefined()
    const next = run([answer('Q5RVR Q1ABC JO31')], ended.state)
    expect(next.next).toBe('Q1ABC Q5RVR -08')
    expect(next.state).toMatchObject({ otherLocator: 'JO31', queue: [{ call: 'Q2DEF' }, { call: 'Q4JKL' }] })
  })

  it('forgets who has given up, and does not take a parting word for a call', () => {
    const ended = run([...cq('strongest'), three, { type: 'stop' }, heard(3, ['Q5RVR Q8PQR 73'])])
    expect(ended.state.phase === 'ended' && ended.state.queue.map((c) => c.call)).toEqual(['Q2DEF', 'Q1ABC'])
    expect(run([heard(15, [])], ended.state).state).toMatchObject({ queue: [] })
  })

  it('answers nobody of it without a person', () => {
    const ended = run([...cq('strongest'), three, { type: 'stop' }])
    for (let slot = 3; slot < 9; slot += 2) expect(run([heard(slot, ['Q5RVR Q2DEF FN20'])], ended.state).next).toBeUndefined()
  })
})

describe('ways of an operator', () => {
  it('starts with the report', () => {
    const { next, state } = run([answer('CQ Q1ABC JO31', { ...manner, opening: 'report' })])
    expect(next).toBe('Q1ABC Q5RVR -08')
    const done = run([sent(1, next!), heard(2, ['Q5RVR Q1ABC R-05']), sent(3, 'Q1ABC Q5RVR RR73'), heard(4, [])], state)
    expect(done).toMatchObject({ contacts: [{ call: 'Q1ABC', reportReceivedDb: -5 }], state: { reason: 'complete' } })
  })

  it('says a free text within an exchange once, and counts no try for it', () => {
    const begun = run([answer('CQ Q1ABC JO31'), { type: 'say', manner, text: 'LOW POWER', txParity: 'odd', audioOffsetHz: 900 }])
    expect(begun.next).toBe('LOW POWER')
    const after = run([sent(1, 'LOW POWER')], begun.state)
    expect(after.next).toBe('Q1ABC Q5RVR JN97')
    expect(after.state).toMatchObject({ tries: 0, ladder: [{ text: 'CQ Q1ABC JO31' }, { text: 'LOW POWER', direction: 'sent' }] })
  })

  it('says a free text on its own and stops', () => {
    const begun = run([{ type: 'say', manner, text: 'TNX RIVER', txParity: 'odd', audioOffsetHz: 900 }])
    expect(begun.next).toBe('TNX RIVER')
    expect(run([sent(1, 'TNX RIVER')], begun.state).state).toMatchObject({ phase: 'ended', reason: 'said' })
  })

  it.each([
    ['the own call with a /P that they leave out', { ...manner, ownCall: 'Q5RVR/P' }, 'Q5RVR Q1ABC -05', 'Q1ABC Q5RVR/P R-08'],
    ['their call with a /P that comes and goes', manner, 'Q5RVR Q1ABC/P -05', 'Q1ABC Q5RVR R-08'],
  ])('knows %s', (_, own, said, says) => {
    expect(run([answer('CQ Q1ABC JO31', own), sent(1, 'Q1ABC Q5RVR JN97'), heard(2, [said])]).next).toBe(says)
  })

  it('works a compound call whose hash was heard before', () => {
    const begun = run([answer('CQ Q0/Q5RVR', { ...manner, ownCall: 'Q1ABC' })])
    expect(begun.next).toBe('<Q0/Q5RVR> Q1ABC JN97')
    const after = run([sent(1, begun.next!), heard(2, ['Q1ABC <Q0/Q5RVR> -05'])], begun.state)
    expect(after.next).toBe('<Q0/Q5RVR> Q1ABC R-08')
    expect(packMessage(after.next!).ok).toBe(true)
  })

  it('says what will follow', () => {
    expect(likelyNext(run([answer('CQ Q1ABC JO31')]).state)).toEqual({ when: 'when they report', text: 'Q1ABC Q5RVR R-08' })
    expect(likelyNext(run([callCq()]).state)).toEqual({ when: 'when someone answers', text: undefined })
    expect(likelyNext({ phase: 'idle' })).toBeUndefined()
  })
})

describe('what was cut off', () => {
  const faded = run([
    answer('CQ Q1ABC JO31'),
    sent(1, 'Q1ABC Q5RVR JN97'),
    heard(2, ['Q5RVR Q1ABC -05']),
    ...[3, 5, 7].flatMap((slot) => [sent(slot, 'Q1ABC Q5RVR R-08'), heard(slot + 1, [])]),
  ])
  const unfinished = unfinishedFrom(faded.state, 135_000)!

  it('is kept when something was heard of them, once for each station and for half an hour', () => {
    expect(faded.state).toMatchObject({ phase: 'ended', reason: 'noAnswer' })
    expect(unfinished).toMatchObject({ otherCall: 'Q1ABC', reportSentDb: -8, reportReceivedDb: -5 })
    expect(keepUnfinished([unfinished], unfinished, 200_000)).toEqual([unfinished])
    expect(keepUnfinished([unfinished], undefined, 135_000 + 31 * 60_000)).toEqual([])
    const nothing = run([answer('CQ Q1ABC JO31'), { type: 'stop' }])
    expect(unfinishedFrom(nothing.state, 0)).toBeUndefined()
  })

  it('is not kept longer by trying again: half an hour after they were last heard it ends', () => {
    // Heard last in slot 2, at 30 s.
    const tried = { ...unfinished, endedUtcMs: 29 * 60_000 }
    expect(keepUnfinished([tried], undefined, 30_000 + 30 * 60_000)).toEqual([tried])
    expect(keepUnfinished([tried], undefined, 30_001 + 30 * 60_000)).toEqual([])
    expect(keepUnfinished([], tried, 30_001 + 30 * 60_000)).toEqual([])
  })

  it('is completed without a word by their roger, as evidence', () => {
    const done = run([heard(20, ['Q5RVR Q1ABC RR73'])], faded.state)
    expect(done.next).toBeUndefined()
    expect(done.contacts).toHaveLength(1)
    expect(done.contacts[0]).toMatchObject({ call: 'Q1ABC', reportReceivedDb: -5, startedUtcMs: 0, endedUtcMs: 300_000 })
    expect(done.state).toMatchObject({ phase: 'ended', reason: 'complete' })
    expect(run([heard(22, ['Q5RVR Q1ABC RR73'])], done.state)).toMatchObject({ contacts: [], state: { asksAgain: 'seventyThree' } })
    expect(finishedByEvidence(unfinished, [decode('Q7XYZ Q1ABC RR73'), decode('Q5RVR Q7XYZ RR73')], 0)).toBeUndefined()
  })

  it('is not completed by a roger when no report had been received', () => {
    const without = run([answer('Q5RVR Q1ABC JO31'), sent(1, 'Q1ABC Q5RVR -08'), { type: 'stop' }, heard(4, ['Q5RVR Q1ABC RR73'])])
    expect(without.contacts).toEqual([])
  })

  it.each([
    ['CQ Q1ABC JO31', 'Q1ABC Q5RVR R-08'],
    ['Q5RVR Q1ABC -05', 'Q1ABC Q5RVR R-08'],
    ['Q5RVR Q1ABC R-03', 'Q1ABC Q5RVR RR73'],
  ])('goes on from the same step after %s', (said, says) => {
    const resumed = run(
      [{ type: 'resume', unfinished, decode: decode(said), slotIndex: 41, slotUtcMs: 615_000, audioOffsetHz: 700 }],
      faded.state,
    )
    expect(resumed.next).toBe(says)
    expect(resumed.state).toMatchObject({ phase: 'underway', txParity: 'even', audioOffsetHz: 700, tries: 0 })
    const done = run([sent(42, says), heard(43, ['Q5RVR Q1ABC RR73'])], resumed.state)
    expect(done.contacts).toHaveLength(1)
    expect(done.contacts[0]!.startedUtcMs).toBe(0)
    expect(done.contacts[0]!.evidence.map((e) => e.text)).toContain('CQ Q1ABC JO31')
  })
})
