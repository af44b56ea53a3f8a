// A mode is a declaration and a runner: a made-up one is added to the list, and the shared station runs it without knowing it.
import { jest } from '@jest/globals'
import { createStore } from 'zustand/vanilla'
import { z } from 'zod'
import { MODES, type Mode } from '@/core/modes'
import type { Contact } from '@/core/log'
import { heardReportSchema, type HeardReport } from '@/core/station/heardContract'
import { emptyStation } from '@/core/station'
import type { PlayRequest } from '../station/audioOutput'
import { createLocalExaminer } from '../station/levels/localExaminer'
import { RunningStation, type StationHost } from '../station/station'
import type { OnBlock } from '../station/audioBlock'
import type { ModeHost, ModeRunner } from './runner'

const noon = Date.UTC(2026, 5, 1, 12)

/** Whistles: a second of tone means "here I am", and whoever hears one has a contact. */
const whistle: Mode = {
  ...{ id: 'psk31', name: 'Whistle', adif: { mode: 'WHISTLE' }, sound: true },
  ...{ duty: { keyedShare: 0.1, words: 'a second now and then' }, longestMs: 2000 },
  radio: { modes: ['fm'], words: 'FM' },
  dials: [{ band: '2m', dialFrequencyHz: 144_500_000 }],
  settings: z.object({}),
  details: z.object({ loud: z.boolean() }),
  readiness: () => [{ id: 'dial', title: 'Lips', state: 'attention', evidence: 'nobody has pursed them', neededToHear: false }],
  ...{ contactNeeds: ['call'], sheets: ['Whistle'], sheetLines: [] },
  testSignal: ({ sampleRateHz }) => new Float32Array(sampleRateHz),
}

class WhistleRunner implements ModeRunner<{ heard: number }> {
  readonly id = 'psk31'
  readonly state = createStore<{ heard: number }>(() => ({ heard: 0 }))
  silenced = 0
  constructor(private readonly host: ModeHost) {}
  restart(): void {
    this.state.setState({ heard: 0 })
  }
  block({ samples, startUtcMs }: { samples: Float32Array; startUtcMs: number }): void {
    if (samples[0]! < 0.5) return
    this.state.setState({ heard: this.state.getState().heard + 1 })
    const when = { startUtcMs, endUtcMs: startUtcMs + 1000 }
    void this.host.heard.keep([
      { mode: 'psk31', ...when, text: 'wheee', call: 'Q1ABC', locator: null, snrDb: null, audioOffsetHz: 1000, details: { loud: true } },
    ])
    this.host.contacts.made({ mode: 'psk31', call: 'Q1ABC', startedUtcMs: startUtcMs, endedUtcMs: startUtcMs + 1000, evidence: [] })
  }
  whistle(ms: number) {
    const refusal = this.host.whyNot()
    if (refusal) return Promise.resolve({ sent: false as const, ...refusal })
    const open = () => ({ ok: true as const, stream: { next: (out: Float32Array) => out.length } })
    return this.host.air.send({ mode: 'psk31', what: 'a whistle', start: 'now', length: { ms }, open }, this.host.begin('a whistle'))
  }
  tick(): void {}
  busy = () => false
  settled = () => true
  silence(): void {
    this.silenced++
  }
  close(): void {}
}

describe('a mode that nobody knew', () => {
  const before = MODES.psk31
  beforeEach(() => {
    jest.useFakeTimers({ now: noon })
    Object.assign(MODES, { psk31: whistle })
  })
  afterEach(() => {
    Object.assign(MODES, { psk31: before })
    jest.useRealTimers()
  })

  function setUp() {
    const sent: Contact[] = []
    const heard: HeardReport[] = []
    const played: PlayRequest[] = []
    let onBlock: OnBlock | undefined
    let ended: ((complete: boolean) => void) | undefined
    const kept = new Map<string, Contact>()
    let ids = 0
    const nothing = {
      createModem: () => ({ close: () => undefined, restart: async () => undefined }) as never,
      unfinishedStore: { load: () => [], save: () => true },
    }
    const host: Partial<StationHost> = {
      ...{ monotonicMs: () => Date.now() - noon, wallUtcMs: () => Date.now() },
      newId: () => `00000000-0000-4000-8000-${String(++ids).padStart(12, '0')}`,
      modes: { ft8: nothing, psk31: nothing, packet: { ...nothing, lend: () => ({ stop: () => undefined }), random: () => 0 } },
      createExaminer: createLocalExaminer,
      openMicrophone: async (_device, _clock, block) => {
        onBlock = block
        return { ok: true, source: { kind: 'microphone', label: 'Ear', stop: () => undefined }, warnings: [] }
      },
      openOutput: async () => ({
        ok: true,
        output: {
          sampleRateHz: 12_000,
          play: (request, onEnded) => {
            played.push(request)
            ended = onEnded
          },
          stop: () => {
            ended?.(false)
            ended = undefined
          },
        },
      }),
      outboxStore: {
        put: async (contact) => void kept.set(contact.id, contact),
        all: async () => [...kept.values()],
        remove: async (list) => list.forEach((id) => kept.delete(id)),
      },
      sendContacts: async (contacts) => {
        sent.push(...contacts)
        return { ok: true }
      },
      sendHeard: async (reports) => {
        heard.push(...reports)
        return true
      },
      ...{
        askWorked: async () => [],
        askPlaces: async () => undefined,
        sendClockHistory: async () => true,
        sendLevelHistory: async () => true,
      },
      driftStore: { load: () => undefined, save: () => true },
      ...{ openServerClock: () => () => undefined, openServerLinks: () => () => undefined, sendKey: async () => ({ ok: true as const }) },
    }
    let runner: WhistleRunner | undefined
    const station = new RunningStation(host as StationHost, (modeHost, resources, usual) => ({
      ...usual(modeHost, resources),
      psk31: (runner = new WhistleRunner(modeHost)) as never,
    }))
    station.setProfile({ ...emptyStation, call: 'Q5RVR', licenceConfirmedUtcMs: noon, dialFrequencyHz: 144_500_000, dialSetUtcMs: noon })
    station.readinessAlso(['psk31'])
    return {
      station,
      runner: runner!,
      sent,
      heard,
      played,
      hear: (value: number) =>
        onBlock!({
          samples: Float32Array.from({ length: 1200 }, (_, i) => value + 0.04 * Math.sin(i)),
          startUtcMs: station.clock.nowUtcMs(),
        }),
    }
  }

  it('hears, logs, is kept, is sent through the gate by its own limits, and is asked whether it is ready', async () => {
    const { station, runner, sent, heard, played, hear } = setUp()
    expect(station.store.getState().mode).toBe('psk31')
    await station.listenToMicrophone(undefined, undefined)
    hear(0.1)
    hear(0.9)
    await jest.advanceTimersByTimeAsync(1000)
    expect(runner.state.getState()).toEqual({ heard: 1 })
    expect(heard).toHaveLength(1)
    expect(heardReportSchema.parse(heard[0])).toEqual(heard[0])
    expect(sent).toMatchObject([{ call: 'Q1ABC', mode: 'WHISTLE', band: '2m', origin: 'air' }])
    expect(station.store.getState().worked.Q1ABC).toHaveLength(1)
    const { readiness } = station.store.getState()
    expect(readiness!.items.map((item) => item.id)).toEqual(['call', 'licence', 'audio', 'level', 'dial', 'output'])
    expect(readiness!.sentence).toMatch(/Worth a look:.*lips/)
    expect(await runner.whistle(1000)).toMatchObject({ sent: false, need: 'firstCheck' })
    station.passCheck()
    expect(await runner.whistle(2001)).toMatchObject({ sent: false, need: 'shorter' })
    const on = runner.whistle(1000)
    await jest.advanceTimersByTimeAsync(300)
    expect(played).toMatchObject([{ what: 'a whistle', length: 12_000 }])
    expect(station.store.getState().onAir).toMatchObject({ mode: 'psk31', text: 'a whistle' })
    station.silence()
    expect(await on).toMatchObject({ sent: true, complete: false })
    expect(runner.silenced).toBe(1)
    station.close()
  })
})
