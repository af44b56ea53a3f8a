import { createGaussian, createRandom, SAMPLE_RATE_HZ, type Random } from '@/core/dsp'
import { PACKET_MODEM_IDS, PACKET_MODEMS, uiFrame, type BurstOptions, type PacketModemId } from '@/core/packet'
import { LinkSessions } from '@/core/packet/link/linkSessions'
import { usualLinkSettings, type LinkSettings } from '@/core/packet/link/linkState'
import { PacketChannel, usualSender } from '@/standins/packet/packetChannel'
import { halfPoint } from './halfPoint'
import { measureReferenceMs } from './reference'

/** Bytes of a frame with its check sequence. */
const FRAME_BYTES = 60
const INFO_BYTES = FRAME_BYTES - 2 - 16
const BURST_FRAMES = 1

interface BenchOptions {
  seed: number
  trials: number
  noiseMinutes: number
}

/** `zeptik bench packet`: how weak frames may be, beside the bounds of detection bit by bit; noise; speed; the link. */
export function benchPacket({ seed, trials, noiseMinutes }: BenchOptions): void {
  console.log(`reference: 1000 real transforms of 3840 points take ${measureReferenceMs().toFixed(0)} ms`)
  console.log(`Eb/N0 in dB at which half of ${FRAME_BYTES}-byte frames are read, ${trials} frames at each strength, and times real time`)
  console.log('modem        condition              bound bit by bit  half read  better by  real-time factor')
  for (const id of PACKET_MODEM_IDS) {
    const conditions: [string, Condition][] = [
      ['plain', {}],
      ['clock +200 ppm', { clockPpm: 200 }],
      ['clock -200 ppm', { clockPpm: -200 }],
      ['16 check bytes', { correction: 16 }],
      ['64 check bytes', { correction: 64 }],
    ]
    if (id === 'packet1200') conditions.splice(1, 0, ['higher tone +8 dB', { twistDb: 8 }], ['higher tone -8 dB', { twistDb: -8 }])
    if (id === 'packet300') conditions.splice(1, 0, ['anywhere in the band', { anywhere: true }])
    for (const [name, condition] of conditions) benchHalf(id, name, condition, { seed, trials })
  }
  benchFour(seed)
  benchNoise(seed, noiseMinutes)
  benchLink(seed)
}

interface Condition extends Omit<BurstOptions, 'sampleRateHz'> {
  anywhere?: boolean
}

function benchHalf(id: PacketModemId, name: string, condition: Condition, { seed, trials }: { seed: number; trials: number }): void {
  const bound = boundOf(id)
  const strengths = Array.from({ length: 40 }, (_, k) => 1 + 0.5 * k)
  let spent = { audioS: 0, ms: 0 }
  const half = halfPoint(strengths, (ebN0Db) => {
    const { share, audioS, ms } = heardShare(id, { ...condition, ebN0Db, seed, trials })
    spent = { audioS: spent.audioS + audioS, ms: spent.ms + ms }
    return share
  })
  const cells: [string, number][] = [
    [id.padEnd(11), 11],
    [name.padEnd(21), 21],
    [bound.toFixed(1), 16],
    [half?.toFixed(1) ?? '-', 9],
    [half === undefined ? '-' : (bound - half).toFixed(1), 9],
    [((1000 * spent.audioS) / spent.ms).toFixed(0), 16],
  ]
  console.log(cells.map(([text, width]) => text.padStart(width)).join('  '))
}

/** Bits of the frame, its opening flag and its closing one that must be right, with what is stuffed on average. */
const BITS = FRAME_BYTES * 8 * (1 + 1 / 62) + 16

/** Eb/N0 at which detection of each bit by itself reads half of the frames: noncoherent of two tones, coherent of pulses. */
function boundOf(id: PacketModemId): number {
  // Tones: each level by itself, exp(-Eb / 2 N0) / 2 wrong. Pulses: Q(sqrt(2 Eb / N0)) wrong.
  const wanted = 1 - 0.5 ** (1 / BITS)
  if (id !== 'packet9600') return 10 * Math.log10(-2 * Math.log(2 * wanted))
  let [low, high] = [0, 20]
  for (let k = 0; k < 60; k++) {
    const middle = (low + high) / 2
    if (tailOfNormal(Math.sqrt(2 * middle)) > wanted) low = middle
    else high = middle
  }
  return 10 * Math.log10(low)
}

/** Share of a normal distribution beyond x deviations, by its integral. */
function tailOfNormal(x: number): number {
  let sum = 0
  const step = 0.001
  for (let t = x; t < x + 8; t += step) sum += Math.exp(-((t + step / 2) ** 2) / 2) * step
  return sum / Math.sqrt(2 * Math.PI)
}

function madeUpFrame(random: Random): Uint8Array {
  const text = Array.from({ length: INFO_BYTES }, () => String.fromCharCode(32 + Math.floor(95 * random()))).join('')
  return uiFrame('Q5RVR-9', 'APZ001', [], text)
}

interface Trial extends Condition {
  ebN0Db: number
  seed: number
  trials: number
}

function heardShare(
  id: PacketModemId,
  { ebN0Db, seed, trials, anywhere = false, ...options }: Trial,
): { share: number; audioS: number; ms: number } {
  const modem = PACKET_MODEMS[id]
  const random = createRandom(seed)
  const gaussian = createGaussian(random)
  const receiver = modem.createReceiver()
  let [heard, samples, ms] = [0, 0, 0]
  const give = (block: Float32Array) => {
    const began = process.cpuUsage()
    heard += receiver.push(block).length
    const used = process.cpuUsage(began)
    ms += (used.user + used.system) / 1000
    samples += block.length
  }
  for (let trial = 0; trial < trials; trial++) {
    const frames = Array.from({ length: BURST_FRAMES }, () => madeUpFrame(random))
    const centreHz = anywhere ? 600 + 2000 * random() : 1700
    const burst = modem.modulate(frames, { ...options, centreHz, sampleRateHz: modem.sampleRateHz, amplitude: 0.1, txDelayMs: 200 })
    // Energy of a bit on the air, from the middle of the burst: the ends rise and fall.
    const middle = burst.subarray(burst.length >> 2, (3 * burst.length) >> 2)
    const power = middle.reduce((sum, value) => sum + value * value, 0) / middle.length
    const deviation = Math.sqrt(((power / modem.baud / 10 ** (ebN0Db / 10)) * modem.sampleRateHz) / 2)
    const pause = Math.round(modem.sampleRateHz * (id === 'packet300' ? 1 + random() : 0.1 + 0.3 * random()))
    const whole = Float32Array.from({ length: burst.length + pause }, (_, i) => (burst[i] ?? 0) + deviation * gaussian())
    for (let at = 0; at < whole.length; at += 4096) give(whole.subarray(at, at + 4096))
  }
  give(new Float32Array(modem.sampleRateHz).map(() => 0.001 * gaussian()))
  return { share: heard / trials, audioS: samples / modem.sampleRateHz, ms }
}

const FOUR_HZ = [700, 1300, 1900, 2500] as const
const FOUR_ROUNDS = 4

/** Four senders at 300 baud, all of them busy all the time. */
function benchFour(seed: number): void {
  const { modulate, createReceiver } = PACKET_MODEMS.packet300
  const gaussian = createGaussian(createRandom(seed))
  const bursts = FOUR_HZ.map((centreHz, i) => {
    const frames = Array.from({ length: 8 }, (_, k) => uiFrame(`Q${i}FOUR`, 'BENCH', [], `one of the frames of four senders, ${k}`))
    return modulate(frames, { sampleRateHz: SAMPLE_RATE_HZ, amplitude: 0.15, centreHz })
  })
  const length = Math.max(...bursts.map((burst) => burst.length)) + SAMPLE_RATE_HZ
  const audio = Float32Array.from({ length }, (_, i) => 0.02 * gaussian() + bursts.reduce((sum, burst) => sum + (burst[i] ?? 0), 0))
  let heard = 0
  const start = process.cpuUsage()
  for (let round = 0; round < FOUR_ROUNDS; round++) {
    const receiver = createReceiver()
    for (let at = 0; at < length; at += 1200) heard += receiver.push(audio.subarray(at, at + 1200)).length
  }
  const { user, system } = process.cpuUsage(start)
  const factor = (FOUR_ROUNDS * length) / SAMPLE_RATE_HZ / ((user + system) / 1e6)
  console.log(`\nfour senders at once at 300 baud: ${heard} of ${FOUR_ROUNDS * 32} frames, ${factor.toFixed(0)} times real time`)
}

function benchNoise(seed: number, minutes: number): void {
  if (minutes === 0) return
  console.log(`\nframes in ${minutes} min of noise, of which there is none, and times real time`)
  for (const id of PACKET_MODEM_IDS) {
    const { sampleRateHz, createReceiver } = PACKET_MODEMS[id]
    const gaussian = createGaussian(createRandom(seed))
    const receiver = createReceiver()
    let [frames, ms] = [0, 0]
    const block = new Float32Array(sampleRateHz)
    for (let second = 0; second < 60 * minutes; second++) {
      for (let i = 0; i < block.length; i++) block[i] = 0.1 * gaussian()
      const began = process.cpuUsage()
      frames += receiver.push(block).length
      const used = process.cpuUsage(began)
      ms += (used.user + used.system) / 1000
    }
    console.log(`${id.padEnd(11)}  ${String(frames).padStart(4)}  ${((60_000 * minutes) / ms).toFixed(0).padStart(6)}`)
  }
}

const LINK_BYTES = 20_000

/** What a link brings through a simulated channel, beside what arithmetic allows. */
function benchLink(seed: number): void {
  console.log(`\n${LINK_BYTES} bytes over a link at 1200 baud: key-up 300 ms, tail 20 ms, 128 bytes in a frame, alone on the channel`)
  console.log('frames at once  lost   took s  arithmetic s  share of it  sent again  whole')
  for (const [window, loss, wide] of [
    [1, 0, false],
    [4, 0, false],
    [7, 0, false],
    [16, 0, true],
    [7, 0.1, false],
    [16, 0.1, true],
  ] as const) {
    const { tookMs, again, whole } = transfer({ window, wideWindow: window, wide, loss, seed })
    const boundMs = arithmetic(window, wide)
    const cells: [string, number][] = [
      [String(window), 14],
      [`${(100 * loss).toFixed(0)} %`, 4],
      [(tookMs / 1000).toFixed(1), 7],
      [(boundMs / 1000).toFixed(1), 12],
      [`${((100 * boundMs) / tookMs).toFixed(1)} %`, 11],
      [String(again), 10],
      [whole ? 'yes' : 'NO', 5],
    ]
    console.log(cells.map(([text, width]) => text.padStart(width)).join('  '))
  }
}

/** Nobody else is there: who has something to send begins at once. */
const ALONE = { ...usualSender, persistence: 1 }
const STUFFING = 1 + 1 / 62
const frameMs = (bytes: number) => ((bytes + 3) * 8 * STUFFING * 1000) / 1200

/**
 * Least time: bursts of a window, each answered by one frame. A burst takes key-up, its frames (addresses 14 bytes, control 1 or 2, PID 1,
 * check sequence 2, a flag, a zero in 62 stuffed) and the tail; the answer takes key-up, 17 or 18 bytes and the tail.
 */
function arithmetic(window: number, wide: boolean): number {
  const frames = Math.ceil(LINK_BYTES / 128)
  const bursts = Math.ceil(frames / window)
  const control = wide ? 2 : 1
  const overheadMs = 2 * (ALONE.txDelayMs + ALONE.txTailMs) + frameMs(14 + control)
  return bursts * overheadMs + frames * frameMs(14 + control + 1 + 128) - frameMs(128 - (LINK_BYTES % 128 || 128)) + frameMs(0)
}

function transfer({ loss, seed, ...change }: Partial<LinkSettings> & { loss: number; seed: number }): {
  tookMs: number
  again: number
  whole: boolean
} {
  const channel = new PacketChannel({ airBaud: 1200, loss, random: createRandom(seed) })
  const calls = ['Q5RVR', 'Q5CTL-7']
  const data = Uint8Array.from({ length: LINK_BYTES }, (_, k) => (k * 37 + (k >> 7)) & 255)
  const got: number[] = []
  let [nowMs, openedMs, again, over] = [0, 0, 0, false]
  calls.forEach((call) => channel.join(call, ALONE))
  const sides = calls.map(
    (call, side) =>
      new LinkSessions({
        settings: { ...usualLinkSettings, ...change },
        send: (frame) => channel.send(call, frame),
        accepts: () => true,
        tell: (session, action) => {
          if (action.type === 'opened' && side === 0) {
            openedMs = nowMs
            sides[0]!.do(session, { type: 'send', bytes: data }, nowMs)
          }
          if (action.type === 'deliver' && side === 1) got.push(...action.bytes)
          if (action.type === 'closed') over = true
          again = Math.max(again, session.state.counters.sentAgain)
        },
      }),
  )
  sides[0]!.connect({ own: calls[0]!, peer: calls[1]!, via: [] }, 0)
  while (!over && got.length < data.length && nowMs < 36_000_000) {
    nowMs = Math.max(nowMs, Math.min(channel.nextMs, ...sides.map(({ nextTickMs }) => nextTickMs)))
    for (const { hearer, frame } of channel.advance(nowMs)) sides[calls.indexOf(hearer)]!.heard(frame, nowMs)
    for (const side of sides) side.tick(nowMs)
    again = Math.max(again, ...sides[0]!.all.map(({ state }) => state.counters.sentAgain))
  }
  return { tookMs: nowMs - openedMs, again, whole: got.length === data.length && got.every((byte, k) => byte === data[k]) }
}
