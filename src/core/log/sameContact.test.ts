import { ContactTraces, type ContactTrace } from './sameContact'

const at = Date.UTC(2026, 5, 1, 12, 34, 17)
const trace = (over: Partial<ContactTrace> = {}): ContactTrace => ({
  ...{ call: 'Q2LMN', band: '20m', mode: 'FT8', submode: null, startedUtcMs: at },
  ...over,
})

describe('the same contact', () => {
  const traces = new ContactTraces()
  traces.add(trace())
  it.each<[string, Partial<ContactTrace>, boolean]>([
    ['itself', {}, true],
    ['its time without milliseconds', { startedUtcMs: at + 400 }, true],
    ['its time cut to the minute', { startedUtcMs: at - 17_000 }, true],
    ['another second', { startedUtcMs: at + 1000 }, false],
    ['another minute', { startedUtcMs: at + 43_000 }, false],
    ['another band', { band: '40m' }, false],
    ['the band in capitals', { band: '20M' }, true],
    ['another mode', { mode: 'PSK' }, false],
    ['another submode', { submode: 'PSK31' }, false],
    ['another call', { call: 'Q2LMN/P' }, false],
  ])('%s', (_, over, same) => expect(traces.has(trace(over))).toBe(same))
  it('is known for a time on the minute, whatever the second asked for', () => {
    const cut = new ContactTraces()
    cut.add(trace({ startedUtcMs: at - 17_000 }))
    expect(cut.has(trace())).toBe(true)
  })
})
