// Bundles TypeScript entries for Node and runs one. esbuild takes some tens of milliseconds, so nothing is kept in step by hand.
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, renameSync, rmSync, statSync, utimesSync } from 'node:fs'
import { basename, dirname, join } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'

export const root = dirname(dirname(fileURLToPath(import.meta.url)))

/** Inside node_modules, so that packages left out of a bundle are found from there. */
const cache = join(root, 'node_modules', '.cache', 'zeptik')

/** Runs an entry; those `beside` it are programs that it starts in threads and processes, and stand in the same folder. */
export async function runBundled(entry, beside = []) {
  const { folder, files } = await bundle([entry, ...beside])
  const clean = () => rmSync(folder, { recursive: true, force: true })
  process.once('exit', clean)
  process.env.ZEPTIK_ROOT ??= root
  await import(pathToFileURL(files[0]).href)
}

/** Bundles of other sources that are kept beside the one in use. */
const KEPT = 3

/** Runs an entry, bundled anew only when a file under one of the folders has changed since. */
export async function runKept(entry, folders) {
  const name = `kept-${basename(entry, '.ts')}-`
  const kept = join(cache, name + hashOf([...folders, 'scripts/bundle.mjs', 'package-lock.json']))
  const file = join(kept, `${basename(entry, '.ts')}.mjs`)
  if (!existsSync(file)) {
    const { folder } = await bundle([entry])
    // As a whole or not at all: another one may be doing the same at this moment.
    try {
      renameSync(folder, kept)
    } catch {
      rmSync(folder, { recursive: true, force: true })
    }
    prune(name)
  }
  utimesSync(kept, new Date(), new Date())
  process.env.ZEPTIK_ROOT ??= root
  await import(pathToFileURL(file).href)
}

function hashOf(paths) {
  const hash = createHash('sha256')
  const add = (path) => {
    if (statSync(join(root, path)).isDirectory()) for (const name of readdirSync(join(root, path)).sort()) add(join(path, name))
    else if (!path.endsWith('.test.ts'))
      hash
        .update(`${path}\0`)
        .update(readFileSync(join(root, path)))
        .update('\0')
  }
  paths.forEach(add)
  return hash.digest('hex').slice(0, 20)
}

function prune(name) {
  const found = readdirSync(cache)
    .filter((folder) => folder.startsWith(name))
    .map((folder) => ({ folder, usedMs: statSync(join(cache, folder)).mtimeMs }))
    .sort((a, b) => b.usedMs - a.usedMs)
  for (const { folder } of found.slice(KEPT)) rmSync(join(cache, folder), { recursive: true, force: true })
}

/** Bundles entries into a folder of their own. */
export async function bundle(entries) {
  let esbuild
  try {
    esbuild = await import('esbuild')
  } catch {
    console.error('zeptik: the packages are not installed yet; run "npm ci" in the checkout first')
    process.exit(1)
  }
  mkdirSync(cache, { recursive: true })
  const folder = mkdtempSync(join(cache, 'run-'))
  await esbuild.build({
    entryPoints: entries.map((entry) => join(root, entry)),
    outdir: folder,
    entryNames: '[name]',
    outExtension: { '.js': '.mjs' },
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    alias: { '@': join(root, 'src') },
    sourcemap: 'inline',
    logLevel: 'error',
  })
  return { folder, files: entries.map((entry) => join(folder, `${basename(entry, '.ts')}.mjs`)) }
}
