import { allocationOf, callSeriesBlocks } from './callSeries'

describe('call sign series', () => {
  it('are blocks that rise and never overlap', () => {
    callSeriesBlocks.forEach(({ from, to }, i) => {
      expect(to).toBeGreaterThanOrEqual(from)
      if (i > 0) expect(from).toBeGreaterThan(callSeriesBlocks[i - 1]!.to)
    })
  })

  // Prefixes alone: whole calls could be somebody's.
  it.each([
    ['AA', 'United States'],
    ['ALZ', 'United States'],
    ['AMA', 'Spain'],
    ['G', 'United Kingdom'],
    ['2E', 'United Kingdom'],
    ['SSM', 'Egypt'],
    ['SSN', 'Sudan'],
    ['ST', 'Sudan'],
    ['3DM', 'Eswatini'],
    ['3DN', 'Fiji'],
    ['HB', 'Switzerland'],
    ['HE', 'Switzerland'],
    ['HF', 'Poland'],
    ['4U', 'United Nations'],
    ['PJ', 'Caribbean Netherlands, Curaçao, Sint Maarten'],
    ['9Z', 'Trinidad and Tobago'],
    ['E7', 'Bosnia and Herzegovina'],
    ['Z8', 'South Sudan'],
    ['zz', 'Brazil'],
  ])('%s is %s', (prefix, name) => expect(allocationOf(prefix)).toBe(name))

  it.each(['Q5RVR', 'QZZ', 'Q5RVR/P', '1AA', 'Z9', 'H5', 'T9', 'S4', '', '///', 'é'])('%s is nobody’s', (call) =>
    expect(allocationOf(call)).toBeUndefined(),
  )

  it('takes the prefix before a stroke, and passes over what follows a call', () => {
    expect(allocationOf('OE/Q5RVR')).toBe('Austria')
    expect(allocationOf('Q5RVR/7')).toBeUndefined()
  })

  it('covers every letter but Q', () => {
    for (const letter of 'ABCDEFGHIJKLMNOPRSTUVWXYZ') expect(allocationOf(`${letter}A`)).toBeDefined()
    for (let code = 65; code <= 90; code++) expect(allocationOf(`Q${String.fromCharCode(code)}A`)).toBeUndefined()
  })
})
