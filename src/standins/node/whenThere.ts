import { access } from 'node:fs/promises'

const LOOKS_EVERY_MS = 10
const MOST_LOOKS = 500

/** Resolves once a file is there: socat names its pseudo-terminal before the link to it stands. After five seconds whoever opens it says what is wrong. */
export async function whenThere(path: string): Promise<void> {
  for (let look = 0; look < MOST_LOOKS; look++) {
    const there = await access(path).then(
      () => true,
      () => false,
    )
    if (there) return
    await new Promise((done) => setTimeout(done, LOOKS_EVERY_MS))
  }
}
