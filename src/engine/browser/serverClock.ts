import { serverClockSchema, serverExchangeSchema } from '@/core/links'
import { bestExchange, type ClockReading, type ExchangeOffset, type TimedExchange } from '@/core/time'
import type { ServerClockListener } from '../station/station'
import { followEvents } from './followEvents'

const EXCHANGES = 6
const AGAIN_MS = 60_000
const RETRY_MS = 5000
/** An offset found long ago has drifted with two crystals. */
const DRIFT_PER_MS = 60e-6
/** A field computer whose clock differs by less says nothing that this computer's own does not. */
const OWN_CLOCK_MS = 80
/** Nobody knows how good a field computer's clock is. */
const SERVER_CLOCK_ERROR_MS = 1000

/** Asks the server once when it is. */
async function exchange(): Promise<{ timed: TimedExchange; wallUtcMs: number } | undefined> {
  const sentLocalMs = performance.now()
  try {
    const response = await fetch('/api/clock/exchange', { cache: 'no-store', signal: AbortSignal.timeout(4000) })
    const returnedLocalMs = performance.now()
    const parsed = serverExchangeSchema.safeParse(await response.json())
    if (!response.ok || !parsed.success) return undefined
    const { receivedMonotonicMs, repliedMonotonicMs, wallUtcMs } = parsed.data
    return {
      timed: { sentLocalMs, receivedRemoteMs: receivedMonotonicMs, repliedRemoteMs: repliedMonotonicMs, returnedLocalMs },
      wallUtcMs,
    }
  } catch {
    return undefined
  }
}

/**
 * Follows what the server knows of time. Its readings are on its own monotonic clock; timed questions tell how that one
 * stands to this device's, and half their round trip is added to what may be wrong.
 */
export function openServerClock({ onReadings, onState }: ServerClockListener): () => void {
  let offset: (ExchangeOffset & { wallAheadMs: number }) | undefined
  let waiting: ClockReading[] = []
  let closed = false
  let timer: ReturnType<typeof setTimeout> | undefined

  const carry = (reading: ClockReading): ClockReading => {
    const age = Math.abs(performance.now() - offset!.localMs)
    return {
      ...reading,
      monotonicMs: reading.monotonicMs - offset!.offsetMs,
      biasMs: reading.biasMs + offset!.roundTripMs / 2 + age * DRIFT_PER_MS,
    }
  }
  const give = () => {
    if (!offset || waiting.length === 0) return
    const ready = waiting.map(carry)
    waiting = []
    onReadings(ready)
  }
  const measure = async () => {
    const timed: TimedExchange[] = []
    let wallAheadMs = 0
    for (let i = 0; i < EXCHANGES && !closed; i++) {
      const one = await exchange()
      if (!one) break
      timed.push(one.timed)
      wallAheadMs = one.wallUtcMs - (Date.now() - (one.timed.returnedLocalMs - one.timed.sentLocalMs) / 2)
    }
    if (closed) return
    const best = bestExchange(timed)
    if (best) {
      offset = { ...best, wallAheadMs }
      onState({ serverLink: { roundTripMs: best.roundTripMs, wallAheadMs } })
      give()
      if (Math.abs(wallAheadMs) > OWN_CLOCK_MS) onReadings([serverWallReading(wallAheadMs, best.roundTripMs)])
    }
    timer = setTimeout(() => void measure(), best ? AGAIN_MS : RETRY_MS)
  }

  const endEvents = followEvents('/api/clock/live', serverClockSchema, {
    onValue(serverClock) {
      onState({ serverClock })
      waiting = [...waiting, ...serverClock.readings.map((r) => r.reading)].slice(-200)
      give()
    },
    onLost: () => onState({ serverClock: undefined }),
  })
  void measure()
  return () => {
    closed = true
    clearTimeout(timer)
    endEvents()
  }
}

function serverWallReading(wallAheadMs: number, roundTripMs: number): ClockReading {
  return {
    source: 'server',
    kind: 'server',
    label: 'The field computer’s clock, its error unknown',
    monotonicMs: performance.now(),
    utcMs: Date.now() + wallAheadMs,
    randomMs: roundTripMs / 2,
    biasMs: SERVER_CLOCK_ERROR_MS,
    windowMs: 0,
  }
}
