import { jest } from '@jest/globals'
import { z } from 'zod'
import { readBytes, readJson } from './body'
import { ChangeFeed } from './changeFeed'
import { eventStream } from './eventStream'
import { isForeign, isOwnName } from './foreign'

const post = (body: BodyInit | null) =>
  new Request('http://127.0.0.1/', { method: 'POST', body, ...(body instanceof ReadableStream && { duplex: 'half' }) } as RequestInit)
const schema = z.object({ call: z.string(), list: z.array(z.object({ snrDb: z.number() })).optional() })

describe('a body', () => {
  it('in pieces is put together', async () => {
    const pieces = new ReadableStream<Uint8Array>({
      start(controller) {
        for (const part of ['ab', '', 'cde']) controller.enqueue(new TextEncoder().encode(part))
        controller.close()
      },
    })
    const read = await readBytes(post(pieces), 5)
    expect(read.ok && new TextDecoder().decode(read.value)).toBe('abcde')
  })

  it('that is missing is empty', async () => {
    const read = await readBytes(new Request('http://127.0.0.1/'), 10)
    expect(read).toEqual({ ok: true, value: new Uint8Array(0) })
  })

  it('that goes on and on is broken off at the limit', async () => {
    let pulled = 0
    let cancelled = false
    const endless = new ReadableStream<Uint8Array>({
      pull(controller) {
        pulled++
        controller.enqueue(new Uint8Array(1000))
      },
      cancel: () => void (cancelled = true),
    })
    const read = await readBytes(post(endless), 3500)
    expect(read.ok).toBe(false)
    if (read.ok) return
    expect(read.response.status).toBe(413)
    expect(read.response.headers.get('connection')).toBe('close')
    expect(await read.response.json()).toEqual({ error: 'At most 3500 bytes are accepted.' })
    expect(cancelled).toBe(true)
    expect(pulled).toBeLessThan(10)
  })

  it.each([
    ['{', 400, 'The body is not JSON.'],
    ['', 400, 'The body is not JSON.'],
    ['[]', 422, /^body: /],
    ['{"call":5}', 422, /^call: /],
    ['{"call":"Q5RVR","list":[{"snrDb":1},{"snrDb":"x"}]}', 422, /^list\.1\.snrDb: /],
  ])('%j is refused with %d and the place', async (text, status, words) => {
    const read = await readJson(post(text), schema)
    expect(read.ok).toBe(false)
    if (read.ok) return
    expect(read.response.status).toBe(status)
    expect(((await read.response.json()) as { error: string }).error).toEqual(
      typeof words === 'string' ? words : expect.stringMatching(words),
    )
  })

  it('that fits is handed over without what the schema does not know', async () => {
    expect(await readJson(post('{"call":"Q5RVR","other":1}'), schema)).toEqual({ ok: true, value: { call: 'Q5RVR' } })
  })
})

describe('a stream of events', () => {
  beforeEach(() => void jest.useFakeTimers())
  afterEach(() => void jest.useRealTimers())

  /** A stream with a counter behind it. */
  const open = () => {
    const abort = new AbortController()
    const listeners = new Set<() => void>()
    let value = 0
    const response = eventStream(new Request('http://127.0.0.1/', { signal: abort.signal }), {
      read: () => ({ value }),
      subscribe: (listener) => (listeners.add(listener), () => listeners.delete(listener)),
    })
    const reader = response.body!.getReader()
    const next = async () => {
      const { done, value: bytes } = await reader.read()
      return done ? undefined : new TextDecoder().decode(bytes)
    }
    return { abort, listeners, response, reader, next, change: (to: number) => ((value = to), listeners.forEach((tell) => tell())) }
  }

  it('tells at once, on every change, and that it is alive', async () => {
    const { next, change, response, abort } = open()
    expect(response.headers.get('content-type')).toBe('text/event-stream')
    expect(await next()).toBe('data: {"value":0}\n\n')
    change(7)
    expect(await next()).toBe('data: {"value":7}\n\n')
    jest.advanceTimersByTime(2000)
    expect(await next()).toBe('data: {"value":7}\n\n')
    abort.abort()
  })

  it('leaves nothing behind when the page goes away, however it goes', async () => {
    const closed = open()
    closed.abort.abort()
    expect(closed.listeners.size).toBe(0)
    const cancelled = open()
    await cancelled.reader.cancel()
    expect(cancelled.listeners.size).toBe(0)
    // An abort after the cancel, as some servers do, is no error.
    expect(() => cancelled.abort.abort()).not.toThrow()
    expect(jest.getTimerCount()).toBe(0)
  })
})

describe('a feed of changes', () => {
  beforeEach(() => void jest.useFakeTimers())
  afterEach(() => void jest.useRealTimers())

  it('tells of many changes once, and of later ones again', () => {
    const feed = new ChangeFeed(150)
    let told = 0
    const end = feed.subscribe(() => told++)
    for (let i = 0; i < 20; i++) feed.changed()
    expect(told).toBe(0)
    jest.advanceTimersByTime(150)
    expect(told).toBe(1)
    feed.changed()
    jest.advanceTimersByTime(150)
    expect(told).toBe(2)
    end()
    feed.changed()
    jest.advanceTimersByTime(1000)
    expect(told).toBe(2)
  })

  it('that is closed says nothing more', () => {
    const feed = new ChangeFeed(150)
    let told = 0
    feed.subscribe(() => told++)
    feed.changed()
    feed.close()
    jest.advanceTimersByTime(1000)
    expect(told).toBe(0)
  })
})

it('a body is cleaned of what no database holds, in values and keys', async () => {
  const odd = { 'a\u0000b': { 'c\ud83d': ['d\u0000'] } }
  const read = await readJson(post(JSON.stringify(odd)), z.unknown())
  expect(read).toEqual({ ok: true, value: { ab: { 'c\ufffd': ['d'] } } })
})

describe('who is asked, and by whom', () => {
  it.each([
    ['127.0.0.1:7350', true],
    ['127.0.0.1', true],
    ['[::1]:7350', true],
    ['192.168.4.1:7350', true],
    ['localhost:7350', true],
    ['Fieldbox:7350', true],
    ['fieldbox.local:7350', true],
    ['fieldbox.home.arpa.', true],
    ['field.example', true],
    ['FIELD.example:80', true],
    [undefined, true],
    ['elsewhere.example:7350', false],
    ['127.0.0.1.elsewhere.example', false],
    ['local.example', false],
    ['notfield.example', false],
    ['fieldboxlocal.example', false],
    ['a b', false],
    ['', false],
  ])('the name %s: %s', (host, own) => expect(isOwnName(host, ['field.example'])).toBe(own))

  it.each([
    ['/api/links/key', { host: 'fieldbox:7350', origin: 'http://fieldbox:7350' }, false],
    ['/api/links/key', { host: 'fieldbox:7350', origin: 'http://elsewhere.example' }, true],
    ['/api/links/key', { host: 'fieldbox:7350', origin: 'null' }, true],
    ['/api/links/relay', { host: 'fieldbox:7350', 'sec-fetch-site': 'cross-site' }, true],
    ['/api/links/relay', { host: 'fieldbox:7350', 'sec-fetch-site': 'same-site' }, true],
    ['/api/links/relay', { host: 'fieldbox:7350', 'sec-fetch-site': 'same-origin' }, false],
    ['/slots', { host: 'fieldbox:7350', 'sec-fetch-site': 'cross-site' }, false],
    ['/slots', { host: 'fieldbox:7350' }, false],
  ])('a request for %s with %j is foreign: %s', (url, headers, foreign) => expect(isForeign(url, headers)).toBe(foreign))
})
