import { readContact, shownLines, type SpokenLine } from './readContact'
import { emptyDraft } from './state'

const start = Date.UTC(2026, 5, 1, 12)
const drafted = (...args: Parameters<typeof readContact>) => readContact(...args).draft

describe('what goes into the log', () => {
  const line = (text: string, mine = false): SpokenLine => ({ utcMs: start, mine, text })
  const lines = [
    line('Q2LMN Q2LMN de Q5RVR Q5RVR k', true),
    line('Q5RVR de Q2LMN = ga tnx fer call = ur rst 579 579 = name Isa Isa = qth Salt Ferry = loc JO31 = hw? btu Q5RVR de Q2LMN kn'),
  ]
  it('is what the other one told, of himself and of us', () => {
    const told = { call: 'Q2LMN', name: 'Isa', place: 'Salt Ferry', locator: 'JO31', reportReceived: '579' }
    expect(drafted(emptyDraft, [], lines, 'Q5RVR')).toEqual({ ...emptyDraft, ...told })
  })
  it('is left as the operator wrote it', () => {
    const own = { ...emptyDraft, name: 'Isabel', call: 'Q2LMN/P' }
    expect(drafted(own, ['name', 'call'], lines, 'Q5RVR')).toMatchObject({ name: 'Isabel', call: 'Q2LMN/P' })
  })
  it('keeps two who work each other apart: what the one told is not the other’s', () => {
    const a = line('Q9ZZZ de Q2LMN = ur rst 559 = name Isa = loc JO31 kn')
    const first = drafted(emptyDraft, [], [a], 'Q5RVR')
    expect(first).toMatchObject({ call: 'Q2LMN', name: 'Isa', locator: 'JO31' })
    const both = drafted({ ...first, reportSent: '579' }, [], [a, line('Q2LMN de Q9ZZZ = r r tnx')], 'Q5RVR')
    expect(both).toEqual({ ...emptyDraft, call: 'Q9ZZZ', reportSent: '579' })
    // A line that does not say whose it is goes on with the one before.
    const on = drafted(both, [], [a, line('Q2LMN de Q9ZZZ = r r tnx'), line('name Ola')], 'Q5RVR')
    expect(on).toMatchObject({ call: 'Q9ZZZ', name: 'Ola', locator: '' })
  })
  it('takes no report that was meant for somebody else, and nothing that we said', () => {
    const others = [line('Q9ZZZ de Q2LMN = ur rst 559 = name Isa'), line('Q2LMN de Q5RVR name Rowan rst 599', true)]
    expect(drafted(emptyDraft, [], others, 'Q5RVR')).toEqual({ ...emptyDraft, call: 'Q2LMN', name: 'Isa' })
  })

  it('says what speaks for it and where it stands, also of what is not sure enough to be filled in', () => {
    const heard = [line('cq de Q2LMN Q2LMN Q2LNN k'), line('Q5RVR de Q2LMN = ur 559 599 = name Isaac Isaac kn')]
    const { draft, facts, told } = readContact(emptyDraft, [], heard, 'Q5RVR')
    expect(draft).toEqual({ ...emptyDraft, call: 'Q2LMN', name: 'Isaac' })
    expect(facts.call).toMatchObject({ value: 'Q2LMN', times: 3, of: 4 })
    expect(facts.reportReceived).toMatchObject({ of: 2 })
    expect(facts.reportReceived!.sure).toBeLessThanOrEqual(0.5)
    const [first, second] = shownLines(heard, told)
    expect(first!.told!.map(({ what, from, to }) => [what, first!.text.slice(from, to)])).toEqual([
      ['call', 'Q2LMN'],
      ['call', 'Q2LMN'],
      ['call', 'Q2LNN'],
    ])
    expect(second!.told!.filter(({ what }) => what === 'name').map(({ from, to }) => second!.text.slice(from, to))).toEqual([
      'Isaac',
      'Isaac',
    ])
  })
  it('takes the call as most of its repetitions have it, whatever was read last', () => {
    const heard = [line('cq de Q2LMN Q2LMN Q2LMN k'), line('Q5RVR de Q2LXN = r r')]
    expect(drafted(emptyDraft, [], heard, 'Q5RVR').call).toBe('Q2LMN')
    // Somebody who goes on the road is still the same.
    expect(drafted({ ...emptyDraft, call: 'Q2LMN', name: 'Isa' }, [], [line('de Q2LMN/P Q2LMN/P k')], 'Q5RVR')).toMatchObject({
      call: 'Q2LMN/P',
      name: 'Isa',
    })
  })
})
