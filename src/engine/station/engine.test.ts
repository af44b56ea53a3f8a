import { jest } from '@jest/globals'
import { modulate } from '@/core/ft8'
import { createRandom } from '@/core/dsp'
import { BandPicture, PICTURE_BIN_HZ } from './bandPicture'
import { FrameStamper } from '../browser/frameStamper'
import { Outbox, type OutboxState } from './outbox'
import { EARLY_MS, HAND_OVER_MS, SlotCollector, type CollectedSlot } from '../modes/ft8/slotCollector'
import { StationClock } from './stationClock'
import { emptyContact, type Contact } from '@/core/log'

const noon = Date.UTC(2026, 5, 1, 12)

describe('SlotCollector', () => {
  /** Pushes audio whose samples tell their own time, in blocks with scattered stamps. */
  const collect = (fromMs: number, toMs: number, { scatterMs = 0, gap = [0, 0], blockMs = 100 } = {}) => {
    const slots: CollectedSlot[] = []
    const collector = new SlotCollector((slot) => slots.push(slot))
    const random = createRandom(4)
    for (let ms = fromMs; ms < toMs; ms += blockMs) {
      if (ms >= gap[0]! && ms < gap[1]!) continue
      const samples = Float32Array.from({ length: blockMs * 12 }, (_, i) => ms + i / 12)
      collector.push({ samples, startUtcMs: noon + ms + scatterMs * random() })
    }
    return slots
  }

  it('hands each slot over before it ends, with what came just before it', () => {
    const slots = collect(0, 46_000)
    expect(slots.map((s) => s.slotIndex - noon / 15_000)).toEqual([0, 1, 2])
    for (const [i, slot] of slots.entries()) {
      expect(slot.missingMs).toBe(0)
      // The sample at the slot's start holds the slot's start.
      expect(slot.samples[Math.round(slot.slotStartS * 12_000)]).toBeCloseTo(15_000 * i, 0)
      expect(slot.samples.length / 12_000).toBeCloseTo(HAND_OVER_MS / 1000 + (i === 0 ? 0 : 2.1), 2)
    }
  })

  it('does not tear the audio for the scatter of stamps', () => {
    const [, second] = collect(0, 31_000, { scatterMs: 30 })
    let steps = 0
    for (let i = 1; i < second!.samples.length; i++) if (Math.abs(second!.samples[i]! - second!.samples[i - 1]! - 1 / 12) > 0.01) steps++
    expect(steps).toBeLessThanOrEqual(1)
  })

  it('keeps time over a gap, fills it with silence and says how long it was', () => {
    const [, second] = collect(0, 31_000, { gap: [18_000, 20_000] })
    expect(second!.missingMs).toBeGreaterThan(1900)
    expect(second!.missingMs).toBeLessThan(2100)
    expect(second!.samples[Math.round((second!.slotStartS + 4) * 12_000)]).toBe(0)
    expect(second!.samples[Math.round((second!.slotStartS + 8) * 12_000)]).toBeCloseTo(23_000, 0)
  })

  it('leaves out a slot of which too little was heard', () => {
    expect(collect(10_500, 31_000).map((s) => s.slotIndex - noon / 15_000)).toEqual([1])
  })

  it('hands each slot over twice: once as soon as a transmission in time is over', () => {
    const order: string[] = []
    const note = (name: string) => (slot: CollectedSlot) => {
      order.push(`${name} ${slot.slotIndex - noon / 15_000}`)
      const endMs = slot.samples.length / 12 - slot.slotStartS * 1000
      expect(endMs).toBeCloseTo(name === 'early' ? EARLY_MS : HAND_OVER_MS, 0)
    }
    const collector = new SlotCollector(note('full'), note('early'))
    for (let ms = 0; ms < 30_000; ms += 100) collector.push({ samples: new Float32Array(1200), startUtcMs: noon + ms })
    // A block that brings a whole slot at once leaves nothing to be early for.
    collector.push({ samples: new Float32Array(15 * 12_000), startUtcMs: noon + 30_000 })
    expect(order).toEqual(['early 0', 'full 0', 'early 1', 'full 1', 'full 2'])
  })

  it('starts anew after the clock was moved by minutes', () => {
    const slots: CollectedSlot[] = []
    const collector = new SlotCollector((slot) => slots.push(slot))
    const push = (ms: number) => collector.push({ samples: new Float32Array(1200), startUtcMs: noon + ms })
    for (let ms = 0; ms < 5000; ms += 100) push(ms)
    for (let ms = 600_000; ms < 614_500; ms += 100) push(ms)
    expect(slots.map((s) => s.slotIndex - noon / 15_000)).toEqual([40])
  })
})

describe('FrameStamper', () => {
  it('finds the true time behind scattered arrivals, and follows a slow device', () => {
    const random = createRandom(5)
    const stamper = new FrameStamper(48_000)
    let worst = 0
    for (let batch = 0; batch < 2000; batch++) {
      const first = batch * 2048
      // The device runs 100 millionths slow: a frame takes a little longer than it says.
      const endedMs = ((first + 2048) / 48_000) * 1000 * 1.0001 + 5000
      const startMs = stamper.stamp(first, 2048, endedMs + 3 + 40 * random() ** 2)
      if (batch > 100) worst = Math.max(worst, Math.abs(startMs - (endedMs - (2048 / 48_000) * 1000)))
    }
    expect(worst).toBeLessThan(8)
  })
})

describe('StationClock', () => {
  it('sets the real clock aside for practice and takes it up again unharmed', () => {
    let mono = 0
    const clock = new StationClock(
      () => mono,
      () => noon + mono,
    )
    mono = 1000
    clock.send({ type: 'byHand', byMs: 500, monotonicMs: mono })
    clock.tick('free')
    clock.simulate({ startUtcMs: noon + 1e9, pace: 4 })
    mono = 2000
    clock.tick('listening')
    expect(clock.nowUtcMs()).toBe(noon + 1e9 + 4000)
    expect(clock.timebase).toMatchObject({ source: 'practice', uncertaintyMs: 0 })
    clock.endSimulation()
    expect(clock.nowUtcMs()).toBe(noon + 2500)
    expect(clock.timebase.source).toBe('hand')
  })
  it('can be wrong in a simulated world, and be put right there', () => {
    let mono = 0
    const clock = new StationClock(
      () => mono,
      () => noon + mono,
    )
    clock.simulate({ startUtcMs: noon, pace: 2, clockErrorMs: 1400 })
    mono = 500
    expect(clock.worldUtcMs()).toBe(noon + 1000)
    expect(clock.nowUtcMs()).toBe(noon + 2400)
    expect(clock.utcAtWorld(clock.worldAtUtc(noon + 5000))).toBe(noon + 5000)
    expect(clock.utcAtMonotonic(clock.monotonicAtUtc(noon + 5000))).toBe(noon + 5000)
    const band = { source: 'band', kind: 'band' as const, label: 'band', randomMs: 50, biasMs: 50, windowMs: 0 }
    clock.send({ type: 'reading', reading: { ...band, monotonicMs: clock.monotonicMs(), utcMs: clock.worldUtcMs() } })
    clock.send({ type: 'follow', source: 'band' })
    clock.tick('free')
    expect(clock.nowUtcMs()).toBeCloseTo(noon + 1000, 0)
    // Real time knows nothing of it.
    expect(clock.realState.timebase.correctionMs).toBe(0)
  })
  it('waits while held, and only when it runs fast', () => {
    let mono = 0
    const clock = new StationClock(
      () => mono,
      () => noon + mono,
    )
    clock.hold('decoder')
    mono = 1000
    expect(clock.nowUtcMs()).toBe(noon + 1000)
    clock.simulate({ startUtcMs: noon, pace: 8 })
    clock.hold('decoder')
    clock.hold('band')
    mono = 5000
    clock.release('decoder')
    mono = 6000
    expect(clock.nowUtcMs()).toBe(noon)
    clock.release('band')
    mono = 6100
    expect(clock.nowUtcMs()).toBe(noon + 800)
  })
})

describe('BandPicture', () => {
  it('draws a tone in its bin at its level', () => {
    const rows: Float32Array[] = []
    const picture = new BandPicture((row) => rows.push(row.levels))
    const samples = Float32Array.from({ length: 12_000 }, (_, i) => 0.1 * Math.sin((2 * Math.PI * 1500 * i) / 12_000))
    for (let at = 0; at < samples.length; at += 500) picture.push({ samples: samples.subarray(at, at + 500), startUtcMs: noon })
    expect(rows.length).toBeGreaterThanOrEqual(4)
    const levels = rows[2]!
    const bin = Math.round(1500 / PICTURE_BIN_HZ)
    expect(levels[bin]).toBeCloseTo(-20, 0)
    expect(levels[bin + 40]).toBeLessThan(-80)
  })
  it('agrees with the modulator about what a signal is', () => {
    const tones = new Uint8Array(79).fill(4)
    const rows: Float32Array[] = []
    new BandPicture((row) => rows.push(row.levels)).push({
      samples: modulate(tones, { sampleRateHz: 12_000, audioOffsetHz: 1000 }),
      startUtcMs: noon,
    })
    const middle = rows[20]!
    expect(middle.indexOf(Math.max(...middle))).toBe(Math.round(1025 / PICTURE_BIN_HZ))
  })
})

describe('Outbox', () => {
  const contact = (n: number): Contact =>
    emptyContact({
      id: `00000000-0000-4000-8000-00000000000${n}`,
      call: 'Q1ABC',
      mode: 'FT8',
      startedUtcMs: noon,
      endedUtcMs: noon,
      origin: 'air',
    })
  const memoryStore = () => {
    const rows = new Map<string, Contact>()
    return {
      rows,
      put: async (c: Contact) => void rows.set(c.id, c),
      all: async () => [...rows.values()],
      remove: async (ids: readonly string[]) => ids.forEach((i) => rows.delete(i)),
    }
  }
  beforeEach(() => jest.useFakeTimers())
  afterEach(() => jest.useRealTimers())

  it('keeps a contact until the server has it, however often it has to ask', async () => {
    const store = memoryStore()
    const states: OutboxState[] = []
    const answers = [false, false, true]
    let asked = 0
    const outbox = new Outbox(
      store,
      async () => (answers[asked++] ? { ok: true } : { ok: false, error: 'no answer' }),
      (s) => states.push(s),
    )
    await outbox.add(contact(1))
    await outbox.flush()
    expect(store.rows.size).toBe(1)
    expect(states.at(-1)).toEqual({ waiting: 1, problem: 'no answer', stored: 0 })
    await jest.advanceTimersByTimeAsync(60_000)
    expect(store.rows.size).toBe(0)
    expect(states.at(-1)).toEqual({ waiting: 0, problem: undefined, stored: 1 })
    expect(asked).toBe(3)
  })

  it('sends what an earlier page left behind', async () => {
    const store = memoryStore()
    await store.put(contact(1))
    const sent: string[] = []
    const outbox = new Outbox(
      store,
      async (batch) => (sent.push(...batch.map((c) => c.id)), { ok: true }),
      () => undefined,
    )
    await outbox.flush()
    expect(sent).toEqual([contact(1).id])
    outbox.stop()
  })

  it('keeps contacts in memory when the browser has no store for them', async () => {
    const closed = {
      put: () => Promise.reject(new Error('storage is forbidden')),
      all: () => Promise.reject(new Error('storage is forbidden')),
      remove: () => Promise.reject(new Error('storage is forbidden')),
    }
    const states: OutboxState[] = []
    let up = false
    const outbox = new Outbox(
      closed,
      async () => (up ? { ok: true } : { ok: false, error: 'no answer' }),
      (s) => states.push(s),
    )
    await outbox.add(contact(1))
    expect(states[0]).toMatchObject({ waiting: 1, problem: expect.stringMatching(/leave the page open/) as string })
    up = true
    await jest.advanceTimersByTimeAsync(5000)
    expect(states.at(-1)).toEqual({ waiting: 0, problem: undefined, stored: 1 })
  })
  it('does not let one that the server refuses keep the others, and tells of it', async () => {
    const store = memoryStore()
    for (const n of [1, 2, 3]) await store.put({ ...contact(n), call: `Q${n}ABC` })
    const states: OutboxState[] = []
    let strict = true
    const batches: number[] = []
    const outbox = new Outbox(
      store,
      async (batch) => {
        batches.push(batch.length)
        return strict && batch.some((c) => c.call === 'Q2ABC') ? { ok: false, error: '0.call: no', refused: true } : { ok: true }
      },
      (s) => states.push(s),
    )
    await outbox.flush()
    expect([...store.rows.values()].map((c) => c.call)).toEqual(['Q2ABC'])
    expect(states.at(-1)).toEqual({ waiting: 1, problem: 'The contact with Q2ABC waits: 0.call: no', stored: 2 })
    expect(batches).toEqual([3, 1, 1, 1])
    strict = false
    await jest.advanceTimersByTimeAsync(16_000)
    expect(states.at(-1)).toEqual({ waiting: 0, problem: undefined, stored: 3 })
    outbox.stop()
  })

  it('sends once what the browser’s store does not let go of', async () => {
    const store = { ...memoryStore(), remove: () => Promise.reject(new Error('the disk is full')) }
    await store.put(contact(1))
    const states: OutboxState[] = []
    let sent = 0
    const outbox = new Outbox(
      store,
      async () => (sent++ < 5 ? { ok: true } : { ok: false, error: 'sent without end' }),
      (s) => states.push(s),
    )
    await outbox.flush()
    expect([sent, states.at(-1)]).toEqual([1, { waiting: 0, problem: undefined, stored: 1 }])
    // A contact of the same id that comes anew is another matter.
    await outbox.add(contact(1))
    await outbox.flush()
    expect(sent).toBe(2)
  })

  it('sends what comes while it looks a last time', async () => {
    const store = memoryStore()
    const sent: string[] = []
    const outbox = new Outbox(
      store,
      async (batch) => (sent.push(...batch.map((c) => c.id)), { ok: true }),
      () => undefined,
    )
    const flushing = outbox.flush()
    // Stored after the look that found nothing, flushed before that came to its end.
    store.rows.set(contact(1).id, contact(1))
    void outbox.flush()
    await flushing
    await jest.advanceTimersByTimeAsync(0)
    expect(sent).toEqual([contact(1).id])
  })
})
