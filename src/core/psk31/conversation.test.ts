import { turnAfter, whoSays } from './conversation'

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
