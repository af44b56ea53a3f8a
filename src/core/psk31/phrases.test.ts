import { turnAfter } from './conversation'
import { fillPhrase, USUAL_PHRASES, type Known } from './phrases'
import { isSendable } from './varicode'

const known: Known = {
  me: 'Q5RVR',
  them: 'Q2LMN',
  myName: 'Rowan',
  theirName: 'Isa',
  myLocator: 'JN97LK',
  myPlace: 'River Meadow',
  report: '579',
  theirReport: '599',
  gear: 'homebrew 10 w, wire in a tree',
  time: '1412',
}

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
