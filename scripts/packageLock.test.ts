import { runWhenFree } from './packageLock.mjs'

const held = {
  status: 100,
  stderr:
    'E: Could not get lock /var/lib/dpkg/lock-frontend. It is held by process 4711 (unattended-upgr)\nE: Unable to acquire the dpkg frontend lock',
}

/** A package manager that answers so, one call after another. */
function manager(answers: { status: number; stderr: string }[]) {
  const said: string[] = []
  const complained: string[] = []
  let calls = 0
  let waitedMs = 0
  const result = runWhenFree('apt-get', ['install'], {
    run: () => answers[Math.min(calls++, answers.length - 1)],
    wait: (ms: number) => (waitedMs += ms),
    say: (words: string) => said.push(words),
    complain: (words: string) => complained.push(words),
    longestMs: 120_000,
  })
  return { result, said, complained, calls, waitedMs }
}

describe('the system’s package manager', () => {
  it('is waited for while another program holds its lock, with a word', () => {
    const { result, said, waitedMs } = manager([held, held, { status: 0, stderr: '' }])
    expect(result.ok).toBe(true)
    expect(waitedMs).toBe(10_000)
    expect(said).toEqual([expect.stringMatching(/busy \(unattended-upgr, process 4711\); waiting for it, for up to 2 minutes/)])
  })
  it('is given up after a while', () => {
    const { result, said, waitedMs } = manager([held])
    expect(result.ok).toBe(false)
    expect(waitedMs).toBe(120_000)
    expect(said).toHaveLength(2)
  })
  it('that fails for another reason is not waited for', () => {
    const { result, calls, complained } = manager([{ status: 100, stderr: 'E: Unable to locate package chromium' }])
    expect(result).toEqual({ ok: false, words: expect.stringContaining('locate') })
    expect(calls).toBe(1)
    expect(complained).toEqual([expect.stringContaining('locate')])
  })
})
