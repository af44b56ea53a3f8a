import { createRandom } from '../dsp/random'
import { decodeSlot } from './decode'
import { expectedMessages } from './expectedMessages'
import { simulatedCrowd, simulateSlot } from './simulate'

const known = { ownCall: 'Q5RVR', otherCall: 'Q2LMN', otherLocator: 'JO31' }
const say = (text: string, snrDb: number, audioOffsetHz = 1500) => ({ text, snrDb, audioOffsetHz, timeOffsetS: 0.3 })

describe('expectedMessages', () => {
  it('are all that the other station can say to us, and what is expected word by word', () => {
    const texts = expectedMessages({ ...known, expect: ['CQ Q9WIL JN54'] }).map((m) => m.text)
    expect(texts).toHaveLength(99)
    expect(new Set(texts).size).toBe(99)
    for (const text of [
      'Q5RVR Q2LMN JO31',
      'Q5RVR Q2LMN -26',
      'Q5RVR Q2LMN R+20',
      'Q5RVR Q2LMN RR73',
      'Q5RVR Q2LMN RRR',
      'Q5RVR Q2LMN 73',
      'CQ Q9WIL JN54',
    ])
      expect(texts).toContain(text)
    expect(expectedMessages({ ownCall: 'Q5RVR' })).toEqual([])
  })

  it('go with compound calls, which are said as hashes', () => {
    const texts = expectedMessages({ ownCall: 'Q5RVR', otherCall: 'Q2LMN/P7' }).map((m) => m.text)
    expect(texts).toContain('<Q5RVR> Q2LMN/P7 RR73')
    expect(texts.some((text) => /-12$/.test(text))).toBe(true)
  })

  it('leave out what cannot be sent', () => {
    expect(expectedMessages({ expect: ['this is far too long to be sent at once'] })).toEqual([])
  })
})

describe('decoding with knowledge', () => {
  it('finds three of four at -23.5 dB near where the station was, none of them without, and marks them', () => {
    let helped = 0
    let without = 0
    for (let seed = 1; seed <= 12; seed++) {
      const slot = simulateSlot([say('Q5RVR Q2LMN R-14', -23.5, 1200 + 31.7 * seed)], seed)
      const found = decodeSlot(slot, { knowledge: { ...known, nearHz: 1202 + 31.7 * seed } })
      if (found.some((d) => d.text === 'Q5RVR Q2LMN R-14' && d.how === 'expected')) helped++
      if (seed <= 5 && decodeSlot(slot).length > 0) without++
    }
    expect(helped).toBeGreaterThanOrEqual(9)
    expect(without).toBeLessThanOrEqual(1)
  })

  it('finds nothing in noise', () => {
    for (let seed = 50; seed < 54; seed++) expect(decodeSlot(simulateSlot([], seed), { knowledge: known })).toEqual([])
  })

  it('takes neither the rest of a strong signal nor other words of the same station for it', () => {
    // Crowded slots in which the agreement of the bits alone made a message up: found among 260 drawn so.
    const random = createRandom(1)
    for (let slot = 0; slot <= 198; slot++) {
      const seed = Math.floor(random() * 2 ** 31)
      const crowd = simulatedCrowd(14, random)
      const other = {
        text: 'Q7HAY Q2LMN R-12',
        snrDb: -22 + 20 * random(),
        audioOffsetHz: 400 + 2000 * random(),
        timeOffsetS: random() - 0.5,
      }
      if (![44, 53, 107, 198].includes(slot)) continue
      const found = decodeSlot(simulateSlot([...crowd, other], seed), { knowledge: known })
      expect(found.filter((d) => d.how === 'expected').map((d) => d.text)).toEqual([])
    }
  })

  it('finds nothing where the rest of a message is by chance in place and the Costas arrays are not', () => {
    // Slot 118 of `zeptik bench knowledge --trials 20 --slots 440`, whose draws these are.
    const random = createRandom(1)
    for (let draw = 0; draw < 500; draw++) random()
    const newSeed = () => Math.floor(random() * 2 ** 31)
    for (let slot = 0; slot <= 118; slot++) {
      newSeed()
      const crowd = simulatedCrowd(14, random)
      const [snrDb, audioOffsetHz, timeOffsetS] = [-22 + 20 * random(), 400 + 2000 * random(), random() - 0.5]
      const seed = newSeed()
      if (slot < 118) continue
      const slotOfAll = simulateSlot([...crowd, { text: 'Q7HAY Q2LMN R-12', snrDb, audioOffsetHz, timeOffsetS }], seed)
      const found = decodeSlot(slotOfAll, { knowledge: { ownCall: 'Q5RVR', otherCall: 'Q2LMN', otherLocator: 'JO31' } })
      expect(found.length).toBeGreaterThan(10)
      expect(found.filter((d) => d.how === 'expected').map((d) => d.text)).toEqual([])
    }
  })

  it('expects those who were heard before to call with their locator', () => {
    const callers = [{ call: 'Q8TLS', locator: 'JN07' }]
    expect(expectedMessages({ ownCall: 'Q5RVR', callers }).map((m) => m.text)).toEqual(['Q5RVR Q8TLS JN07'])
    const slot = simulateSlot([say('Q5RVR Q8TLS JN07', -23)], 3)
    expect(decodeSlot(slot, { knowledge: { ownCall: 'Q5RVR', callers } }).map((d) => d.text)).toEqual(['Q5RVR Q8TLS JN07'])
  })

  it('does not mistake what the station says to someone else, or what was decoded without help', () => {
    const slot = simulateSlot([say('Q7HAY Q2LMN R-14', -17), say('Q5RVR Q3SED -03', -8, 900)], 7)
    const found = decodeSlot(slot, { knowledge: { ...known, nearHz: 1500 } })
    expect(found.map((d) => d.text).sort()).toEqual(['Q5RVR Q3SED -03', 'Q7HAY Q2LMN R-14'])
    const strong = decodeSlot(simulateSlot([say('Q5RVR Q2LMN R-14', -10)], 8), { knowledge: known })
    expect(strong.map((d) => [d.text, d.how])).toEqual([['Q5RVR Q2LMN R-14', 'iterative']])
  })
})

describe('depth', () => {
  it('quick leaves ordered statistics out, deep has all that usual has', () => {
    let quick = 0
    let usual = 0
    let deep = 0
    for (let seed = 1; seed <= 8; seed++) {
      const slot = simulateSlot([say('CQ Q5RVR JN97', -20.5, 800 + 77.3 * seed)], 300 + seed)
      const hits = (depth: 'quick' | 'usual' | 'deep') => decodeSlot(slot, { depth }).filter((d) => d.text === 'CQ Q5RVR JN97').length
      quick += hits('quick')
      usual += hits('usual')
      deep += hits('deep')
    }
    expect(quick).toBeLessThanOrEqual(usual)
    expect(usual).toBeLessThanOrEqual(deep)
    expect(usual).toBeGreaterThanOrEqual(6)
  })
})
