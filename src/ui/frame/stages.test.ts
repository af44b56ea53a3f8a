/**
 * @jest-environment jsdom
 */
import type { Readiness, ReadyItem } from '@/core/readiness'
import { isAt, stagesFor, stateOf, worstOf } from './stages'

const item = (id: ReadyItem['id'], state: ReadyItem['state']): ReadyItem => ({ id, state, title: id, evidence: '', neededToHear: false })
const readiness: Readiness = {
  ...{ answer: 'listen', sentence: '', items: [item('call', 'ready'), item('locator', 'missing'), item('dial', 'attention')] },
  others: [{ mode: 'psk31', answer: 'no', sentence: '' }],
}

describe('the stages', () => {
  it('stand in groups in the order of the work, with the modes in use alone', () => {
    const groups = stagesFor(['psk31', 'packet'])
    expect(groups.map((group) => group.label)).toEqual(['Get ready', 'Operate', 'Keep', 'Practise', 'Settings'])
    expect(groups[1]!.stages.map((stage) => stage.label)).toEqual(['Ribbons', 'Sessions'])
    expect(stagesFor(['ft8', 'psk31'])[1]!.stages.map((stage) => stage.path)).toEqual(['/slots', '/ribbons'])
  })

  it('show the worst of what they answer for, and of a mode that is not in front its own answer', () => {
    const [ready, operate] = stagesFor(['ft8', 'psk31'])
    const states = [...ready!.stages, ...operate!.stages].map((stage) => [stage.label, stateOf(stage, readiness, 'ft8')])
    expect(Object.fromEntries(states)).toMatchObject({ 'Ready?': undefined, Station: 'missing', Slots: 'attention', Ribbons: 'missing' })
    expect(stateOf(operate!.stages[0]!, { ...readiness, answer: 'no' }, 'ft8')).toBe('missing')
    expect(worstOf(['ready', undefined, 'unknown', 'attention'])).toBe('attention')
    expect(stateOf(ready!.stages[2]!, undefined, 'ft8')).toBeUndefined()
  })

  it('know where one is, also deeper in', () => {
    expect([isAt('/plan/power', '/plan'), isAt('/planet', '/plan'), isAt('/', '/'), isAt('/plan', '/')]).toEqual([true, false, true, false])
  })
})
