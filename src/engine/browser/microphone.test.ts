import { jest } from '@jest/globals'
import { SAMPLE_RATE_HZ } from '@/core/dsp'
import type { AudioBlock } from '../station/audioBlock'
import { StationClock } from '../station/stationClock'
import { openMicrophone } from './microphone'

const noon = Date.UTC(2026, 5, 1, 12)
const RATE_HZ = 48_000
const BATCH = 1024

type OnFrames = (event: { data: { firstFrame: number; channels: Float32Array[] } }) => void

/** The browser's side of an audio input: what was asked of it, and the means to be it. */
class Browser {
  readonly log: string[] = []
  asked: MediaTrackConstraints | undefined
  settings: Record<string, unknown> = { deviceId: 'reed' }
  devices = [{ kind: 'audioinput', deviceId: 'reed' }]
  refusal: Error | undefined
  worklet: Error | undefined
  nowMs = 5000
  readonly port: { onmessage: OnFrames | null } = { onmessage: null }
  private readonly listeners = new Map<string, () => void>()

  readonly navigator = {
    mediaDevices: {
      getUserMedia: async ({ audio }: { audio: MediaTrackConstraints }) => {
        this.asked = audio
        if (this.refusal) throw this.refusal
        const track = {
          label: 'Reed interface',
          getSettings: () => this.settings,
          stop: () => this.log.push('track stopped'),
          addEventListener: (name: string, listener: () => void) => this.listeners.set(name, listener),
        }
        return { getAudioTracks: () => [track] }
      },
      enumerateDevices: async () => this.devices,
      addEventListener: (name: string, listener: () => void) => this.listeners.set(name, listener),
      removeEventListener: (name: string) => this.listeners.delete(name),
    },
  }

  /** What the device does: `ended` or `devicechange`. */
  async happens(name: string): Promise<void> {
    this.listeners.get(name)?.()
    await Promise.resolve()
    await Promise.resolve()
  }

  /** A batch of frames arrives, late by so much. */
  frames(firstFrame: number, sampleAt: (frame: number) => number, lateMs = 0): void {
    const channel = Float32Array.from({ length: BATCH }, (_, i) => sampleAt(firstFrame + i))
    this.nowMs = 5000 + ((firstFrame + BATCH) / RATE_HZ) * 1000 + lateMs
    this.port.onmessage?.({ data: { firstFrame, channels: [channel, channel] } })
  }
}

let browser: Browser
const globals = ['navigator', 'AudioContext', 'AudioWorkletNode'] as const
const originals = globals.map((name) => [name, Object.getOwnPropertyDescriptor(globalThis, name)] as const)
const put = (name: string, value: unknown) => Object.defineProperty(globalThis, name, { value, configurable: true, writable: true })

beforeEach(() => {
  browser = new Browser()
  const world = browser
  put('navigator', world.navigator)
  put(
    'AudioContext',
    class {
      state = 'suspended'
      sampleRate = RATE_HZ
      audioWorklet = {
        addModule: async () => {
          if (world.worklet) throw world.worklet
        },
      }
      resume = async () => void world.log.push('resumed')
      close = async () => void world.log.push('context closed')
      createMediaStreamSource = () => ({ connect: () => undefined, disconnect: () => world.log.push('disconnected') })
    },
  )
  put(
    'AudioWorkletNode',
    class {
      port = world.port
    },
  )
  jest.spyOn(performance, 'now').mockImplementation(() => world.nowMs)
})
afterEach(() => {
  jest.restoreAllMocks()
  for (const [name, original] of originals)
    if (original) Object.defineProperty(globalThis, name, original)
    else Reflect.deleteProperty(globalThis, name)
})

/** Opens the input, and keeps what it gives. */
async function open() {
  const blocks: AudioBlock[] = []
  const lost: string[] = []
  // The monotonic clock of the page, and noon at its zero.
  const clock = new StationClock(
    () => browser.nowMs,
    () => noon + browser.nowMs,
  )
  const opened = await openMicrophone(
    'reed',
    clock,
    (block) => blocks.push(block),
    (why) => lost.push(why),
  )
  return { opened, blocks, lost }
}

/** When the loudest sample of all blocks was captured, as the blocks' own times say. */
function loudestUtcMs(blocks: readonly AudioBlock[]): number {
  let best = { level: 0, utcMs: Number.NaN }
  for (const { samples, startUtcMs } of blocks)
    samples.forEach((sample, i) => {
      if (Math.abs(sample) > best.level) best = { level: Math.abs(sample), utcMs: startUtcMs + (i / SAMPLE_RATE_HZ) * 1000 }
    })
  return best.utcMs
}
const clickAt = (at: number) => (frame: number) => (frame === at ? 0.9 : 0)
/** A frame's capture time: the device counts from 5 s of the page's clock. */
const utcOf = (frame: number) => noon + 5000 + (frame / RATE_HZ) * 1000

describe('an audio input', () => {
  it('is asked for without voice processing, and what stays on is a warning', async () => {
    browser.settings = { deviceId: 'reed', echoCancellation: false, noiseSuppression: true, autoGainControl: true }
    const { opened } = await open()
    expect(browser.asked).toMatchObject({ echoCancellation: false, noiseSuppression: false, autoGainControl: false })
    expect(browser.asked).toMatchObject({ deviceId: { exact: 'reed' } })
    expect(browser.log).toEqual(['resumed'])
    if (!opened.ok) throw new Error(opened.error)
    expect(opened.warnings).toHaveLength(2)
    expect(opened.warnings[0]).toMatch(/noise suppression/)
    expect(opened.warnings[1]).toMatch(/automatic gain/)
    expect(opened.source.facts?.()).toMatchObject({ processing: ['noise suppression', 'automatic gain'], lostBlocks: 0 })
  })

  it('gives a click the time at which it was captured, however late its batch came and whatever the filter holds back', async () => {
    const { blocks } = await open()
    const click = 30 * BATCH + 317
    for (let batch = 0; batch < 60; batch++) browser.frames(batch * BATCH, clickAt(click), batch % 3 === 0 ? 0 : 7 * (batch % 5))
    expect(Math.abs(loudestUtcMs(blocks) - utcOf(click))).toBeLessThan(0.1)
    // Nothing of the stream is missing or said twice.
    const given = blocks.reduce((sum, block) => sum + block.samples.length, 0)
    expect(given).toBeGreaterThan((59 * BATCH * SAMPLE_RATE_HZ) / RATE_HZ)
    expect(given).toBeLessThanOrEqual((60 * BATCH * SAMPLE_RATE_HZ) / RATE_HZ)
  })

  it('takes off the delay that the device announces', async () => {
    browser.settings = { deviceId: 'reed', latency: 0.012 }
    const { blocks } = await open()
    const click = 10 * BATCH
    for (let batch = 0; batch < 20; batch++) browser.frames(batch * BATCH, clickAt(click))
    expect(Math.abs(loudestUtcMs(blocks) - (utcOf(click) - 12))).toBeLessThan(0.1)
  })

  it('does not join what came before a loss to what comes after it, and counts the loss', async () => {
    const { opened, blocks } = await open()
    const click = 40 * BATCH + 100
    // Twenty batches are missing between.
    for (let batch = 0; batch < 10; batch++) browser.frames(batch * BATCH, () => 0.01)
    for (let batch = 30; batch < 60; batch++) browser.frames(batch * BATCH, clickAt(click))
    expect(Math.abs(loudestUtcMs(blocks) - utcOf(click))).toBeLessThan(0.1)
    if (!opened.ok) throw new Error(opened.error)
    expect(opened.source.facts?.()).toMatchObject({ lostBlocks: 1 })
  })

  it('says when it vanishes, by its own word or by the list of devices, and nothing any more once it is stopped', async () => {
    const { opened, blocks, lost } = await open()
    if (!opened.ok) throw new Error(opened.error)
    await browser.happens('devicechange')
    expect(lost).toEqual([])
    browser.devices = [{ kind: 'audioinput', deviceId: 'other' }]
    await browser.happens('devicechange')
    expect(lost).toEqual(['The audio input "Reed interface" vanished. Plug it in again, then start listening again.'])
    await browser.happens('ended')
    expect(lost).toHaveLength(2)
    opened.source.stop()
    await browser.happens('ended')
    await browser.happens('devicechange')
    browser.frames(0, () => 0.1)
    expect([lost.length, blocks.length]).toEqual([2, 0])
    expect(browser.log).toEqual(['resumed', 'disconnected', 'track stopped', 'context closed'])
  })

  it('that cannot be had says why, and holds nothing', async () => {
    browser.refusal = new DOMException('no', 'NotAllowedError')
    expect((await open()).opened).toEqual({ ok: false, error: expect.stringMatching(/not allowed to use the microphone/) })
    browser.refusal = undefined
    browser.worklet = new Error('no such module')
    expect((await open()).opened).toEqual({ ok: false, error: expect.stringMatching(/could not be started: no such module/) })
    expect(browser.log).toEqual(['track stopped', 'context closed'])
    put('navigator', {})
    expect((await open()).opened).toEqual({ ok: false, error: expect.stringMatching(/127\.0\.0\.1, or over https/) })
  })
})
