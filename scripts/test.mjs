// npm test: everything from an empty machine on: packages, Chromium, socat, formatting, lint, types, unit and end-to-end tests.
// Ends with the line "N passed, N failed"; each of formatting, lint, types and dead exports counts as one.
import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { runWhenFree } from './packageLock.mjs'
import { ensureBuild, ensurePackages, fail, requireNode, root, run } from './setup.mjs'

requireNode()
ensurePackages()
ensureTools()

const bin = (path) => join(root, 'node_modules', path)
const results = join(root, 'test-results')
mkdirSync(results, { recursive: true })
const unitFile = join(results, 'unit.json')
/** Each project of the end-to-end tests, and how many of its files run at a time: what waits for no real second shares the machine. */
const E2E = [
  { project: 'paced', workers: 2 },
  { project: 'realTime', workers: 1 },
]
const e2eFile = (project) => join(results, `e2e-${project}.json`)
for (const file of [unitFile, ...E2E.map(({ project }) => e2eFile(project))]) rmSync(file, { force: true })

let passed = 0
let failed = 0
const count = (ok, what) => {
  if (ok) passed++
  else {
    failed++
    console.error(`zeptik: ${what} failed`)
  }
}
const check = async (what, script, args) => {
  console.log(`\nzeptik: ${what}`)
  count((await run(process.execPath, [bin(script), ...args])) === 0, what)
}

// Two at a time, for these run on one core each. The build comes before whatever reads the types that it writes.
const formatting = check('formatting', 'prettier/bin/prettier.cjs', ['--check', '--log-level', 'warn', '.'])
ensureBuild()
await formatting
// It takes longest and wants one core: what is left of it goes on beside the unit tests.
const lint = check('lint', 'eslint/bin/eslint.js', ['.', '--max-warnings=0'])
await check('types', 'typescript/bin/tsc', ['--noEmit'])
await check('dead exports', 'knip/bin/knip.js', ['--no-progress'])

console.log('\nzeptik: unit tests')
const unitCode = await run(process.execPath, [
  '--experimental-vm-modules',
  '--no-warnings=ExperimentalWarning',
  bin('jest/bin/jest.js'),
  '--json',
  `--outputFile=${unitFile}`,
])
tally(unitFile, unitCode, 'unit tests', (r) => ({ passed: r.numPassedTests, failed: r.numFailedTests + r.numRuntimeErrorTestSuites }))

await lint

for (const { project, workers } of E2E) {
  console.log(`\nzeptik: end-to-end tests, ${project}, ${workers} at a time`)
  const file = e2eFile(project)
  const code = await run(process.execPath, [bin('@playwright/test/cli.js'), 'test', `--project=${project}`, `--workers=${workers}`], {
    ...process.env,
    E2E_RESULTS: file,
    E2E_FILES: join(results, `files-${project}`),
  })
  tally(file, code, `end-to-end tests, ${project}`, (r) => {
    if (r.stats.flaky > 0) console.log(`\nzeptik: ${r.stats.flaky} of the end-to-end tests passed only at the second try, see above`)
    return { passed: r.stats.expected + r.stats.flaky, failed: r.stats.unexpected + r.errors.length }
  })
}

console.log(`\n${passed} passed, ${failed} failed`)
process.exit(failed > 0 ? 1 : 0)

/** Adds a runner's counts; one that left none, or said nothing of a failure it ended with, counts as failed itself. */
function tally(file, code, what, read) {
  let counts = { passed: 0, failed: 0 }
  if (existsSync(file)) counts = read(JSON.parse(readFileSync(file, 'utf8')))
  passed += counts.passed
  failed += counts.failed
  if (code !== 0 && counts.failed === 0) count(false, what)
  else if (counts.passed + counts.failed === 0) count(false, `${what}: none ran, which`)
}

/** The end-to-end tests drive Debian's Chromium, one of them its Firefox; socat makes the pseudo-terminals on which stand-ins talk. */
function ensureTools() {
  const chromium = process.env.CHROMIUM ?? '/usr/bin/chromium'
  if (process.env.CHROMIUM && !existsSync(chromium)) fail(`there is no Chromium at ${chromium}; CHROMIUM names it`)
  const firefox = process.env.FIREFOX ?? '/usr/bin/firefox-esr'
  const missing = [
    ...(existsSync(chromium) ? [] : ['chromium']),
    ...(existsSync(firefox) ? [] : ['firefox-esr']),
    ...(spawnSync('socat', ['-V']).status === 0 ? [] : ['socat']),
  ]
  if (missing.length === 0) return
  const commands = [
    ['apt-get', ['update']],
    ['apt-get', ['install', '-y', '--no-install-recommends', ...missing]],
  ]
  const how = commands.map(([command, args]) => [command, ...args].join(' ')).join(' && ')
  if (process.platform !== 'linux' || process.getuid?.() !== 0 || spawnSync('apt-get', ['--version']).status !== 0) {
    // Without socat or Firefox only the tests that want them are left out, and say so.
    if (!missing.includes('chromium')) return
    fail(`Chromium is missing. Install it as root with:\n  ${how}\nor name another one in CHROMIUM.`)
  }
  console.log(`zeptik: installing ${missing.join(' and ')}…`)
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
  const done = commands.every(([command, args]) => runWhenFree(command, args, { env }).ok)
  if (!done || !existsSync(chromium)) fail(`${missing.join(' and ')} could not be installed. Try by hand:\n  ${how}`)
}
