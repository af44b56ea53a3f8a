import { LEAST_SURE, readTold, turnAfter, whoSays, type Psk31Channel, type Psk31Text } from '@/core/psk31'
import { emptyDraft, type ContactDraft, type ConversationView, type Span, type TranscriptLine } from './state'

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

interface Line {
  utcMs: number
  text: string
  faint: boolean[]
}

interface Conversation {
  channel: number
  frequencyHz: number
  snrDb: number
  doing: Psk31Channel['doing']
  text: string
  /** For each character of the text, whether it is faint. */
  faint: boolean[]
  lines: Line[]
  lastUtcMs: number
}

interface Around {
  utcOf: (atS: number) => number
  nowUtcMs: number
  kept?: readonly number[]
}

/** What is read for who is who: the first word may be the end of one, for it was begun before it was heard. */
const wholeWords = (text: string) => text.slice(-READ_CHARACTERS).replace(/^\S*\s/, '')

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
      if (character === '') continue
      const utcMs = utcOf(atS)
      const lines =
        utcMs - known.lastUtcMs > PAUSE_MS || known.lines.length === 0 ? [...known.lines, { utcMs, text: '', faint: [] }] : known.lines
      const last = lines.at(-1)!
      const faint = sure < LEAST_SURE
      known.lines = [...lines.slice(0, -1), { ...last, text: last.text + character, faint: [...last.faint, faint] }].slice(-MOST_LINES)
      known.text = (known.text + character).slice(-KEPT_CHARACTERS)
      known.faint = [...known.faint, faint].slice(-TAIL_CHARACTERS)
      Object.assign(known, { frequencyHz, snrDb, lastUtcMs: utcMs })
    }
    const now = new Map(channels.map((channel) => [channel.channel, channel]))
    for (const known of this.all.values()) {
      const heard = now.get(known.channel)
      known.doing = heard?.doing ?? 'gone'
      if (heard) Object.assign(known, { frequencyHz: heard.frequencyHz, snrDb: heard.snrDb })
      if (!heard && nowUtcMs - known.lastUtcMs > KEPT_MS && !kept.includes(known.channel)) this.all.delete(known.channel)
    }
  }

  private begin(channel: number, frequencyHz: number, lastUtcMs: number): Conversation {
    const begun: Conversation = { channel, frequencyHz, snrDb: 0, doing: 'text', text: '', faint: [], lines: [], lastUtcMs }
    this.all.set(channel, begun)
    return begun
  }

  /** By frequency. */
  view(ownCall: string): ConversationView[] {
    return [...this.all.values()].sort((a, b) => a.frequencyHz - b.frequencyHz).map((one) => viewOf(one, ownCall))
  }

  lines(channel: number): readonly TranscriptLine[] {
    const lines = (this.all.get(channel)?.lines ?? []).filter(({ text }) => text !== '')
    return lines.map(({ utcMs, text, faint }) => {
      const spans = spansOf(faint)
      return { utcMs, mine: false, text, ...(spans.length > 0 && { faint: spans }) }
    })
  }

  frequencyOf(channel: number): number | undefined {
    return this.all.get(channel)?.frequencyHz
  }

  callIn(channel: number): string | undefined {
    const one = this.all.get(channel)
    return one && whoSays(wholeWords(one.text)).from
  }

  /** A conversation that is heard at a frequency. */
  at(frequencyHz: number, withinHz: number): number | undefined {
    return [...this.all.values()].find((one) => one.doing !== 'gone' && Math.abs(one.frequencyHz - frequencyHz) < withinHz)?.channel
  }
}

function viewOf({ channel, frequencyHz, snrDb, doing, text, faint, lines, lastUtcMs }: Conversation, ownCall: string): ConversationView {
  const said = whoSays(wholeWords(text))
  const turn = turnAfter(lines.at(-1)?.text ?? '')
  return {
    ...{ channel, frequencyHz: Math.round(frequencyHz * 10) / 10, snrDb: Math.round(snrDb), doing, lastUtcMs },
    ...tailOf(text, faint),
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
  known.faint = known.faint.slice(0, Math.max(0, known.faint.length - count))
  let left = count
  const lines = [...known.lines]
  while (left > 0 && lines.length > 0) {
    const last = lines.pop()!
    const kept = Math.max(0, last.text.length - left)
    left -= last.text.length - kept
    // A line that is empty for the moment stays: what comes in the place of its text was said when it was.
    if (left === 0) lines.push({ ...last, text: last.text.slice(0, kept), faint: last.faint.slice(0, kept) })
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

function spansOf(marks: readonly boolean[]): Span[] {
  const spans: [number, number][] = []
  marks.forEach((marked, k) => {
    const last = spans.at(-1)
    if (!marked) return
    if (last && last[1] === k) last[1] = k + 1
    else spans.push([k, k + 1])
  })
  return spans
}

/** What a conversation tells for the log, where the operator has not said otherwise. Only what the other one said of itself counts. */
export function draftFrom(
  draft: ContactDraft,
  byHand: readonly (keyof ContactDraft)[],
  lines: readonly TranscriptLine[],
  ownCall: string,
): ContactDraft {
  const said = saidBy(lines)
  const from = said.flatMap((one) => one.from ?? []).at(-1)
  const call = byHand.includes('call') || !from || from === ownCall ? draft.call : from
  // In a conversation of two others, what the one says is not the other's.
  const own = said.filter((one) => one.from === call)
  const told = readTold(own.map((one) => one.text).join('\n'))
  const toUs = own.some((one) => one.to === ownCall)
  const found: Partial<ContactDraft> = {
    call,
    ...(told.name && { name: told.name[0]! + told.name.slice(1).toLowerCase() }),
    ...(told.place && { place: titled(told.place) }),
    ...(told.locator && { locator: told.locator }),
    ...(told.report && toUs && { reportReceived: told.report }),
  }
  // What was read of the one before belongs to him.
  const before = call === draft.call ? draft : { ...emptyDraft, reportSent: draft.reportSent }
  const typed = Object.fromEntries(byHand.map((field) => [field, draft[field]]))
  return { ...before, ...found, ...typed }
}

/** Their lines with who says each: one that does not tell goes on with the one before. */
function saidBy(lines: readonly TranscriptLine[]): { text: string; from?: string; to?: string }[] {
  let speaker: { from?: string; to?: string } = {}
  return lines
    .filter((line) => !line.mine)
    .map(({ text }) => {
      const { from, to } = whoSays(text)
      if (from) speaker = { from, ...(to && { to }) }
      return { text, ...speaker }
    })
}

const titled = (words: string) =>
  words.toLowerCase().replace(/(^|[\s'-])([a-z])/g, (_, before: string, letter: string) => before + letter.toUpperCase())
