import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { PGlite } from '@electric-sql/pglite'
import { pg_trgm } from '@electric-sql/pglite/contrib/pg_trgm'
import { drizzle } from 'drizzle-orm/pglite'
import { migrate } from 'drizzle-orm/pglite/migrator'
import { openStation } from '@/core/station'
import { heardReportSchema } from '@/core/station/heardContract'
import { openDatabase } from './db/database'
import { heard } from './db/schema'
import { openData } from './openData'
import { readProfile, storeHeard, summariseHeard } from './stationRepository'

const root = process.cwd()
const noon = Date.UTC(2026, 5, 1, 12)
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`
/** The last migration of the version before the modes had declarations of their own. */
const LAST_BEFORE = 3

/** A data folder as that version made it: its tables by its own migrations, its documents as it wrote them, its journal. */
async function makeOlderFolder(folder: string): Promise<void> {
  const migrations = join(folder, 'migrations')
  cpSync(join(root, 'src/server/db/migrations'), migrations, { recursive: true })
  const journalFile = join(migrations, 'meta', '_journal.json')
  const journal = JSON.parse(readFileSync(journalFile, 'utf8')) as { entries: { idx: number }[] }
  journal.entries = journal.entries.filter((entry) => entry.idx <= LAST_BEFORE)
  writeFileSync(journalFile, JSON.stringify(journal))
  mkdirSync(join(folder, 'data'))
  const client = await PGlite.create(join(folder, 'data', 'database'), { extensions: { pg_trgm } })
  await migrate(drizzle(client), { migrationsFolder: migrations })
  const station = {
    ...{
      call: 'Q5RVR',
      operatorName: 'Rowan Ames',
      locator: 'JN97LK',
      place: 'Sallow Reach',
      radio: 'Heron 20',
      interfaceName: '',
      antenna: '',
    },
    ...{ powerW: 10, licenceConfirmedUtcMs: noon, dialFrequencyHz: 14_074_000, dialSetUtcMs: noon, voxLeadInMs: 200, transmitLevel: 0.4 },
    ...{ finish: 'RRR', maxTries: 9, maxCqTries: 30, opening: 'report', callerOrder: 'first', depth: 'deep', cqWord: 'TEST' },
  }
  const document = 'insert into documents (name, value) values ($1, $2)'
  await client.query(document, ['station', station])
  await client.query(document, ['settings', { theme: 'night', distanceUnit: 'mi' }])
  const row =
    'insert into heard (id, slot_utc_ms, mode, source, text, call, snr_db, time_offset_s, audio_offset_hz, dial_frequency_hz, clock_uncertainty_ms, pass) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12)'
  const rows = [
    ['CQ Q2LMN JO31', 'Q2LMN', 0],
    ['Q5RVR Q2LMN RR73', 'Q2LMN', 30_000],
    ['HELLO RIVER', null, 45_000],
  ] as const
  for (const [n, [text, call, afterMs]] of rows.entries())
    await client.query(row, [id(n + 1), noon + afterMs, 'FT8', 'microphone', text, call, -8, 0.25, 1310, 14_074_000, 40, 2])
  await client.close()
}

it('a data folder of the version before is taken over: station, settings, what was heard', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'zeptik-older-'))
  await makeOlderFolder(folder)
  const data = await openData(
    join(folder, 'data'),
    (at) => openDatabase(at, root),
    () => noon,
  )
  try {
    // Nothing was put aside or made anew.
    expect(data.notes).toEqual([])
    const { station, settings } = await readProfile(data.database, false)
    expect(station).toMatchObject({ call: 'Q5RVR', voxLeadInMs: 200, transmitLevel: 0.4 })
    expect(station.modes.ft8).toEqual({
      ...{ finish: 'RRR', maxTries: 9, maxCqTries: 30, opening: 'report', callerOrder: 'first', depth: 'deep', cqWord: 'TEST' },
      // What came later begins as it was before it.
      cqAgain: 0,
    })
    // What was not yet set has its usual value.
    expect(station.modes.psk31).toEqual({
      ...{ reports: 'rst', phrases: [], gear: '', identifyEveryMin: 10 },
      ...{ cqPauseS: 10, cqTries: 3, listenOnly: false },
    })
    // What a later version can no longer read of one mode costs nothing else.
    expect(openStation({ ...station, modes: { ...station.modes, psk31: { phrases: 'none' } } })).toEqual(station)
    expect(settings).toEqual({ theme: 'night', distanceUnit: 'mi', modes: ['ft8', 'psk31'] })
    const kept = await data.database.select().from(heard).orderBy(heard.startUtcMs)
    // Each is whole by today's rules.
    for (const report of kept) expect(heardReportSchema.parse(report)).toEqual(report)
    expect(kept.map(({ mode, locator, startUtcMs, endUtcMs }) => [mode, locator, startUtcMs - noon, endUtcMs - startUtcMs])).toEqual([
      ['ft8', 'JO31', 750, 12_640],
      ['ft8', null, 30_750, 12_640],
      ['ft8', null, 45_750, 12_640],
    ])
    expect(kept[0]!.details).toEqual({ timeOffsetS: 0.25, pass: 2 })
    // What is heard now, in another mode, joins it.
    const { details: _, ...common } = kept[0]!
    const stretch = {
      ...common,
      id: id(9),
      mode: 'psk31' as const,
      source: 'microphone' as const,
      startUtcMs: noon + 60_000,
      endUtcMs: noon + 70_000,
    }
    await storeHeard(data.database, [{ ...stretch, locator: 'JO32', text: 'cq de Q2LMN', details: { channel: 4 } }], noon)
    expect(await summariseHeard(data.database, { from: noon - 1000, practice: false })).toEqual([
      { call: 'Q2LMN', locator: 'JO32', lastUtcMs: noon + 60_000, lastSnrDb: -8, times: 3 },
    ])
  } finally {
    await data.close()
    rmSync(folder, { recursive: true, force: true })
  }
}, 120_000)
