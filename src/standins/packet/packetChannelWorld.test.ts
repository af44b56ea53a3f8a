import { monitorLine, PACKET_MODEMS, parseAx25, uiFrame } from '@/core/packet'
import { LinkSessions } from '@/core/packet/link/linkSessions'
import { usualLinkSettings } from '@/core/packet/link/linkState'
import { createPacketChannelWorld } from './packetChannelWorld'

const noon = Date.UTC(2026, 5, 1, 12)
const RATE = 12_000

/** The practice channel heard by a receiver of ours, and spoken to by a modulator of ours. */
function setUp(faults: readonly string[] = [], txDelayMs = 300) {
  const world = createPacketChannelWorld({ seed: 3, stations: 12 })
  world.setFaults?.(faults)
  const receiver = PACKET_MODEMS.packet1200.createReceiver()
  let nowUtcMs = noon
  const lines: string[] = []
  const copied: (string | null | undefined)[] = []
  let onFrame: (bytes: Uint8Array) => void = () => undefined
  const listen = (seconds: number) => {
    for (const endMs = nowUtcMs + 1000 * seconds; nowUtcMs < endMs; nowUtcMs += world.stepMs)
      for (const { bytes } of receiver.push(world.render(nowUtcMs, (world.stepMs * RATE) / 1000))) {
        const parsed = parseAx25(bytes)
        if (parsed.ok) lines.push(monitorLine(parsed.value))
        onFrame(bytes)
      }
  }
  const say = (frames: readonly Uint8Array[], amplitude = 0.4) => {
    const samples = PACKET_MODEMS.packet1200.modulate(frames, { sampleRateHz: 48_000, amplitude, txDelayMs })
    const seconds = samples.length / 48_000
    const startUtcMs = nowUtcMs
    world.keyed?.(startUtcMs, startUtcMs + 1000 * seconds)
    // Meanwhile the world goes on, and the operator hears nothing.
    for (const endMs = nowUtcMs + 1000 * seconds; nowUtcMs < endMs; nowUtcMs += world.stepMs)
      world.render(nowUtcMs, (world.stepMs * RATE) / 1000)
    copied.push(world.hear({ samples, sampleRateHz: 48_000, startUtcMs, last: true }))
  }
  return { world, listen, say, lines, copied, now: () => nowUtcMs - noon, hearing: (take: typeof onFrame) => (onFrame = take) }
}

const test = uiFrame('Q5RVR', 'TEST', ['Q8TOP'], 'hello')

describe('the practice channel as sound', () => {
  it('has stations that our receiver reads, and a digipeater that repeats what it copied of our audio', () => {
    const s = setUp()
    s.listen(12)
    expect(s.lines.some((line) => line.startsWith('Q7HUT-1>BEACON:'))).toBe(true)
    s.say([test])
    expect(s.copied).toEqual(['Q5RVR>TEST,Q8TOP:hello'])
    s.listen(4)
    expect(s.lines).toContain('Q5RVR>TEST,Q8TOP*:hello')
  })

  it('copies nothing of what is far too quiet, and nothing is answered', () => {
    const s = setUp()
    s.say([test], 0.004)
    s.listen(4)
    expect(s.copied).toEqual([null])
    expect(s.lines.some((line) => line.includes('Q8TOP*'))).toBe(false)
  })

  it.each([
    ['deafDigipeater', 300],
    ['shortKeyUp', 300],
    ['squelch', 100],
  ])('with %s a key-up of %i ms brings no answer', (fault, txDelayMs) => {
    const s = setUp([fault], txDelayMs)
    s.say([test])
    s.listen(4)
    expect(s.lines.some((line) => line.includes('Q8TOP*'))).toBe(false)
  })

  it.each([
    ['shortKeyUp', 500],
    ['squelch', 500],
    ['twisted', 300],
  ])('with %s a key-up of %i ms is enough', (fault, txDelayMs) => {
    const s = setUp([fault], txDelayMs)
    s.say([test])
    s.listen(4)
    expect(s.lines).toContain('Q5RVR>TEST,Q8TOP*:hello')
  })

  it('has a carrier without end that our receiver takes for a channel in use', () => {
    const s = setUp(['busy'])
    const receiver = PACKET_MODEMS.packet1200.createReceiver()
    for (let k = 0; k < 10; k++) receiver.push(s.world.render(noon + 200 * k, 2400))
    expect(receiver.carrier).toBe(true)
  })

  it('carries a session with a node: our link machine over the very audio', () => {
    const s = setUp()
    const queue: Uint8Array[] = []
    const told: string[] = []
    let text = ''
    const sessions = new LinkSessions({
      settings: usualLinkSettings,
      send: (frame) => queue.push(frame),
      accepts: () => false,
      tell: (_, action) => {
        told.push(action.type)
        if (action.type === 'deliver') text += new TextDecoder().decode(action.bytes)
      },
    })
    s.hearing((bytes) => sessions.heard(bytes, s.now()))
    const begun = sessions.connect({ own: 'Q5RVR', peer: 'Q5CTL-7', via: [] }, s.now())
    if ('error' in begun) throw new Error(begun.error)
    let typed = false
    for (let k = 0; k < 200 && !text.includes('made-up node'); k++) {
      if (queue.length > 0) s.say(queue.splice(0))
      s.listen(0.4)
      sessions.tick(s.now())
      if (!typed && text.includes('Q5CTL-7>')) {
        typed = true
        sessions.do(begun, { type: 'send', bytes: new TextEncoder().encode('I\r') }, s.now())
      }
    }
    expect(told).toContain('opened')
    expect(text).toContain('Q5CTL-7 is a made-up node for practice.')
  })

  it('is the same world for the same seed', () => {
    const [a, b] = [createPacketChannelWorld({ seed: 5, stations: 24 }), createPacketChannelWorld({ seed: 5, stations: 24 })]
    for (let k = 0; k < 20; k++) expect(a.render(noon + 200 * k, 2400)).toEqual(b.render(noon + 200 * k, 2400))
  })
})
