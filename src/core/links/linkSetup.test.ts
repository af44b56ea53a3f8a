import { addressBookSchema, beforeSwitching, emptyAddressBook, judgeReach, TOPOLOGIES } from './addressBook'
import { lastGood, sameSettings, type LadderResult } from './ladderResults'
import { defaultLinkConfig } from './linkContracts'
import { reducePortSearch, startPortSearch } from './portFinder'

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`

describe('judgeReach', () => {
  const at = { host: '192.168.4.1', port: 8001, tookMs: 12.4, ownAddresses: ['192.168.4.20'] }
  it.each([
    [undefined, true, /^192\.168\.4\.1:8001 answers after 12 ms\.$/],
    ['ENOTFOUND', false, /No address is known/],
    ['ECONNREFUSED', false, /is there, but nothing listens on its port 8001/],
    ['EHOSTUNREACH', false, /no way to 192\.168\.4\.1 from here\. This computer is 192\.168\.4\.20/],
    ['ETIMEDOUT', false, /says nothing for 0 s\.$/],
    ['EPIPE', false, /EPIPE/],
  ])('%s: %s', (code, ok, words) => {
    const result = judgeReach({ ...at, ...(code !== undefined && { code }) })
    expect(result.ok).toBe(ok)
    expect(result.words).toMatch(words)
    expect(result.advice === '').toBe(ok)
  })

  it('says when the address belongs to another network, and only of private ones', () => {
    const timeout = { ...at, code: 'ETIMEDOUT', tookMs: 4000, ownAddresses: ['10.0.0.7'] }
    expect(judgeReach(timeout).words).toBe(
      '192.168.4.1:8001 says nothing for 4 s. This computer is 10.0.0.7. That is another network than 192.168.4.1.',
    )
    expect(judgeReach({ ...timeout, host: '203.0.113.5' }).words).toBe('203.0.113.5:8001 says nothing for 4 s.')
    expect(judgeReach({ ...timeout, ownAddresses: [] }).words).toMatch(/in no network/)
  })
})

describe('address book', () => {
  it('takes an address for each network and nothing else', () => {
    const entry = { id: id(1), name: 'Heron 20', kind: 'radio', user: '', places: { house: { host: '192.168.1.7', port: 4532 } } }
    expect(addressBookSchema.safeParse({ topology: 'house', entries: [entry] }).success).toBe(true)
    for (const wrong of [
      { ...entry, name: ' ' },
      { ...entry, places: { moon: { host: 'a', port: 1 } } },
      { ...entry, places: { house: { host: 'a b', port: 1 } } },
      { ...entry, places: { house: { host: 'a', port: 70_000 } } },
    ])
      expect(addressBookSchema.safeParse({ topology: 'house', entries: [wrong] }).success).toBe(false)
    expect(addressBookSchema.parse(emptyAddressBook)).toEqual(emptyAddressBook)
  })

  it('says for each network what comes before it, and of the radio’s own that the clock is synced first', () => {
    for (const topology of TOPOLOGIES) expect(beforeSwitching(topology).length).toBeGreaterThan(2)
    expect(beforeSwitching('radioOwn')[0]).toMatch(/no internet\. Sync the clock now/)
    expect(TOPOLOGIES.flatMap(beforeSwitching).filter((words) => /restart the radio/i.test(words))).toHaveLength(2)
  })
})

describe('ladder results', () => {
  const result = (n: number, over: Partial<LadderResult>): LadderResult => ({
    ...{ id: id(n), utcMs: n, link: 'control', ok: true, rung: null, code: null, words: 'The link works.', config: defaultLinkConfig },
    ...over,
  })
  it('finds what worked last, for that link alone', () => {
    const results = [result(3, { ok: false }), result(1, {}), result(2, {}), result(9, { link: 'tnc' })]
    expect(lastGood(results, 'control')?.utcMs).toBe(2)
    expect(lastGood(results, 'tnc')?.utcMs).toBe(9)
    expect(lastGood([], 'tnc')).toBeUndefined()
  })
  it('compares the settings of the link it is about', () => {
    const other = { ...defaultLinkConfig, tnc: { ...defaultLinkConfig.tnc, serialBaud: 4800 } }
    expect(sameSettings(other, result(1, {}))).toBe(true)
    expect(sameSettings(other, result(1, { link: 'tnc' }))).toBe(false)
  })
})

describe('port search', () => {
  const run = (...lists: string[][]) => lists.slice(1).reduce(reducePortSearch, startPortSearch(lists[0]!))
  it('finds the one that went and came back', () => {
    expect(run(['a', 'b']).step).toBe('unplug')
    expect(run(['a', 'b'], ['a', 'b'], ['a'])).toMatchObject({ step: 'plugIn', gone: ['b'] })
    expect(run(['a', 'b'], ['a'], ['a', 'b'])).toMatchObject({ step: 'found', found: ['b'] })
  })
  it('knows it under another name, with both its ports, and when it was not plugged in at first', () => {
    expect(run(['a', 'b'], ['a'], ['a', 'c'])).toMatchObject({ found: ['c'], gone: ['b'] })
    expect(run(['a', 'b', 'c'], ['a', 'b'], ['a'], ['a', 'b', 'c'])).toMatchObject({ found: ['b', 'c'], gone: ['c', 'b'] })
    expect(run([], [], ['a'])).toMatchObject({ step: 'found', found: ['a'] })
    expect(run(['a'], [], ['a'], [])).toMatchObject({ step: 'found', found: ['a'] })
  })
})
