import { createGaussian, createRandom, createResampler, SAMPLE_RATE_HZ, type Random } from '@/core/dsp'
import { SIMULATED_NOISE_RMS } from '@/core/ft8'
import { amplitudeForSnr, NOISE_RMS, Psk31Band, whoSays } from '@/core/psk31'
import type { OperatorAudio, PracticeWorld } from '../practiceWorld'
import type { WorldOptions } from '../practiceWorlds'
import { answerCq, answerOver, startContact, type ContactWithOperator } from './contactWithOperator'
import { drawOperators, type Psk31Operator } from './operators'
import { callCq, wholeContact } from './talk'
import { Voice } from './voice'

const PER_MS = SAMPLE_RATE_HZ / 1000
const TICK_MS = 100
const TICK_SAMPLES = TICK_MS * PER_MS
/** Where conversations lie, and how far apart. */
const BAND_HZ = [400, 2600] as const
/** Who is called on a frequency is meant within this. */
const SAME_HZ = 45
/** How the operator arrives where nobody in particular is called. */
const USUAL_HEARS_DB = 6
/** How long is waited for an answer. */
const CQ_PAUSE_MS = 9000
const OVER_PAUSE_MS = 1500
const PATIENCE_MS = 45_000

/** One frequency and who is on it. */
interface Lane {
  frequencyHz: number
  people: readonly [Psk31Operator, Psk31Operator]
  /** Overs of a contact between the two, and how many have been sent. */
  script: { who: Psk31Operator; text: string }[]
  at: number
  /** With the operator, instead of the script. */
  contact?: ContactWithOperator
  /** To be said next, by whom; none while listening. */
  next?: { who: Psk31Operator; text: string }
  /** When something is to be said; before the world begins, after its begin. */
  dueMs: number
  voice?: Voice
}

/**
 * A band of PSK31: half of the frequencies hold two who work each other, the others one who calls CQ and would like to be answered.
 * What the operator sends is copied by a receiver of ours from the very audio, weakened and with noise.
 */
export function createPsk31World({ seed, stations }: WorldOptions): PracticeWorld {
  return new Psk31World(seed, Math.max(2, Math.round(stations / 2)))
}

class Psk31World implements PracticeWorld {
  readonly label: string
  readonly stepMs = 1000
  private readonly random: Random
  private readonly noise: () => number
  /** Of those who hear the operator: apart, so that the band sounds the same whenever they listen. */
  private readonly theirNoise: () => number
  private lanes: Lane[]
  /** Who is free to answer a CQ of the operator. */
  private readonly wanderers: Psk31Operator[]
  private nowMs = Number.NaN
  private copying:
    | {
        band: Psk31Band
        resampler: ReturnType<typeof createResampler>
        heard: { text: string; frequencyHz: number }[]
        peak: number
        hearsDb: number | undefined
      }
    | undefined

  constructor(seed: number, lanes: number) {
    this.random = createRandom(seed)
    this.noise = createGaussian(createRandom(seed ^ 0x5eed))
    this.theirNoise = createGaussian(createRandom(seed ^ 0xea4))
    this.label = `Practice band, ${lanes} conversations`
    const people = drawOperators(2 * lanes + 4, this.random)
    const stepHz = (BAND_HZ[1] - BAND_HZ[0]) / lanes
    this.lanes = Array.from({ length: lanes }, (_, i) => this.createLane(i, BAND_HZ[0] + (i + 0.2 + 0.6 * this.random()) * stepHz, people))
    this.wanderers = people.slice(2 * lanes)
  }

  private createLane(i: number, frequencyHz: number, people: readonly Psk31Operator[]): Lane {
    const pair = [people[2 * i]!, people[2 * i + 1]!] as const
    const alone = i % 2 === 0
    const script = alone ? [{ who: pair[0], text: callCq(pair[0]) }] : wholeContact(...pair)
    // Some are in the middle of it when one comes to the band.
    const at = alone ? 0 : Math.floor(this.random() * script.length)
    return { frequencyHz: Math.round(frequencyHz), people: pair, script, at, dueMs: 500 + 9000 * this.random() }
  }

  render(fromUtcMs: number, count: number): Float32Array {
    const out = new Float32Array(count)
    // Lanes are drawn before it is known when the world begins.
    if (Number.isNaN(this.nowMs)) for (const lane of this.lanes) lane.dueMs += fromUtcMs
    for (let done = 0; done < count; done += TICK_SAMPLES) {
      this.nowMs = fromUtcMs + done / PER_MS
      const part = out.subarray(done, Math.min(count, done + TICK_SAMPLES))
      for (let i = 0; i < part.length; i++) part[i] = SIMULATED_NOISE_RMS * this.noise()
      for (const lane of this.lanes) this.speak(lane, part)
    }
    return out
  }

  hear({ samples, sampleRateHz, last }: OperatorAudio): string | null | undefined {
    this.copying ??= {
      band: new Psk31Band(),
      resampler: createResampler(sampleRateHz, SAMPLE_RATE_HZ),
      heard: [],
      peak: 0,
      hearsDb: undefined,
    }
    const { band, resampler, heard } = this.copying
    const audio = samples.length > 0 ? resampler.push(samples) : samples
    for (const value of audio) this.copying.peak = Math.max(this.copying.peak, Math.abs(value))
    // By how it reaches the one who listens there: the same for the whole over.
    if (audio.length > 0) this.copying.hearsDb ??= this.hearsAt(frequencyOf(audio))
    const gain = amplitudeForSnr(this.copying.hearsDb ?? USUAL_HEARS_DB) / (this.copying.peak || 1)
    heard.push(
      ...this.copy(
        band,
        audio.map((value) => gain * value),
      ),
    )
    for (const { frequencyHz } of band.channels) this.wait(frequencyHz)
    if (!last) return undefined
    this.copying = undefined
    // A little silence after it, so that the last character is judged.
    heard.push(...this.copy(band, new Float32Array(SAMPLE_RATE_HZ)), ...textsOf(band.flush()))
    const text = heard.map((one) => one.text).join('')
    if (text.trim().length < 3) return null
    this.takeOver(text, heard[Math.floor(heard.length / 2)]!.frequencyHz)
    return text
  }

  /** How well the operator is heard by who listens on a frequency. */
  private hearsAt(frequencyHz: number): number {
    const lane = this.lanes.find((one) => Math.abs(one.frequencyHz - frequencyHz) < SAME_HZ)
    return lane ? (lane.contact?.me ?? lane.people[0]).hearsDb : USUAL_HEARS_DB
  }

  /** Who hears the operator on his frequency says nothing meanwhile. */
  private wait(frequencyHz: number): void {
    for (const lane of this.lanes)
      if (Math.abs(lane.frequencyHz - frequencyHz) < SAME_HZ) lane.dueMs = Math.max(lane.dueMs, this.nowMs + OVER_PAUSE_MS + 1000)
  }

  private copy(band: Psk31Band, signal: Float32Array) {
    return textsOf(band.push(signal.map((value) => value + NOISE_RMS * this.theirNoise())))
  }

  /** An over of the operator has ended, and this was copied of it. */
  private takeOver(copied: string, frequencyHz: number): void {
    const words = copied.toUpperCase().split(/[^A-Z0-9/]+/)
    const near = this.lanes.filter((lane) => Math.abs(lane.frequencyHz - frequencyHz) < SAME_HZ)
    const named = this.lanes.flatMap((lane) => lane.people.filter((who) => words.includes(who.call)).map((who) => ({ lane, who })))
    const called =
      named.find(({ lane }) => near.includes(lane)) ??
      near.filter((lane) => lane.contact).map((lane) => ({ lane, who: lane.contact!.me }))[0]
    // Who is sending does not hear it.
    if (called && !called.lane.voice) this.answer(called.lane, called.who, copied)
    else if (near.length === 0 && whoSays(copied).cq) this.answerCqOf(whoSays(copied).from, frequencyHz)
  }

  private answer(lane: Lane, who: Psk31Operator, copied: string): void {
    // In the middle of a contact with somebody else nobody is answered; who calls CQ, or has ended, may be.
    if (!lane.contact && lane.script.length > 1 && lane.at > 0 && lane.at < lane.script.length) return
    const [contact, text] = answerOver(lane.contact ?? startContact(who), copied, this.reportForOperator(who))
    lane.contact = contact
    this.say(lane, text === undefined ? undefined : { who, text })
  }

  private answerCqOf(call: string | undefined, frequencyHz: number): void {
    const who = call ? this.wanderers.shift() : undefined
    if (!who || !call) return
    const [contact, text] = answerCq(who, call)
    const lane: Lane = { frequencyHz: Math.round(frequencyHz), people: [who, who], script: [], at: 0, dueMs: 0, contact }
    this.lanes.push(lane)
    this.say(lane, { who, text })
  }

  private reportForOperator(who: Psk31Operator): string {
    return who.hearsDb > 4 ? '599' : who.hearsDb > -4 ? '579' : '559'
  }

  private say(lane: Lane, next: Lane['next']): void {
    lane.dueMs = this.nowMs + OVER_PAUSE_MS + 1000 * this.random()
    if (next) lane.next = next
    else delete lane.next
  }

  /** Adds what a lane says in a tick. */
  private speak(lane: Lane, part: Float32Array): void {
    if (!lane.voice && this.nowMs >= lane.dueMs) this.begin(lane)
    if (!lane.voice) return
    const { who } = lane.voice
    const piece = new Float32Array(part.length)
    const count = lane.voice.next(piece)
    const { periodS, depthDb, phase } = who.fading
    const fadeDb = (depthDb / 2) * Math.sin((2 * Math.PI * this.nowMs) / 1000 / periodS + phase)
    const gain = (amplitudeForSnr(who.snrDb + fadeDb) * SIMULATED_NOISE_RMS) / NOISE_RMS
    for (let i = 0; i < count; i++) part[i]! += gain * piece[i]!
    if (count < piece.length) this.ended(lane)
  }

  private begin(lane: Lane): void {
    const next = lane.next ?? this.nextOf(lane)
    delete lane.next
    if (!next) return
    lane.voice = new Voice(next.who, `${next.text}\n`, lane.frequencyHz)
  }

  /** What comes by itself: the next over of a script, or a contact given up when the operator says nothing more. */
  private nextOf(lane: Lane): Lane['next'] {
    if (lane.contact) {
      delete lane.contact
      lane.at = 0
      // Who came for the operator's CQ goes, and may come again.
      if (lane.script.length === 0) {
        this.lanes = this.lanes.filter((other) => other !== lane)
        this.wanderers.push(lane.people[0])
        return undefined
      }
    }
    const next = lane.script[lane.at]
    lane.at++
    if (next) return next
    // Over: the same two begin again after a rest.
    lane.at = 0
    lane.dueMs = this.nowMs + 8000 + 15_000 * this.random()
    return undefined
  }

  private ended(lane: Lane): void {
    delete lane.voice
    const pauseMs = lane.contact
      ? PATIENCE_MS
      : lane.script.length === 1
        ? CQ_PAUSE_MS + 6000 * this.random()
        : OVER_PAUSE_MS + 2000 * this.random()
    lane.dueMs = this.nowMs + pauseMs
    if (!lane.contact && lane.script.length === 1) lane.at = 0
  }
}

/** About where a signal is, by how often it goes through nothing; nothing for silence. */
function frequencyOf(audio: Float32Array): number {
  let crossings = 0
  for (let i = 1; i < audio.length; i++) if (audio[i - 1]! < 0 !== audio[i]! < 0) crossings++
  return (crossings * SAMPLE_RATE_HZ) / (2 * audio.length)
}

function textsOf(heard: readonly { character: string; frequencyHz: number }[]) {
  return heard.map(({ character, frequencyHz }) => ({ text: character, frequencyHz }))
}
