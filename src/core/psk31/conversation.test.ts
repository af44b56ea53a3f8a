import { fillPhrase, readTold, turnAfter, USUAL_PHRASES, whoSays, type Known } from './conversation'
import { isSendable } from './varicode'

const known: Known = {
  me: 'Q5RVR',
  them: 'Q2LMN',
  myName: 'Rowan',
  theirName: 'Isa',
  myLocator: 'JN97LK',
  myPlace: 'River Meadow',
  report: '579',
}

describe('who says it', () => {
  it.each([
    ['cq cq cq de Q2LMN Q2LMN Q2LMN pse k', { from: 'Q2LMN', cq: true }],
    ['Q5RVR de q2lmn q2lmn k', { from: 'Q2LMN', to: 'Q5RVR', cq: false }],
    ['btu Q2LMN de Q5RVR k\nQ5RVR de Q2LMN = r r', { from: 'Q2LMN', to: 'Q5RVR', cq: false }],
    ['Q3ABC/P de Q7XYZ/P kn', { from: 'Q7XYZ/P', to: 'Q3ABC/P', cq: false }],
    ['ur rst 599 599 loc JN97LK de', { cq: false }],
    ['qrz? de Q1ABC', { from: 'Q1ABC', cq: true }],
    ['de JN97 name', { cq: false }],
    ['', { cq: false }],
  ])('%s', (text, said) => expect(whoSays(text)).toEqual(said))
})

describe('whose turn it is', () => {
  it.each([
    ['cq de Q2LMN pse k', 'anybody'],
    ['hw? btu Q2LMN de Q5RVR k ', 'called'],
    ['Q2LMN de Q5RVR kn', 'called'],
    ['73 Q2LMN de Q5RVR sk', 'over'],
    ['name Rowan', undefined],
    ['', undefined],
  ])('%s', (text, turn) => expect(turnAfter(text)).toBe(turn))
})

describe('what was told', () => {
  it.each([
    [
      'ur rst 579 579 = name Isa Isa = qth Salt Ferry = loc JO31 = hw?',
      { report: '579', name: 'ISA', place: 'SALT FERRY', locator: 'JO31' },
    ],
    ['UR RST IS 5NN 5NN', { report: '599' }],
    ['rsq 9576', { report: '9576' }],
    ['rsq: 9579 op: Wen', { report: '9579', name: 'WEN' }],
    ['my name is Ola. qth nr Low Quay, loc KN44AB', { name: 'OLA', place: 'LOW QUAY', locator: 'KN44AB' }],
    ['nothing of that kind', {}],
  ])('%s', (text, told) => expect(readTold(text)).toEqual(told))
})

describe('phrases', () => {
  it('are filled in from what is known, and say what is missing', () => {
    const report = USUAL_PHRASES.find((phrase) => phrase.label === 'Report')!.text
    expect(fillPhrase(report, known).text).toBe(
      'Q2LMN de Q5RVR = ga Isa tnx fer call = ur rst 579 579 = name Rowan Rowan = qth River Meadow = loc JN97LK = hw? btu Q2LMN de Q5RVR kn',
    )
    expect(fillPhrase(report, { ...known, theirName: '', myPlace: '', myLocator: '' }).text).toBe(
      'Q2LMN de Q5RVR = ga tnx fer call = ur rst 579 579 = name Rowan Rowan = hw? btu Q2LMN de Q5RVR kn',
    )
    expect(fillPhrase('{them} de {me} {weather}', { ...known, them: '' })).toEqual({
      text: 'de Q5RVR',
      missing: ['their call', '{weather}'],
    })
  })
  it('of the usual kind can be sent whole, and hand over', () => {
    for (const { text, ends } of USUAL_PHRASES) {
      const filled = fillPhrase(text, known)
      expect(filled.missing).toEqual([])
      expect([...filled.text].every(isSendable)).toBe(true)
      expect(ends).toBe(turnAfter(filled.text) !== undefined)
    }
  })
})
