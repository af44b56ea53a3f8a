import { mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { needsPageCookie, openPageCookie } from './pageCookie'

const folder = mkdtempSync(join(tmpdir(), 'zeptik-cookie-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

describe('the cookie of our own pages', () => {
  it('is recognised among others, and is the same after a restart', () => {
    const cookie = openPageCookie(folder)
    const pair = cookie.header.split(';')[0]!
    expect(cookie.header).toMatch(/HttpOnly; SameSite=Strict/)
    expect(cookie.isIn(pair)).toBe(true)
    expect(openPageCookie(folder).isIn(`a=b; ${pair}; c=d`)).toBe(true)
    expect(statSync(join(folder, 'page.key')).mode & 0o777).toBe(0o600)
  })
  it.each([
    undefined,
    '',
    'zeptik-page',
    'zeptik-page=',
    'zeptik-page=0',
    `zeptik-page=${'0'.repeat(64)}`,
    `other=${'a'.repeat(64)}`,
    `zeptik-page=${'ü'.repeat(64)}`,
  ])('is not in %j', (cookies) => expect(openPageCookie(folder).isIn(cookies)).toBe(false))
  it('is made anew when what is kept is none', () => {
    writeFileSync(join(folder, 'page.key'), 'half')
    expect(openPageCookie(folder).header).toMatch(/^zeptik-page=[0-9a-f]{64};/)
  })
  it.each([
    ['GET', '/api/links/relay?by=serial', true],
    ['GET', '/api/links/relay/', true],
    ['GET', '/api/links/%72elay', true],
    ['GET', '//api/links//relay?x', true],
    ['POST', '/api/links/relay', false],
    ['GET', '/api/links/live', false],
    ['GET', undefined, false],
  ])('is asked for with %s %s: %s', (method, url, needed) => expect(needsPageCookie(method, url)).toBe(needed))
})
