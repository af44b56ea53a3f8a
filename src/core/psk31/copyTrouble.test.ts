import { turnAfter } from './conversation'
import { copyTrouble, repeatPhrase } from './copyTrouble'
import { isSendable } from './varicode'

describe('when they do not copy us', () => {
  it.each([
    ['qrz? qrz? de Q2LMN pse agn k', 'who', ['call']],
    ['QRZ de Q2LMN', 'who', ['call']],
    ['who is calling? de Q2LMN k', 'who', ['call']],
    ['Q5RVL de Q2LMN = tnx fer call', 'wrongCall', ['call']],
    ['Q5RR de Q2LMN', 'wrongCall', ['call']],
    ['Q5RVR de Q2LMN = sri qsb pse agn ur rst es name? btu Q5RVR de Q2LMN kn', 'again', ['report', 'name']],
    ['Q5RVR de Q2LMN = name?', 'again', ['name']],
    ['Q5RVR de Q2LMN ur qth ? k', 'again', ['place']],
    ['Q5RVR de Q2LMN ?? pse rpt loc k', 'again', ['locator']],
    ['Q5RVR de Q2LMN sri agn agn k', 'again', ['call', 'report', 'name']],
  ])('%s', (text, kind, lost) => expect(copyTrouble(text, 'Q5RVR')).toMatchObject({ kind, lost }))

  it.each([
    'Q5RVR de Q2LMN = ga Rowan tnx fer call = ur rst 579 = name Isa = hw? btu Q5RVR de Q2LMN kn',
    'Q5RVR de Q2LMN = r r fb solid copy 73 sk',
    'cq cq de Q2LMN pse k',
    'Q5RVR de Q2LMN = tnx fer qso hpe cu agn 73 sk',
    'it was nice to see you again, my friend who is a doctor sends regards',
    // Somebody else's call, and ours told right.
    'Q7ABC de Q2LMN = r r',
    'Q5RVR Q5RVL de Q2LMN k',
    '',
  ])('is not so in "%s"', (text) => expect(copyTrouble(text, 'Q5RVR')).toBeUndefined())

  it('tells their words', () => {
    expect(copyTrouble('Q5RVR de Q2LMN = sri qsb pse agn ur rst es name? btu', 'Q5RVR')!.words).toBe('sri qsb pse agn ur rst es name? btu')
  })
})

describe('what is said again', () => {
  const own = { me: 'Q5RVR', them: 'Q2LMN', report: '579', name: 'Rowan', place: 'River Meadow', locator: 'JN97LK' }
  it.each([
    [['call'], 'Q2LMN de Q5RVR Q5RVR Q5RVR k'],
    [['report', 'name'], 'Q2LMN de Q5RVR = rst 579 579 579 = name Rowan Rowan Rowan = de Q5RVR k'],
    [['locator', 'place'], 'Q2LMN de Q5RVR = qth River Meadow River Meadow = loc JN97LK JN97LK JN97LK = de Q5RVR k'],
  ] as const)('%s', (lost, words) => {
    const phrase = repeatPhrase(lost, own)
    expect(phrase).toBe(words)
    expect([...phrase].every(isSendable)).toBe(true)
    expect(turnAfter(phrase)).toBe('anybody')
  })
  it('leaves out what is not known', () => {
    expect(repeatPhrase(['name', 'call'], { ...own, name: '', them: '' })).toBe('de Q5RVR Q5RVR Q5RVR k')
  })
})
