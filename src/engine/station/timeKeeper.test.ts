import { findSlotPhase, SAMPLE_RATE_HZ, simulateSlot, SLOT_MS, addSignal, type SlotPhase } from '@/core/ft8'
import { createRandom } from '@/core/dsp'
import type { ClockHistoryEntry } from '@/core/links'
import type { ClockReading, Drift } from '@/core/time'
import { BlindCapture } from '../modes/ft8/blindCapture'
import { BlindSearch } from '../modes/ft8/blindSearch'
import type { BlindState } from '../modes/ft8/state'
import { ClockRecorder } from './clockRecorder'
import { describeClockNote } from './clockWords'
import type { ModemClient } from '../modes/ft8/modem.client'
import { StationClock } from './stationClock'
import { initialState, type StationState } from './state'
import { TimeKeeper } from './timeKeeper'

const noon = Date.UTC(2026, 5, 1, 12)

/** A keeper on a clock of the test's own; true time is `noon` plus the monotonic time. */
function setUp({ wallErrorMs = 0, drift = undefined as Drift | undefined, find = findSlotPhase as (s: Float32Array) => SlotPhase } = {}) {
  let mono = 0
  let state: StationState = initialState
  const sent: ClockHistoryEntry[] = []
  const saved: Drift[] = []
  const closed: string[] = []
  const clock = new StationClock(
    () => mono,
    () => noon + mono + wallErrorMs,
  )
  const keeper = new TimeKeeper(
    clock,
    {
      monotonicMs: () => mono,
      newId: () => `00000000-0000-4000-8000-${String(sent.length).padStart(12, '0')}`,
      sendClockHistory: async (entries) => {
        sent.push(...entries)
        return true
      },
      driftStore: { load: () => drift, save: (d) => saved.push(d) },
    },
    () => state,
    (change) => (state = { ...state, ...change }),
  )
  const createModem = () =>
    ({
      findSlots: async (samples: Float32Array, onProgress: (share: number) => void) => {
        onProgress(0.5)
        await Promise.resolve()
        return { ok: true, value: find(samples) }
      },
      close: () => closed.push('modem'),
    }) as unknown as ModemClient
  let blindState: BlindState = { phase: 'idle' }
  const blind = new BlindSearch(clock, createModem, (change) => (blindState = change.blind))
  const reading = (errorMs: number, over: Partial<ClockReading> = {}): ClockReading => ({
    source: 'gps:serial',
    kind: 'gps',
    label: 'Receiver',
    monotonicMs: mono,
    utcMs: noon + mono + errorMs,
    randomMs: 4,
    biasMs: 40,
    windowMs: 0,
    ...over,
  })
  return {
    keeper,
    clock,
    reading,
    sent,
    saved,
    closed,
    blind,
    accept: (slots: number) => {
      const taken = blind.take(slots)
      if (taken) keeper.takeSlots({ ...taken, windowMs: 45_000 })
    },
    get state() {
      return { ...state, blind: blindState }
    },
    pass: (ms: number, occupancy: 'free' | 'listening' | 'contact' = 'free') => {
      for (const end = mono + ms; mono < end;) {
        mono += 250
        keeper.tick(occupancy, true)
      }
    },
    errorMs: () => clock.nowUtcMs() - noon - mono,
    mono: () => mono,
  }
}
const crowd = (offsets: Record<string, number>) => Object.entries(offsets).map(([call, timeOffsetS]) => ({ call, timeOffsetS, snrDb: -5 }))

describe('TimeKeeper', () => {
  it('takes readings, notes them for the chart and the history, and says what it did', async () => {
    const k = setUp({ wallErrorMs: 2000 })
    k.keeper.read(k.reading(0))
    k.pass(500)
    expect(Math.abs(k.errorMs())).toBeLessThan(1)
    expect(k.state.clockNotes.map((n) => n.words)).toEqual(['Zeptik’s clock was moved back by 2.00 s (GPS).'])
    expect(k.state.clockPoints.find((p) => p.source === 'gps:serial')).toMatchObject({ errorMs: expect.closeTo(2000, 0) })
    // The computer's own clock is compared now and then.
    k.pass(31_000)
    expect(k.state.clockPoints.findLast((p) => p.source === 'computer')!.errorMs).toBeCloseTo(2000, 0)
    await Promise.resolve()
    expect(k.sent.map((e) => e.kind).sort()).toEqual(['reading', 'step'])
  })

  it('keeps the band’s opinion true through a correction', () => {
    const k = setUp({ wallErrorMs: 900 })
    const slot = Math.floor(k.clock.nowUtcMs() / SLOT_MS)
    k.keeper.heard(slot, crowd({ Q1ABC: 0.9, Q2ABC: 0.95, Q3ABC: 0.85, Q4ABC: 0.9 }), 0)
    expect(k.state.bandClock).toMatchObject({ offsetMs: expect.closeTo(900, -1), stations: 4 })
    k.keeper.follow('band')
    k.pass(500)
    expect(Math.abs(k.errorMs())).toBeLessThan(15)
    // The next slot was received before the step and decoded after it.
    k.keeper.heard(slot + 1, crowd({ Q5ABC: 0.9, Q6ABC: 0.9 }), 0)
    expect(Math.abs(k.state.bandClock!.offsetMs)).toBeLessThan(30)
    k.keeper.heard(slot + 2, crowd({ Q1ABC: 0, Q2ABC: 0.05, Q3ABC: -0.05, Q4ABC: 0 }), k.clock.timebase.correctionMs)
    expect(Math.abs(k.state.bandClock!.offsetMs)).toBeLessThan(30)
    expect(k.state.bandClock!.moved).toBeUndefined()
    expect(k.state.clockState!.consensus!.undecided).toBe(false)
  })

  it('does not let the band, which knows no minute, undo the minute that the operator sets', () => {
    // An hour slow to the second: the slots are decoded all the same.
    const k = setUp({ wallErrorMs: -3_600_000 })
    const slot = Math.floor(k.clock.nowUtcMs() / SLOT_MS)
    const band = () => crowd({ Q1ABC: 0.02, Q2ABC: -0.02, Q3ABC: 0, Q4ABC: 0.04 })
    k.keeper.heard(slot, band(), 0)
    k.pass(15_000, 'listening')
    k.keeper.takeSlots({ stations: 6, monotonicMs: k.mono(), utcMs: noon + k.mono(), uncertaintyMs: 100, windowMs: 45_000 })
    // Decoded at once, and while the correction waits for the end of the slot.
    k.keeper.heard(slot + 1, band(), 0)
    k.pass(5000, 'listening')
    k.keeper.heard(slot + 1, band(), 0)
    k.pass(14_000, 'listening')
    expect(Math.abs(k.errorMs())).toBeLessThan(100)
    // Received before the step, decoded after it, and then slots of the right hour.
    k.keeper.heard(slot + 2, band(), 0)
    k.pass(15_000, 'listening')
    k.keeper.heard(slot + 243, band(), k.clock.timebase.correctionMs)
    k.pass(15_000, 'listening')
    expect(Math.abs(k.errorMs())).toBeLessThan(100)
    expect(k.state.bandClock).toMatchObject({ utcMs: (slot + 243) * SLOT_MS, stations: 4 })
    expect(Math.abs(k.state.bandClock!.offsetMs)).toBeLessThan(100)
    expect(k.state.clockState!.consensus!.undecided).toBe(false)
    expect(k.state.clockState!.readings.band!.at(-1)!.windowMs).toBeLessThanOrEqual(5 * SLOT_MS)
  })

  it('tells a jump of this clock from one of another station', () => {
    const k = setUp()
    const slot = noon / SLOT_MS
    k.keeper.heard(slot, crowd({ Q1ABC: 0, Q2ABC: 0.1, Q3ABC: -0.1, Q4ABC: 0.05 }), 0)
    k.keeper.heard(slot + 2, crowd({ Q1ABC: 0, Q2ABC: 0.1, Q3ABC: -0.1, Q4ABC: 0.9 }), 0)
    expect(k.state.bandClock!.moved).toMatchObject({ whose: 'theirs', calls: ['Q4ABC'] })
    k.keeper.heard(slot + 4, crowd({ Q1ABC: 0.7, Q2ABC: 0.8, Q3ABC: 0.6, Q4ABC: 1.6 }), 0)
    expect(k.state.bandClock!.moved).toMatchObject({ whose: 'mine', byMs: expect.closeTo(700, -1) })
    // What was heard before the jump no longer counts.
    expect(k.state.bandClock!.offsetMs).toBeGreaterThan(600)
  })

  it('remembers how the device drifts, and starts with it the next time', () => {
    const k = setUp({ drift: { ppm: 20, uncertaintyPpm: 1, wanderPpm: 5 } })
    expect(k.clock.realState.drift.ppm).toBe(20)
    expect(k.clock.realState.drift.uncertaintyPpm).toBeGreaterThan(4)
    for (let s = 0; s < 3600; s += 10) {
      k.keeper.read(k.reading(0))
      k.pass(10_000)
    }
    expect(k.saved.length).toBeGreaterThan(3)
    expect(Math.abs(k.saved.at(-1)!.ppm)).toBeLessThan(4)
  })

  it('forgets and leaves out as told', () => {
    const k = setUp()
    k.keeper.read(k.reading(300))
    k.keeper.leaveOut('gps:serial', true)
    k.pass(500)
    expect(k.errorMs()).toBe(0)
    k.keeper.leaveOut('gps:serial', false)
    k.pass(500)
    expect(k.errorMs()).toBeCloseTo(300, 0)
    k.keeper.forget('gps:serial')
    expect(Object.keys(k.state.clockState!.readings)).toEqual([])
    k.keeper.byHand(1000)
    k.pass(500)
    expect(k.errorMs()).toBeCloseTo(1300, 0)
  })

  describe('looking for slots', () => {
    /** 45 s of a band whose slots begin `phaseS` into it. */
    const audio = (phaseS: number) => {
      const samples = simulateSlot([], 9, { durationS: 46 })
      const random = createRandom(4)
      for (let i = 0; i < 6; i++)
        for (let k = -1; phaseS + 15 * k < 46; k++)
          addSignal(
            samples,
            Math.round((phaseS + 15 * k) * SAMPLE_RATE_HZ),
            { text: `CQ Q${i}ABC JO31`, snrDb: -3, audioOffsetHz: 500 + 300 * i, timeOffsetS: 0 },
            random,
          )
      return samples
    }
    const settle = async () => {
      for (let i = 0; i < 20; i++) await Promise.resolve()
    }

    it('hears out 45 s, proposes a time, and sets the clock when it is confirmed, minutes and all', async () => {
      const k = setUp({ wallErrorMs: -3_600_000 - 4300 })
      // The stretch begins 2 s from now by true time; slots begin on true quarter minutes.
      const samples = audio(13)
      k.pass(2000)
      const startMono = k.mono()
      k.blind.find()
      for (let at = 0; at < samples.length && k.state.blind.phase === 'gathering'; at += 12_000) {
        k.blind.block({ samples: samples.subarray(at, at + 12_000), startUtcMs: k.clock.utcAtMonotonic(startMono + at / 12) })
        if (at === 120_000) expect(k.state.blind).toMatchObject({ phase: 'gathering', haveS: 11, needS: 45 })
      }
      k.pass(46_000)
      await settle()
      expect(k.state.blind).toMatchObject({ phase: 'found', stations: 6 })
      expect(k.closed).toEqual(['modem'])
      // The hour is not known to it: the operator adds it, in slots.
      const found = k.state.blind
      if (found.phase !== 'found') throw new Error(found.phase)
      const proposed = found.slotUtcMs + k.mono() - found.slotMonotonicMs
      const missing = Math.round((noon + k.mono() - proposed) / SLOT_MS)
      expect(missing).toBe(240)
      k.accept(missing)
      k.pass(500)
      expect(Math.abs(k.errorMs())).toBeLessThan(100)
      expect(k.state.blind).toEqual({ phase: 'idle' })
    }, 30_000)

    it('starts anew after a gap', () => {
      const capture = new BlindCapture()
      const second = new Float32Array(12_000)
      for (let s = 0; s < 10; s++) expect(capture.push(second, s * 1000 + (s % 2) * 40)).toBeUndefined()
      expect(capture.seconds).toBe(10)
      // A dropout of half a second, or of some seconds on a busy device, stays silent at its place; more is too much.
      capture.push(second, 10_500)
      expect(capture.seconds).toBe(11.5)
      capture.push(second, 19_500)
      expect(capture.seconds).toBe(20.5)
      capture.push(second, 31_500)
      expect(capture.seconds).toBe(1)
    })

    it('listens on where a stretch gave nothing, says why, and gives up after four', async () => {
      const k = setUp({ find: () => ({ found: false, why: 'no message was decoded' }) })
      const stretch = async (from: number) => {
        for (let s = 0; s < 45; s++)
          k.blind.block({ samples: new Float32Array(12_000), startUtcMs: k.clock.utcAtMonotonic(k.mono() + from + s * 1000) })
        await settle()
      }
      k.blind.find()
      for (let heard = 1; heard <= 3; heard++) {
        await stretch(heard * 60_000)
        expect(k.state.blind).toEqual({ phase: 'gathering', haveS: 0, needS: 45, because: 'no message was decoded' })
      }
      await stretch(300_000)
      expect(k.state.blind).toEqual({ phase: 'notFound', why: 'no message was decoded' })
      expect(k.closed).toHaveLength(4)
      k.blind.find()
      expect(k.state.blind).toEqual({ phase: 'gathering', haveS: 0, needS: 45 })
    })

    it('can be stopped, and says when there was nothing', async () => {
      const k = setUp({ find: () => ({ found: false, why: 'no message was decoded' }) })
      k.blind.find({ samples: new Float32Array(12_000 * 30), startMonotonicMs: 0 })
      await settle()
      expect(k.state.blind).toEqual({ phase: 'notFound', why: 'no message was decoded' })
      k.blind.find({ samples: new Float32Array(12_000 * 30), startMonotonicMs: 0 })
      k.blind.cancel()
      await settle()
      expect(k.state.blind).toEqual({ phase: 'idle' })
      expect(k.blind.take(0)).toBeUndefined()
      k.accept(0)
      expect(k.clock.timebase.source).toBe('computer')
    })
  })
})

describe('ClockRecorder', () => {
  it('keeps what could not be sent, and not without end', async () => {
    let reachable = false
    const sent: ClockHistoryEntry[] = []
    let ids = 0
    const recorder = new ClockRecorder(
      () => String(ids++),
      async (entries) => {
        if (reachable) sent.push(...entries)
        return reachable
      },
    )
    const entry = (utcMs: number) => ({ utcMs, source: 'band', label: 'band', errorMs: 1, uncertaintyMs: 1, words: '' })
    for (let s = 0; s < 2000; s++) recorder.reading(entry(noon + s * 60_000))
    recorder.reading(entry(noon + 2000 * 60_000 - 30_000))
    recorder.tick(0)
    await new Promise((done) => setTimeout(done, 0))
    expect(sent).toEqual([])
    reachable = true
    for (let i = 1; i <= 8; i++) {
      recorder.tick(i * 20_000)
      await new Promise((done) => setTimeout(done, 0))
    }
    expect(sent).toHaveLength(1000)
    expect(new Set(sent.map((e) => e.id)).size).toBe(1000)
  })
})

describe('words for what happened to the clock', () => {
  it.each([
    [{ kind: 'stepped', byMs: 350, source: 'band' }, /moved forward by 0\.35 s \(The band\)/],
    [{ kind: 'wallStepped', byMs: -7_200_000 }, /set back by 2\.0 h.*undisturbed/],
    [{ kind: 'sleptOrStepped', byMs: 600_000 }, /slept.*10 min/],
    [{ kind: 'paused', forMs: 40_000 }, /not run for 40\.00 s/],
    [{ kind: 'refused', words: 'No.' }, /^No\.$/],
    [{ kind: 'wallStepped', byMs: 30 * 86_400_000 }, /30 days/],
  ] as const)('%j', (note, words) => expect(describeClockNote(note)).toMatch(words))
})
