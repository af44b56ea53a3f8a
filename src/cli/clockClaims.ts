// Whether what the clock states of itself holds: seeded runs with honest, odd and lying sources. Used by the bench and its test.
import { createGaussian, createRandom, type Random } from '@/core/dsp'
import { madeUpCall } from '@/core/ft8'
import { drawLineCase, GpsReceiver, simulateLine } from '@/core/nmea'
import {
  absurdSntp,
  createClockState,
  encodeSntpReply,
  encodeSntpRequest,
  estimateFromBand,
  estimateFromSntp,
  estimateFromTaps,
  judgeClock,
  parseSntpReply,
  reduceClock,
  uncertaintyAt,
  UNMEASURED_REACTION,
  utcAt,
  type ClockReading,
  type ClockState,
  type SntpSample,
} from '@/core/time'

const NOON = Date.UTC(2026, 5, 1, 12)

/**
 * What a run came to: nothing was said without a doubt; or how many of the things said were inside what was stated, and by how
 * much the worst missed, in units of what was stated.
 */
export type Claim = { said: 0 } | { said: number; inside: number; worst: number; statedMs: number }

export interface ClaimCount {
  runs: number
  /** Runs in which something was said without a doubt. */
  said: number
  /** Share of what was said that held the truth, each run counting as one. */
  insideShare: number
  /** Share of the runs in which everything that was said did. */
  alwaysShare: number
  /** Runs in which something missed by more than three times what was stated. */
  far: number
  medianStatedMs: number
}

const spoke = (claim: Claim): claim is Exclude<Claim, { said: 0 }> => claim.said > 0

export function countClaims(claims: readonly Claim[]): ClaimCount {
  const said = claims.filter(spoke)
  const stated = said.map((c) => c.statedMs).sort((a, b) => a - b)
  return {
    runs: claims.length,
    said: said.length,
    insideShare: said.reduce((sum, c) => sum + c.inside / c.said, 0) / said.length,
    alwaysShare: said.filter((c) => c.inside === c.said).length / said.length,
    far: said.filter((c) => c.worst > 3).length,
    medianStatedMs: stated[stated.length >> 1] ?? 0,
  }
}

const NOTHING: Claim = { said: 0 }

/** A receiver on a simulated line: every reading that is not doubted is held against true time. */
export function claimOfReceiver(seed: number): Claim {
  const kase = drawLineCase(seed)
  const line = simulateLine(kase)
  const receiver = new GpsReceiver({
    source: 'gps:serial',
    label: 'Receiver',
    ...(kase.toldBaud !== undefined && { serialBaud: kase.toldBaud }),
  })
  let claim: Claim = NOTHING
  for (const { monotonicMs, bytes } of line.reads)
    for (const reading of receiver.push(bytes, monotonicMs)) claim = worse(claim, reading, line.utcAt(reading.monotonicMs))
  return claim
}

function worse(claim: Claim, { utcMs, randomMs, biasMs, doubt }: ClockReading, trueUtcMs: number): Claim {
  return doubt === undefined ? worst(claim, Math.abs(utcMs - trueUtcMs), Math.hypot(randomMs, biasMs)) : claim
}

function worst(claim: Claim, errorMs: number, statedMs: number): Claim {
  const ratio = errorMs / statedMs
  const inside = ratio <= 1 ? 1 : 0
  if (!spoke(claim)) return { said: 1, inside, worst: ratio, statedMs }
  const said = { said: claim.said + 1, inside: claim.inside + inside }
  return claim.worst >= ratio ? { ...claim, ...said } : { ...said, worst: ratio, statedMs }
}

/** What a server may do to be wrong. `alone` cannot be noticed by anybody when there is no second source. */
const SERVER_LIES = {
  halfASecond: 'always half a second off',
  aDay: 'a day off',
  alternates: 'every other answer half a second off',
  bySeries: 'every other series half a second off',
  impossible: 'says it took longer to answer than the answer took',
} as const
type ServerLie = keyof typeof SERVER_LIES
const LIES = Object.keys(SERVER_LIES) as ServerLie[]

interface SimulatedServer {
  lie: ServerLie | undefined
  /** Ways there and back, least and scattering. */
  thereMs: number
  backMs: number
  scatterMs: number
  answers: number
  duplicates: boolean
}

const exponential = (random: Random, meanMs: number) => -meanMs * Math.log(1 - random())

/** Asks a server as the client does, packet by packet. @param utcAtMs true time on the monotonic clock */
function askSeries(server: SimulatedServer, series: number, startMs: number, utc: (monotonicMs: number) => number, random: Random) {
  const samples: SntpSample[] = []
  for (let i = 0; i < 4; i++) {
    const nonce = Uint8Array.from({ length: 8 }, () => Math.floor(256 * random()))
    const sentMs = startMs + 2000 * i
    const arrivedMs = sentMs + server.thereMs + exponential(random, server.scatterMs)
    const returnedMs = arrivedMs + 0.05 + server.backMs + exponential(random, server.scatterMs)
    const off = lieMs(server, series)
    const reply = encodeSntpReply(encodeSntpRequest(nonce), {
      receivedUtcMs: utc(arrivedMs) + off,
      sentUtcMs: utc(arrivedMs) + 0.05 + off + (server.lie === 'impossible' ? 5000 : 0),
    })!
    server.answers++
    // A replay of another question's answer, or one that comes twice, must make no difference.
    const parsed = server.duplicates && samples.length > 0 ? parseSntpReply(reply, nonce.slice().reverse()) : undefined
    const own = parsed?.ok ? parsed : parseSntpReply(reply, nonce)
    if (!own.ok) continue
    const sample = { reply: own.value, sentMonotonicMs: sentMs, returnedMonotonicMs: returnedMs }
    if (absurdSntp(sample) === undefined) samples.push(sample)
  }
  return estimateFromSntp(samples)
}

function lieMs({ lie, answers }: SimulatedServer, series: number): number {
  if (lie === 'halfASecond') return 500
  if (lie === 'aDay') return 86_400_000
  if (lie === 'alternates') return answers % 2 === 0 ? 0 : 500
  if (lie === 'bySeries') return series % 2 === 0 ? 0 : 500
  return 0
}

function readingOf(source: string, estimate: NonNullable<ReturnType<typeof askSeries>>): ClockReading {
  const { offsetMs, roundTripMs, uncertaintyMs, monotonicMs, contradictionMs } = estimate
  return {
    source,
    kind: 'network',
    label: source,
    monotonicMs,
    utcMs: monotonicMs + offsetMs,
    randomMs: Math.max(1, roundTripMs / 4),
    biasMs: uncertaintyMs,
    windowMs: 0,
    ...(contradictionMs > 0 && { doubt: 'its answers contradict one another' }),
  }
}

/** A world of its own: a computer whose clock is off and drifts, and the clock that hears of it. */
function createWorld(random: Random) {
  const driftPpm = 60 * (random() - 0.5)
  const wallErrorMs = 4000 * (random() - 0.5)
  const utc = (monotonicMs: number) => NOON + monotonicMs * (1 + driftPpm * 1e-6)
  let state: ClockState = createClockState(NOON + wallErrorMs, 0, 15_000)
  let claim: Claim = NOTHING
  return {
    utc,
    read: (reading: ClockReading) => void ([state] = reduceClock(state, { type: 'reading', reading })),
    follow: (source: string) => void ([state] = reduceClock(state, { type: 'follow', source })),
    /** Lets the clock run, and holds what it states against the truth, if asked to and unless it says that sources contradict. */
    tick: (monotonicMs: number, judged = true) => {
      ;[state] = reduceClock(state, { type: 'tick', monotonicMs, wallUtcMs: NOON + wallErrorMs + monotonicMs, occupancy: 'free' })
      const shownMs = utcAt(state.timebase, monotonicMs)
      const statedMs = uncertaintyAt(state.timebase, shownMs)
      if (judged && statedMs !== undefined && judgeClock(state, monotonicMs).kind !== 'contradiction')
        claim = worst(claim, Math.abs(shownMs - utc(monotonicMs)), statedMs)
    },
    get claim() {
      return claim
    },
  }
}

/**
 * One to four time servers, fewer than half of them liars, or a single one that gives itself away, over three quarters of
 * an hour.
 */
export function claimOfServers(seed: number): Claim {
  const random = createRandom(seed ^ 0x5e12)
  const world = createWorld(random)
  const count = 1 + Math.floor(4 * random())
  const liars = count === 1 ? (random() < 0.5 ? 1 : 0) : Math.floor((count - 1) / 2)
  const servers = Array.from({ length: count }, (_, i): SimulatedServer => {
    const aLie = LIES[Math.floor(LIES.length * random())]!
    const least = 1 + 150 * random() ** 2
    const share = random()
    return {
      // Alone, one that always says the same wrong thing cannot be told from one that is right.
      lie: i >= liars ? undefined : count === 1 && aLie === 'halfASecond' ? 'alternates' : aLie,
      thereMs: 2 * least * share,
      backMs: 2 * least * (1 - share),
      scatterMs: 40 * random(),
      answers: 0,
      duplicates: random() < 0.2,
    }
  })
  let series = 0
  for (let s = 0; s <= 2700; s += 15) {
    if (s % 900 === 0) {
      servers.forEach((server, i) => {
        const estimate = askSeries(server, series, s * 1000 + i, world.utc, random)
        if (estimate) world.read(readingOf(`network:${i}`, estimate))
      })
      series++
    }
    world.tick(s * 1000 + 12_000)
  }
  return world.claim
}

/** Taps on a watch by a person who is late, irregular, and misses or doubles some. The watch is right; whole seconds are known. */
export function claimOfTaps(seed: number): Claim {
  const random = createRandom(seed ^ 0x7a9)
  const gaussian = createGaussian(random)
  const lateMs = UNMEASURED_REACTION.biasMs + (UNMEASURED_REACTION.uncertaintyMs / 2) * gaussian()
  const scatterMs = 15 + 60 * random()
  const taps: number[] = []
  const count = 2 + Math.floor(14 * random())
  for (let k = 0; k < count; k++) {
    if (random() < 0.05) continue
    const wild = random() < 0.04 ? 400 * (random() - 0.5) : 0
    taps.push(1000 * k + lateMs + scatterMs * gaussian() + wild)
    if (random() < 0.03) taps.push(taps.at(-1)! + 120 + 60 * random())
  }
  const believedErrorMs = 300 * (random() - 0.5)
  const estimate = estimateFromTaps(taps, 'second', NOON + believedErrorMs)
  if (!estimate) return NOTHING
  const offsetMs = estimate.offsetMs + UNMEASURED_REACTION.biasMs
  return worst(NOTHING, Math.abs(offsetMs - NOON), Math.hypot(estimate.randomMs, UNMEASURED_REACTION.uncertaintyMs))
}

/** A band on which up to three in ten stations have clocks that are badly off, some of them all alike. */
export function claimOfBand(seed: number): Claim {
  const random = createRandom(seed ^ 0xba4d)
  const gaussian = createGaussian(random)
  const stations = 3 + Math.floor(37 * random() ** 1.5)
  const spreadS = 0.05 + 0.25 * random()
  const liars = Math.floor(stations * 0.3 * random())
  const alike = random() < 0.5
  const lieS = (random() < 0.5 ? -1 : 1) * (0.5 + 1.5 * random())
  const clockErrorS = 1.2 * (random() - 0.5)
  const delayS = 0.04 * random()
  const readings = Array.from({ length: stations }, (_, i) => ({
    call: madeUpCall(random),
    timeOffsetS: clockErrorS + delayS + 0.01 * gaussian() + spreadS * gaussian() + (i < liars ? (alike ? lieS : 4 * (random() - 0.5)) : 0),
    snrDb: -20 + 25 * random(),
  }))
  const estimate = estimateFromBand(readings)
  if (!estimate) return NOTHING
  return worst(NOTHING, Math.abs(estimate.offsetMs - 1000 * clockErrorS), Math.hypot(estimate.uncertaintyMs, 50))
}

/** Several kinds of sources, heard within two minutes, a minority of them wrong by something between half a second and a day. */
export function claimOfMix(seed: number): Claim {
  const random = createRandom(seed ^ 0x313)
  const gaussian = createGaussian(random)
  const world = createWorld(random)
  const kinds = (['gps', 'network', 'network', 'watch', 'band'] as const).filter(() => random() < 0.7)
  const liars = Math.floor((kinds.length - 1) / 2)
  const sources = kinds.map((kind, i) => {
    const biasMs = { gps: 100, network: 40, watch: 150, band: 50 }[kind]
    const lie = i < liars ? (random() < 0.5 ? -1 : 1) * 500 * 172_800 ** random() : 0
    return { kind, source: `${kind}:${i}`, biasMs, errorMs: lie + (biasMs / 2) * gaussian(), lies: lie !== 0, fromS: 120 * random() }
  })
  for (let s = 0; s <= 1800; s += 10) {
    for (const { kind, source, biasMs, errorMs, fromS } of sources) {
      const everyS = { gps: 10, network: 900, watch: 100_000, band: 30 }[kind]
      if (s < fromS || Math.floor((s - fromS) / everyS) === Math.floor((s - 10 - fromS) / everyS)) continue
      const randomMs = { gps: 5, network: 10, watch: 30, band: 80 }[kind]
      const monotonicMs = s * 1000
      const utcMs = world.utc(monotonicMs) + errorMs + (randomMs / 2) * gaussian()
      world.read({ source, kind, label: source, monotonicMs, utcMs, randomMs, biasMs, windowMs: kind === 'band' ? 120_000 : 0 })
      if (kind === 'band') world.follow(source)
    }
    // What one source says alone, before any other was heard, nobody can judge.
    world.tick(s * 1000 + 500, s > 130)
  }
  return world.claim
}
