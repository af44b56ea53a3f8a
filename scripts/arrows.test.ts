import { spawnSync } from 'node:child_process'

interface Case {
  name: string
  path: string
  text: string
  breaks: RegExp | undefined
}

const imports = (path: string, from: string): Case => ({
  name: `${path} must not import ${from}`,
  path,
  text: `import * as other from '${from}'\n\nexport const sample = other\n`,
  breaks: /import\/no-restricted-paths/,
})

const impure = (call: string): Case => ({
  name: `the core must not call ${call}`,
  path: 'src/core/time/slots.ts',
  text: `export const sample = ${call}\n`,
  breaks: /The core is pure/,
})

/** Texts that are linted in the place of files that exist. */
const cases: Case[] = [
  {
    name: 'what runs one way passes',
    path: 'src/engine/modes/ft8/slotCollector.ts',
    text: "import { decodeSlot } from '@/core/ft8'\n\nexport const sample = decodeSlot\n",
    breaks: undefined,
  },
  imports('src/core/ft8/lanes.ts', '@/engine/station/station'),
  imports('src/standins/practiceReceiver.ts', '@/engine/station/station'),
  imports('src/engine/station/outbox.ts', '@/server/config'),
  imports('src/engine/station/outbox.ts', '@/core/ft8'),
  imports('src/engine/station/outbox.ts', '@/engine/modes/psk31/over'),
  imports('src/engine/modes/psk31/over.ts', '@/engine/modes/ft8/state'),
  imports('src/ui/modes/ft8/stationOrder.ts', '@/engine/station/station'),
  imports('src/server/config.ts', '@/ui/modes/ft8/stationOrder'),
  imports('src/ui/modes/ft8/stationOrder.ts', '@/server/config'),
  imports('src/cli/errors.ts', '@/server/config'),
  imports('src/core/time/slots.ts', '@/standins'),
  {
    name: 'a circle fails',
    path: 'src/core/time/slots.ts',
    text: "import { reduceExchange } from '../ft8/exchange'\n\nexport const sample = reduceExchange\n",
    breaks: /import\/no-cycle/,
  },
  { ...impure('Date.now()'), name: 'a stand-in must not read the clock', path: 'src/standins/gpsStandin.ts' },
  {
    name: 'what runs a stand-in on a real port may',
    path: 'src/standins/node/gpsRunner.ts',
    text: 'export const sample = Date.now()\n',
    breaks: undefined,
  },
  ...['Date.now()', 'Math.random()', 'new Date()', 'performance.now()'].map(impure),
]

describe('lint enforces the arrows', () => {
  let results: string[][] = []
  beforeAll(() => {
    const { stdout, stderr } = spawnSync(process.execPath, ['scripts/lint-texts.mjs'], { input: JSON.stringify(cases), encoding: 'utf8' })
    if (!stdout) throw new Error(stderr)
    results = JSON.parse(stdout) as string[][]
  })
  it.each(cases.map((c, i) => [c.name, c.breaks, i] as const))('%s', (_, breaks, i) => {
    if (breaks) expect(results[i]!.join('\n')).toMatch(breaks)
    else expect(results[i]).toEqual([])
  })
})
