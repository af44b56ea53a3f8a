// What every command of the README does first: packages, and a build that fits the sources.
import { spawn, spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

export const root = dirname(dirname(fileURLToPath(import.meta.url)))
const npm = process.platform === 'win32' ? 'npm.cmd' : 'npm'

export function fail(message) {
  console.error(`zeptik: ${message}`)
  process.exit(1)
}

export function requireNode() {
  const major = Number(process.versions.node.split('.')[0])
  if (major < 20) fail(`Node 20 or newer is needed, this is ${process.version}`)
}

function hashOf(paths) {
  const hash = createHash('sha256')
  const visit = (path) => {
    if (!existsSync(path)) return
    if (statSync(path).isDirectory()) {
      for (const name of readdirSync(path).sort()) visit(join(path, name))
      return
    }
    if (/\.(test|spec)\.tsx?$/.test(path)) return
    hash.update(path.slice(root.length)).update(readFileSync(path))
  }
  for (const path of paths) visit(join(root, path))
  return hash.digest('hex')
}

/** Installs the packages of the lock file when they are missing or older than it. */
export function ensurePackages() {
  const stamp = join(root, 'node_modules', '.zeptik-lock')
  const wanted = hashOf(['package-lock.json'])
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return
  console.log('zeptik: installing packages…')
  const done = spawnSync(npm, ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD: '1' },
    shell: process.platform === 'win32',
  })
  if (done.status !== 0) fail('the packages could not be installed. Is the package registry in reach? Run "npm ci" to see more.')
  mkdirSync(join(root, 'node_modules'), { recursive: true })
  writeFileSync(stamp, wanted)
}

/** Builds the application when the sources have changed since the last build. */
export function ensureBuild() {
  const stamp = join(root, '.next', 'zeptik-sources')
  const wanted = hashOf(['src', 'public/static', 'package-lock.json', 'next.config.ts', 'tsconfig.json', 'scripts/build-worklets.mjs'])
  if (existsSync(stamp) && existsSync(join(root, 'public/worklets/capture.js')) && readFileSync(stamp, 'utf8') === wanted) return
  console.log('zeptik: building, about a minute…')
  const env = { ...process.env, NEXT_TELEMETRY_DISABLED: '1', NODE_ENV: 'production' }
  for (const args of [['scripts/build-worklets.mjs'], ['node_modules/next/dist/bin/next', 'build']]) {
    const done = spawnSync(process.execPath, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'], encoding: 'utf8', env })
    if (done.status !== 0) {
      console.error(done.stdout, done.stderr)
      fail('the build failed, see above')
    }
  }
  writeFileSync(stamp, wanted)
}

/** Runs a command with its output shown, and passes on the signals that end us. */
export function run(command, args, env = process.env) {
  return new Promise((resolve) => {
    const child = spawn(command, args, { cwd: root, stdio: 'inherit', env })
    child.on('exit', (code, signal) => resolve(signal ? 1 : (code ?? 1)))
  })
}
