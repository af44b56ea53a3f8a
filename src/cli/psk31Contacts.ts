// What one of two sends in a contact, by people of many habits: made anew for the bench, with names and places that are learned nowhere.
import type { Random } from '@/core/dsp'

type Facts = Record<'call' | 'name' | 'locator' | 'report', string>

export interface MadeContact {
  /** All that the other one sends. */
  text: string
  ownCall: string
  truth: Facts
}

const NAMES =
  'aurel bettina corwin dagny emlyn fabrizio gudrun hamish ilse jarek kirsi lorcan maeve nestor ottilie paavo quentin rhian sigrid teodor ulla viggo wanda xavier ysolde zbigniew alma bruno cosima dieter'.split(
    ' ',
  )
const TOWNS = ['upper mere', 'saltholm', 'brackwater', 'st olaf', 'vinograd', 'torrealta']
const HELLOS = [
  'good morning and thanks for the call',
  'hi, nice to meet you',
  'ga om tnx fer call',
  'guten tag und hello',
  'hello old man, thanks for coming back',
]
const LETTERS = [...'abcdefghijklmnopqrstuvwxyz']
const DIGITS = [...'0123456789']

/** How often a thing is said: most say what matters twice. */
const TIMES = [
  { share: 0.2, times: 1 },
  { share: 0.75, times: 2 },
  { share: 1, times: 3 },
]

export function makeContact(random: Random): MadeContact {
  const one = <T>(from: readonly T[]): T => from[Math.floor(random() * from.length)]!
  const letters = (count: number, from = LETTERS) => Array.from({ length: count }, () => one(from)).join('')
  const said = (word: string, between = ' ') => {
    const drawn = random()
    return Array(TIMES.find(({ share }) => drawn < share)!.times)
      .fill(word)
      .join(between)
  }
  const aCall = () => `q${one(DIGITS)}${letters(random() < 0.6 ? 3 : 2)}${random() < 0.05 ? '/p' : ''}`
  const [me, them, name, town] = [aCall(), aCall(), one(NAMES), one(TOWNS)]
  const field = LETTERS.slice(0, 18)
  const locator = letters(2, field) + one(DIGITS) + one(DIGITS) + (random() < 0.6 ? letters(2, LETTERS.slice(0, 24)) : '')
  const isRst = random() < 0.7
  const report = isRst
    ? one(['5', '5', '5', '4', '3']) + one(['9', '9', '8', '7', '6', '5', '3']) + '9'
    : one(['9', '8', '7']) + one(['5', '7', '8']) + one(['5', '6', '7', '8', '9']) + '9'
  const reports = isRst
    ? [`ur rst ${said(report)}`, `your report is ${said(report)}`, `rst: ${said(report)}`, `ur ${said(report)}`, `report ${said(report)}`]
    : [`rsq ${said(report)}`, `ur rsq is ${said(report)}`, `report rsq ${said(report)}`]
  const names = [
    ...[`name ${said(name)}`, `name is ${said(name)}`, `my name is ${said(name)}`, `op ${said(name)}`, `op: ${said(name)}`],
    ...[`name hr ${said(name)}`, `the name here is ${said(name)}`, `op is ${said(name, ', ')}`, `name: ${said(name)}`],
  ]
  const towns = [`qth ${town}`, `qth is near ${town}`, `my qth ${town} ${town}`, `i live in ${town}`]
  const locators = [
    ...[`loc ${said(locator)}`, `locator ${said(locator)}`, `grid ${said(locator)}`, `loc: ${said(locator)}`],
    ...[`square is ${said(locator)}`, `my locator is ${said(locator, ', ')}`],
  ]
  const [hello, r, n, q, l] = [one(HELLOS), one(reports), one(names), one(towns), one(locators)]
  const parts = one([
    [hello, r, n, q, l],
    [hello, n, q, l, r],
    [r, n, l, q],
  ])
  const opening = one([`${me} de ${them}`, `${me} ${me} de ${them} ${them}`, `${me} de ${them} ${them} k\n${me} de ${them}`])
  const end = one([`btu ${me} de ${them} kn`, `how copy? ${me} de ${them} k`, `${me} de ${them} kn`])
  const second = one([
    `\n${me} de ${them} r r fine. rig here is a kit with 10 watts, wx sunny 20 c. tnx qso es 73 ${me} de ${them} sk`,
    `\nok all copied ${one(NAMES)}, antenna is a dipole. ${me} de ${them} k`,
    '',
  ])
  const separator = one([' = ', '. ', '\n', ', ', '; '])
  const text = `${opening} ${parts.join(separator)}${separator}${end}${second}`
  return {
    text: random() < 0.3 ? text.toUpperCase() : text,
    ownCall: me.toUpperCase(),
    truth: { call: them.toUpperCase(), name: name.toUpperCase(), locator: locator.toUpperCase(), report },
  }
}

/** A text of which a share of the characters is changed, lost, or followed by one too many. */
export function spoiled(text: string, share: number, random: Random): string {
  let out = ''
  for (const character of text) {
    if (random() >= share) {
      out += character
      continue
    }
    const how = random()
    const other = String.fromCharCode(32 + Math.floor(95 * random()))
    out += how < 0.7 ? other : how < 0.85 ? '' : character + other
  }
  return out
}
