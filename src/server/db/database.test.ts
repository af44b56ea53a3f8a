import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { eq, sql } from 'drizzle-orm'
import { bundlePrograms } from '../testing'
import { openDatabaseThread, type OpenDatabase } from './database'
import { documents } from './schema'

let folder: string
let opened: OpenDatabase
let bundled: Awaited<ReturnType<typeof bundlePrograms>>
beforeAll(async () => {
  bundled = await bundlePrograms()
  folder = mkdtempSync(join(tmpdir(), 'zeptik-thread-'))
  opened = await openDatabaseThread(join(folder, 'database'), process.cwd(), bundled.programs.database)
})
afterAll(async () => {
  await opened.close()
  bundled.dispose()
  rmSync(folder, { recursive: true, force: true })
})

const row = (name: string, value: object) => ({ name, value, updatedUtcMs: 1 })
const read = async (name: string) => (await opened.database.select().from(documents).where(eq(documents.name, name)))[0]?.value

describe('the database in a thread of its own', () => {
  it('keeps values as they are, and gives times as the database writes them', async () => {
    const value = { text: 'Zoë', n: 1.5, list: [null, true] }
    await opened.database.insert(documents).values(row('a', value))
    expect(await read('a')).toEqual(value)
    const { rows } = await opened.database.execute(sql`select timestamptz '2026-06-01 12:00:00+00' as at, 7::int as n`)
    expect(rows).toEqual([{ at: expect.stringMatching(/^2026-06-01 12:00:00/), n: 7 }])
  })

  it('keeps a transaction as a whole or not at all, one after the other', async () => {
    const { database } = opened
    await expect(
      database.transaction(async (tx) => {
        await tx.insert(documents).values(row('b', { n: 1 }))
        throw new Error('no')
      }),
    ).rejects.toThrow('no')
    expect(await read('b')).toBeUndefined()
    await Promise.all(
      [1, 2, 3].map((n) =>
        database.transaction(async (tx) => {
          await tx.insert(documents).values(row(`t${n}`, { n }))
          await new Promise((done) => setTimeout(done, 5))
          await tx
            .update(documents)
            .set({ value: { n: 10 * n } })
            .where(eq(documents.name, `t${n}`))
        }),
      ),
    )
    expect([await read('t1'), await read('t2'), await read('t3')]).toEqual([{ n: 10 }, { n: 20 }, { n: 30 }])
  })

  it('says what the database says, with its code', async () => {
    let code: unknown
    for (
      let at: unknown = await opened.database.execute(sql`select 'x'::int`).catch((error: unknown) => error);
      at instanceof Error;
      at = at.cause
    )
      code ??= (at as { code?: unknown }).code
    expect(code).toBe('22P02')
  })

  it('says when it ends by itself, and fails whoever asks from then on', async () => {
    const ended: string[] = []
    const program = join(folder, 'short.mjs')
    writeFileSync(program, `import { parentPort } from 'node:worker_threads'; parentPort.on('message', () => process.exit(3))`)
    await expect(openDatabaseThread(join(folder, 'x'), process.cwd(), program, (why) => ended.push(why))).rejects.toThrow('it has ended')
    expect(ended).toEqual(['it has ended'])
  })

  it('keeps nobody else waiting while it works', async () => {
    const asked = opened.database.execute(sql`select count(*) from generate_series(1, 3000000)`)
    let over = false
    void asked.then(() => (over = true))
    let turns = 0
    while (!over) {
      turns++
      await new Promise((done) => setTimeout(done, 1))
    }
    // In this thread it would have been one.
    expect(turns).toBeGreaterThan(20)
  })
})
