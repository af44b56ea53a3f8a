import { createRandom } from '@/core/dsp'
import { contactFacts, encodePsk31, Psk31Band, StretchKeeper, whoSays, type Psk31Text } from '@/core/psk31'
import { answerOver, startContact } from './contactWithOperator'
import { drawOperators } from './operators'
import { createPsk31World } from './psk31World'

const start = Date.UTC(2026, 5, 1, 12)

/** A world that is listened to second by second. */
function listen(seed: number, stations = 24) {
  const world = createPsk31World({ seed, stations })
  const band = new Psk31Band()
  const heard: Psk31Text[] = []
  let atMs = start
  return {
    heard,
    get nowMs() {
      return atMs
    },
    pass(seconds: number, until: () => boolean = () => false) {
      for (let s = 0; s < seconds && !until(); s++) {
        heard.push(...band.push(world.render(atMs, 12_000)))
        atMs += 1000
      }
    },
    /** Sends an over on a frequency in pieces while time passes. */
    send(text: string, frequencyHz: number, pieceS = 0.5) {
      const audio = encodePsk31(text, { sampleRateHz: 48_000, frequencyHz, amplitude: 0.4 })
      const length = Math.round(pieceS * 48_000)
      let copied: string | null | undefined
      for (let at = 0; at < audio.length; at += length) {
        world.render(atMs + (at / 48_000) * 1000, Math.round((Math.min(length, audio.length - at) / 48_000) * 12_000))
        const last = at + length >= audio.length
        copied = world.hear({ samples: audio.slice(at, at + length), sampleRateHz: 48_000, startUtcMs: atMs + (at / 48_000) * 1000, last })
      }
      atMs += Math.ceil(audio.length / 48_000) * 1000
      return copied
    },
  }
}

const textOf = (heard: readonly Psk31Text[], near?: number) => {
  const keeper = new StretchKeeper()
  const kept = heard.filter((one) => near === undefined || Math.abs(one.frequencyHz - near) < 20)
  return [...keeper.push(kept), ...keeper.ended(Infinity)].map(({ text, frequencyHz }) => ({ text, frequencyHz }))
}

describe('the practice band for PSK31', () => {
  it('is the same for the same seed, and holds a dozen conversations that can be read', () => {
    const [a, b] = [createPsk31World({ seed: 4, stations: 24 }), createPsk31World({ seed: 4, stations: 24 })]
    expect(Buffer.from(a.render(start, 24_000).buffer).equals(Buffer.from(b.render(start, 24_000).buffer))).toBe(true)
    expect(a.label).toBe('Practice band, 12 conversations')
    const world = listen(4)
    world.pass(60)
    expect(new Set(world.heard.map((one) => one.channel)).size).toBeGreaterThanOrEqual(10)
    expect(textOf(world.heard).filter(({ text }) => /\bde Q\d[A-Z]{2,3}\b/.test(text)).length).toBeGreaterThanOrEqual(5)
  })

  it('works the operator from an answer to 73, by audio alone', () => {
    const world = listen(4)
    let cq: { text: string; frequencyHz: number } | undefined
    const find = () => {
      cq = textOf(world.heard).find(({ text }) => /cq de (Q\d[A-Z]+) \1 \1 pse k\s*$/.test(text))
      return cq !== undefined
    }
    world.pass(90, find)
    const call = whoSays(cq!.text).from!
    const answered = (from: number) => () => /(kn|sk)\s*$/.test(textOf(world.heard.slice(from), cq!.frequencyHz).at(-1)?.text ?? '')
    world.pass(2)
    expect(world.send(`${call} ${call} de Q5RVR Q5RVR k`, cq!.frequencyHz)).toMatch(new RegExp(`${call} de Q5RVR`))
    let from = world.heard.length
    world.pass(90, answered(from))
    const first = textOf(world.heard.slice(from), cq!.frequencyHz).at(-1)!.text
    expect(whoSays(first)).toMatchObject({ from: call })
    expect(contactFacts({ text: first }).report!.value).toMatch(/^5[579]9$/)
    world.pass(2)
    world.send(`${call} de Q5RVR = ga tnx = ur rst 579 579 = name Rowan Rowan = hw? btu ${call} de Q5RVR kn`, cq!.frequencyHz, 0.17)
    from = world.heard.length
    world.pass(60, answered(from))
    expect(textOf(world.heard.slice(from), cq!.frequencyHz).at(-1)!.text).toMatch(/rowan.*73.*sk/s)
  }, 60_000)

  it('answers a CQ on a free frequency, and nothing that cannot be copied', () => {
    const world = listen(9, 6)
    world.pass(3)
    const noise = createRandom(1)
    const free = 2700
    expect(world.send('cq cq cq de Q5RVR Q5RVR Q5RVR pse k', free)).toMatch(/Q5RVR/)
    const from = world.heard.length
    world.pass(20)
    expect(
      textOf(world.heard.slice(from), free)
        .map((one) => one.text)
        .join(' '),
    ).toMatch(/Q5RVR de Q\d/)
    const silent = createPsk31World({ seed: 1, stations: 6 })
    silent.render(start, 12_000)
    const samples = Float32Array.from({ length: 96_000 }, () => 0.1 * (noise() - 0.5))
    expect(silent.hear({ samples, sampleRateHz: 48_000, startUtcMs: start, last: true })).toBeNull()
  }, 60_000)
})

describe('an invented operator', () => {
  const [me] = drawOperators(1, createRandom(2)) as [ReturnType<typeof drawOperators>[number]]
  const contact = startContact(me)
  it('asks who calls, tells a report, asks for one, and says 73', () => {
    expect(answerOver(contact, 'noise', '579')[1]).toMatch(/^qrz\?/)
    const [told, over] = answerOver(contact, `${me.call} de Q5RVR k`, '579')
    expect(over).toMatch(new RegExp(`^Q5RVR de ${me.call} .*ur rst 579 579 .*kn$`))
    const [again, question] = answerOver(told, `${me.call} de Q5RVR = nice wx btu`, '579')
    expect(question).toMatch(/pse agn/)
    const [ended, goodbye] = answerOver(again, `${me.call} de Q5RVR = ur rst 599 name Rowan kn`, '579')
    expect(goodbye).toMatch(/rowan .*73/)
    expect(answerOver(ended, 'Q5RVR 73 sk', '579')[1]).toBeUndefined()
  })
  it('asks for a call that it did not copy surely, and takes it when it is said again', () => {
    const [asking, question] = answerOver(contact, `${me.call} de Q5RVR Q5RVL k`, '559')
    expect(question).toMatch(new RegExp(`^Q5RV[LR]\\? de ${me.call} = ur call agn`))
    const [, over] = answerOver(asking, `${me.call} de Q5RVR Q5RVR Q5RVR k`, '559')
    expect(over).toMatch(/^Q5RVR de .*ur rst 559/)
  })
  it('gives up after three questions', () => {
    let state = contact
    const said: (string | undefined)[] = []
    for (let i = 0; i < 5; i++) {
      const [next, words] = answerOver(state, 'qrm', '559')
      state = next
      said.push(words)
    }
    expect(said.map(Boolean)).toEqual([true, true, true, false, false])
  })
})
