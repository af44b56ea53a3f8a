import { hiss, setUp, signal, silence } from './testing'

/** Sends all of what is on, and lets it end. */
async function sendOut(s: ReturnType<typeof setUp>, lengthMs = 5000) {
  const opened = await s.sent.at(-1)!.open(12_000)
  if (!opened.ok) throw new Error(opened.error)
  opened.stream.next(new Float32Array(12_000 * 60))
  s.pass(lengthMs)
  await s.finish(true)
}

const CQ = 'cq cq de Q5RVR Q5RVR k'

describe('a CQ in PSK31', () => {
  const options = { tries: 3, pauseMs: 10_000 }

  it('is called again after each pause, and no more often than was asked for', async () => {
    const s = setUp()
    expect(s.runner.callCq(CQ, options)).toMatchObject({ ok: false, why: expect.stringMatching(/in focus/) })
    s.runner.focus({ frequencyHz: 1500 })
    expect(s.runner.callCq(CQ, options)).toEqual({ ok: true })
    expect(s.state().cq).toEqual({ called: 1, of: 3 })
    for (const called of [2, 3]) {
      await sendOut(s)
      s.runner.tick()
      expect(s.sent).toHaveLength(called - 1)
      expect(s.runner.busy()).toBe(true)
      expect(s.runner.focus({ frequencyHz: 900 })).toMatchObject({ ok: false, why: expect.stringMatching(/CQ/) })
      s.pass(10_000)
      s.runner.tick()
      expect(s.sent).toHaveLength(called)
      expect(s.state().cq).toEqual({ called, of: 3 })
    }
    await sendOut(s)
    s.pass(10_000)
    s.runner.tick()
    expect([s.sent.length, s.state().cq, s.runner.busy()]).toEqual([3, undefined, false])
    expect(s.notices).toEqual(['CQ was called 3 times and nobody was heard here.'])
    // All of it on the grant of the one who began.
    expect(s.begun).toEqual(['an over in PSK31'])
    expect(s.state().identified).toMatchObject({ callUtcMs: expect.any(Number) })
  })

  it('ends when somebody comes, and stays where it was called', async () => {
    const s = setUp()
    s.runner.focus({ frequencyHz: 1500 })
    s.runner.callCq(CQ, options)
    await sendOut(s)
    await s.hear(signal('Q5RVR de Q2LMN Q2LMN k', 1508))
    s.runner.tick()
    expect(s.state().cq).toBeUndefined()
    s.pass(60_000)
    s.runner.tick()
    expect(s.sent).toHaveLength(1)
    expect(s.state().focus).toMatchObject({ frequencyHz: 1500, draft: { call: 'Q2LMN' } })
  }, 30_000)

  it('ends with Silence, with a refusal, and when the operator has enough', async () => {
    const s = setUp()
    s.runner.focus({ frequencyHz: 1500 })
    s.runner.callCq(CQ, options)
    s.runner.silence()
    expect(s.state().cq).toBeUndefined()
    await s.finish(false)
    s.pass(60_000)
    s.runner.tick()
    expect(s.sent).toHaveLength(1)

    s.runner.callCq(CQ, options)
    await sendOut(s)
    s.refuse({ why: 'The dial is not confirmed.', need: 'dial' })
    s.pass(10_000)
    s.runner.tick()
    expect([s.sent.length, s.state().cq]).toEqual([2, undefined])
    expect(s.notices.at(-1)).toMatch(/not called again. The dial/)
    s.refuse(undefined)

    // What cut it off is not called into again: the gate, a lost key, a high SWR.
    s.runner.callCq(CQ, options)
    await s.finish(false)
    s.pass(60_000)
    s.runner.tick()
    expect([s.sent.length, s.state().cq]).toEqual([3, undefined])

    s.runner.callCq(CQ, options)
    s.runner.stopCq()
    expect(s.state()).toMatchObject({ cq: undefined, over: { phase: 'ending' } })
  })
})

describe('where an over goes out', () => {
  it('follows them as they drift, stays while it is sent, and goes elsewhere when the operator says so', async () => {
    const s = setUp()
    await s.hear(signal('cq cq cq de Q2LMN Q2LMN pse k', 1000))
    await s.hear(silence(1))
    s.runner.focus({ channel: 1 })
    await s.hear(silence(4))
    await s.hear(signal('cq cq cq de Q2LMN Q2LMN pse k', 1007))
    expect(s.state().focus!.frequencyHz).toBe(1007)
    s.runner.split(1400.4)
    s.runner.say('Q2LMN de Q5RVR k', true)
    expect(s.sent.at(-1)!.what).toMatch(/1400 Hz/)
    await sendOut(s)
    s.runner.split(undefined)
    s.runner.say('Q2LMN de Q5RVR k', true)
    expect(s.sent.at(-1)!.what).toMatch(/1007 Hz/)
  }, 30_000)

  it('answers a faster member of the family in its own speed, and logs it as that', async () => {
    const s = setUp()
    await s.hear(hiss(1))
    await s.hear(signal('cq cq cq de Q2LMN Q2LMN Q2LMN pse k and some more words', 1000, 62.5))
    await s.hear(hiss(2))
    s.runner.focus({ channel: 1 })
    expect(s.state().focus).toMatchObject({ fasterBaud: 62.5, draft: { call: 'Q2LMN' } })
    s.runner.say('Q2LMN de Q5RVR Q5RVR k', true)
    const opened = await s.sent[0]!.open(12_000)
    if (!opened.ok) throw new Error(opened.error)
    const out = new Float32Array(12_000 * 20)
    const count = opened.stream.next(out)
    const usual = signal('Q2LMN de Q5RVR Q5RVR k').length
    expect(count).toBeGreaterThan(0.45 * usual)
    expect(count).toBeLessThan(0.55 * usual)
    await s.finish(true)
    s.runner.log()
    expect(s.made).toMatchObject([{ call: 'Q2LMN', submode: 'PSK63' }])
    await s.hear(hiss(3))
    expect(s.heard[0]!.details).toEqual({ channel: 1, baud: 62.5 })
  }, 30_000)

  it('gives back what was not out yet', async () => {
    const s = setUp()
    s.runner.focus({ frequencyHz: 1500 })
    s.runner.say('one two', false)
    expect(s.runner.takeBack()).toEqual({ ok: true, text: 'one two' })
    expect(s.runner.takeBack()).toEqual({ ok: true, text: '' })
  })
})

describe('a contact that was begun', () => {
  it('is kept when it is left, and taken up where they are by then', async () => {
    const s = setUp()
    await s.hear(signal('cq cq cq de Q2LMN Q2LMN Q2LMN pse k', 1000))
    await s.hear(silence(1))
    s.runner.focus({ channel: 1 })
    // Only listened to.
    s.runner.leaveFocus()
    expect(s.state().begun).toEqual([])
    s.runner.focus({ channel: 1 })
    s.runner.say('Q2LMN Q2LMN de Q5RVR Q5RVR k', true)
    await sendOut(s)
    s.runner.fill({ name: 'Isa' })
    s.runner.focus({ frequencyHz: 2500 })
    expect(s.state().begun).toMatchObject([{ frequencyHz: 1000, draft: { call: 'Q2LMN', name: 'Isa' }, byHand: ['name'] }])
    expect(s.unfinished()).toEqual(s.state().begun)

    await s.hear(silence(70))
    await s.hear(signal('Q5RVR de Q2LMN Q2LMN = ur rst 559 559 k', 1180))
    await s.hear(silence(1))
    const { id } = s.state().begun[0]!
    expect(s.runner.resume(id)).toEqual({ ok: true })
    expect(s.state().begun).toEqual([])
    expect(s.state().focus).toMatchObject({
      frequencyHz: 1180,
      draft: { call: 'Q2LMN', name: 'Isa', reportReceived: '559' },
      byHand: ['name'],
    })
    expect(s.state().focus!.transcript.map(({ mine }) => mine)).toEqual([false, true, false])
    expect(s.runner.resume(id)).toMatchObject({ ok: false, why: expect.stringMatching(/no longer kept/) })
    // Left again, it is kept again with all that was said, and comes back with the page.
    s.runner.leaveFocus()
    expect(s.state().begun[0]!.lines).toHaveLength(3)
    s.runner.restart('practice')
    expect(s.state().begun).toHaveLength(1)
    s.runner.dropUnfinished(s.state().begun[0]!.id)
    expect([s.state().begun, s.unfinished()]).toEqual([[], []])
    // What is in the log is not unfinished.
    s.runner.focus({ frequencyHz: 2000 })
    s.runner.fill({ call: 'Q7ABC' })
    s.runner.say('Q7ABC de Q5RVR k', true)
    await sendOut(s)
    expect(s.runner.log()).toEqual({ ok: true })
    s.runner.leaveFocus()
    expect(s.state().begun).toEqual([])
  }, 60_000)
})

describe('what is kept of a contact that was begun', () => {
  it('stays when the page is closed in the middle of it, and practice stays practice', async () => {
    const s = setUp()
    s.runner.focus({ frequencyHz: 1500 })
    s.runner.fill({ call: 'Q2LMN' })
    s.runner.say('Q2LMN de Q5RVR ur rst 579 579 k', true)
    await sendOut(s)
    expect(s.unfinished()).toMatchObject([{ practice: true, draft: { call: 'Q2LMN', reportSent: '579' } }])
    s.runner.restart('microphone')
    expect([s.state().begun, s.unfinished().length]).toEqual([[], 1])
    s.runner.restart('practice')
    const [one] = s.state().begun
    expect(one).toMatchObject({ draft: { call: 'Q2LMN' } })
    s.runner.resume(one!.id)
    expect(s.unfinished()).toMatchObject([{ draft: { call: 'Q2LMN' } }])
    expect(s.runner.log()).toEqual({ ok: true })
    expect(s.unfinished()).toEqual([])
    expect(s.made).toMatchObject([{ call: 'Q2LMN', reportSent: '579' }])
  })
})

describe('when they do not copy', () => {
  it('does not take a call for the next one for a question to us', async () => {
    const s = setUp()
    await s.hear(hiss(1))
    await s.hear(signal('Q5RVR de Q2LMN = ur rst 579 579 k', 1000))
    await s.hear(hiss(1))
    s.runner.focus({ channel: 1 })
    s.runner.say('Q2LMN de Q5RVR r 73 sk', true)
    await sendOut(s)
    await s.hear(hiss(1))
    await s.hear(signal('73 sk qrz? de Q2LMN k', 1000))
    await s.hear(hiss(2))
    expect(s.state().focus).toMatchObject({ draft: { call: 'Q2LMN', reportReceived: '579' } })
    expect(s.state().focus!.trouble).toBeUndefined()
  }, 30_000)

  it('says what they lost, and has the words ready', async () => {
    const s = setUp()
    await s.hear(hiss(1))
    await s.hear(signal('cq cq cq de Q2LMN Q2LMN Q2LMN pse k', 1000))
    await s.hear(hiss(1))
    s.runner.focus({ channel: 1 })
    expect(s.state().focus!.trouble).toBeUndefined()
    s.runner.say('Q2LMN Q2LMN de Q5RVR Q5RVR k', true)
    await sendOut(s)
    await s.hear(hiss(1))
    await s.hear(signal('qrz? qrz? de Q2LMN pse agn k', 1000))
    await s.hear(hiss(2))
    expect(s.state().focus!.trouble).toMatchObject({ kind: 'who', lost: ['call'], again: 'Q2LMN de Q5RVR Q5RVR Q5RVR k' })
    // Said again, it is over until they ask once more.
    s.runner.say(s.state().focus!.trouble!.again, true)
    await sendOut(s)
    await s.hear(hiss(1))
    expect(s.state().focus!.trouble).toBeUndefined()
  }, 30_000)
})

describe('exercises on the practice band', () => {
  it('are done by what happens: an over silenced, a CQ that led to a contact in the log', async () => {
    const s = setUp()
    s.runner.focus({ frequencyHz: 1500 })
    s.runner.fill({ call: 'Q2LMN', reportReceived: '579', name: 'Isa', locator: 'JO31' })
    // Nothing was sent yet: it is a contact of the operator's own making.
    expect(s.runner.log()).toEqual({ ok: true })
    expect(s.state().exercises).toEqual([])
    s.runner.focus({ frequencyHz: 1700 })
    s.runner.say('cq cq de Q5RVR and on and on', true)
    const opened = await s.sent[0]!.open(12_000)
    if (!opened.ok) throw new Error(opened.error)
    opened.stream.next(new Float32Array(36_000))
    s.pass(3000)
    s.runner.silence()
    await s.finish(false)
    expect(s.state().exercises).toEqual(['silence'])
    s.runner.fill({ call: 'Q7ABC', reportReceived: '579' })
    expect(s.runner.log()).toEqual({ ok: true })
    expect(s.state().exercises).toEqual(['silence', 'cq'])
  })
})
