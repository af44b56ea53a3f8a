import { rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { programsBeside, type Programs } from './programs'

/** A port of this computer that is free to listen on until someone else takes it, for tests. */
export function freePort(): Promise<number> {
  return new Promise((done) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number }
      probe.close(() => done(port))
    })
  })
}

/** The programs that the server starts in threads and processes, bundled as its start does it, for tests. */
export async function bundlePrograms(): Promise<{ programs: Programs; dispose(): void }> {
  const scripts = join(process.cwd(), 'scripts')
  const { bundle } = (await import(join(scripts, 'bundle.mjs'))) as { bundle(entries: string[]): Promise<{ folder: string }> }
  const { PROGRAMS } = (await import(join(scripts, 'programs.mjs'))) as { PROGRAMS: string[] }
  const { folder } = await bundle(PROGRAMS)
  return {
    programs: programsBeside(pathToFileURL(join(folder, 'main.mjs')).href),
    dispose: () => rmSync(folder, { recursive: true, force: true }),
  }
}
