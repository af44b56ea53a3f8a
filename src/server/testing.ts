import { createServer } from 'node:net'

/** A port of this computer that is free to listen on until someone else takes it, for tests. */
export function freePort(): Promise<number> {
  return new Promise((done) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number }
      probe.close(() => done(port))
    })
  })
}
