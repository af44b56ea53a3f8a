// Bundles the audio worklet: a browser loads it by its own address, which the application's bundler does not provide for.
import { build } from 'esbuild'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = dirname(dirname(fileURLToPath(import.meta.url)))
await build({
  entryPoints: [join(root, 'src/engine/browser/capture.worklet.ts')],
  outfile: join(root, 'public/worklets/capture.js'),
  bundle: true,
  format: 'iife',
  target: 'es2022',
  minify: true,
  logLevel: 'error',
})
