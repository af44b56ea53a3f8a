import { chmodSync, mkdirSync, mkdtempSync, rmSync, statSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { makePrivate } from './privateFolder'

const folder = mkdtempSync(join(tmpdir(), 'zeptik-private-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))
const rights = (...names: string[]) => statSync(join(folder, ...names)).mode & 0o777

describe('the data folder', () => {
  it('is the operator’s alone, with all that is in it', () => {
    mkdirSync(join(folder, 'data', 'database'), { recursive: true })
    writeFileSync(join(folder, 'data', 'contacts.journal'), 'x')
    writeFileSync(join(folder, 'data', 'database', 'base'), 'x')
    writeFileSync(join(folder, 'elsewhere'), 'x')
    symlinkSync(join(folder, 'elsewhere'), join(folder, 'data', 'link'))
    for (const name of ['data', 'data/database', 'data/contacts.journal', 'data/database/base', 'elsewhere'])
      chmodSync(join(folder, name), 0o777)
    expect(makePrivate(join(folder, 'data'))).toEqual({ mended: 4, open: [] })
    expect([rights('data'), rights('data', 'database'), rights('data', 'contacts.journal'), rights('data', 'database', 'base')]).toEqual([
      0o700, 0o700, 0o700, 0o700,
    ])
    expect(rights('elsewhere')).toBe(0o777)
    expect(makePrivate(join(folder, 'data'))).toEqual({ mended: 0, open: [] })
  })
  it('that is not there is nothing to mend', () => expect(makePrivate(join(folder, 'none'))).toEqual({ mended: 0, open: [] }))
})
