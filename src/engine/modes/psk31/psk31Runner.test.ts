import { initialPsk31State } from './state'
import { hiss, noon, setUp, signal, silence } from './testing'

describe('PSK31 as it runs', () => {
  it('reads conversations, keeps each stretch, takes one into focus, sends, and logs what was told', async () => {
    const s = setUp()
    await s.hear(signal('cq cq cq de Q2LMN Q2LMN Q2LMN pse k'))
    await s.hear(silence(5))
    expect(s.state().conversations).toMatchObject([{ from: 'Q2LMN', cq: true, turn: 'anybody' }])
    expect(s.heard).toMatchObject([{ mode: 'psk31', call: 'Q2LMN', details: { channel: 1 }, text: expect.stringMatching(/cq de Q2LMN/) }])
    expect(s.heard[0]!.endUtcMs - s.heard[0]!.startUtcMs).toBeGreaterThan(5000)
    expect(s.runner.say('hello', true)).toMatchObject({ ok: false, why: expect.stringMatching(/in focus/) })
    expect(s.runner.focus({ channel: 1 })).toEqual({ ok: true })
    expect(s.state().focus).toMatchObject({ frequencyHz: 1000, draft: { call: 'Q2LMN', reportSent: '599' }, transcript: [{ mine: false }] })

    s.refuse({ why: 'Check first.', need: 'firstCheck' })
    expect(s.runner.say('Q2LMN de Q5RVR k', true)).toMatchObject({ ok: false, need: 'firstCheck' })
    s.refuse(undefined)
    expect(s.runner.say('Q2LMN de Q5RVR ', false)).toEqual({ ok: true })
    expect(s.sent).toMatchObject([{ mode: 'psk31', start: 'now', length: { atMostMs: 120_000 } }])
    const opened = await s.sent[0]!.open(12_000)
    if (!opened.ok) throw new Error(opened.error)
    const out = new Float32Array(12_000 * 60)
    // What is typed while it is on joins it.
    opened.stream.next(new Float32Array(24_000))
    expect(s.runner.say('k', true)).toEqual({ ok: true })
    expect(s.runner.say('more', false)).toMatchObject({ ok: false, why: expect.stringMatching(/ending/) })
    expect(s.runner.focus({ frequencyHz: 2000 })).toMatchObject({ ok: false })
    expect(s.runner.busy()).toBe(true)
    opened.stream.next(out)
    s.pass(4000)
    s.runner.tick()
    expect(s.state().over).toMatchObject({ phase: 'ending' })
    const { over } = s.state()
    if (over.phase === 'none') throw new Error('no over')
    expect(over.sent.length).toBeGreaterThan(0)
    expect(over.sent + over.waiting).toBe('Q2LMN de Q5RVR k')
    s.pass(6000)
    await s.finish(true)
    expect(s.state().over).toEqual({ phase: 'none' })
    expect(s.state().focus!.transcript.at(-1)).toMatchObject({ mine: true, text: 'Q2LMN de Q5RVR k' })

    await s.hear(signal('Q5RVR de Q2LMN = ur rst 579 579 = name Isa Isa = loc JO31 kn'))
    await s.hear(silence(2))
    expect(s.state().focus!.draft).toMatchObject({ name: 'Isa', locator: 'JO31', reportReceived: '579' })
    s.runner.fill({ name: 'Isabel' })
    expect(s.runner.log()).toEqual({ ok: true })
    expect(s.made).toMatchObject([
      { mode: 'psk31', call: 'Q2LMN', name: 'Isabel', locator: 'JO31', reportSent: '599', reportReceived: '579', audioOffsetHz: 1000 },
    ])
    expect(s.made[0]!.evidence.map((one) => one.direction)).toEqual(expect.arrayContaining(['heard', 'sent']))
    expect(s.state().focus!.loggedUtcMs).toBe(s.now())
    // From what was sent first to what was said last, and once.
    expect(s.made[0]!.startedUtcMs).toBe(s.state().focus!.transcript.find((line) => line.mine)!.utcMs)
    expect(s.made[0]!.endedUtcMs).toBeLessThan(s.now())
    expect(s.runner.log()).toMatchObject({ ok: false, why: expect.stringMatching(/in the log already/) })
    expect(s.made).toHaveLength(1)
    // All of it is plain data.
    expect(JSON.parse(JSON.stringify(s.state()))).toEqual(s.state())
  }, 30_000)

  it('says what was cut off, and where nobody can be logged', async () => {
    const s = setUp()
    expect(s.runner.focus({ channel: 3 })).toMatchObject({ ok: false })
    expect(s.runner.focus({ frequencyHz: 1700 })).toEqual({ ok: true })
    expect(s.runner.log()).toMatchObject({ ok: false, why: expect.stringMatching(/call/) })
    for (const [change, why] of [
      [{ call: 'Q2 LMN?' }, /a call is/],
      [{ call: 'Q2LMN', locator: 'ZZ99' }, /locator/],
    ] as const) {
      s.runner.fill(change)
      expect(s.runner.log()).toMatchObject({ ok: false, why: expect.stringMatching(why) })
    }
    expect(s.made).toEqual([])
    expect(s.runner.say('\u{1f600}', true)).toMatchObject({ ok: false, why: expect.stringMatching(/can be sent/) })
    expect(s.sent).toEqual([])
    s.runner.say('cq cq cq de Q5RVR Q5RVR pse k', true)
    const opened = await s.sent[0]!.open(12_000)
    if (opened.ok) for (let i = 0; i < 60; i++) opened.stream.next(new Float32Array(1200))
    s.pass(4000)
    await s.finish(false)
    expect(s.notices).toEqual([expect.stringMatching(/^Cut off after "cq/)])
    const line = s.state().focus!.transcript.at(-1)!
    expect(line.mine).toBe(true)
    expect(line.text.length).toBeLessThan(20)
    s.runner.leaveFocus()
    expect(s.state().focus).toBeUndefined()
  })

  it('stays with the one in focus through a long over of ours, though he is counted anew', async () => {
    const s = setUp()
    await s.hear(signal('cq de Q2LMN Q2LMN k'))
    await s.hear(silence(1))
    s.runner.focus({ channel: 1 })
    s.runner.say('Q2LMN de Q5RVR a long story', true)
    await s.hear(silence(60))
    await s.finish(true)
    // And two minutes and more in which he says nothing.
    await s.hear(hiss(130))
    await s.hear(signal('Q5RVR de Q2LMN = ur rst 579 579 kn'))
    await s.hear(silence(2))
    const { focus } = s.state()
    expect(focus!.channel).toBeGreaterThan(1)
    expect(focus!.draft).toMatchObject({ call: 'Q2LMN', reportReceived: '579' })
    expect(focus!.transcript.map((line) => line.mine)).toEqual([false, true, false])
  }, 60_000)

  it('puts nothing in for a sound device whose clock runs off, and tells the time by the newest stamp', async () => {
    const s = setUp()
    // A hundred blocks that each come 5 ms later than their samples last: half a second in all.
    const audio = new Float32Array(120_000)
    audio.set(signal('cq de Q2LMN Q2LMN Q2LMN k').subarray(0, 110_000))
    for (let at = 0; at < audio.length; at += 1200) await s.hear(audio.slice(at, at + 1200), 5)
    await s.hear(silence(4))
    expect(s.heard).toMatchObject([{ text: expect.stringMatching(/^cq de Q2LMN Q2LMN Q2LMN k/) }])
  }, 60_000)

  it('keeps time over a gap, hears nothing while it sends, and begins anew after a long one', async () => {
    const s = setUp()
    await s.hear(silence(1))
    await s.hear(signal('cq de Q2LMN Q2LMN k'), 2000)
    await s.hear(silence(4))
    const [event] = s.heard
    // The signal began three seconds after noon, its text a second later.
    expect(event!.startUtcMs - noon).toBeGreaterThan(3500)
    expect(event!.startUtcMs - noon).toBeLessThan(5500)
    await s.hear(silence(1), 20_000)
    expect(s.state().conversations).toEqual([])
    s.runner.focus({ frequencyHz: 1700 })
    s.runner.say('cq de Q5RVR', true)
    await s.hear(signal('cq de Q7XYZ Q7XYZ k', 800))
    expect(s.state().conversations).toEqual([])
    await s.finish(true)
    s.runner.restart(undefined)
    expect(s.state()).toEqual(initialPsk31State)
  }, 30_000)
})
