import type { ClockReading, ClockSourceKind } from './clockReading'
import { createClockState, reduceClock, viewSources, type ClockEvent, type ClockNote, type ClockState } from './clockState'
import { judgeClock } from './clockVerdict'
import { estimateDrift, rememberedDrift, UNKNOWN_DRIFT } from './driftEstimate'
import { goodFor, uncertaintyAfter } from './holdover'
import { steer, type Occupancy } from './steering'
import { startTimebase, uncertaintyAt, utcAt } from './timebase'
import { compareWall } from './wallWatch'

const noon = Date.UTC(2026, 5, 1, 12)

/** A clock whose true time is `monotonic + noon`; the computer's is off by `wallErrorMs`. */
function clock(wallErrorMs = 1400) {
  let state: ClockState = createClockState(noon + wallErrorMs, 0, 15_000)
  const notes: ClockNote[] = []
  let wallStepMs = wallErrorMs
  const send = (event: ClockEvent) => {
    const [next, more] = reduceClock(state, event)
    state = next
    notes.push(...more)
  }
  return {
    notes,
    get state() {
      return state
    },
    send,
    read: (source: string, kind: ClockSourceKind, atMs: number, errorMs: number, over: Partial<ClockReading> = {}) =>
      send({
        type: 'reading',
        reading: {
          source,
          kind,
          label: source,
          monotonicMs: atMs,
          utcMs: noon + atMs + errorMs,
          randomMs: 10,
          biasMs: 40,
          windowMs: 0,
          ...over,
        },
      }),
    tick: (atMs: number, occupancy: Occupancy = 'free') =>
      send({ type: 'tick', monotonicMs: atMs, wallUtcMs: noon + atMs + wallStepMs, occupancy }),
    stepWall: (byMs: number) => (wallStepMs += byMs),
    errorMs: (atMs: number) => utcAt(state.timebase, atMs) - (noon + atMs),
    standing: (source: string, atMs = state.wall.monotonicMs) => viewSources(state, atMs).find((s) => s.source === source)?.standing,
  }
}

describe('the clock', () => {
  it('starts with the computer’s clock and claims nothing of it', () => {
    const c = clock()
    c.tick(250)
    expect(c.errorMs(250)).toBe(1400)
    expect(uncertaintyAt(c.state.timebase, noon)).toBeUndefined()
  })

  it('follows a trusted source at once when nothing is being heard', () => {
    const c = clock()
    c.read('gps:serial', 'gps', 1000, 15)
    c.tick(1250)
    expect(c.errorMs(1250)).toBeCloseTo(15, 1)
    expect(c.notes).toEqual([{ kind: 'stepped', byMs: expect.closeTo(-1385, 0), source: 'gps' }])
    expect(uncertaintyAt(c.state.timebase, noon + 1250)!).toBeCloseTo(Math.hypot(10, 40), 0)
  })

  it('shows the band but waits to be told', () => {
    const c = clock(800)
    c.read('band', 'band', 1000, 0)
    c.tick(1250)
    expect(c.errorMs(1250)).toBe(800)
    expect(c.standing('band')).toBe('offered')
    c.send({ type: 'follow', source: 'band' })
    c.tick(1500)
    expect(c.errorMs(1500)).toBeCloseTo(0, 0)
    expect(c.standing('band')).toBe('used')
  })

  it('does not follow what doubts itself', () => {
    const c = clock()
    c.read('gps:serial', 'gps', 1000, 0, { doubt: 'only 3 satellites are used' })
    c.tick(1250)
    expect(c.errorMs(1250)).toBe(1400)
    expect(c.standing('gps:serial')).toBe('doubtful')
    c.send({ type: 'follow', source: 'gps:serial' })
    c.tick(1500)
    expect(c.errorMs(1500)).toBeCloseTo(0, 0)
  })

  it('outvotes a liar when two agree', () => {
    const c = clock()
    c.read('network:a', 'network', 1000, 86_400_000)
    c.read('gps:serial', 'gps', 1000, 10)
    c.read('network:b', 'network', 1000, -12)
    c.tick(1250)
    expect(Math.abs(c.errorMs(1250))).toBeLessThan(15)
    expect([c.standing('network:a'), c.standing('gps:serial'), c.standing('network:b')]).toEqual(['disagrees', 'used', 'used'])
    expect(c.state.consensus!.undecided).toBe(false)
  })

  it('keeps to what it followed when a newcomer contradicts, says so, and lets the operator decide', () => {
    const c = clock()
    c.read('gps:serial', 'gps', 1000, 0)
    c.tick(1250)
    c.read('network:a', 'network', 2000, 3000)
    c.tick(2250)
    expect(Math.abs(c.errorMs(2250))).toBeLessThan(1)
    expect(c.notes.at(-1)).toMatchObject({ kind: 'contradiction', words: expect.stringMatching(/3 whole seconds apart/) })
    c.tick(2500)
    expect(c.notes.filter((n) => n.kind === 'contradiction')).toHaveLength(1)
    c.send({ type: 'follow', source: 'network:a' })
    c.tick(2750)
    expect(c.errorMs(2750)).toBeCloseTo(3000, 0)
    c.send({ type: 'leaveOut', source: 'network:a', leftOut: true })
    c.tick(3000)
    expect(c.standing('network:a')).toBe('leftOut')
  })

  it('is not carried off by a single source that lies by a day', () => {
    const c = clock(0)
    c.read('network:a', 'network', 1000, 5)
    c.tick(1250)
    c.read('network:a', 'network', 61_000, 86_400_000)
    c.tick(61_250)
    expect(Math.abs(c.errorMs(61_250))).toBeLessThan(20)
    expect(c.standing('network:a')).toBe('disagrees')
    expect(c.notes.at(-1)).toMatchObject({ kind: 'contradiction' })
    // When it comes back to reason it is followed again.
    c.read('network:a', 'network', 121_000, 4)
    c.tick(121_250)
    expect(c.standing('network:a')).toBe('used')
  })

  it.each([
    ['an hour and more', 3_700_000, /Time server alone says that this clock is 1\.0 h slow/],
    ['a day', -86_400_000, /24\.0 h fast/],
    ['three days', 3 * 86_400_000, /3 days slow/],
  ])('is not moved by %s on the word of one source', (_, lieMs, words) => {
    const c = clock(0)
    c.read('network:a', 'network', 1000, lieMs, { label: 'Time server' })
    for (const ms of [1250, 1500, 1750]) c.tick(ms)
    expect(c.errorMs(1750)).toBe(0)
    expect(c.notes).toEqual([{ kind: 'contradiction', words: expect.stringMatching(words) }])
    expect(judgeClock(c.state, 1750)).toMatchObject({ kind: 'contradiction', sentence: expect.stringMatching(words) })
    // Nor by the same source again, but by a second one that agrees,
    c.read('network:a', 'network', 61_000, lieMs + 3)
    c.tick(61_250)
    expect(c.errorMs(61_250)).toBe(0)
    c.read('gps:serial', 'gps', 62_000, lieMs + 8)
    c.tick(62_250)
    expect(Math.abs(c.errorMs(62_250) - lieMs)).toBeLessThan(10)
  })
  it('is moved by a day when the operator says so, and by minutes without', () => {
    const told = clock(0)
    told.read('network:a', 'network', 1000, 86_400_000)
    told.tick(1250)
    told.send({ type: 'follow', source: 'network:a' })
    told.tick(1500)
    expect(told.errorMs(1500)).toBeCloseTo(86_400_000, 0)
    const late = clock(600_000)
    late.read('gps:serial', 'gps', 1000, 0)
    late.tick(1250)
    expect(Math.abs(late.errorMs(1250))).toBeLessThan(1)
  })
  it('takes a single word against a computer that names an impossible time', () => {
    const woken = clock(-noon)
    woken.read('gps:serial', 'gps', 1000, 0)
    woken.tick(1250)
    expect(Math.abs(woken.errorMs(1250))).toBeLessThan(1)
  })

  it.each([
    ['1970', -noon],
    ['?', Number.MAX_VALUE],
    ['2140', 114 * 365.25 * 86_400_000],
  ])('refuses a reading of the year %s', (year, errorMs) => {
    const c = clock()
    c.read('network:a', 'network', 0, errorMs)
    expect(c.notes).toEqual([{ kind: 'refused', words: expect.stringContaining(`the year ${year}`) }])
    expect(Object.keys(c.state.readings)).toEqual([])
  })

  it('is moved by hand against any source until told otherwise', () => {
    const c = clock()
    c.read('gps:serial', 'gps', 1000, 0)
    c.tick(1250)
    c.send({ type: 'byHand', byMs: 2000, monotonicMs: 1300 })
    c.tick(1500)
    expect(c.errorMs(1500)).toBeCloseTo(2000, 0)
    expect(c.standing('gps:serial')).toBe('disagrees')
    c.send({ type: 'byHand', byMs: -500, monotonicMs: 1600 })
    c.tick(1750)
    expect(c.errorMs(1750)).toBeCloseTo(1500, 0)
    c.send({ type: 'follow', source: 'gps:serial' })
    c.tick(2000)
    expect(c.errorMs(2000)).toBeCloseTo(0, 0)
    expect(() => c.send({ type: 'byHand', byMs: Number.NaN, monotonicMs: 0 })).toThrow(RangeError)
  })

  it('goes on undisturbed when the computer’s clock is set back', () => {
    const c = clock(0)
    c.read('gps:serial', 'gps', 1000, 0)
    c.tick(1250)
    c.stepWall(-3_600_000)
    c.tick(1500)
    expect(c.notes.at(-1)).toEqual({ kind: 'wallStepped', byMs: -3_600_000 })
    expect(Math.abs(c.errorMs(1500))).toBeLessThan(1)
  })

  it('after a sleep follows the computer’s clock, is unsure, and takes the next reading', () => {
    const c = clock(0)
    c.read('gps:serial', 'gps', 1000, 0)
    c.tick(1250)
    // The monotonic clock stood still for ten minutes.
    c.stepWall(600_000)
    c.tick(1500)
    expect(c.notes.at(-1)).toEqual({ kind: 'sleptOrStepped', byMs: 600_000 })
    expect(c.errorMs(1500)).toBeCloseTo(600_000, 0)
    expect(uncertaintyAt(c.state.timebase, noon + 601_500)!).toBeGreaterThan(600_000)
    c.read('gps:serial', 'gps', 3000, 600_000 + 5)
    c.tick(3250)
    expect(Math.abs(c.errorMs(3250) - 600_005)).toBeLessThan(6)
    expect(uncertaintyAt(c.state.timebase, noon + 603_250)!).toBeLessThan(60)
  })

  it('forgets a source that was taken away', () => {
    const c = clock(0)
    c.read('gps:serial', 'gps', 1000, 0)
    c.send({ type: 'follow', source: 'gps:serial' })
    c.send({ type: 'forget', source: 'gps:serial' })
    expect(c.state.choices.preferred).toBeUndefined()
    expect(viewSources(c.state, 2000)).toEqual([])
  })

  it('learns how fast this device drifts and holds on by it', () => {
    const c = clock(0)
    const ppm = 25
    const trueUtc = (atMs: number) => noon + atMs * (1 + ppm * 1e-6)
    for (let s = 0; s <= 1800; s += 10) {
      c.read('gps:serial', 'gps', s * 1000, trueUtc(s * 1000) - noon - s * 1000 + (s % 3) - 1, { randomMs: 4 })
      c.tick(s * 1000 + 1)
    }
    expect(c.state.drift.ppm).toBeCloseTo(ppm, 0)
    expect(c.state.drift.uncertaintyPpm).toBeLessThan(4)
    const later = 1_800_000 + 4 * 3_600_000
    expect(Math.abs(utcAt(c.state.timebase, later) - trueUtc(later))).toBeLessThan(60)
  })
})

describe('steering', () => {
  const target = {
    offsetMs: noon,
    uncertaintyMs: 30,
    source: 'gps' as const,
    driftPpm: 0,
    driftUncertaintyPpm: 2,
    wanderPpm: 5,
    driftAgeMs: 0,
  }
  const timebase = (errorMs: number) => startTimebase(noon + errorMs, 0)
  const at = (intoMs: number, occupancy: Occupancy) => ({ monotonicMs: intoMs, occupancy, slotMs: 15_000 })

  it.each([
    // error, into the slot (of the timebase), occupancy, steps at once
    [400, 3000, 'free', true],
    [400, 3000, 'listening', false],
    [400, 3000, 'contact', false],
    [400, 13_700, 'contact', true],
    [400, 14_380, 'listening', true],
    [400, 14_500, 'contact', false],
    [-400, 14_500, 'contact', true],
    [-400, 14_000, 'contact', false],
  ] as const)('%i ms off, %i ms on, %s: steps %s', (errorMs, intoMs, occupancy, steps) => {
    const done = steer(timebase(errorMs), target, at(intoMs, occupancy))
    expect(done.steppedMs).toBe(steps ? -errorMs : 0)
    expect(done.waitingMs).toBe(steps ? 0 : -errorMs)
  })

  it('waits for audio of the slot that is still on its way', () => {
    expect(steer(timebase(400), target, { ...at(13_700, 'listening'), slotOver: false }).waitingMs).toBe(-400)
    expect(steer(timebase(400), target, { ...at(3000, 'free'), slotOver: false }).steppedMs).toBe(-400)
  })

  it('draws small differences over slowly, even while a contact runs, and never overshoots', () => {
    let base = timebase(8)
    let largest = 0
    for (let ms = 250; ms <= 20_000; ms += 250) {
      const before = utcAt(base, ms)
      base = steer(base, target, at(ms, 'contact')).timebase
      largest = Math.max(largest, Math.abs(utcAt(base, ms) - before))
    }
    expect(largest).toBeLessThanOrEqual(0.126)
    expect(Math.abs(utcAt(base, 20_000) - noon - 20_000)).toBeLessThan(0.6)
    // A page that was halted for a minute moves at most by what is missing.
    expect(utcAt(steer(timebase(8), target, at(60_000, 'contact')).timebase, 60_000)).toBeCloseTo(noon + 60_000, 6)
  })

  it('counts what is still to be drawn over as an error', () => {
    const done = steer(timebase(10), target, at(250, 'contact'))
    expect(done.timebase.uncertaintyMs!).toBeCloseTo(Math.hypot(30, 9.875), 2)
  })

  it.each([
    ['listening', 47_000],
    ['listening', 70_000],
    ['contact', undefined],
  ] as const)('%s on a device too busy to hand a slot over in time: a step is taken within %s ms', (occupancy, withinMs) => {
    let state = createClockState(noon + 400, 0, 15_000)
    const steps: number[] = []
    // In the second case the page is halted in each gap too.
    const halted = (atMs: number) => withinMs === 70_000 && (atMs + 400) % 15_000 > 13_900
    state = reduceClock(state, {
      type: 'reading',
      reading: { source: 'gps', kind: 'gps', label: 'GPS', monotonicMs: 0, utcMs: noon, randomMs: 4, biasMs: 40, windowMs: 0 },
    })[0]
    for (let atMs = 100; atMs < 120_000; atMs += 100) {
      if (halted(atMs)) continue
      const [next, notes] = reduceClock(state, {
        type: 'tick',
        monotonicMs: atMs,
        wallUtcMs: noon + 400 + atMs,
        occupancy,
        slotOver: false,
      })
      state = next
      for (const note of notes) if (note.kind === 'stepped') steps.push(atMs)
    }
    expect(steps).toHaveLength(withinMs === undefined ? 0 : 1)
    if (withinMs !== undefined) expect(steps[0]).toBeLessThan(withinMs)
    // What waits no longer is forgotten: the next step waits anew.
    expect(state.waitingSinceMs === undefined).toBe(withinMs !== undefined)
  })
})

describe('wall watch', () => {
  const before = { monotonicMs: 1000, wallUtcMs: noon }
  it.each([
    ['nothing', 250, 250, undefined],
    ['gentle steering', 15_000, 15_040, undefined],
    ['a step back', 250, -5000, 'wallStepped'],
    ['a small step forward', 250, 750, 'wallStepped'],
    ['a sleep', 250, 300_250, 'sleptOrStepped'],
    ['a page that was not run', 40_000, 40_000, 'paused'],
  ] as const)('sees %s', (_, monotonic, wall, kind) => {
    expect(compareWall(before, { monotonicMs: 1000 + monotonic, wallUtcMs: noon + wall })?.kind).toBe(kind)
  })
})

describe('holdover', () => {
  it('grows as the errors say and inverts itself', () => {
    const h = { baseMs: 30, driftPpm: 4, wanderPpm: 5, driftAgeMs: 600_000 }
    expect(uncertaintyAfter(h, 0)).toBe(30)
    for (const thresholdMs of [200, 500, 1000]) expect(uncertaintyAfter(h, goodFor(h, thresholdMs)!)).toBeCloseTo(thresholdMs, 6)
    expect(goodFor(h, 29)).toBeUndefined()
    expect(goodFor({ baseMs: 0, driftPpm: 0, wanderPpm: 0 }, 200)).toBe(Infinity)
  })
})

describe('drift', () => {
  const reading = (s: number, errorMs: number, over: Partial<ClockReading> = {}): ClockReading => ({
    source: 'gps',
    kind: 'gps',
    label: 'gps',
    monotonicMs: s * 1000,
    utcMs: noon + s * 1000 + errorMs,
    randomMs: 4,
    biasMs: 500,
    windowMs: 0,
    ...over,
  })
  it('is learned from how readings move, whatever error they share', () => {
    const drift = estimateDrift([Array.from({ length: 60 }, (_, i) => reading(i * 30, 400 + 0.03 * i * 30))], UNKNOWN_DRIFT)
    expect(drift.ppm).toBeCloseTo(30, 0)
  })
  it('counts overlapping evidence once', () => {
    const readings = Array.from({ length: 60 }, (_, i) => reading(i * 10, 0, { windowMs: 300_000 }))
    expect(estimateDrift([readings], UNKNOWN_DRIFT)).toEqual(UNKNOWN_DRIFT)
  })
  it('is not learned from a source that was set', () => {
    const readings = [reading(0, 0), reading(60, 0), reading(120, 5000), reading(180, 5000)]
    expect(estimateDrift([readings], UNKNOWN_DRIFT)).toEqual(UNKNOWN_DRIFT)
  })
  it('is worth a little less the next day', () => {
    const next = rememberedDrift({ ppm: 12, uncertaintyPpm: 1, wanderPpm: 5 })
    expect(next.ppm).toBe(12)
    expect(next.uncertaintyPpm).toBeGreaterThan(4)
  })
})
