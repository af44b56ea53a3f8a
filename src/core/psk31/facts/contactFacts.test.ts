import { createRandom } from '../../dsp'
import { isSure } from './agreement'
import { contactFacts, type ContactFacts } from './contactFacts'

const values = (facts: ContactFacts) =>
  Object.fromEntries(Object.entries(facts).flatMap(([key, fact]) => (isSure(fact) ? [[key, fact.value]] : [])))

describe('what is told in running text', () => {
  it.each([
    [
      'Q5RVR de Q2LMN = ur rst 579 579 = name Isa Isa = qth Salt Ferry = loc JO31 = hw?',
      { call: 'Q2LMN', report: '579', name: 'ISA', place: 'SALT FERRY', locator: 'JO31' },
    ],
    ['UR RST IS 5NN 5NN', { report: '599' }],
    ['rsq 9576', { report: '9576' }],
    ['rsq: 9579 op: Wen', { report: '9579', name: 'WEN' }],
    ['my name is Ola. qth nr Low Quay, loc KN44AB', { name: 'OLA', place: 'LOW QUAY', locator: 'KN44AB' }],
    ['qth is Mill Quay Mill Quay name Ada Ada', { place: 'MILL QUAY', name: 'ADA' }],
    // Words that have run into each other, and such as were badly read.
    ['q5rvr deq2lmn q2lmn nameis isa isa, ur599 599', { call: 'Q2LMN', name: 'ISA', report: '599' }],
    ['ur rst 579^579 op: viggoviggo grid jo31', { report: '579', name: 'VIGGO', locator: 'JO31' }],
    ['the na!e is Ottilie Ottilie here', { name: 'OTTILIE' }],
    // What looks like a report, and is none.
    ['running 559 w into 339 m of wire', {}],
    ['nothing of that kind', {}],
    ['', {}],
  ])('%s', (text, told) => expect(values(contactFacts({ text }))).toEqual(told))

  it('puts what was said several times together, and says what speaks for it', () => {
    const { name, call, report } = contactFacts({ text: 'Q5RVR de Q2LMN Q2LMN Q2LNN k = name Isaac Isaac Ixaac = ur 5?9 579' })
    expect(call).toMatchObject({ value: 'Q2LMN', times: 2, of: 3 })
    expect(name).toMatchObject({ value: 'ISAAC', times: 2, of: 3 })
    expect(name!.places).toEqual([
      [36, 41],
      [42, 47],
      [48, 53],
    ])
    expect(report).toMatchObject({ value: '579', times: 1, of: 2 })
    for (const fact of [name, call, report]) expect(isSure(fact)).toBe(true)
  })

  it('puts three readings together of which each is wrong elsewhere', () => {
    expect(contactFacts({ text: 'op is xttilie oxtilie otxilie' }).name).toMatchObject({ value: 'OTTILIE', times: 0, of: 3 })
  })

  it('does not decide by what is likely between two readings of a call or a number', () => {
    for (const [text, key] of [
      ['cq de Q2LMN Q2LXN k', 'call'],
      ['ur rst 559 599', 'report'],
      ['loc JO31AB JO37AB', 'locator'],
    ] as const) {
      const fact = contactFacts({ text })[key]
      expect(fact!.sure).toBeLessThanOrEqual(0.5)
      expect(fact!.of).toBe(2)
    }
  })

  it('believes the reading that the waveform carries better', () => {
    const text = 'cq de Q2LMN Q2LXN k'
    const sure = [...text].map((_, k) => (k === 9 ? 0.55 : 0.99))
    expect(contactFacts({ text, sure }).call).toMatchObject({ value: 'Q2LXN', times: 1, of: 2 })
    expect(isSure(contactFacts({ text, sure }).call)).toBe(true)
    // Both badly carried: neither.
    const weak = [...text].map((_, k) => (k === 9 || k === 15 ? 0.55 : 0.99))
    expect(isSure(contactFacts({ text, sure: weak }).call)).toBe(false)
  })

  it('takes a faint character for no certainty', () => {
    const text = 'name Isa qth Ford'
    const sure = [...text].map((_, k) => (k === 6 ? 0.4 : 0.99))
    expect(isSure(contactFacts({ text, sure }).name)).toBe(false)
  })

  it('takes our own call for nobody else’s, nor the one addressed', () => {
    expect(contactFacts({ text: 'Q2LMN de Q5RVR k' }, 'Q5RVR').call).toBeUndefined()
    expect(contactFacts({ text: 'Q7ABC Q7ABC dx Q2LMN Q2LMN kn' }, 'Q7ABC').call).toMatchObject({ value: 'Q2LMN' })
    expect(contactFacts({ text: 'Q7ABC de Q2LMN name Isa Isa = Q7ABC kn' }).call).toMatchObject({ value: 'Q2LMN' })
  })

  it('survives whatever is put into it', () => {
    const random = createRandom(7)
    const alphabet = 'q25lmnrde name op loc jo31 = 599,.;:!?^ \n\tRST'
    for (let trial = 0; trial < 300; trial++) {
      const text = Array.from({ length: 80 }, () => alphabet[Math.floor(random() * alphabet.length)]!).join('')
      for (const fact of Object.values(contactFacts({ text }))) {
        expect(fact.sure).toBeGreaterThanOrEqual(0)
        expect(fact.sure).toBeLessThanOrEqual(1)
        expect(fact.of).toBeGreaterThanOrEqual(fact.times)
        for (const [from, to] of fact.places) expect(text.slice(from, to).length).toBe(to - from)
      }
    }
  })
})
