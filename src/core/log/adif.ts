import { formatLocator, isLocator } from '../place/locator'
import { formatField, readAdi, type AdiField, type AdiProblem, type AdiRecord } from './adi'
import { bandNames, bandOf } from './bands'
import { contactSchema, emptyContact, radioFrequencyHz, type Contact } from './contact'

/** ADIF fields that have a place of their own in a contact; all others travel in `extra`. */
const OWN_ID = 'APP_ZEPTIK_ID'
const OWN_DIAL = 'APP_ZEPTIK_DIAL_HZ'
const OWN_AUDIO = 'APP_ZEPTIK_AUDIO_HZ'
const OWN_CLOCK = 'APP_ZEPTIK_CLOCK_MS'
/** Says of a record that it was made on the practice band. */
const OWN_ORIGIN = 'APP_ZEPTIK_ORIGIN'
const PRACTICE = 'practice'
/** For every other reader: it stands before the comment. */
const PRACTICE_COMMENT = 'PRACTICE, not on the air'

const pad = (n: number, width = 2) => String(n).padStart(width, '0')
const dateOf = (utcMs: number) => {
  const d = new Date(utcMs)
  return `${pad(d.getUTCFullYear(), 4)}${pad(d.getUTCMonth() + 1)}${pad(d.getUTCDate())}`
}
const timeOf = (utcMs: number) => {
  const d = new Date(utcMs)
  return `${pad(d.getUTCHours())}${pad(d.getUTCMinutes())}${pad(d.getUTCSeconds())}`
}
const megahertz = (hz: number) => (hz / 1e6).toFixed(6).replace(/0{1,3}$/, '')

/** Writes one contact as an ADIF record. One made in practice says so, in a field of its own and in its comment. */
export function contactToAdif(contact: Contact): string {
  const radioHz = radioFrequencyHz(contact)
  const number = (value: number | null, digits: number) => (value === null ? '' : String(Number(value.toFixed(digits))))
  const practice = contact.origin === 'practice'
  const fields: [string, string][] = [
    ['CALL', contact.call],
    ['QSO_DATE', dateOf(contact.startedUtcMs)],
    ['TIME_ON', timeOf(contact.startedUtcMs)],
    ['QSO_DATE_OFF', dateOf(contact.endedUtcMs)],
    ['TIME_OFF', timeOf(contact.endedUtcMs)],
    ['BAND', contact.band ?? ''],
    ['FREQ', radioHz === null ? '' : megahertz(radioHz)],
    ['MODE', contact.mode],
    ['SUBMODE', contact.submode ?? ''],
    ['RST_SENT', contact.reportSent ?? ''],
    ['RST_RCVD', contact.reportReceived ?? ''],
    ['GRIDSQUARE', contact.locator ? formatLocator(contact.locator) : ''],
    ['STATION_CALLSIGN', contact.ownCall ?? ''],
    ['MY_GRIDSQUARE', contact.ownLocator ? formatLocator(contact.ownLocator) : ''],
    ['TX_PWR', number(contact.powerW, 3)],
    ['NAME', contact.name ?? ''],
    ['QTH', contact.place ?? ''],
    ['COMMENT', practice ? [PRACTICE_COMMENT, contact.comment].filter(Boolean).join(': ') : (contact.comment ?? '')],
    ['MY_SIG', contact.ownProgramme ?? ''],
    ['MY_SIG_INFO', contact.ownReference ?? ''],
    ['SIG', contact.otherProgramme ?? ''],
    ['SIG_INFO', contact.otherReference ?? ''],
    [OWN_ORIGIN, practice ? PRACTICE : ''],
    [OWN_ID, contact.id],
    [OWN_DIAL, number(contact.dialFrequencyHz, 1)],
    [OWN_AUDIO, number(contact.audioOffsetHz, 2)],
    [OWN_CLOCK, number(contact.clockUncertaintyMs, 1)],
  ]
  const written = fields.map(([name, value]) => formatField(name, value))
  for (const [name, value] of Object.entries(contact.extra)) written.push(formatField(name, value))
  return written.filter(Boolean).join(' ') + ' <EOR>\n'
}

/** Writes the head of an ADIF file. */
export function adifHeader(createdUtcMs: number, programVersion: string): string {
  const stamp = `${dateOf(createdUtcMs)} ${timeOf(createdUtcMs)}`
  return [
    'Contacts exported by Zeptik',
    formatField('ADIF_VER', '3.1.6'),
    formatField('CREATED_TIMESTAMP', stamp),
    formatField('PROGRAMID', 'Zeptik'),
    formatField('PROGRAMVERSION', programVersion),
    '<EOH>\n',
  ].join('\n')
}

/** Writes a whole ADIF file. */
export function contactsToAdif(contacts: readonly Contact[], createdUtcMs: number, programVersion: string): string {
  return adifHeader(createdUtcMs, programVersion) + contacts.map(contactToAdif).join('')
}

/** A whole ADIF file as contacts. */
export interface AdifContacts {
  contacts: Contact[]
  /** What could not be read, with line and field; those records are not among the contacts. */
  problems: AdiProblem[]
  recordsRead: number
}

/** What was found next in a file, and how far it was read, in bytes. */
export interface AdifPiece {
  at: number
  /** Line at which it begins; 0 for what is no record. */
  line: number
  contact?: Contact
  problem?: AdiProblem
  /** It was a record, whether or not it could be read. */
  isRecord: boolean
}

/**
 * Reads an ADIF file into contacts, one after the other.
 * @param newId makes a UUID for records that carry none of ours
 */
export function* readAdif(bytes: Uint8Array, newId: () => string): Generator<AdifPiece, void, undefined> {
  for (const { at, record, problem } of readAdi(bytes)) {
    if (!record) yield { at, line: 0, isRecord: false, ...(problem && { problem }) }
    else {
      const read = recordToContact(record, newId)
      yield { at, line: record.line, isRecord: true, ...(read.ok ? { contact: read.contact } : { problem: read.problem }) }
    }
  }
}

/** Reads a whole ADIF file into contacts. @param newId makes a UUID for records that carry none of ours */
export function adifToContacts(bytes: Uint8Array, newId: () => string): AdifContacts {
  const result: AdifContacts = { contacts: [], problems: [], recordsRead: 0 }
  for (const { contact, problem, isRecord } of readAdif(bytes, newId)) {
    if (isRecord) result.recordsRead++
    if (contact) result.contacts.push(contact)
    if (problem) result.problems.push(problem)
  }
  return result
}

type ReadRecord = { ok: true; contact: Contact } | { ok: false; problem: AdiProblem }

function recordToContact(record: AdiRecord, newId: () => string): ReadRecord {
  const values = new Map<string, AdiField>()
  for (const field of record.fields) values.set(field.name, field)
  const used = new Set<string>()
  const take = (name: string): string | null => {
    used.add(name)
    const value = values.get(name)?.value.trim()
    return value ? value : null
  }
  const problem = (field: string, what: string): ReadRecord => ({ ok: false, problem: { line: record.line, field, what } })

  const call = take('CALL')?.toUpperCase()
  if (!call) return problem('CALL', 'the record has no call')
  if (!/^[0-9A-Z/]{3,20}$/.test(call)) return problem('CALL', `"${call.slice(0, 40)}" is no call`)
  const started = parseWhen(take('QSO_DATE'), take('TIME_ON'))
  if (typeof started === 'string') return problem(started, `date and time cannot be read: "${values.get(started)?.value ?? ''}"`)
  const offDate = take('QSO_DATE_OFF')
  const offTime = take('TIME_OFF')
  let ended: number | string = started
  if (offTime) {
    ended = parseWhen(offDate ?? values.get('QSO_DATE')!.value.trim(), offTime)
    if (typeof ended === 'string') return problem('TIME_OFF', `date and time cannot be read: "${offTime}"`)
    // Without a date of its own, an end before the start is after midnight.
    if (!offDate && ended < started) ended += 86_400_000
  }
  const mode = take('MODE')
  if (!mode) return problem('MODE', 'the record has no mode')
  const freq = take('FREQ')
  const freqHz = freq === null ? null : Number(freq) * 1e6
  if (freqHz !== null && !(freqHz > 0 && Number.isFinite(freqHz))) return problem('FREQ', `"${freq}" is no frequency in MHz`)
  const band = take('BAND')?.toLowerCase() ?? (freqHz === null ? null : (bandOf(freqHz) ?? null))
  if (band !== null && !bandNames.includes(band) && freqHz === null && !/^[\d.]+[a-z]+$/.test(band))
    return problem('BAND', `"${band}" is no band`)
  const power = take('TX_PWR')
  if (power !== null && !(Number(power) >= 0)) return problem('TX_PWR', `"${power}" is no power in watts`)
  const id = take(OWN_ID)
  const dial = take(OWN_DIAL)
  const audio = take(OWN_AUDIO)
  const clock = take(OWN_CLOCK)
  // What was practised stays practice wherever it comes back from.
  const practice = take(OWN_ORIGIN)?.toLowerCase() === PRACTICE
  const comment = take('COMMENT')
  const locator = keepIf(take('GRIDSQUARE'), isLocator)
  const ownLocator = keepIf(take('MY_GRIDSQUARE'), isLocator)
  if (!locator) used.delete('GRIDSQUARE')
  if (!ownLocator) used.delete('MY_GRIDSQUARE')
  const candidate: Contact = {
    ...emptyContact({
      id: id ?? newId(),
      call,
      mode: mode.toUpperCase(),
      startedUtcMs: started,
      endedUtcMs: ended as number,
      origin: practice ? 'practice' : 'import',
    }),
    band,
    submode: take('SUBMODE')?.toUpperCase() ?? null,
    dialFrequencyHz: dial === null ? freqHz : Number(dial),
    audioOffsetHz: audio === null ? null : Number(audio),
    reportSent: take('RST_SENT'),
    reportReceived: take('RST_RCVD'),
    locator: locator && locator.toUpperCase(),
    ownCall: take('STATION_CALLSIGN')?.toUpperCase() ?? null,
    ownLocator: ownLocator && ownLocator.toUpperCase(),
    powerW: power === null ? null : Number(power),
    name: take('NAME'),
    place: take('QTH'),
    comment: practice && comment ? comment.slice(comment.startsWith(PRACTICE_COMMENT) ? PRACTICE_COMMENT.length + 2 : 0) || null : comment,
    ownProgramme: take('MY_SIG'),
    ownReference: take('MY_SIG_INFO'),
    otherProgramme: take('SIG'),
    otherReference: take('SIG_INFO'),
    clockUncertaintyMs: clock === null ? null : Number(clock),
  }
  for (const [name, field] of values) if (!used.has(name) && field.value !== '') candidate.extra[name] = field.value
  const checked = contactSchema.safeParse(candidate)
  if (checked.success) return { ok: true, contact: checked.data }
  const issue = checked.error.issues[0]!
  return problem(String(issue.path[0] ?? 'record'), issue.message)
}

function keepIf(value: string | null, test: (value: string) => boolean): string | null {
  return value !== null && test(value) ? value : null
}

/** @returns milliseconds, or the name of the field at fault */
function parseWhen(date: string | null, time: string | null): number | string {
  const d = /^(\d{4})(\d{2})(\d{2})$/.exec(date ?? '')
  if (!d) return 'QSO_DATE'
  const t = /^(\d{2})(\d{2})(\d{2})?$/.exec(time ?? '')
  if (!t) return 'TIME_ON'
  const [year, month, day] = [Number(d[1]), Number(d[2]), Number(d[3])]
  const [hours, minutes, seconds] = [Number(t[1]), Number(t[2]), Number(t[3] ?? 0)]
  if (hours > 23 || minutes > 59 || seconds > 59) return 'TIME_ON'
  const utcMs = Date.UTC(year, month - 1, day, hours, minutes, seconds)
  const back = new Date(utcMs)
  if (back.getUTCMonth() !== month - 1 || back.getUTCDate() !== day) return 'QSO_DATE'
  return utcMs
}
