import { createBitReader } from './bits'
import { unpackCallField } from './callField'
import type { CallMemory } from './callHash'
import { formatReport } from './infoField'
import type { Ft8Message } from './message'

/**
 * Unpacks the message types that are heard but not sent from here
 * (protocol description, QEX July/August 2020): 0.1, 0.3, 0.4, 3 and 5.
 * Values that stand for entries of a contest's own list are shown as `#` and their number.
 */
export function unpackContest(payload: ArrayLike<number>, memory: CallMemory): Ft8Message | undefined {
  const tail = createBitReader(payload, 71)
  const n3 = tail.take(3)
  const i3 = tail.take(3)
  if (i3 === 0 && n3 === 1) return unpackHandover(payload, memory)
  if (i3 === 0 && (n3 === 3 || n3 === 4)) return unpackFieldDay(payload, n3, memory)
  if (i3 === 3) return unpackSerial(payload, memory)
  if (i3 === 5) return unpackVhf(payload, memory)
  return undefined
}

function call28(value: number, memory: CallMemory): string | undefined {
  const field = unpackCallField(value, memory)
  if (!field || field.kind === 'token') return undefined
  if (field.kind === 'call') memory.remember(field.text)
  return field.text
}

const plain = (call: string) => (call.includes('<...>') ? undefined : call.replace(/[<>]/g, ''))

function contest(to: string, from: string, rest: string): Ft8Message {
  const toCall = plain(to)
  const fromCall = plain(from)
  return { kind: 'contest', text: `${to} ${from} ${rest}`, ...(toCall && { to: toCall }), ...(fromCall && { from: fromCall }) }
}

/** c28 c28 h10 r5: RR73 to the first, a report (2 r - 30 dB) to the second, from the hashed third. */
function unpackHandover(payload: ArrayLike<number>, memory: CallMemory): Ft8Message | undefined {
  const reader = createBitReader(payload)
  const done = call28(reader.take(28), memory)
  const next = call28(reader.take(28), memory)
  const sender = memory.recall(reader.take(10), 10)
  const reportDb = 2 * reader.take(5) - 30
  if (!done || !next) return undefined
  const text = `${done} RR73; ${next} <${sender ?? '...'}> ${formatReport(reportDb)}`
  const to = plain(next)
  return { kind: 'contest', text, ...(to && { to }), ...(sender && { from: sender }) }
}

/** c28 c28 R1 n4 k3 S7: transmitters, class A to F, section. */
function unpackFieldDay(payload: ArrayLike<number>, n3: 3 | 4, memory: CallMemory): Ft8Message | undefined {
  const reader = createBitReader(payload)
  const to = call28(reader.take(28), memory)
  const from = call28(reader.take(28), memory)
  const roger = reader.take(1) ? 'R ' : ''
  const transmitters = reader.take(4) + (n3 === 3 ? 1 : 17)
  const operatingClass = 'ABCDEF'[reader.take(3)]
  const section = reader.take(7)
  if (!to || !from || !operatingClass || section === 0) return undefined
  return contest(to, from, `${roger}${transmitters}${operatingClass} #${section}`)
}

/** t1 c28 c28 R1 r3 s13: thanks, report 529 to 599, serial number or (above 8000) an entry of a list. */
function unpackSerial(payload: ArrayLike<number>, memory: CallMemory): Ft8Message | undefined {
  const reader = createBitReader(payload)
  const thanks = reader.take(1) ? 'TU; ' : ''
  const first = unpackCallField(reader.take(28), memory)
  const from = call28(reader.take(28), memory)
  const roger = reader.take(1) ? 'R ' : ''
  const report = 529 + 10 * reader.take(3)
  const serial = reader.take(13)
  if (!first || !from) return undefined
  const exchange = serial > 8000 ? `#${serial - 8000}` : String(serial).padStart(4, '0')
  if (first.kind === 'token') {
    const sender = plain(from)
    return { kind: 'contest', text: `${thanks}${first.text} ${from} ${roger}${report} ${exchange}`, ...(sender && { from: sender }) }
  }
  const message = contest(first.text, from, `${roger}${report} ${exchange}`)
  return { ...message, text: thanks + message.text }
}

/** h12 h22 R1 r3 s11 g25: both calls hashed, report 52 to 59 with a serial number, six-character locator. */
function unpackVhf(payload: ArrayLike<number>, memory: CallMemory): Ft8Message | undefined {
  const reader = createBitReader(payload)
  const to = `<${memory.recall(reader.take(12), 12) ?? '...'}>`
  const from = `<${memory.recall(reader.take(22), 22) ?? '...'}>`
  const roger = reader.take(1) ? 'R ' : ''
  const report = 52 + reader.take(3)
  const serial = reader.take(11)
  let g = reader.take(25)
  if (g >= 18 * 18 * 10 * 10 * 24 * 24) return undefined
  const sizes = [18, 18, 10, 10, 24, 24]
  let locator = ''
  for (let i = 5; i >= 0; i--) {
    const digit = g % sizes[i]!
    g = Math.floor(g / sizes[i]!)
    locator = (sizes[i] === 10 ? String(digit) : String.fromCharCode(65 + digit)) + locator
  }
  return contest(to, from, `${roger}${report}${String(serial).padStart(4, '0')} ${locator}`)
}
