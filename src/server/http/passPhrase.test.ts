import { enterPage, isLoopback, PassPhrase } from './passPhrase'

const pass = () => new PassPhrase('ferry landing', 'secret')
const pairOf = (cookie: string) => cookie.split(';')[0]!

describe('the pass phrase', () => {
  it('lets in whoever gives it, and their browser from then on', () => {
    const guard = pass()
    const entered = guard.enter('ferry landing', '10.0.0.2', 0)
    expect(entered).toMatchObject({ ok: true, cookie: expect.stringMatching(/HttpOnly; SameSite=Strict/) })
    const pair = entered.ok ? pairOf(entered.cookie) : ''
    expect(guard.isIn(`a=b; ${pair}`)).toBe(true)
    // Also after a restart, but not with another phrase, nor from another folder.
    expect(pass().isIn(pair)).toBe(true)
    expect(new PassPhrase('another one', 'secret').isIn(pair)).toBe(false)
    expect(new PassPhrase('ferry landing', 'another').isIn(pair)).toBe(false)
  })
  it.each([undefined, '', 'zeptik-pass', 'zeptik-pass=', 'zeptik-pass=ferry landing', `zeptik-pass=${'0'.repeat(64)}`])(
    'is not in %j',
    (cookies) => expect(pass().isIn(cookies)).toBe(false),
  )
  it('may be tried five times a minute from an address, and wrong tries are listed', () => {
    const guard = pass()
    for (let n = 0; n < 5; n++) expect(guard.enter(`guess ${n}`, '10.0.0.6', n * 1000)).toMatchObject({ ok: false, status: 401 })
    expect(guard.enter('ferry landing', '10.0.0.6', 5000)).toMatchObject({ ok: false, status: 429 })
    // Others are not kept out by that.
    expect(guard.enter('ferry landing', '10.0.0.7', 5000)).toMatchObject({ ok: true })
    expect(guard.list()).toEqual([{ address: '10.0.0.6', wrong: 5, lastMs: 4000 }])
    expect(guard.enter('ferry landing', '10.0.0.6', 64_001)).toMatchObject({ ok: true })
    expect(guard.list()).toEqual([])
  })
  it('remembers only so many addresses', () => {
    const guard = pass()
    for (let n = 0; n < 1000; n++) guard.enter('x', `10.0.${n >> 8}.${n & 255}`, n)
    expect(guard.list()).toHaveLength(200)
  })
  it('is asked for by a page that loads nothing', () => expect(enterPage('No.')).not.toMatch(/(src|href)="(?!data:)/))
})

describe('addresses of this computer', () => {
  it.each([
    ['127.0.0.1', true],
    ['127.1.2.3', true],
    ['localhost', true],
    ['::1', true],
    ['0.0.0.0', false],
    ['::', false],
    ['192.168.7.2', false],
    ['localhost.example', false],
  ])('%s: %s', (host, own) => expect(isLoopback(host)).toBe(own))
})
