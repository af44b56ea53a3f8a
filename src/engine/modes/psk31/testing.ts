import { createGaussian, createRandom } from '@/core/dsp'
import { BAUD, encodePsk31, Psk31Band, type Baud } from '@/core/psk31'
import { emptyStation } from '@/core/station'
import type { MadeContact } from '@/core/log'
import type { Outcome, Transmission } from '../../station/air'
import type { HeardEvent } from '../../station/heardKeeper'
import { initialState, type StationState } from '../../station/state'
import type { ModeHost, Refusal } from '../runner'
import { Psk31Runner } from './psk31Runner'
import type { UnfinishedContact } from './state'

export const noon = Date.UTC(2026, 5, 1, 12)

/** A PSK31 runner on a station of its own, with sound handed over as it is made. */
export function setUp() {
  let nowUtcMs = noon
  let station: StationState = { ...initialState, mode: 'psk31', source: { kind: 'practice', label: 'Band', warnings: [], pace: 1 } }
  let refusal: Refusal | undefined
  let end: ((outcome: Outcome) => void) | undefined
  const sent: Transmission[] = []
  const made: MadeContact[] = []
  const heard: HeardEvent[] = []
  const notices: string[] = []
  const begun: string[] = []
  let unfinished: readonly UnfinishedContact[] = []
  let ids = 0
  const host = {
    clock: { nowUtcMs: () => nowUtcMs },
    newId: () => `id ${++ids}`,
    station: () => station,
    profile: () => ({ ...emptyStation, call: 'Q5RVR' }),
    air: {
      send: (transmission: Transmission) => {
        sent.push(transmission)
        const begun = { mode: 'psk31' as const, text: '', startUtcMs: nowUtcMs, endUtcMs: nowUtcMs + 120_000, open: true }
        station = { ...station, onAir: begun }
        return new Promise<Outcome>((done) => (end = done))
      },
    },
    contacts: { made: (contact: MadeContact) => made.push(contact) },
    heard: { keep: async (events: HeardEvent[]) => void heard.push(...events) },
    worked: { askCalls: async () => undefined },
    whyNot: () => refusal,
    begin: (what: string) => {
      begun.push(what)
      return { what, silences: 0 }
    },
    notify: (text: string) => notices.push(text),
  } as unknown as ModeHost
  let band = new Psk31Band()
  const modem = {
    restart: async () => void (band = new Psk31Band()),
    push: async (samples: Float32Array) => ({
      texts: band.push(samples),
      channels: band.channels,
      occupancy: band.occupancy,
      unread: band.unread,
    }),
    close: () => undefined,
  }
  const runner = new Psk31Runner(host, {
    createModem: () => modem,
    unfinishedStore: { load: () => unfinished, save: (list) => (unfinished = list) },
  })
  runner.restart('practice')
  /** Lets sound pass by; a gap before it is time without any. */
  const hear = async (samples: Float32Array, gapMs = 0) => {
    nowUtcMs += gapMs
    for (let at = 0; at < samples.length; at += 1200) {
      runner.block({ samples: samples.slice(at, at + 1200), startUtcMs: nowUtcMs })
      nowUtcMs += 100
      await Promise.resolve()
    }
    await new Promise((done) => setTimeout(done, 0))
  }
  return {
    ...{ runner, hear, sent, made, heard, notices, begun },
    unfinished: () => unfinished,
    refuse: (why: Refusal | undefined) => (refusal = why),
    state: () => runner.state.getState(),
    finish: async (complete: boolean) => {
      end?.({ sent: true, complete, startUtcMs: station.onAir!.startUtcMs })
      station = { ...station, onAir: undefined }
      await new Promise((done) => setTimeout(done, 0))
    },
    pass: (ms: number) => (nowUtcMs += ms),
    now: () => nowUtcMs,
  }
}
export const signal = (text: string, frequencyHz = 1000, baud: Baud = BAUD) =>
  encodePsk31(text, { sampleRateHz: 12_000, frequencyHz, amplitude: 0.2, baud })
export const silence = (seconds: number) => new Float32Array(12_000 * seconds)
const noise = createGaussian(createRandom(3))
export const hiss = (seconds: number) => silence(seconds).map(() => 0.002 * noise())
