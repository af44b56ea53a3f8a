import { oddRequest } from './oddRequest'

describe('a request that cannot be meant', () => {
  it.each([
    ['TRACE', '/', 405],
    [undefined, '/', 405],
    ['GET', '/api/contacts?search=a%00b', 400],
    ['GET', '/slots/%E0%A4%A', 400],
    ['GET', '/%', 400],
    ['GET', '/api/contacts?search=Q1ABC%2FP+Oskar', undefined],
    ['POST', '/api/contacts', undefined],
    ['GET', '/api/contacts?search=%C3%BC', undefined],
    ['GET', undefined, undefined],
  ])('%s %s: %s', (method, url, status) => expect(oddRequest(method, url)?.status).toBe(status))
})
