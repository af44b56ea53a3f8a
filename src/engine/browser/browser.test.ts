import { jest } from '@jest/globals'
import { emptyContact } from '@/core/log'
import { StationClock } from '../station/stationClock'
import { askWorked, sendContacts, sendHeard } from './api'
import { explainMicrophoneError } from './microphone'
import { SoundOutput } from './soundOutput'

const noon = Date.UTC(2026, 5, 1, 12)

/** An audio context that notes what it is told. */
function fakeContext({ currentTime = 10, contextTime = 9.95, performanceTime = 950 } = {}) {
  const log: unknown[][] = []
  const sources: { onended: (() => void) | null }[] = []
  const gain = {
    cancelScheduledValues: () => undefined,
    set value(v: number) {
      log.push(['gain', v])
    },
  }
  const context = {
    sampleRate: 48_000,
    currentTime,
    destination: {},
    outputLatency: 0.02,
    getOutputTimestamp: () => ({ contextTime, performanceTime }),
    createGain: () => ({ gain, connect: () => undefined }),
    createBuffer: (_: number, length: number, rate: number) => ({ duration: length / rate, copyToChannel: () => undefined }),
    createBufferSource: () => {
      const source = {
        buffer: undefined,
        onended: null as (() => void) | null,
        connect: () => undefined,
        disconnect: () => undefined,
        start: (when: number, offset: number) => log.push(['start', when, offset]),
        stop: () => log.push(['stop']),
      }
      sources.push(source)
      return source
    },
  }
  return { context: context as unknown as AudioContext, log, sources }
}

const play = {
  id: 'a',
  what: 'CQ Q5RVR JN97',
  stream: { next: (out: Float32Array) => out.length },
  length: 48_000 * 2,
  sampleRateHz: 48_000,
}

describe('SoundOutput', () => {
  const clock = new StationClock(
    () => 1000,
    () => noon,
  )

  it('starts at the instant at which the sample leaves the device', () => {
    const { context, log } = fakeContext()
    new SoundOutput(context, clock).play({ ...play, startUtcMs: noon + 500 }, () => undefined)
    // Context time 9.95 s is heard at 950 ms; 1500 ms is 0.55 s later.
    const [, when, offset] = log.find(([what]) => what === 'start')!
    expect(when).toBeCloseTo(10.5, 9)
    expect(offset).toBe(0)
  })

  it('cuts a late start from the front instead of shifting it', () => {
    const { context, log } = fakeContext()
    new SoundOutput(context, clock).play({ ...play, startUtcMs: noon - 700 }, () => undefined)
    const [, when, offset] = log.find(([what]) => what === 'start')! as [string, number, number]
    expect(when).toBeCloseTo(10.01, 9)
    // What begins now is what belongs here: start and cut add up to the nominal instant.
    expect(when - offset).toBeCloseTo(9.3, 9)
  })

  it('does not start what is over', () => {
    const { context, log } = fakeContext()
    const ended = jest.fn()
    new SoundOutput(context, clock).play({ ...play, startUtcMs: noon - 5000 }, ended)
    expect(log.some(([what]) => what === 'start')).toBe(false)
    expect(ended).toHaveBeenCalledWith(false)
  })

  it('goes silent by its gain first, and says once that it was cut', () => {
    const { context, log, sources } = fakeContext()
    const ended = jest.fn()
    const output = new SoundOutput(context, clock)
    output.play({ ...play, startUtcMs: noon + 500 }, ended)
    output.stop()
    expect(log.slice(-2)).toEqual([['gain', 0], ['stop']])
    expect(sources[0]!.onended).toBeNull()
    output.stop()
    expect(ended.mock.calls).toEqual([[false]])
  })

  it('says when it has played to the end', () => {
    const { context, sources } = fakeContext()
    const ended = jest.fn()
    new SoundOutput(context, clock).play({ ...play, startUtcMs: noon + 500 }, ended)
    sources[0]!.onended!()
    expect(ended.mock.calls).toEqual([[true]])
  })

  it('pulls what has no known length a fraction of a second ahead, to the sample, and ends with it', () => {
    jest.useFakeTimers()
    const { context, log, sources } = fakeContext()
    const ended = jest.fn()
    let left = 0.45 * 48_000
    const stream = {
      next: (out: Float32Array) => {
        const count = Math.min(out.length, left)
        left -= count
        return count
      },
    }
    const { length: _, ...open } = play
    new SoundOutput(context, clock).play({ ...open, stream, startUtcMs: noon + 20 }, ended)
    const starts = () => log.filter(([what]) => what === 'start').map(([, when]) => when as number)
    // Four tenths of a second are enough; the rest is pulled when its time comes.
    expect(left).toBeCloseTo(0.05 * 48_000, 0)
    expect(starts().length).toBe(4)
    for (let i = 1; i < 4; i++) expect((starts()[i]! - starts()[i - 1]!) * 48_000).toBeCloseTo(4800, 6)
    ;(context as unknown as { currentTime: number }).currentTime += 0.1
    jest.advanceTimersByTime(200)
    expect(starts().length).toBe(5)
    sources.forEach((source) => source.onended?.())
    expect(ended.mock.calls).toEqual([[true]])
    jest.useRealTimers()
  })

  it('uses the announced latency while the device is not running yet', () => {
    const { context, log } = fakeContext({ contextTime: 0, performanceTime: 0 })
    const now = jest.spyOn(performance, 'now').mockReturnValue(1000)
    new SoundOutput(context, clock).play({ ...play, startUtcMs: noon + 500 }, () => undefined)
    now.mockRestore()
    expect(log.find(([what]) => what === 'start')![1]).toBeCloseTo(10 + 0.5 - 0.02, 9)
  })
})

describe('explainMicrophoneError', () => {
  it.each([
    ['NotAllowedError', /Allow it for this page/],
    ['NotFoundError', /Plug the interface/],
    ['NotReadableError', /held by another program/],
    ['OverconstrainedError', /Choose another/],
    ['OddError', /could not be opened: odd/],
  ])('%s says what to do', (name, words) => expect(explainMicrophoneError(Object.assign(new Error('odd'), { name }))).toMatch(words))
})

describe('talking with the server', () => {
  const contact = emptyContact({
    id: '00000000-0000-4000-8000-000000000001',
    call: 'Q1ABC',
    mode: 'FT8',
    startedUtcMs: noon,
    endedUtcMs: noon,
    origin: 'air',
  })
  const answerWith = (status: number, value: unknown) =>
    jest.spyOn(globalThis, 'fetch').mockResolvedValue(new Response(JSON.stringify(value), { status }))
  afterEach(() => jest.restoreAllMocks())

  it('believes that a contact is stored only when the server names it', async () => {
    answerWith(200, { stored: [contact.id] })
    expect(await sendContacts([contact])).toEqual({ ok: true })
    answerWith(200, { stored: [] })
    expect(await sendContacts([contact])).toMatchObject({ ok: false, error: expect.stringMatching(/did not acknowledge/) as string })
    answerWith(200, 'something else')
    expect((await sendContacts([contact])).ok).toBe(false)
  })
  it('passes on what the server says is wrong', async () => {
    answerWith(507, { error: 'The disk of the server is full.' })
    expect(await sendContacts([contact])).toEqual({ ok: false, error: 'The disk of the server is full.', refused: false })
    answerWith(500, undefined)
    expect(await sendContacts([contact])).toEqual({ ok: false, error: 'The server answered 500.', refused: false })
    answerWith(422, { error: '0.call: too long' })
    expect(await sendContacts([contact])).toEqual({ ok: false, error: '0.call: too long', refused: true })
  })
  it('says that a server does not answer', async () => {
    jest.spyOn(globalThis, 'fetch').mockRejectedValue(new TypeError('refused'))
    expect(await sendContacts([contact])).toMatchObject({ ok: false, error: expect.stringMatching(/wait in this browser/) as string })
    expect(await sendHeard([])).toBe(false)
    expect(await askWorked(['Q1ABC'], false)).toBeUndefined()
  })
  it('takes no odd answer for contacts worked before', async () => {
    answerWith(200, [{ call: 'Q1ABC' }])
    expect(await askWorked(['Q1ABC'], false)).toBeUndefined()
    const row = { call: 'Q1ABC', band: '20m', mode: 'FT8', locator: null, name: null, startedUtcMs: noon }
    answerWith(200, [row])
    expect(await askWorked(['Q1ABC'], false)).toEqual([row])
  })
})
