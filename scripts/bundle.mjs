// Bundles a TypeScript entry for Node and runs it. esbuild takes some tens of milliseconds, so nothing is kept in step by hand.
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'

export const root = dirname(dirname(fileURLToPath(import.meta.url)))

export async function runBundled(entry) {
  let esbuild
  try {
    esbuild = await import('esbuild')
  } catch {
    console.error('zeptik: the packages are not installed yet; run "npm ci" in the checkout first')
    process.exit(1)
  }
  // Inside node_modules, so that packages left out of the bundle are found from there.
  const cache = join(root, 'node_modules', '.cache', 'zeptik')
  mkdirSync(cache, { recursive: true })
  const folder = mkdtempSync(join(cache, 'run-'))
  const outfile = join(folder, 'main.mjs')
  await esbuild.build({
    entryPoints: [join(root, entry)],
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    alias: { '@': join(root, 'src') },
    sourcemap: 'inline',
    logLevel: 'error',
  })
  const clean = () => rmSync(folder, { recursive: true, force: true })
  process.once('exit', clean)
  process.env.ZEPTIK_ROOT ??= root
  await import(pathToFileURL(outfile).href)
}
