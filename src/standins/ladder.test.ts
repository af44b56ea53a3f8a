import { RadioStandin, TncStandin, type RadioFault, type RadioVoice, type Said, type TncFault } from '.'
import type { BytePort, BytePortEvents, PortFault, PortOutcome } from '@/core/links'
import { BUILT_IN_DIALECTS, compileDialect } from '@/core/links/cat'
import {
  idleDiagnosis,
  reduceDiagnosis,
  TRIES,
  type Answer,
  type Diagnosis,
  type DiagnosisEvent,
  type LinkFault,
  type Rung,
  type Verdict,
} from '@/core/links'
import { LinkProber, type LinkTarget, type ProberHost } from '@/core/links'
import { describePort, portChoiceSchema, samePort, type PortChoice } from '@/core/links'
import { judgeTncAnswer } from '@/core/links'

interface Device {
  receive(bytes: Uint8Array, serialBaud?: number): Said[]
  hear?(serialBaud?: number): Said[]
}

interface Place {
  device?: Device
  fault?: PortFault
  /** No serial line: speeds mean nothing. */
  network?: boolean
}

/** Ports, what is plugged into them, and a time that passes only while someone waits. */
class World implements ProberHost {
  nowMs = 0
  places = new Map<string, Place>()
  power: Answer = 'yes'
  traffic: Answer = 'yes'
  lamp: Answer = 'yes'
  openPorts = 0
  heardBefore?: string
  keyForAMoment?: ProberHost['keyForAMoment']
  private coming: { atMs: number; bytes: Uint8Array; events: BytePortEvents }[] = []
  private listeners = new Map<BytePortEvents, () => void>()

  monotonicMs = () => this.nowMs
  listPorts = async () => [...this.places.keys()].filter((name) => name.startsWith('/dev/') && this.places.get(name)!.fault !== 'missing')

  sleep = async (ms: number) => {
    this.nowMs += ms
    for (const listen of this.listeners.values()) listen()
    const due = this.coming.filter((c) => c.atMs <= this.nowMs)
    this.coming = this.coming.filter((c) => c.atMs > this.nowMs)
    for (const { bytes, events } of due) if (this.listeners.has(events)) events.onBytes(bytes)
  }

  createPort = (port: PortChoice, serialBaud: number): BytePort => {
    const name = describePort(port)
    const place = this.places.get(name)
    let events: BytePortEvents | undefined
    const say = (said: Said[], to: BytePortEvents) => {
      for (const { delayMs, bytes } of said) this.coming.push({ atMs: this.nowMs + delayMs, bytes, events: to })
    }
    const baud = place?.network ? undefined : serialBaud
    return {
      describe: () => name,
      open: async (given): Promise<PortOutcome> => {
        if (!place) return { ok: false, error: `${name} is not there.`, fault: 'missing' }
        if (place.fault) return { ok: false, error: `${name}: ${place.fault}.`, fault: place.fault }
        this.openPorts++
        events = given
        let nextFrameMs = this.nowMs + 1500
        this.listeners.set(given, () => {
          if (this.nowMs < nextFrameMs) return
          nextFrameMs += 3000
          say(place.device?.hear?.(baud) ?? [], given)
        })
        return { ok: true }
      },
      write: async (bytes) => {
        if (!events) return { ok: false, error: 'not open' }
        say(place?.device?.receive(bytes, baud) ?? [], events)
        return { ok: true }
      },
      close: async () => {
        if (events) this.openPorts--
        this.listeners.delete(events!)
        events = undefined
      },
    }
  }
}

/** Climbs the ladder as the engine does, and answers as an operator who sees what the world holds. */
async function climb(world: World, target: LinkTarget): Promise<Diagnosis> {
  const prober = new LinkProber(target, world)
  let state: Diagnosis = idleDiagnosis
  const queue: DiagnosisEvent[] = [{ type: 'start' }]
  for (let steps = 0; queue.length > 0 && steps < 100; steps++) {
    const [next, actions] = reduceDiagnosis(state, queue.shift()!)
    state = next
    for (const action of actions) {
      if (action.type === 'probe') {
        if (action.again) prober.forget()
        queue.push({ type: 'found', rung: action.rung, finding: await prober.probe(action.rung) })
      } else {
        const answer =
          { power: world.power, hears: world.traffic, keys: world.lamp }[action.rung as 'power' | 'hears' | 'keys'] ?? 'unknown'
        queue.push({ type: 'answered', rung: action.rung, answer })
      }
    }
  }
  expect(world.openPorts).toBe(0)
  return state
}

const serial = (path: string): PortChoice => ({ kind: 'serial', path })
const A = '/dev/ttyUSB0'
const B = '/dev/ttyUSB1'
const NET = { kind: 'tcp', host: '192.168.4.1', port: 8001 } as const
const BLUE = { kind: 'browser', by: 'bluetooth' } as const

const cat = (voice: RadioVoice, over: Partial<LinkTarget> = {}): LinkTarget => ({
  speaks: 'cat',
  port: serial(A),
  serialBaud: 9600,
  dialect: compileDialect(BUILT_IN_DIALECTS.find((d) => d.id === voice)!),
  ...over,
})
const tnc = (over: Partial<LinkTarget> = {}): LinkTarget => ({ speaks: 'kiss', port: serial(A), serialBaud: 9600, ...over })
const typed = (over: Partial<LinkTarget> = {}) => tnc({ speaks: 'commands', ownCall: 'Q5RVR', ...over })

interface Build {
  at?: PortChoice
  baud?: number
  faults?: (RadioFault | TncFault)[]
  fault?: PortFault
  power?: Answer
  traffic?: Answer
  /** Also there, with nothing behind it. */
  empty?: string
  tncIn?: 'kiss' | 'command'
  keying?: 'works' | 'unseen'
  lamp?: Answer
}

function build(what: RadioVoice | 'tnc' | 'other' | 'nothing', b: Build = {}): World {
  const world = new World()
  const faults = new Set(b.faults ?? [])
  const baud = b.baud ?? 9600
  const place: Place = { network: b.at?.kind === 'tcp' || b.at?.kind === 'browser', ...(b.fault && { fault: b.fault }) }
  if (what === 'tnc')
    place.device = new TncStandin({ seed: 4, serialBaud: baud, startsIn: b.tncIn ?? 'kiss' }, () => faults as Set<TncFault>)
  else if (what === 'other')
    place.device = { receive: () => [{ delayMs: 20, bytes: new TextEncoder().encode('HTTP/1.1 400 Bad Request\r\n\r\n') }] }
  else if (what !== 'nothing') {
    const radio = new RadioStandin({ voice: what, serialBaud: baud }, () => faults as Set<RadioFault>)
    place.device = radio
    if (b.keying)
      world.keyForAMoment = async () => {
        if (b.keying === 'unseen') return { keyed: null, unkeyed: null, words: 'The line was set for half a second.' }
        radio.setKeyed(true)
        const keyed = radio.keyed
        radio.setKeyed(false)
        return { keyed, unkeyed: !radio.keyed, words: keyed ? 'The radio says it transmits.' : 'The radio says it receives all the time.' }
      }
  }
  if (b.empty) world.places.set(b.empty, {})
  world.places.set(describePort(b.at ?? serial(A)), place)
  world.power = b.power ?? (faults.has('off') ? 'no' : 'yes')
  world.traffic = b.traffic ?? 'yes'
  world.lamp = b.lamp ?? 'yes'
  return world
}

/** Name, what there is, what is tried, and the verdict: a fault with its rung, or that it works. */
const CASES: [string, World, LinkTarget, LinkFault | 'works', Rung?][] = [
  ['a radio that works', build('ascii-9'), cat('ascii-9'), 'works'],
  ['one of each structure works: 11 digits', build('ascii-11'), cat('ascii-11'), 'works'],
  ['framed', build('framed-bcd'), cat('framed-bcd'), 'works'],
  ['five bytes', build('five-byte'), cat('five-byte'), 'works'],
  ['every third answer is lost', build('ascii-9', { faults: ['drops'] }), cat('ascii-9'), 'works'],
  ['the radio is off', build('ascii-9', { faults: ['off'] }), cat('ascii-9'), 'no-power', 'power'],
  [
    'the radio is off and nobody can tell',
    build('framed-bcd', { faults: ['off'], power: 'unknown' }),
    cat('framed-bcd'),
    'no-answer',
    'answers',
  ],
  ['the port is not there', build('nothing', { at: serial(B) }), cat('ascii-9'), 'port-missing', 'port'],
  ['the port is not there, and the radio on another', build('ascii-9', { at: serial(B) }), cat('ascii-9'), 'port-missing', 'port'],
  ['no port is there at all', new World(), cat('ascii-9'), 'port-missing', 'port'],
  ['another program holds the port', build('ascii-9', { fault: 'busy' }), cat('ascii-9'), 'port-busy', 'port'],
  ['the user may not use the port', build('ascii-9', { fault: 'permission' }), cat('ascii-9'), 'no-permission', 'port'],
  ['the port breaks on opening', build('ascii-9', { fault: 'other' }), cat('ascii-9'), 'cannot-open', 'port'],
  ['the radio is on the other of two ports', build('ascii-9', { at: serial(B), empty: A }), cat('ascii-9'), 'wrong-port', 'rightPort'],
  [
    'the other port, and another speed there',
    build('framed-bcd', { at: serial(B), empty: A, baud: 19_200 }),
    cat('framed-bcd'),
    'wrong-port',
    'rightPort',
  ],
  ['another speed, 11 digits', build('ascii-11', { baud: 38_400 }), cat('ascii-11'), 'wrong-speed', 'speed'],
  ['another speed, 9 digits', build('ascii-9', { baud: 4800 }), cat('ascii-9'), 'wrong-speed', 'speed'],
  ['another speed, framed', build('framed-bcd', { baud: 115_200 }), cat('framed-bcd'), 'wrong-speed', 'speed'],
  ['another speed, five bytes', build('five-byte', { baud: 4800 }), cat('five-byte'), 'wrong-speed', 'speed'],
  ['garble at every speed', build('ascii-9', { faults: ['garbled'] }), cat('ascii-9'), 'wrong-dialect', 'speed'],
  ['a radio of another dialect', build('ascii-11'), cat('ascii-9'), 'wrong-dialect', 'speed'],
  ['a radio at another address', build('framed-bcd', { faults: ['otherAddress'] }), cat('framed-bcd'), 'no-answer', 'answers'],
  ['a radio that refuses', build('ascii-9', { faults: ['refuses'] }), cat('ascii-9'), 'refused', 'mode'],
  ['a radio that answers too late', build('ascii-11', { faults: ['slow'] }), cat('ascii-11'), 'slow', 'mode'],
  ['a radio that is not keyed', build('ascii-9', { faults: ['doesNotKey'], keying: 'works' }), cat('ascii-9'), 'not-keying', 'keys'],
  ['a radio that stays keyed', build('framed-bcd', { faults: ['keySticks'], keying: 'works' }), cat('framed-bcd'), 'stays-keyed', 'keys'],
  ['a radio that keys', build('framed-bcd', { keying: 'works' }), cat('framed-bcd'), 'works'],
  ['keying that only the operator sees', build('five-byte', { keying: 'unseen' }), cat('five-byte'), 'works'],
  ['keying that the operator does not see', build('five-byte', { keying: 'unseen', lamp: 'no' }), cat('five-byte'), 'not-keying', 'keys'],
  [
    'a name that nobody knows',
    build('ascii-9', { at: NET, fault: 'unknownHost' }),
    cat('ascii-9', { port: NET, serialBaud: null }),
    'unknown-host',
    'port',
  ],
  [
    'an address that does not answer',
    build('ascii-9', { at: NET, fault: 'timeout' }),
    cat('ascii-9', { port: NET, serialBaud: null }),
    'unreachable',
    'port',
  ],
  [
    'an address that refuses',
    build('ascii-9', { at: NET, fault: 'refused' }),
    cat('ascii-9', { port: NET, serialBaud: null }),
    'refused-connection',
    'port',
  ],
  [
    'a login that is refused',
    build('ascii-9', { at: NET, fault: 'login' }),
    cat('ascii-9', { port: NET, serialBaud: null }),
    'login-refused',
    'port',
  ],
  ['a radio over the network', build('ascii-9', { at: NET }), cat('ascii-9', { port: NET, serialBaud: null }), 'works'],
  ['another service on that port', build('other', { at: NET }), tnc({ port: NET, serialBaud: null }), 'wrong-service', 'rightPort'],
  ['a TNC in KISS that hears', build('tnc'), tnc(), 'works'],
  ['a KISS TNC over the network', build('tnc', { at: NET }), tnc({ port: NET, serialBaud: null }), 'works'],
  ['a TNC in command mode', build('tnc', { tncIn: 'command' }), tnc(), 'works'],
  ['a TNC that will not go into KISS', build('tnc', { tncIn: 'command', faults: ['ignoresKiss'] }), tnc(), 'wrong-mode', 'mode'],
  ['a TNC that hears nothing', build('tnc', { faults: ['deaf'] }), tnc(), 'deaf', 'hears'],
  ['a silent channel', build('tnc', { faults: ['deaf'], traffic: 'no' }), tnc(), 'works'],
  ['a TNC that is off', build('tnc', { faults: ['off'] }), tnc(), 'no-power', 'power'],
  ['a TNC with a prompt at another speed', build('tnc', { tncIn: 'command', baud: 1200 }), typed(), 'wrong-speed', 'speed'],
  ['a TNC with a prompt at a speed that can be found', build('tnc', { tncIn: 'command', baud: 4800 }), typed(), 'wrong-speed', 'speed'],
  ['a TNC with a prompt', build('tnc', { tncIn: 'command' }), typed(), 'works'],
  ['a TNC in KISS that should show a prompt', build('tnc'), typed(), 'works'],
  ['a TNC that forgot its settings', build('tnc', { tncIn: 'command', faults: ['lostSettings'] }), typed(), 'lost-settings', 'answers'],
  ['a TNC on the other of two ports', build('tnc', { tncIn: 'command', at: serial(B), empty: A }), typed(), 'wrong-port', 'rightPort'],
  ['a stale pairing', build('tnc', { at: BLUE, fault: 'pairing' }), tnc({ port: BLUE, serialBaud: null }), 'stale-pairing', 'port'],
  ['a Bluetooth TNC that works', build('tnc', { at: BLUE }), tnc({ port: BLUE, serialBaud: null }), 'works'],
  [
    'a browser without Bluetooth',
    build('tnc', { at: BLUE, fault: 'unsupported' }),
    tnc({ port: BLUE, serialBaud: null }),
    'unsupported',
    'port',
  ],
  // Two at once: the lower rung is named first.
  ['off and set to another speed', build('ascii-9', { faults: ['off'], baud: 4800 }), cat('ascii-9'), 'no-power', 'power'],
  ['held by another program and another speed', build('ascii-9', { fault: 'busy', baud: 4800 }), cat('ascii-9'), 'port-busy', 'port'],
  [
    'another speed and not keying',
    build('ascii-9', { baud: 4800, faults: ['doesNotKey'], keying: 'works' }),
    cat('ascii-9'),
    'wrong-speed',
    'speed',
  ],
  [
    'a stale pairing and deaf',
    build('tnc', { at: BLUE, fault: 'pairing', faults: ['deaf'] }),
    tnc({ port: BLUE, serialBaud: null }),
    'stale-pairing',
    'port',
  ],
  [
    'refused by the network, and deaf',
    build('tnc', { at: NET, fault: 'refused', faults: ['deaf'] }),
    tnc({ port: NET, serialBaud: null }),
    'refused-connection',
    'port',
  ],
  ['command mode and deaf', build('tnc', { tncIn: 'command', faults: ['deaf'] }), tnc(), 'deaf', 'hears'],
  [
    'another speed and settings lost',
    build('tnc', { tncIn: 'command', baud: 4800, faults: ['lostSettings'] }),
    typed(),
    'wrong-speed',
    'speed',
  ],
  ['late and not keying', build('ascii-9', { faults: ['slow', 'doesNotKey'], keying: 'works' }), cat('ascii-9'), 'slow', 'mode'],
]

describe('the ladder', () => {
  // Not five parameters: the runner would take the last for a callback where a row has but four.
  it.each(CASES)('%s', async (...[, world, target, expected, rung]) => {
    const { verdict, rungs, at } = await climb(world, target)
    expect(at).toBeNull()
    const told = verdict!.ok ? 'works' : verdict!.code
    expect(`${told}, ${verdict!.ok ? '' : verdict!.rung}`).toBe(`${expected}, ${rung ?? ''}`)
    if (!verdict!.ok) {
      expect(verdict!.evidence).not.toBe('')
      expect(verdict!.advice).not.toBe('')
    }
    // Everything below the verdict was tried and has its evidence.
    const end = verdict!.ok ? rungs.length : rungs.findIndex((r) => r.rung === verdict!.rung) + 1
    for (const r of rungs.slice(0, end)) expect(r.evidence).not.toBe('')
    for (const r of rungs.slice(end)) expect(r.status).toBe('waiting')
  })

  it('takes what was heard before for no proof of now: a TNC that was switched off meanwhile is not called working', async () => {
    const world = build('tnc', { faults: ['off'] })
    world.heardBefore = 'It heard Q1ABC>Q1POS 40 s ago'
    const { verdict, rungs } = await climb(world, tnc())
    expect(verdict).toMatchObject({ ok: false, code: 'no-power' })
    expect(rungs[0]!.evidence).not.toBe('')
    const deaf = build('tnc', { faults: ['deaf'] })
    deaf.heardBefore = world.heardBefore
    expect((await climb(deaf, tnc())).verdict).toMatchObject({
      code: 'deaf',
      evidence: 'No frame came in 8 s. It heard Q1ABC>Q1POS 40 s ago.',
    })
  })

  it('asks nobody whether it is on while it answers on another port', async () => {
    const prober = new LinkProber(cat('ascii-9'), build('ascii-9', { at: serial(B), empty: A }))
    expect(await prober.probe('power')).toMatchObject({ outcome: 'good', evidence: `The radio answers on ${B}, so it is powered.` })
    expect(await new LinkProber(cat('ascii-9'), build('ascii-9', { at: serial(B) })).probe('port')).toMatchObject({
      ...{ code: 'port-missing', fix: { port: serial(B), serialBaud: 9600 } },
    })
  })

  it('has more than forty scripted faults', () => {
    expect(CASES.filter(([, , , expected]) => expected !== 'works').length).toBeGreaterThanOrEqual(40)
  })

  it('goes on to the second fault when the first is cured, and takes the cure it offers', async () => {
    const faults = new Set<RadioFault>(['doesNotKey'])
    const world = build('ascii-9', { baud: 4800, faults: [], keying: 'works' })
    const radio = new RadioStandin({ voice: 'ascii-9', serialBaud: 4800 }, () => faults)
    world.places.set(A, { device: radio })
    world.keyForAMoment = async () => {
      radio.setKeyed(true)
      return { keyed: radio.keyed, unkeyed: true, words: 'The radio was asked.' }
    }
    const first = (await climb(world, cat('ascii-9'))).verdict as Extract<Verdict, { ok: false }>
    expect(first).toMatchObject({ code: 'wrong-speed', fix: { serialBaud: 4800 } })
    const cured = cat('ascii-9', first.fix as { serialBaud: number })
    expect((await climb(world, cured)).verdict).toMatchObject({ code: 'not-keying' })
    faults.clear()
    expect((await climb(world, cured)).verdict).toMatchObject({ ok: true, words: 'The link works.', unsure: [] })
  })

  it.each([9600, 4800, 38_400, 115_200, 19_200, 57_600])('finds %d baud within ten seconds', async (baud) => {
    const world = build('framed-bcd', { baud })
    const prober = new LinkProber(cat('framed-bcd', { serialBaud: baud === 9600 ? 4800 : 9600 }), world)
    expect(await prober.probe('speed')).toMatchObject({ code: 'wrong-speed', fix: { serialBaud: baud } })
    expect(world.nowMs).toBeLessThan(10_000)
  })
})

describe('the machine of the ladder', () => {
  const run = (...events: DiagnosisEvent[]) => events.reduce((s, e) => reduceDiagnosis(s, e)[0], idleDiagnosis)
  const found = (rung: Rung, outcome: 'good' | 'bad' | 'unsure', more = {}): DiagnosisEvent => ({
    type: 'found',
    rung,
    finding: { outcome, evidence: 'seen', ...more },
  })

  it('tries a bad rung twice again, and a chance failure is forgiven', () => {
    const once = run({ type: 'start' }, found('power', 'good'), found('port', 'bad', { code: 'port-busy', advice: 'x' }))
    expect(once).toMatchObject({ at: 'port', verdict: null })
    expect(reduceDiagnosis(once, found('port', 'good'))[0].at).toBe('pairing')
    const bad = Array.from({ length: TRIES }, () => found('port', 'bad', { code: 'port-busy', advice: 'x' }))
    expect(run({ type: 'start' }, found('power', 'good'), ...bad)).toMatchObject({
      at: null,
      verdict: { ok: false, code: 'port-busy', rung: 'port' },
    })
  })

  it('hears nothing that belongs to another rung, and nothing after its end', () => {
    const started = run({ type: 'start' })
    expect(reduceDiagnosis(started, found('speed', 'good'))).toEqual([started, []])
    expect(reduceDiagnosis(started, { type: 'answered', rung: 'power', answer: 'yes' })).toEqual([started, []])
    const stopped = reduceDiagnosis(started, { type: 'stop' })[0]
    expect(stopped).toEqual(idleDiagnosis)
    expect(reduceDiagnosis(stopped, found('power', 'good'))).toEqual([stopped, []])
  })

  it('asks only when the application cannot be sure', () => {
    const [state, actions] = reduceDiagnosis(run({ type: 'start' }), found('power', 'unsure', { question: 'Is it on?' }))
    expect(actions).toEqual([{ type: 'ask', rung: 'power', question: 'Is it on?' }])
    expect(reduceDiagnosis(state, { type: 'answered', rung: 'power', answer: 'no' })[0].verdict).toMatchObject({ code: 'no-power' })
    expect(reduceDiagnosis(state, { type: 'answered', rung: 'power', answer: 'unknown' })[0]).toMatchObject({ at: 'port' })
  })
})

describe('what a TNC says', () => {
  const ascii = (text: string) => new TextEncoder().encode(text)
  it.each([
    [new Uint8Array(), 'silent'],
    [ascii('\r\ncmd:'), 'command'],
    [ascii('?EH\r\n'), 'command'],
    [ascii('Welcome to the ferry'), 'text'],
    [Uint8Array.of(0xf0, 0x9e, 0x80, 0xfe), 'garble'],
    [Uint8Array.of(0xc0, 0x00, 0xc0), 'garble'],
    [ascii('ab'), 'garble'],
  ])('%j is %s', (bytes, kind) => expect(judgeTncAnswer(bytes)).toBe(kind))
})

describe('ports', () => {
  it('are described, compared and validated', () => {
    expect(describePort(BLUE)).toBe('the Bluetooth device')
    expect(samePort(serial(A), serial(A))).toBe(true)
    expect(samePort(serial(A), NET)).toBe(false)
    expect(portChoiceSchema.safeParse({ kind: 'tcp', host: 'radio.local', port: 8001 }).success).toBe(true)
    for (const wrong of [
      { kind: 'tcp', host: 'a b', port: 1 },
      { kind: 'tcp', host: 'x', port: 70_000 },
      { kind: 'serial', path: '' },
    ])
      expect(portChoiceSchema.safeParse(wrong).success).toBe(false)
  })
})
