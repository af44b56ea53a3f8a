// npm start: the station with its own data. PORT, HOST and ZEPTIK_DATA say where.
import { PROGRAMS } from './programs.mjs'
import { ensureBuild, ensurePackages, requireNode } from './setup.mjs'

requireNode()
ensurePackages()
ensureBuild()
process.env.NODE_ENV = 'production'
process.env.NEXT_TELEMETRY_DISABLED = '1'
const { runBundled } = await import('./bundle.mjs')
await runBundled('src/server/main.ts', PROGRAMS)
