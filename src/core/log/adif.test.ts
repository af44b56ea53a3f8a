import fc from 'fast-check'
import { parseAdi } from './adi'
import { adifBatches, type AdifBatch } from './adifBatches'
import { adifToContacts, contactsToAdif } from './adif'
import { bandOf } from './bands'
import { contactSchema, duplicateKey, emptyContact, type Contact } from './contact'
import { missingFrom } from './missing'

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`
const noon = Date.UTC(2026, 5, 1, 12)
const bytes = (text: string) => new TextEncoder().encode(text)
let made = 0
const newId = () => id(900_000 + made++)

const full: Contact = {
  ...emptyContact({ id: id(1), call: 'Q1ABC', mode: 'FT8', startedUtcMs: noon, endedUtcMs: noon + 75_000, origin: 'air' }),
  band: '20m',
  dialFrequencyHz: 14_074_000,
  audioOffsetHz: 1234.5,
  reportSent: '-08',
  reportReceived: '+03',
  locator: 'JO31AB',
  ownCall: 'Q5RVR',
  ownLocator: 'JN97LK',
  powerW: 7.5,
  name: 'Zoë',
  place: 'Sallow Reach',
  comment: 'by the landing <here>',
  clockUncertaintyMs: 40,
  ownProgramme: 'RIVERS',
  ownReference: 'SR-0042',
  otherProgramme: 'RIVERS',
  otherReference: 'SR-0007',
  extra: { RIG: 'HERON', APP_OTHER_THING: 'kept' },
}

describe('ADIF', () => {
  it('brings a contact back the same', () => {
    const read = adifToContacts(bytes(contactsToAdif([full], noon, '0.1.0')), newId)
    expect(read.problems).toEqual([])
    expect(read.contacts).toEqual([{ ...full, origin: 'import' }])
  })

  it('marks what was practised, for itself and for other readers, and takes it back as practice', () => {
    const practised: Contact = { ...full, origin: 'practice' }
    const text = contactsToAdif([practised, { ...practised, id: id(2), comment: null }], noon, '0.1.0')
    expect(text.match(/<APP_ZEPTIK_ORIGIN:8>practice/g)).toHaveLength(2)
    expect(text).toContain('<COMMENT:47>PRACTICE, not on the air: by the landing <here>')
    expect(text).toContain('<COMMENT:24>PRACTICE, not on the air ')
    expect(contactsToAdif([full], noon, '0.1.0')).not.toMatch(/practice/i)
    const read = adifToContacts(bytes(text), newId)
    expect(read.contacts).toEqual([practised, { ...practised, id: id(2), comment: null }])
    // A contact on the air in the same file is not taken for a repetition of it.
    const both = [...adifBatches(bytes(contactsToAdif([practised, { ...full, id: id(3) }], noon, '0.1.0')), newId)]
    expect(both[0]!.contacts.map(({ contact }) => contact.origin)).toEqual(['practice', 'import'])
  })

  it('gives references of both places the standard fields', () => {
    const text = contactsToAdif([full], noon, '0.1.0')
    for (const field of ['<MY_SIG:6>RIVERS', '<MY_SIG_INFO:7>SR-0042', '<SIG:6>RIVERS', '<SIG_INFO:7>SR-0007'])
      expect(text).toContain(field)
    // Contacts of an older version know nothing of references.
    const { ownProgramme: _a, ownReference: _b, otherProgramme: _c, otherReference: _d, ...older } = full
    expect(contactSchema.parse(older)).toMatchObject({ ownReference: null, otherReference: null })
    expect(contactsToAdif([older as Contact], noon, '0.1.0')).not.toContain('SIG:')
  })

  it('brings any contact back the same', () => {
    const text = fc
      .string({ minLength: 1, maxLength: 30, unit: 'grapheme' })
      .map((t) => t.trim())
      .filter((t) => t !== '')
    fc.assert(
      fc.property(text, text, fc.integer({ min: 0, max: 4e9 }), fc.integer({ min: 0, max: 3600 }), (name, comment, startS, lengthS) => {
        const contact = { ...full, name, comment, startedUtcMs: startS * 1000, endedUtcMs: (startS + lengthS) * 1000 }
        const read = adifToContacts(bytes(contactsToAdif([contact], noon, '0.1.0')), newId)
        expect(read.problems).toEqual([])
        expect(read.contacts[0]).toEqual({ ...contact, origin: 'import' })
      }),
      { seed: 9 },
    )
  })

  it('keeps fields it does not know through a round trip', () => {
    const text = '<CALL:5>Q1ABC<QSO_DATE:8>20260601<TIME_ON:4>1200<MODE:3>FT8<BAND:3>40M<NOTHING_KNOWN:4>abcd<GRIDSQUARE:3>odd<EOR>'
    const first = adifToContacts(bytes(text), newId).contacts
    expect(first[0]).toMatchObject({ band: '40m', locator: null, extra: { NOTHING_KNOWN: 'abcd', GRIDSQUARE: 'odd' } })
    expect(adifToContacts(bytes(contactsToAdif(first, noon, '0.1.0')), newId).contacts).toEqual(first)
  })

  it('takes an end before the start for one after midnight', () => {
    const read = adifToContacts(
      bytes('<CALL:5>Q1ABC<QSO_DATE:8>20260601<TIME_ON:6>235945<TIME_OFF:6>000030<MODE:3>FT8<FREQ:6>14.074<EOR>'),
      newId,
    )
    expect(read.contacts[0]!.endedUtcMs - read.contacts[0]!.startedUtcMs).toBe(45_000)
    expect(read.contacts[0]!.band).toBe('20m')
  })

  it.each([
    ['<CALL:5>Q1ABC<QSO_DATE:8>20260601<TIME_ON:4>1200<MODE:3>FT8', 1, undefined, /EOR/],
    ['<CALL:99>Q1ABC', 1, 'CALL', /99 characters/],
    ['\n\n<CALL:x>Q1ABC<EOR>', 3, 'CALL', /no field/],
    ['head<EOH>\n<QSO_DATE:8>20260601<TIME_ON:4>1200<MODE:3>FT8<EOR>', 2, 'CALL', /no call/],
    ['head<EOH>\n<CALL:5>Q1ABC<QSO_DATE:8>20261301<TIME_ON:4>1200<MODE:3>FT8<EOR>', 2, 'QSO_DATE', /cannot be read/],
    ['head<EOH>\n<CALL:5>Q1ABC<QSO_DATE:8>20260601<TIME_ON:4>2561<MODE:3>FT8<EOR>', 2, 'TIME_ON', /cannot be read/],
    ['head<EOH>\n<CALL:5>Q1ABC<QSO_DATE:8>20260601<TIME_ON:4>1200<EOR>', 2, 'MODE', /no mode/],
    ['head<EOH>\n<CALL:5>Q1ABC<QSO_DATE:8>20260601<TIME_ON:4>1200<MODE:3>FT8<FREQ:3>abc<EOR>', 2, 'FREQ', /no frequency/],
    ['just words', 1, undefined, /no records/],
  ])('reports line and field of %p', (text, line, field, what) => {
    const read = adifToContacts(bytes(text), newId)
    expect(read.contacts).toEqual([])
    expect(read.problems[0]!.line).toBe(line)
    expect(read.problems[0]!.field).toBe(field)
    expect(read.problems[0]!.what).toMatch(what)
  })

  it('reads good records around a bad one', () => {
    const good = (call: string) => `<CALL:5>${call}<QSO_DATE:8>20260601<TIME_ON:4>1200<MODE:3>FT8<EOR>\n`
    const read = adifToContacts(bytes(`x<EOH>\n${good('Q1ABC')}<CALL:2>??<EOR>\n${good('Q2DEF')}`), newId)
    expect(read.contacts.map((c) => c.call)).toEqual(['Q1ABC', 'Q2DEF'])
    expect(read.problems).toMatchObject([{ line: 3, field: 'CALL' }])
  })

  it.each([
    ['bytes of UTF-8', bytes('<NAME:4>Zoë <QTH:10>Grünsee 7 <COMMENT:3>abc<EOR>')],
    ['characters of UTF-8', bytes('<NAME:3>Zoë <QTH:9>Grünsee 7 <COMMENT:3>abc<EOR>')],
    ['characters of UTF-8, nothing between the fields', bytes('<NAME:3>Zoë<QTH:9>Grünsee 7<COMMENT:3>abc<EOR>')],
    ['bytes of Windows-1252', Uint8Array.from('<NAME:3>Zoë <QTH:9>Grünsee 7 <COMMENT:3>abc<EOR>', (c) => c.charCodeAt(0))],
  ])('understands lengths in %s', (_name, file) => {
    const [record] = parseAdi(file).records
    expect(record!.fields.map((f) => f.value)).toEqual(['Zoë', 'Grünsee 7', 'abc'])
  })

  it('goes by the bytes when neither way of counting ends where a value can', () => {
    expect(parseAdi(bytes('<NAME:4>Zoëxyz <EOR>')).records[0]!.fields[0]!.value).toBe('Zoë')
    expect(parseAdi(bytes('<NAME:99>Zoë')).problems[0]!.what).toMatch(/99 characters are announced/)
  })

  it('takes no signs that a log cannot hold', () => {
    const [contact] = adifToContacts(
      bytes('<CALL:5>Q1ABC <QSO_DATE:8>20260601 <TIME_ON:4>1200 <MODE:3>FT8 <COMMENT:3>a\u0000b<EOR>'),
      newId,
    ).contacts
    expect(contact!.comment).toBe('ab')
  })

  it('never throws on garbage', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 400 }), fc.string({ maxLength: 200 }), (garbage, text) => {
        expect(() => parseAdi(garbage)).not.toThrow()
        expect(() => adifToContacts(bytes(`<CALL:5>${text}<EOR`), newId)).not.toThrow()
      }),
      { seed: 10, numRuns: 500 },
    )
  })
})

describe('contacts', () => {
  it('say what is missing', () => {
    expect(missingFrom(full)).toEqual([])
    expect(missingFrom({ ...full, locator: null, reportReceived: null })).toEqual(['locator', 'report received'])
    // Each mode asks for what it is about; of others the usual is asked.
    const bare = { ...full, locator: null, reportSent: null }
    expect(missingFrom({ ...bare, mode: 'PSK', submode: 'PSK31' })).toEqual(['report sent'])
    expect(missingFrom({ ...bare, mode: 'PKT' })).toEqual([])
    expect(missingFrom({ ...bare, mode: 'CW' })).toEqual(['locator', 'report sent'])
  })
  it('are duplicates by call, band and mode', () => {
    expect(duplicateKey(full)).toBe(duplicateKey({ ...full, band: '20m' }))
    expect(duplicateKey(full)).not.toBe(duplicateKey({ ...full, band: '40m' }))
  })
  it.each([
    ['call', '?'],
    ['locator', 'ZZ99'],
    ['startedUtcMs', Infinity],
    ['revision', 0],
  ])('refuse a wrong %s', (key, value) => expect(contactSchema.safeParse({ ...full, [key]: value }).success).toBe(false))
  it('find their band', () => {
    expect(bandOf(14_074_000)).toBe('20m')
    expect(bandOf(13_000_000)).toBeUndefined()
  })

  it('bears a file of nothing but beginnings of fields, with a bounded list of problems', () => {
    const file = parseAdi(new TextEncoder().encode(`<EOH>${'<'.repeat(300_000)}<CALL:5>Q1ABC<EOR>`))
    expect(file.problems.length).toBeLessThanOrEqual(2001)
    expect(file.problems.at(-1)!.what).toMatch(/more problems than are listed/)
    expect(file.records).toHaveLength(1)
  })

  it('bears values and records beyond any measure: what is too much is left out and named', () => {
    const long = 'x'.repeat(100_001)
    const many = Array.from({ length: 600 }, (_, n) => `<X${n}:1>a`).join('')
    const file = parseAdi(bytes(`<CALL:5>Q1ABC<NOTES:${long.length}>${long}<NAME:4>Wren<EOR>\n<CALL:5>Q2DEF${many}<EOR><CALL:5>Q3GHI<EOR>`))
    expect(file.records.map((r) => r.fields.length)).toEqual([2, 500, 1])
    expect(file.problems).toMatchObject([
      { line: 1, field: 'NOTES', what: expect.stringMatching(/100001 bytes are left out/) },
      { line: 2, field: 'X499', what: expect.stringMatching(/at most 500 fields/) },
    ])
  })

  it('are read in parts, those that stand in a file twice once', () => {
    const record = (n: number) =>
      `<CALL:5>Q${n % 10}ABC<BAND:3>20m<MODE:3>FT8<QSO_DATE:8>20260601<TIME_ON:6>${String(100 * Math.floor(n / 60) + (n % 60)).padStart(4, '0')}30<EOR>\n`
    const text = `<EOH>${Array.from({ length: 250 }, (_, i) => record(i)).join('')}${record(0)}<CALL:1>?<EOR>${'<'.repeat(2_500_000)}`
    let n = 0
    const parts = [...adifBatches(bytes(text), () => `00000000-0000-4000-8000-${String(n++).padStart(12, '0')}`)]
    const sum = (of: (part: AdifBatch) => number) => parts.reduce((all, part) => all + of(part), 0)
    expect([sum((p) => p.records), sum((p) => p.contacts.length), sum((p) => p.repeated)]).toEqual([252, 250, 1])
    expect(Math.max(...parts.map((p) => p.contacts.length))).toBe(100)
    expect(parts.flatMap((p) => p.contacts)[100]!.line).toBe(101)
    // Nothing but junk is told of too, so that progress is seen and a stop is obeyed.
    expect(parts.filter((p) => p.contacts.length === 0).length).toBeGreaterThanOrEqual(2)
    expect(parts.at(-1)!.at).toBe(text.length)
    parts.reduce((before, { at }) => (expect(at).toBeGreaterThanOrEqual(before), at), 0)
  })
})
