import { jest } from '@jest/globals'
import {
  addSignal,
  decodeSlot,
  encodeFt8,
  createCallMemory,
  heardAs,
  simulateSlot,
  SLOT_MS,
  type Knowledge,
  type SimulatedSignal,
  type Unfinished,
} from '@/core/ft8'
import { createRandom } from '@/core/dsp'
import type { Contact } from '@/core/log'
import { emptyStation } from '@/core/station'
import type { HeardReport } from '@/core/station/heardContract'
import type { OnBlock } from './audioBlock'
import type { AudioOutput, PlayRequest } from './audioOutput'
import type { ExaminerClient } from './levels/examiner.client'
import { createLocalExaminer } from './levels/localExaminer'
import type { ModemClient } from '../modes/ft8/modem.client'
import type { ModeResources } from '../modes'
import type { Psk31Modem } from '../modes/psk31/psk31Modem.client'
import type { PracticeClient } from './practice/practice.client'
import { RunningStation, type StationHost } from './station'

// An even slot, in the future of nobody.
const noon = Date.UTC(2026, 5, 1, 12)

const profile = {
  ...emptyStation,
  call: 'Q5RVR',
  locator: 'JN97LK',
  licenceConfirmedUtcMs: noon,
  dialFrequencyHz: 14_074_000,
  powerW: 10,
}

const received = (samples: Float32Array) => ({ samples, channels: [samples.slice()] })

/** All signals of these tests are strong and lie here: more would only take time. */
const QUICKLY = { depth: 'quick', passes: 1, lowestHz: 500, highestHz: 1700 } as const

/** What the decoder was told to expect, slot by slot. */
let expected: (Knowledge | undefined)[] = []

const packetResources: ModeResources['packet'] = {
  createModem: () => ({ restart: async () => undefined, push: async () => ({ frames: [], carrier: false }), close: () => undefined }),
  lend: () => ({ stop: () => undefined }),
  random: () => 0,
}

const psk31Modem = (): Psk31Modem => ({
  restart: async () => undefined,
  push: async () => ({ texts: [], channels: [], occupancy: [], unread: [] }),
  close: () => undefined,
})

function modem(): ModemClient {
  const memory = createCallMemory()
  return {
    decode: async ({ samples, slotStartS, calls, knowledge }) => {
      calls.forEach((call) => memory.remember(call))
      expected.push(knowledge)
      return {
        ok: true,
        value: {
          decodes: decodeSlot(samples, { slotStartS, callMemory: memory, ...QUICKLY, ...(knowledge && { knowledge }) }),
          decodeMs: 1,
          cutShort: false,
        },
      }
    },
    encode: async (text, options) => encodeFt8(text, options),
    close: () => undefined,
  } as ModemClient
}

function setUp(over: Partial<StationHost> = {}, createModem = modem) {
  const start = Date.now()
  const played: PlayRequest[] = []
  let ended: ((complete: boolean) => void) | undefined
  const output: AudioOutput = {
    sampleRateHz: 12_000,
    play: (request, onEnded) => {
      played.push(request)
      ended = onEnded
      setTimeout(
        () => {
          ended?.(true)
          ended = undefined
        },
        request.startUtcMs + (request.length ?? 0) / 12 - Date.now(),
      )
    },
    stop: () => {
      ended?.(false)
      ended = undefined
    },
  }
  let onBlock: OnBlock | undefined
  let onLost: ((why: string) => void) | undefined
  const kept = new Map<string, Contact>()
  const sent: Contact[] = []
  const heard: HeardReport[] = []
  let ids = 0
  let keptOpen: Unfinished[] = []
  const station = new RunningStation({
    monotonicMs: () => Date.now() - start,
    wallUtcMs: () => Date.now(),
    newId: () => `00000000-0000-4000-8000-${String(++ids).padStart(12, '0')}`,
    modes: {
      ft8: { createModem, unfinishedStore: { load: () => keptOpen, save: (list) => (keptOpen = [...list]) } },
      psk31: { createModem: psk31Modem, unfinishedStore: { load: () => [], save: () => true } },
      packet: packetResources,
    },
    createExaminer: createLocalExaminer,
    sendLevelHistory: async () => true,
    createPractice: () =>
      ({
        start: async () => ({ label: 'Practice band', stepMs: SLOT_MS }),
        setFaults: async () => undefined,
        setBandFaults: async () => undefined,
        keyed: async () => undefined,
        setVolume: async () => undefined,
        render: async () => received(simulateSlot([], 1)),
        hear: async () => undefined,
        close: () => undefined,
      }) as PracticeClient,
    openMicrophone: async (_device, _clock, block, lost) => {
      onBlock = block
      onLost = lost
      return { ok: true, source: { kind: 'microphone', label: 'Test input', stop: () => (onBlock = undefined) }, warnings: [] }
    },
    openOutput: async () => ({ ok: true, output }),
    outboxStore: {
      put: async (c) => void kept.set(c.id, c),
      all: async () => [...kept.values()],
      remove: async (list) => list.forEach((id) => kept.delete(id)),
    },
    sendContacts: async (contacts) => {
      sent.push(...contacts)
      return { ok: true }
    },
    sendHeard: async (reports) => {
      heard.push(...reports)
      return true
    },
    askWorked: async () => [],
    askPlaces: async () => undefined,
    sendClockHistory: async () => true,
    driftStore: { load: () => undefined, save: () => undefined },
    openServerClock: () => () => undefined,
    openServerLinks: () => () => undefined,
    sendKey: async () => ({ ok: true }),
    ...over,
  })
  station.setProfile(profile)
  /** Lets a slot pass in which these signals are on the air. */
  const slot = async (signals: readonly SimulatedSignal[] = []) => {
    const startMs = Math.ceil(Date.now() / SLOT_MS) * SLOT_MS
    await jest.advanceTimersByTimeAsync(startMs - Date.now())
    const audio = simulateSlot([], startMs / SLOT_MS)
    signals.forEach((signal, i) => addSignal(audio, 0, signal, createRandom(i)))
    for (let at = 0; at < audio.length; at += 6000) {
      await jest.advanceTimersByTimeAsync(500)
      onBlock?.({ samples: audio.slice(at, at + 6000), startUtcMs: station.clock.utcAtMonotonic(startMs + at / 12 - start) })
    }
    await jest.advanceTimersByTimeAsync(0)
  }
  return {
    hear: (samples: Float32Array, startUtcMs: number) => onBlock?.({ samples, startUtcMs }),
    station,
    played,
    sent,
    heard,
    slot,
    lose: (why: string) => onLost?.(why),
    state: () => ({ ...station.modes.ft8.state.getState(), ...station.store.getState() }),
    ft8: station.modes.ft8,
  }
}

const says = (text: string, over: Partial<SimulatedSignal> = {}): SimulatedSignal => ({
  text,
  snrDb: -3,
  audioOffsetHz: 900,
  timeOffsetS: 0.1,
  ...over,
})

beforeEach(() => jest.useFakeTimers({ now: noon - 1000 }))
afterEach(() => jest.useRealTimers())

describe('RunningStation', () => {
  it('hears a CQ, answers when told to, and stores the contact once', async () => {
    const s = setUp()
    await s.station.listenToMicrophone(undefined, undefined)
    await s.slot([says('CQ Q1ABC JO31')])
    expect(Object.keys(s.state().stations)).toEqual(['Q1ABC'])
    expect(s.state().level?.rmsDbfs).toBeLessThan(-20)
    expect(s.played).toEqual([])

    expect(s.ft8.answer('Q1ABC', 1500)).toMatchObject({ ok: false, need: 'firstCheck' })
    s.station.passCheck()
    expect(s.ft8.answer('Q9XX', 1500)).toMatchObject({ ok: false })
    expect(s.ft8.answer('Q1ABC', 1500)).toEqual({ ok: true })
    await s.slot()
    expect(s.played.map((p) => p.what)).toEqual(['Q1ABC Q5RVR JN97'])
    expect(s.played[0]).toMatchObject({ startUtcMs: noon + 15_500 })

    expected = []
    await s.slot([says('Q5RVR Q1ABC -07')])
    // The one who is answered is looked for where it was, at both looks.
    const whom = { ownCall: 'Q5RVR', otherCall: 'Q1ABC', otherLocator: 'JO31', nearHz: expect.any(Number) }
    expect(expected).toEqual([whom, whom])
    await s.slot()
    await s.slot([says('Q5RVR Q1ABC RR73')])
    expect(s.sent).toHaveLength(1)
    expect(s.sent[0]).toMatchObject({
      call: 'Q1ABC',
      locator: 'JO31',
      band: '20m',
      origin: 'air',
      reportReceived: '-07',
      ownLocator: 'JN97LK',
      powerW: 10,
    })
    await s.slot()
    expect(s.played.map((p) => p.what)).toEqual(['Q1ABC Q5RVR JN97', expect.stringMatching(/^Q1ABC Q5RVR R[+-]\d\d$/), 'Q1ABC Q5RVR 73'])
    expect(s.state().exchange).toMatchObject({ phase: 'ended', reason: 'complete' })
    expect(s.state()).toMatchObject({ waitingContacts: 0, storedCount: 1 })
    // Nobody is called without a person.
    expected = []
    await s.slot([says('CQ Q2DEF KN44')])
    expect(expected).toEqual([undefined, undefined])
    await s.slot()
    expect(s.played).toHaveLength(3)
    expect(s.heard.map((h) => h.text)).toContain('CQ Q2DEF KN44')
    s.station.close()
  })

  it('looks at a slot before it has ended, and answers what it found then', async () => {
    const s = setUp()
    await s.station.listenToMicrophone(undefined, undefined)
    s.station.passCheck()
    await s.slot([says('CQ Q1ABC JO31')])
    s.ft8.answer('Q1ABC', 1500)
    await s.slot()
    const startMs = Math.ceil(Date.now() / SLOT_MS) * SLOT_MS
    await jest.advanceTimersByTimeAsync(startMs - Date.now())
    const audio = simulateSlot([says('Q5RVR Q1ABC -07')], 5)
    for (let at = 0; at < 162_000; at += 6000) {
      await jest.advanceTimersByTimeAsync(500)
      s.hear(audio.slice(at, at + 6000), startMs + at / 12)
    }
    // 13.5 s into the slot: the second look has not begun.
    await jest.advanceTimersByTimeAsync(0)
    expect(s.state().slots.at(-1)!.slotIndex).toBeLessThan(startMs / SLOT_MS)
    expect(s.state().exchange).toMatchObject({ step: 'rogerReport', answeredSlot: startMs / SLOT_MS })
    expect(s.state().stations['Q1ABC']).toMatchObject({ doing: { kind: 'workingMe' }, timesHeard: 2 })
    s.hear(audio.slice(162_000), startMs + 13_500)
    await jest.advanceTimersByTimeAsync(1500)
    expect(s.state().stations['Q1ABC']!.timesHeard).toBe(2)
    expect(s.state().tally).toMatchObject({ heard: 2, transmitted: 1, lost: 0 })
    s.station.close()
  })

  it('takes up what broke off, also after the page was closed, and completes it by evidence alone', async () => {
    const s = setUp()
    await s.station.listenToMicrophone(undefined, undefined)
    s.station.passCheck()
    await s.slot([says('CQ Q1ABC JO31')])
    s.ft8.answer('Q1ABC', 1500)
    await s.slot()
    await s.slot([says('Q5RVR Q1ABC -07')])
    await s.slot()
    s.station.stopListening()
    expect(s.state().unfinished).toEqual([])
    await s.station.listenToMicrophone(undefined, undefined)
    expect(s.state().unfinished).toMatchObject([{ otherCall: 'Q1ABC', reportReceivedDb: -7, step: 'rogerReport' }])
    await s.slot([says('CQ Q1ABC JO31')])
    expect(s.ft8.answer('Q1ABC', 1500)).toEqual({ ok: true })
    await s.slot()
    expect(s.played.at(-1)!.what).toMatch(/^Q1ABC Q5RVR R/)
    s.ft8.stopExchange()
    await s.slot([says('Q5RVR Q1ABC RR73')])
    expect(s.sent).toMatchObject([{ call: 'Q1ABC', reportReceived: '-07' }])
    expect(s.state().unfinished).toEqual([])
    s.station.close()
  })

  it('listens to its own lane after five CQs, and expects those it has heard to answer', async () => {
    // What is decoded does not matter here, only what is asked for.
    let heardFirst = [heardAs('CQ Q1ABC JO31')!]
    const quickModem = (): ModemClient => ({
      ...modem(),
      decode: async ({ knowledge }) => {
        expected.push(knowledge)
        const decodes = heardFirst
        heardFirst = []
        return { ok: true, value: { decodes, decodeMs: 1, cutShort: false } }
      },
    })
    const deaf = { examine: async () => undefined, restart: async () => undefined, close: () => undefined } as unknown as ExaminerClient
    const s = setUp({ createExaminer: () => deaf }, quickModem)
    await s.station.listenToMicrophone(undefined, undefined)
    s.station.passCheck()
    s.station.setProfile({ ...profile, modes: { ...profile.modes, ft8: { ...profile.modes.ft8, maxCqTries: 20 } } })
    await s.slot()
    s.ft8.callCq('odd', 1200)
    await s.slot()
    expected = []
    await s.slot()
    expect(expected.at(-1)).toEqual({ ownCall: 'Q5RVR', callers: [{ call: 'Q1ABC', locator: 'JO31' }] })
    for (let n = 0; n < 10; n++) await s.slot()
    const first = s.played[0]!.startUtcMs
    // Every thirty seconds, but the sixth turn is given to listening.
    expect(s.played.map((p) => (p.startUtcMs - first) / 30_000)).toEqual([0, 1, 2, 3, 4, 6])
    expect(s.state().listeningSlot).toBe((first - 500) / SLOT_MS + 10)
    const heardIn = (slotIndex: number) => s.state().slots.find((slot) => slot.slotIndex === slotIndex)?.transmitted === false
    expect(heardIn(s.state().listeningSlot!)).toBe(true)
    expect(heardIn(s.state().listeningSlot! - 2)).toBe(false)
    s.station.close()
  }, 30_000)

  it('says a free text once, and refuses what cannot be sent', async () => {
    const s = setUp()
    await s.station.listenToMicrophone(undefined, undefined)
    s.station.passCheck()
    expect(s.ft8.say('THIS IS TOO LONG A TEXT', 'even', 1000)).toMatchObject({ ok: false })
    expect(s.ft8.say('tnx river', 'even', 1000)).toEqual({ ok: true })
    await jest.advanceTimersByTimeAsync(75_000)
    expect(s.played.map((p) => p.what)).toEqual(['TNX RIVER'])
    expect(s.state()).toMatchObject({ exchange: { phase: 'ended', reason: 'said' } })
    expect(s.state().keyedMs).toBeCloseTo(12_640, -2)
    s.station.close()
  })

  it('is silent at once and stays so', async () => {
    const s = setUp()
    await s.station.listenToMicrophone(undefined, undefined)
    s.station.passCheck()
    expect(s.state().next).toBeUndefined()
    expect(s.ft8.callCq('even', 1200)).toEqual({ ok: true })
    // Until it ends, the station says what it will send and when.
    await jest.advanceTimersByTimeAsync(100)
    expect(s.state().next).toEqual({ text: 'CQ Q5RVR JN97', startUtcMs: noon, audioOffsetHz: 1200, onlyIfAsked: false })
    await jest.advanceTimersByTimeAsync(3900)
    expect(s.state().onAir?.text).toBe('CQ Q5RVR JN97')
    expect(s.state().next).toBeUndefined()
    await jest.advanceTimersByTimeAsync(14_000)
    expect(s.state().next).toMatchObject({ text: 'CQ Q5RVR JN97', startUtcMs: noon + 30_000 })
    await jest.advanceTimersByTimeAsync(16_000)
    expect(s.state().onAir?.text).toBe('CQ Q5RVR JN97')
    s.station.silence()
    expect(s.state().onAir).toBeUndefined()
    await jest.advanceTimersByTimeAsync(100)
    expect(s.state().next).toBeUndefined()
    expect(s.state().exchange).toMatchObject({ phase: 'ended', reason: 'silenced' })
    await jest.advanceTimersByTimeAsync(60_000)
    expect(s.played).toHaveLength(2)
    // A person may start again.
    expect(s.ft8.callCq('even', 1200)).toEqual({ ok: true })
    await jest.advanceTimersByTimeAsync(20_000)
    expect(s.played).toHaveLength(3)
    s.station.close()
  })

  it('goes off the air when its source vanishes or is changed', async () => {
    const s = setUp()
    await s.station.listenToMicrophone(undefined, undefined)
    s.station.passCheck()
    s.ft8.callCq('even', 1200)
    await jest.advanceTimersByTimeAsync(4000)
    expect(s.state().onAir).toBeDefined()
    s.lose('The input vanished.')
    expect(s.state().onAir).toBeUndefined()
    expect(s.state().source).toEqual({ kind: 'none', problem: 'The input vanished.' })
    s.station.close()
  })

  it('does not go on calling without ears', async () => {
    const s = setUp()
    await s.station.listenToMicrophone(undefined, undefined)
    s.station.passCheck()
    s.ft8.callCq('odd', 1200)
    s.lose('The input vanished.')
    expect(s.state().exchange).toMatchObject({ phase: 'ended', reason: 'silenced' })
    await jest.advanceTimersByTimeAsync(60_000)
    expect(s.played).toEqual([])
    s.station.close()
  })

  it('explains why it cannot transmit', async () => {
    const s = setUp()
    expect(s.ft8.callCq('even', 1200)).toMatchObject({ ok: false, need: 'source' })
    await s.station.listenToMicrophone(undefined, undefined)
    s.station.setProfile({ ...profile, licenceConfirmedUtcMs: null })
    expect(s.ft8.callCq('even', 1200)).toMatchObject({ ok: false, need: 'licence' })
    s.station.setProfile({ ...profile, call: '' })
    expect(s.ft8.callCq('even', 1200)).toMatchObject({ ok: false, need: 'ownCall' })
    s.station.close()
  })

  it('passes on what the microphone and the output say', async () => {
    const s = setUp({ openMicrophone: async () => ({ ok: false, error: 'Not allowed.' }) })
    await s.station.listenToMicrophone(undefined, undefined)
    expect(s.state().source).toEqual({ kind: 'none', problem: 'Not allowed.' })
    s.station.close()
    const t = setUp({ openOutput: async () => ({ ok: false, error: 'No output.' }) })
    await t.station.listenToMicrophone(undefined, undefined)
    expect(t.state().outputProblem).toBe('No output.')
    expect(t.ft8.callCq('even', 1200)).toMatchObject({ ok: false, need: 'source' })
    t.station.close()
  })

  it('learns from the band how far off its clock is, and moves only when told', async () => {
    const s = setUp()
    await s.station.listenToMicrophone(undefined, undefined)
    await s.slot([0.75, 0.8, 0.85, 0.8].map((timeOffsetS, i) => says(`CQ Q${i}ABC JO31`, { timeOffsetS, audioOffsetHz: 600 + 300 * i })))
    expect(s.state().bandClock!.stations).toBe(4)
    expect(s.state().bandClock!.offsetMs).toBeCloseTo(800, -2)
    // The test's true time is Date.now(); the clock under test began with it.
    const fastMs = () => s.station.clock.nowUtcMs() - Date.now()
    await jest.advanceTimersByTimeAsync(15_000)
    expect(fastMs()).toBe(0)
    s.station.time.follow('band')
    await jest.advanceTimersByTimeAsync(1000)
    // Moved only between slots, while something is being heard.
    expect(fastMs()).toBe(0)
    await jest.advanceTimersByTimeAsync(14_000)
    expect(fastMs()).toBeCloseTo(-800, -2)
    expect(s.state().timebase).toMatchObject({ source: 'band' })
    expect(s.state().clockNotes.at(-1)!.words).toMatch(/was moved back by 0\.[78]\d s \(The band\)/)
    s.station.time.byHand(-100)
    await jest.advanceTimersByTimeAsync(16_000)
    expect(fastMs()).toBeCloseTo(-900, -2)
    expect(s.state().timebase).toMatchObject({ source: 'hand' })
    s.station.close()
  })

  it('plays a recording as slots from its start, faster than it was made, and does not answer it', async () => {
    const s = setUp()
    const recording = new Float32Array(30 * 12_000)
    recording.set(simulateSlot([says('CQ Q1ABC JO31')], 1))
    recording.set(simulateSlot([says('CQ Q2DEF KN44')], 2), 15 * 12_000)
    s.station.playRecording({ label: 'field.wav', samples: recording }, 10)
    await jest.advanceTimersByTimeAsync(6000)
    expect(Object.keys(s.state().stations).sort()).toEqual(['Q1ABC', 'Q2DEF'])
    expect(s.state().source).toEqual({ kind: 'none', problem: 'The recording "field.wav" has ended.' })
    expect(s.state().slots.map((slot) => slot.decodes.length)).toEqual([1, 1])
    expect(s.ft8.answer('Q1ABC', 1500)).toMatchObject({ ok: false })
    s.station.close()
  })

  it('runs the practice band on a clock of its own and gives it the audio that was sent', async () => {
    const changed: unknown[] = []
    const turned: number[] = []
    const given: { startUtcMs: number; seconds: number; last: boolean }[] = []
    const s = setUp({
      createPractice: () =>
        ({
          start: async () => ({ label: 'Practice band', stepMs: SLOT_MS }),
          setFaults: async (faults) => void changed.push(faults),
          setBandFaults: async () => undefined,
          keyed: async () => undefined,
          setVolume: async (db) => void turned.push(db),
          render: async (fromUtcMs) => received(simulateSlot([says('CQ Q1ABC JO31')], fromUtcMs / SLOT_MS)),
          hear: async ({ samples, sampleRateHz, startUtcMs, last }) => {
            given.push({ startUtcMs, seconds: samples.length / sampleRateHz, last })
            return null
          },
          close: () => undefined,
        }) as PracticeClient,
    })
    await s.station.startPractice({ seed: 1, stations: 8, pace: 4, audible: false, clockErrorMs: 0, faults: ['speech'] }, undefined)
    expect(s.state().practiceFaults).toEqual(['speech'])
    s.station.setPracticeFaults(['dropouts'])
    expect(changed).toEqual([['dropouts']])
    s.station.setPracticeVolume(12)
    expect(turned).toEqual([12])
    expect(s.state().practiceVolumeDb).toBe(12)
    expect(s.state().timebase).toMatchObject({ source: 'practice' })
    s.station.passCheck()
    s.ft8.callCq('even', 2000)
    await jest.advanceTimersByTimeAsync(4000)
    expect(given[0]).toMatchObject({ startUtcMs: noon + 500, last: true })
    expect(given[0]!.seconds).toBeCloseTo(12.64, 1)
    expect(s.state().notice?.text).toMatch(/Nobody on the practice band could copy/)
    await jest.advanceTimersByTimeAsync(5000)
    expect(s.state().stations['Q1ABC']).toBeDefined()
    const practiceUtc = s.station.clock.nowUtcMs()
    s.station.stopListening()
    expect(practiceUtc).toBeGreaterThan(s.station.clock.nowUtcMs())
    s.station.close()
  })

  it('dates what is practised at many times the pace by real time', async () => {
    const s = setUp({
      createPractice: () =>
        ({
          start: async () => ({ label: 'Practice band', stepMs: SLOT_MS }),
          setFaults: async () => undefined,
          setBandFaults: async () => undefined,
          keyed: async () => undefined,
          setVolume: async () => undefined,
          render: async (fromUtcMs) => received(simulateSlot([says('CQ Q1ABC JO31')], fromUtcMs / SLOT_MS)),
          hear: async () => null,
          close: () => undefined,
        }) as PracticeClient,
    })
    await s.station.startPractice({ seed: 1, stations: 8, pace: 8, audible: false, clockErrorMs: 0, faults: [] }, undefined)
    await jest.advanceTimersByTimeAsync(20_000)
    const now = Date.now()
    expect(s.station.clock.nowUtcMs()).toBeGreaterThan(now + 100_000)
    expect(s.heard.length).toBeGreaterThan(2)
    for (const { startUtcMs, endUtcMs } of s.heard) {
      expect(startUtcMs).toBeGreaterThan(noon - 15_000)
      expect(endUtcMs).toBeLessThanOrEqual(now)
    }
    s.station.close()
  })

  it('lets a mode be brought to the front while the source is still being opened: it hears it then', async () => {
    const pushed: number[] = []
    let opened: (value: never) => void = () => undefined
    const s = setUp({
      openMicrophone: () => new Promise((done) => (opened = done as never)),
      modes: {
        ft8: { createModem: modem, unfinishedStore: { load: () => [], save: () => true } },
        psk31: {
          unfinishedStore: { load: () => [], save: () => true },
          createModem: () => ({
            ...psk31Modem(),
            push: async (samples) => {
              pushed.push(samples.length)
              return { texts: [], channels: [], occupancy: [], unread: [] }
            },
          }),
        },
        packet: packetResources,
      },
    })
    const listening = s.station.listenToMicrophone(undefined, undefined)
    expect(s.station.bringToFront('psk31')).toEqual({ ok: true })
    opened({ ok: true, source: { kind: 'microphone', label: 'Late', stop: () => undefined }, warnings: [] } as never)
    await listening
    const runner = s.station.modes.psk31
    for (let i = 0; i < 6; i++) runner.block({ samples: new Float32Array(1200), startUtcMs: noon + 100 * i })
    expect(pushed).toEqual([2400, 2400, 2400])
    // And in the middle of something none is changed.
    s.station.passCheck()
    runner.focus({ frequencyHz: 1000 })
    expect(runner.say('cq', false)).toEqual({ ok: true })
    expect(s.station.bringToFront('ft8')).toMatchObject({ ok: false, why: expect.stringMatching(/PSK31 is in the middle/) })
    s.station.close()
  })

  it('sends a test through the gate, hears it back, rests, and is silenced like anything else', async () => {
    const s = setUp()
    await s.station.listenToMicrophone(undefined, undefined)
    const refused = await s.station.sendTest('tone', { amplitude: 0.5, durationS: 2 })
    expect(refused).toMatchObject({ sent: false, need: 'firstCheck' })
    s.station.passCheck()
    const sent = s.station.sendTest('tone', { amplitude: 0.5, durationS: 2 })
    await jest.advanceTimersByTimeAsync(500)
    expect(s.state().onAir?.text).toBe('Test tone')
    s.hear(new Float32Array(12_000).fill(0.25), s.station.clock.nowUtcMs())
    await jest.advanceTimersByTimeAsync(4000)
    const result = await sent
    if (!result.sent) throw new Error(result.why)
    expect(result.complete).toBe(true)
    // What was heard 300 ms after the test's start lies there.
    expect(result.heard[3600 - 100]).toBe(0)
    expect(result.heard[3600 + 100]).toBe(0.25)
    const again = s.station.sendTest('tone', { amplitude: 0.5, durationS: 8 })
    await jest.advanceTimersByTimeAsync(700)
    s.station.silence()
    expect(s.state().onAir).toBeUndefined()
    // Nothing is gathered after a silence longer than what may still come back, and the radio rests.
    await jest.advanceTimersByTimeAsync(1250)
    expect(await again).toMatchObject({ sent: true, complete: false })
    // What goes on by itself stays silent; a person may begin anew.
    const further = await s.station.sendTest('vox', { amplitude: 0.5, durationS: 1, goesOn: true })
    expect(further).toMatchObject({ sent: false, need: 'start' })
    const begun = s.station.sendTest('vox', { amplitude: 0.5, durationS: 1 })
    await jest.advanceTimersByTimeAsync(3000)
    expect(await begun).toMatchObject({ sent: true, complete: true })
  }, 20_000)
})
