// The gate asked at random, by a judge who keeps his own account of what went out.
import { createRandom } from '../dsp'
import {
  createGate,
  LONGEST_OF_ALL_MS,
  LONGEST_TEST_MS,
  LONGEST_TRANSMISSION_MS,
  reduceGate,
  UNATTENDED_MS,
  type GateEvent,
  type GateState,
} from './transmitGate'

const WINDOW_MS = 5 * 60_000

function walk(seed: number): { keyed: number; open: number; refused: Map<string, number> } {
  const random = createRandom(seed)
  const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)]!
  let nowMs = random() * 1e6
  let state: GateState = createGate(nowMs)
  const sent: { startMs: number; endMs: number; test: boolean }[] = []
  const seen = { checked: false, silenced: false, personMs: nowMs, bands: new Set<string>() }
  let on: { id: string; startMs: number; endMs: number; test: boolean } | undefined
  let open = 0
  const refused = new Map<string, number>()
  const fail = (what: string) => {
    throw new Error(`seed ${seed} at ${nowMs}: ${what}\n${JSON.stringify(state)}`)
  }
  const off = () => {
    if (on) sent.push({ startMs: on.startMs, endMs: Math.max(on.startMs, nowMs), test: on.test })
    on = undefined
  }
  const send = (event: GateEvent) => {
    const [next, effects] = reduceGate(state, event)
    state = next
    return effects
  }
  for (let n = 0; n < 300; n++) {
    nowMs += random() < 0.05 ? random() * 12 * 60_000 : random() * 20_000
    const kind = random()
    if (kind < 0.55) {
      const test = random() < 0.3
      const isOpen = !test && random() < 0.25
      const longestMs = pick([undefined, undefined, 30_000, 120_000, 1e9])
      const lengthMs = pick([0, -5, 1000, 4000, 9999, 12_640, 12_640, 12_640, 15_000, 15_001, 60_000, 120_000, 179_000, 1e9, Number.NaN])
      const id = `t${n}`
      const who = { ownCall: random() < 0.03 ? '' : 'Q5RVR', licenceConfirmed: random() > 0.03 }
      const band = pick([undefined, '20m', '40m'])
      const transmission = {
        id,
        what: 'x',
        startMs: nowMs,
        endMs: nowMs + lengthMs,
        ...(test && { test }),
        ...(isOpen && { open: true }),
        ...(longestMs && { longestMs }),
      }
      const effects = send({ type: 'request', nowMs, transmission, ...who, ...(band && { band }) })
      const [effect] = effects
      if (effects.length !== 1 || !effect || effect.type === 'unkey') fail('a request is let through or refused, and nothing else')
      else if (effect.type === 'refuse') {
        refused.set(effect.need, (refused.get(effect.need) ?? 0) + 1)
        if (effect.why.length < 10) fail('a refusal without a reason')
      } else {
        if (who.ownCall === '') fail('sent without a call')
        if (!who.licenceConfirmed) fail('sent without a licence')
        if (!seen.checked) fail('sent without the first check')
        if (band && !seen.bands.has(band)) fail(`sent on ${band} before anybody looked at the SWR`)
        if (seen.silenced) fail('sent after Silence, with nobody having started anything')
        if (nowMs - seen.personMs > UNATTENDED_MS) fail('sent unattended')
        if (on) fail('two at once')
        const mostMs = test ? LONGEST_TEST_MS : Math.min(LONGEST_OF_ALL_MS, longestMs ?? LONGEST_TRANSMISSION_MS)
        if (!(lengthMs > 0 && lengthMs <= mostMs)) fail(`sent for ${lengthMs} ms`)
        const grantedMs = effect.transmission.endMs - nowMs
        if (isOpen ? !(grantedMs > 0 && grantedMs <= lengthMs) : grantedMs !== lengthMs) fail(`let through for ${grantedMs} ms`)
        if (isOpen) open++
        // As if all that was granted were used: whatever happens meanwhile, no five minutes hold more.
        const keyedMs = sent.reduce((sum, s) => sum + Math.max(0, s.endMs - Math.max(s.startMs, nowMs - WINDOW_MS)), grantedMs)
        if (keyedMs > 0.6 * WINDOW_MS + 1) fail(`keyed ${keyedMs} ms of five minutes`)
        const last = sent.at(-1)
        if (test && last?.test && nowMs < last.endMs + (last.endMs - last.startMs) - 1) fail('a test without a rest after the last one')
        on = { id, startMs: nowMs, endMs: nowMs + grantedMs, test }
      }
    } else if (kind < 0.7) {
      const id = on && random() < 0.8 ? on.id : 'another'
      send({ type: 'ended', nowMs, id })
      if (on?.id === id) off()
    } else if (kind < 0.78) {
      const effects = send({ type: 'silence', nowMs, why: 'Silenced.' })
      if (!effects.some((effect) => effect.type === 'unkey')) fail('Silence did not unkey')
      off()
      seen.silenced = true
    } else if (kind < 0.86) {
      send({ type: 'started', nowMs })
      seen.silenced = false
      seen.personMs = nowMs
    } else if (kind < 0.9) {
      const band = pick([undefined, '20m', '40m'])
      send({ type: 'checkPassed', nowMs, ...(band && { band }) })
      seen.checked = true
      seen.silenced = false
      seen.personMs = nowMs
      if (band) seen.bands.add(band)
    } else if (kind < 0.93) {
      send({ type: 'personActed', nowMs })
      seen.personMs = nowMs
    }
    const overdue = on && nowMs > on.endMs + 500
    const [unkeyed] = send({ type: 'tick', nowMs })
    if (overdue && unkeyed?.type !== 'unkey') fail('the watchdog slept')
    if (!overdue && unkeyed) fail('the watchdog cut off what was in time')
    if (overdue) {
      off()
      seen.silenced = true
    }
    if ((state.keyed !== null) !== (on !== undefined)) fail('the gate believes otherwise than what is on')
  }
  return { keyed: sent.length, open, refused }
}

describe('the gate, asked at random', () => {
  it('lets nothing through that must not go out', () => {
    let keyed = 0
    let open = 0
    const refused = new Map<string, number>()
    for (let seed = 1; seed <= 300; seed++) {
      const result = walk(seed)
      keyed += result.keyed
      open += result.open
      for (const [need, times] of result.refused) refused.set(need, (refused.get(need) ?? 0) + times)
    }
    // All ways were walked, often.
    expect(keyed).toBeGreaterThan(2000)
    expect(open).toBeGreaterThan(500)
    expect([...refused.keys()].sort()).toEqual(['firstCheck', 'licence', 'ownCall', 'shorter', 'start', 'wait'])
    for (const times of refused.values()) expect(times).toBeGreaterThan(200)
  })
})
