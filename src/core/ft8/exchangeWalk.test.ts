// Exchanges with stations that say anything at any time: what must hold whatever comes.
import { createRandom } from '../dsp'
import { sameStation } from './baseCall'
import { createCallMemory } from './callHash'
import type { Ft8Decode } from './decode'
import { describeExchange, likelyNext, nextTransmission } from './describeExchange'
import { reduceExchange } from './exchange'
import type { ExchangeEvent, ExchangeManner, ExchangeState, Unfinished } from './exchangeState'
import { packMessage } from './payload'
import { heardAs } from './simulate'
import { unfinishedFrom, unfinishedSchema } from './unfinished'

const OTHERS = ['Q1ABC', 'Q2LMN', 'Q3DEF', 'Q4GHI/P', 'DL/Q6ABC']
const INFOS = ['JO31', 'JN97', '-15', '+02', 'R-09', 'R+11', 'RRR', 'RR73', '73', '']

/** All that any of them may say, to us, to each other and to all; each understood once. */
function sayings(own: string): Map<string, Ft8Decode> {
  const memory = createCallMemory(50, [own, ...OTHERS])
  const understood = new Map<string, Ft8Decode>()
  for (const from of OTHERS) {
    const texts = [`CQ ${from} JO31`, `CQ ${from}`]
    for (const to of [own, ...OTHERS]) {
      if (to === from) continue
      for (const info of INFOS) {
        texts.push(`${to} ${from} ${info}`.trim(), `<${to}> ${from} ${info}`.trim(), `${to} <${from}> ${info}`.trim())
      }
    }
    for (const text of texts) {
      if (!packMessage(text).ok) continue
      const decode = heardAs(text, { snrDb: -8 }, memory)
      if (decode) understood.set(text, decode)
    }
    const text = `${own} ${from} R 2A #11`
    const message = { kind: 'contest', text, to: own, from } as const
    understood.set(text, { ...understood.values().next().value!, text, message })
  }
  return understood
}

interface Walk {
  state: ExchangeState
  /** Contacts made since a person last started something. */
  made: number
  /** How often CQ was called again since a person last started something. */
  again: number
  /** Whom a person chose, or who called us by now. */
  allowed: string[]
  sent: string[]
  /** How often the same was sent with nothing heard for us between. */
  run: number
  unfinished: Unfinished | undefined
}

function walk(seed: number, own: string, manner: ExchangeManner, heard: readonly Ft8Decode[]): void {
  const random = createRandom(seed)
  const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)]!
  const w: Walk = { state: { phase: 'idle' }, made: 0, again: 0, allowed: [], sent: [], run: 0, unfinished: undefined }
  const history: string[] = []
  const fail = (what: string) => {
    throw new Error(`seed ${seed}, ${own}: ${what}\n${history.slice(-24).join('\n')}`)
  }
  const step = (event: ExchangeEvent) => {
    history.push(
      `${event.type} ${event.type === 'heard' ? event.decodes.map((d) => d.text).join(', ') : event.type === 'sent' ? event.text : ''}`,
    )
    const before = w.state
    const frozen = JSON.stringify(before)
    const [next, effects] = reduceExchange(before, event)
    if (JSON.stringify(before) !== frozen) fail('the state before was changed')
    w.state = next
    w.made += effects.length
    history.push(`  ${describeExchange(next)} ${nextTransmission(next)?.text ?? ''}`)
    const rounds = 1 + (manner.cqAgain ?? 0)
    if (w.made > rounds) fail('more contacts than rounds of calling')
    if (before.phase === 'underway' && next.phase === 'underway' && before.contactMade && next.step === 'cq' && event.type !== 'callCq') {
      if (next.queue.length > 0) fail('it calls CQ over those who wait')
      if (++w.again >= rounds) fail('it goes on calling by itself')
    }
    for (const { contact } of effects) {
      if (contact.endedUtcMs < contact.startedUtcMs) fail('it ends before it began')
      if (contact.reportReceivedDb === undefined) fail('a contact without their report')
      if (
        !contact.evidence.some(
          (e) => e.direction === 'heard' && e.text.includes(contact.call.split('/').sort((a, b) => b.length - a.length)[0]!),
        )
      )
        fail('a contact without anything heard of them')
    }
    if (likelyNext(next) && next.phase !== 'underway') fail('something is next though it has ended')
  }
  const person = () => {
    w.made = 0
    w.again = 0
    w.run = 0
    w.sent = []
  }
  for (let slotIndex = 0; slotIndex < 60; slotIndex++) {
    const slotUtcMs = slotIndex * 15_000
    const audioOffsetHz = 500 + Math.floor(random() * 2000)
    if (random() < 0.15 || w.state.phase === 'idle') {
      const decode = pick(heard)
      const from = 'from' in decode.message ? decode.message.from! : ''
      const kind = random()
      if (kind < 0.45) {
        person()
        w.allowed = [from]
        step({ type: 'answer', manner, decode, slotIndex, slotUtcMs, audioOffsetHz })
      } else if (kind < 0.6) {
        person()
        w.allowed = []
        step({ type: 'callCq', manner, txParity: pick(['even', 'odd'] as const), audioOffsetHz })
      } else if (kind < 0.7) {
        const wasUnderway = w.state.phase === 'underway'
        if (!wasUnderway) {
          person()
          w.allowed = []
        }
        step({ type: 'say', manner, text: 'TNX ROWAN', txParity: pick(['even', 'odd'] as const), audioOffsetHz })
      } else if (kind < 0.8 && w.unfinished) {
        person()
        w.allowed = [w.unfinished.otherCall]
        const theirs = heard.filter((d) => 'from' in d.message && sameStation(d.message.from, w.unfinished!.otherCall))
        step({ type: 'resume', unfinished: w.unfinished, decode: pick(theirs), slotIndex, slotUtcMs, audioOffsetHz })
      } else if (kind < 0.85) {
        w.run = 0
        step({ type: 'again' })
      } else if (kind < 0.9) step({ type: 'arrange', calls: [pick(OTHERS), pick(OTHERS)] })
      else {
        step({ type: random() < 0.5 ? 'stop' : 'silence' })
        if (nextTransmission(w.state)) fail('something is to be sent after it was stopped')
      }
    }
    const next = nextTransmission(w.state)
    if (next && (next.parity === 'even') === (slotIndex % 2 === 0)) {
      if (!packMessage(next.text).ok) fail(`"${next.text}" cannot be sent`)
      if (w.state.phase !== 'underway') fail('it sends though it is not under way')
      else if (w.state.otherCall && !w.allowed.some((call) => sameStation(call, (w.state as { otherCall?: string }).otherCall)))
        fail('it turned to somebody by itself')
      w.run = w.sent.at(-1) === next.text ? w.run + 1 : 1
      const limit = next.step === 'cq' ? manner.maxCqTries : manner.maxTries
      if (w.run > limit) fail(`"${next.text}" goes out more than ${limit} times`)
      if (next.step === 'seventyThree' && w.sent.filter((text) => text === next.text).length >= manner.maxTries) fail('73 without end')
      w.sent.push(next.text)
      step({ type: 'sent', slotIndex, slotUtcMs, text: next.text, complete: random() < 0.9 })
    } else {
      const decodes = Array.from({ length: Math.floor(random() * 4) }, () => pick(heard))
      const early = random() < 0.3
      const toMe = decodes.filter((d) => 'to' in d.message && sameStation(d.message.to, own))
      if (w.state.phase === 'underway' && !w.state.otherCall)
        w.allowed.push(...toMe.map((d) => ('from' in d.message ? d.message.from! : '')))
      // Who calls while another exchange runs waits in the queue; the queue serves the next CQ alone.
      if (toMe.length > 0) w.run = 0
      if (early) step({ type: 'heard', slotIndex, slotUtcMs, decodes: decodes.slice(0, 1), early: true })
      step({ type: 'heard', slotIndex, slotUtcMs, decodes })
    }
    const kept = unfinishedFrom(w.state, slotUtcMs)
    if (kept) {
      w.unfinished = kept
      const stored = unfinishedSchema.safeParse(JSON.parse(JSON.stringify(kept)))
      if (!stored.success)
        fail(`what is kept cannot be read back: ${stored.error.issues[0]!.path.join('.')} ${stored.error.issues[0]!.message}`)
    }
  }
}

describe('an exchange, whatever is heard', () => {
  const manner = { ownLocator: 'JN97LK', finish: 'RR73', maxTries: 3, maxCqTries: 4 } as const
  it.each<[string, ExchangeManner]>([
    ['as most do it', { ...manner, ownCall: 'Q5RVR' }],
    ['with RRR, and the report first', { ...manner, ownCall: 'Q5RVR', finish: 'RRR', opening: 'report', callerOrder: 'farthest' }],
    ['with a call away from home', { ...manner, ownCall: 'Q5RVR/P' }],
    ['calling CQ again by itself', { ...manner, ownCall: 'Q5RVR', cqAgain: 2 }],
    ['with a compound call', { ...manner, ownCall: 'Q0/Q5RVR' }],
  ])('%s: a person begins it, it makes one contact at most, and it ends', (_name, own) => {
    const heard = [...sayings(own.ownCall).values()]
    expect(heard.length).toBeGreaterThan(150)
    for (let seed = 1; seed <= 400; seed++) walk(seed, own.ownCall, own, heard)
  })
})
