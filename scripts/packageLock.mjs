// The system's package manager lets one process in at a time; a fresh machine often updates itself just when we come.
import { spawnSync } from 'node:child_process'

/** What apt and dpkg say when another process holds one of their locks. */
const HELD = /could not get lock|unable to (acquire|lock)|is another process using it|dpkg frontend lock/i
const LOOK_AGAIN_MS = 5000
const LONGEST_MS = 15 * 60_000

/** Who holds the lock, as far as the message tells. */
function holder(words) {
  const found = /held by process (\d+)(?: \(([^)]+)\))?/.exec(words)
  return found ? `${found[2] ?? 'another program'}, process ${found[1]}` : 'another program'
}

const pause = (ms) => Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, ms)

/**
 * Runs a command of the package manager, and waits with a word while another process holds its lock.
 * @param options env, and for tests: runs, waits and says in place of the real ones
 * @returns ok, and what was said on standard error
 */
export function runWhenFree(
  command,
  args,
  { env = process.env, run = spawnSync, wait = pause, say = console.log, complain = console.error, longestMs = LONGEST_MS } = {},
) {
  let waitedMs = 0
  for (;;) {
    const done = run(command, args, { stdio: ['ignore', 'ignore', 'pipe'], encoding: 'utf8', env })
    const words = done.stderr ?? ''
    if (done.status === 0) return { ok: true, words }
    if (!HELD.test(words) || waitedMs >= longestMs) {
      complain(words.trim())
      return { ok: false, words }
    }
    if (waitedMs % 60_000 === 0)
      say(
        `zeptik: the system's package manager is busy (${holder(words)}); waiting for it, for up to ${Math.round((longestMs - waitedMs) / 60_000)} minutes…`,
      )
    wait(LOOK_AGAIN_MS)
    waitedMs += LOOK_AGAIN_MS
  }
}
