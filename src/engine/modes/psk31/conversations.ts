import { BAUD, LEAST_SURE, turnAfter, whoSays, type Baud, type Psk31Channel, type Psk31Text } from '@/core/psk31'
import { readTold, withoutBegun, type SpokenLine } from './readContact'
import { spansOf } from './spans'
import type { ConversationView, SignalView, Span } from './state'

/** Text of a conversation that is kept. */
const KEPT_CHARACTERS = 4000
const TAIL_CHARACTERS = 120
/** Read for who is who and what was told. */
const READ_CHARACTERS = 400
/** A conversation that is no longer heard stays so long. */
const KEPT_MS = 120_000
/** After a pause of this length a new line begins. */
const PAUSE_MS = 2500
const MOST_LINES = 60
const TOLD_EVERY_MS = 2000

interface Line {
  utcMs: number
  text: string
  /** For each character, how sure the waveform alone makes it. */
  sure: number[]
}

interface Conversation {
  channel: number
  frequencyHz: number
  snrDb: number
  doing: Psk31Channel['doing']
  baud: Baud
  signal: SignalView
  text: string
  /** For each character of the end of the text, how sure it is. */
  sure: number[]
  lines: Line[]
  lastUtcMs: number
  /** How often there was something new in it, and what had been told when that was read last. */
  changes: number
  told: { call: string; changes: number; atUtcMs: number; facts: ConversationView['told'] } | undefined
}

interface Around {
  utcOf: (atS: number) => number
  nowUtcMs: number
  kept?: readonly number[]
}

/** What is read for who is who: the first word may be the end of one, for it was begun before it was heard, and the last may go on. */
const wholeWords = ({ text, doing }: Pick<Conversation, 'text' | 'doing'>) =>
  (doing === 'text' ? withoutBegun(text) : text).slice(-READ_CHARACTERS).replace(/^\S*\s/, '')

/** All conversations heard lately, with their text. Pure bookkeeping. */
export class Conversations {
  private readonly all = new Map<number, Conversation>()

  clear(): void {
    this.all.clear()
  }

  /**
   * Takes what was read of a piece of sound.
   * @param around `utcOf` tells when something was, from its seconds; `kept` are channels that are not forgotten, however long they are gone
   */
  take(texts: readonly Psk31Text[], channels: readonly Psk31Channel[], { utcOf, nowUtcMs, kept = [] }: Around): void {
    for (const { channel, frequencyHz, snrDb, character, atS, sure, back } of texts) {
      const known = this.all.get(channel) ?? this.begin(channel, frequencyHz, nowUtcMs)
      if (back > 0) takeBack(known, back)
      // Nothing but spaces is no conversation.
      if (character === '' || (known.text === '' && character.trim() === '')) continue
      const utcMs = utcOf(atS)
      const lines =
        utcMs - known.lastUtcMs > PAUSE_MS || known.lines.length === 0 ? [...known.lines, { utcMs, text: '', sure: [] }] : known.lines
      const last = lines.at(-1)!
      known.lines = [...lines.slice(0, -1), { ...last, text: last.text + character, sure: [...last.sure, sure] }].slice(-MOST_LINES)
      known.text = (known.text + character).slice(-KEPT_CHARACTERS)
      known.sure = [...known.sure, sure].slice(-TAIL_CHARACTERS)
      Object.assign(known, { frequencyHz, snrDb, lastUtcMs: utcMs, changes: known.changes + 1 })
    }
    const now = new Map(channels.map((channel) => [channel.channel, channel]))
    for (const known of this.all.values()) {
      const heard = now.get(known.channel)
      known.doing = heard?.doing ?? 'gone'
      if (heard)
        Object.assign(known, {
          frequencyHz: heard.frequencyHz,
          snrDb: heard.snrDb,
          baud: heard.baud,
          signal: signalOf(heard),
        })
      if (!heard && nowUtcMs - known.lastUtcMs > KEPT_MS && !kept.includes(known.channel)) this.all.delete(known.channel)
    }
  }

  private begin(channel: number, frequencyHz: number, lastUtcMs: number): Conversation {
    const begun: Conversation = {
      ...{ channel, frequencyHz, snrDb: 0, doing: 'text' as const, baud: BAUD, signal: { steadiness: 0 }, text: '', sure: [] },
      ...{ lines: [], lastUtcMs, changes: 0, told: undefined },
    }
    this.all.set(channel, begun)
    return begun
  }

  /** By frequency. */
  view(ownCall: string, nowUtcMs: number): ConversationView[] {
    return [...this.all.values()]
      .sort((a, b) => a.frequencyHz - b.frequencyHz)
      .filter(({ text }) => text !== '')
      .map((one) => viewOf(one, ownCall, nowUtcMs))
  }

  lines(channel: number): readonly SpokenLine[] {
    const { lines = [], doing } = this.all.get(channel) ?? {}
    const last = lines.at(-1)
    return lines
      .filter(({ text }) => text !== '')
      .map((line) => ({ ...line, mine: false, ...(line === last && doing === 'text' && { goesOn: true }) }))
  }

  signalOf(channel: number): (SignalView & { snrDb: number }) | undefined {
    const one = this.all.get(channel)
    return one && { ...one.signal, snrDb: one.snrDb }
  }

  baudOf(channel: number): Baud {
    return this.all.get(channel)?.baud ?? BAUD
  }

  /** Share of the last characters that the waveform alone carries. */
  surenessOf(channel: number): number {
    const { sure = [] } = this.all.get(channel) ?? {}
    return sure.length === 0 ? 1 : sure.filter((one) => one >= LEAST_SURE).length / sure.length
  }

  frequencyOf(channel: number): number | undefined {
    return this.all.get(channel)?.frequencyHz
  }

  callIn(channel: number): string | undefined {
    const one = this.all.get(channel)
    return one && whoSays(wholeWords(one)).from
  }

  /** Where somebody was heard last. */
  ofCall(call: string): number | undefined {
    const theirs = [...this.all.values()].filter((one) => call !== '' && this.callIn(one.channel) === call)
    return theirs.sort((a, b) => b.lastUtcMs - a.lastUtcMs)[0]?.channel
  }

  /** A conversation that is heard at a frequency. */
  at(frequencyHz: number, withinHz: number): number | undefined {
    return [...this.all.values()].find((one) => one.doing !== 'gone' && Math.abs(one.frequencyHz - frequencyHz) < withinHz)?.channel
  }
}

function signalOf({ driftHzS, fading, steadiness, linearity }: Psk31Channel): SignalView {
  return { steadiness, ...(driftHzS !== undefined && { driftHzS }), ...(fading && { fading }), ...(linearity && { linearity }) }
}

/** What who speaks now has told in this conversation. Reading it takes long beside forty others, so it is read every few seconds. */
function toldIn(
  one: Conversation,
  call: string | undefined,
  { ownCall, nowUtcMs }: { ownCall: string; nowUtcMs: number },
): ConversationView['told'] {
  if (!call) return {}
  const { told, changes, lines } = one
  const isOld = told?.call !== call || (told.changes !== changes && nowUtcMs - told.atUtcMs >= TOLD_EVERY_MS)
  if (!isOld) return told.facts
  const spoken = lines.map((line) => ({ ...line, mine: false, goesOn: line === lines.at(-1) && one.doing === 'text' }))
  one.told = { call, changes, atUtcMs: nowUtcMs, facts: readTold(spoken, call, ownCall) }
  return one.told.facts
}

function viewOf(one: Conversation, ownCall: string, nowUtcMs: number): ConversationView {
  const { channel, frequencyHz, snrDb, doing, baud, text, sure, lines, lastUtcMs } = one
  const said = whoSays(wholeWords(one))
  const turn = turnAfter(lines.at(-1)?.text ?? '')
  return {
    ...{ channel, frequencyHz: Math.round(frequencyHz * 10) / 10, snrDb: Math.round(snrDb), doing, lastUtcMs },
    ...tailOf(
      text,
      sure.map((each) => each < LEAST_SURE),
    ),
    ...(baud !== BAUD && { fasterBaud: baud }),
    told: toldIn(one, said.from, { ownCall, nowUtcMs }),
    ...(said.from && { from: said.from }),
    ...(said.to && { to: said.to }),
    cq: said.cq && /\b(CQ|QRZ\?)/i.test(lines.at(-1)?.text ?? ''),
    toMe: ownCall !== '' && said.to === ownCall,
    ...(turn && { turn }),
  }
}

/** Takes back what was read last; it may be the end of more than one line. */
function takeBack(known: Conversation, count: number): void {
  known.text = known.text.slice(0, Math.max(0, known.text.length - count))
  known.sure = known.sure.slice(0, Math.max(0, known.sure.length - count))
  let left = count
  const lines = [...known.lines]
  while (left > 0 && lines.length > 0) {
    const last = lines.pop()!
    const kept = Math.max(0, last.text.length - left)
    left -= last.text.length - kept
    // A line that is empty for the moment stays: what comes in the place of its text was said when it was.
    if (left === 0) lines.push({ ...last, text: last.text.slice(0, kept), sure: last.sure.slice(0, kept) })
  }
  known.lines = lines
}

/** The end of a text on one line: a new line is a space, and several spaces are one. */
function tailOf(text: string, faint: readonly boolean[]): { tail: string; tailFaint: Span[] } {
  const end = text.slice(-TAIL_CHARACTERS)
  const marks = faint.slice(-end.length)
  let tail = ''
  const kept: boolean[] = []
  ;[...end].forEach((character, k) => {
    const shown = /\s/.test(character) ? ' ' : character
    if (shown === ' ' && tail.endsWith(' ')) return
    tail += shown
    kept.push(marks[k] ?? false)
  })
  return { tail, tailFaint: spansOf(kept) }
}
