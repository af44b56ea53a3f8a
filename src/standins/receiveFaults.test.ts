import { examineAudio, type FindingCode } from '@/core/audio'
import { createBandFilter, whiteNoise } from '@/core/dsp'
import { createFaultyReceiver, createPracticeReceiver, RECEIVE_FAULTS, type FaultAmount } from './index'

const RATE = 12_000
const NOISE = 0.02
const noise = (seconds: number) => whiteNoise(Math.round(seconds * RATE), NOISE, 3)
const codes = (channels: Float32Array[], rate = RATE) => examineAudio(channels, rate).findings.map((f) => f.code)

describe('findings', () => {
  const filtered = createBandFilter(RATE, 250, 2800)(noise(22)).subarray(RATE)
  const faulty = (...faults: FaultAmount[]) => createFaultyReceiver(faults, { rateHz: RATE, seed: 4, noiseRms: NOISE }).push(filtered)

  test('a good receiver has none', () => {
    const r = examineAudio([filtered], RATE)
    expect(r.findings).toEqual([])
    expect(r.ok).toBe(true)
  })
  test.each<[FaultAmount['fault'], number, number, FindingCode]>([
    // fault, harmless amount, amount that must be found, code
    ['clipping', 10, 32, 'clipping'],
    ['too-quiet', 20, 45, 'too-quiet'],
    ['dc-offset', 0.004, 0.03, 'dc-offset'],
    ['hum-50', -32, 0, 'hum'],
    ['hum-60', -32, 0, 'hum'],
    ['noise-gate', 2, 12, 'noise-gate'],
    ['narrow-filter', 2400, 1500, 'narrow-filter'],
    ['speech', -25, 8, 'speech'],
  ])('%s: not at %d, found at %d', (fault, harmless, bad, code) => {
    expect(examineAudio(faulty({ fault, amount: harmless }), RATE).findings.map((f) => f.code)).not.toContain(code)
    const r = examineAudio(faulty({ fault, amount: bad }), RATE)
    const found = r.findings.find((f) => f.code === code)!
    expect(found).toBeDefined()
    expect(found.evidence).toMatch(/\d/)
    expect(found.advice.length).toBeGreaterThan(20)
    expect(r.ok).toBe(false)
  })
  test('digital silence is all that is said of silence', () => {
    expect(codes(faulty({ fault: 'digital-silence', amount: 0 }))).toEqual(['digital-silence'])
    expect(codes([new Float32Array(RATE)])).toEqual(['digital-silence'])
  })
  test('lost blocks are found, a stream that only begins late is not one', () => {
    expect(codes(faulty({ fault: 'dropouts', amount: 0.02 }))).toContain('dropouts')
    const late = filtered.slice()
    late.fill(0, 0, RATE / 2)
    expect(codes([late])).not.toContain('dropouts')
  })
  test('automatic gain that ducks under a strong station, not one that is merely there', () => {
    const keyed = filtered.map(
      (value, i) => value + (Math.floor(i / (2 * RATE)) % 2 === 0 ? 0.3 * Math.sin((2 * Math.PI * 1200 * i) / RATE) : 0),
    )
    expect(codes([keyed])).toEqual([])
    const pumped = createFaultyReceiver([{ fault: 'agc-pumping', amount: 12 }], { rateHz: RATE, seed: 4, noiseRms: NOISE }).push(keyed)
    const r = examineAudio(pumped, RATE)
    expect(r.findings.map((f) => f.code)).toContain('agc-pumping')
    expect(r.dynamics.duckDb).toBeGreaterThan(6)
  })
  test('one dead channel, a mirrored one, and two that agree', () => {
    const other = filtered.map((value) => -value)
    expect(codes([filtered, new Float32Array(filtered.length)])).toEqual(['one-channel'])
    expect(codes([filtered.map((value) => value * 1e-3), filtered])).toEqual(['one-channel'])
    expect(codes([filtered, other])).toEqual(['opposite-channels'])
    expect(codes([filtered, filtered])).toEqual([])
  })
  test('a crackle is no speech', () => {
    const crackling = filtered.slice()
    for (let at = RATE; at < crackling.length; at += RATE) for (let i = 0; i < 300; i++) crackling[at + i]! *= 8
    expect(codes([crackling])).not.toContain('speech')
  })
})

test('every fault of the practice receiver is named by the coach', () => {
  // The strong station comes and goes, for the faults that need one.
  const air = whiteNoise(17 * RATE, NOISE, 8).map(
    (value, i) => value + (i > 8 * RATE ? 0.3 * Math.sin((2 * Math.PI * 1200 * i) / RATE) : 0),
  )
  for (const fault of RECEIVE_FAULTS) {
    const receiver = createPracticeReceiver(5)
    receiver.setFaults([fault])
    const found = codes(receiver.receive(air).channels.map((channel) => channel.subarray(RATE)))
    expect(found).toContain(fault.startsWith('hum') ? 'hum' : fault === 'noise-reduction' ? 'noise-gate' : fault)
  }
  expect(
    codes(
      createPracticeReceiver(5)
        .receive(air)
        .channels.map((channel) => channel.subarray(RATE)),
    ),
  ).toEqual([])
})

test.each([
  ['too-quiet', 55],
  ['clipping', -44],
] as const)('%s on the practice band is cured by its volume, and hum by no volume', (fault, db) => {
  const air = whiteNoise(9 * RATE, 0.0625 * NOISE, 8)
  const receiver = createPracticeReceiver(5)
  receiver.setFaults([fault, 'hum-50'])
  const found = () => examineAudio(receiver.receive(air).channels, RATE).findings.map((f) => f.code)
  expect(found()).toContain(fault)
  receiver.setVolume(db)
  expect(found()).not.toContain(fault)
  expect(found()).toContain('hum')
})
