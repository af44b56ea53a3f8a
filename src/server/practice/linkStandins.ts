import { performance } from 'node:perf_hooks'
import type { LinkStandinRequest, LinkState } from '@/core/links'
import {
  RADIO_VOICES,
  radioFaultSchema,
  RadioStandin,
  tncFaultSchema,
  TncStandin,
  type RadioFault,
  type RadioVoice,
  type TncFault,
} from '@/standins'
import { runDevice } from '@/standins/node/deviceRunner'
import type { RunningStandin } from '@/standins/node/gpsRunner'
import type { Done } from '../done'
import { createInOrder } from '../inOrder'
import { PracticeAir } from './practiceAir'

const SERIAL_BAUD = 9600
const ANYWHERE = { kind: 'tcp', host: '127.0.0.1', port: 0 } as const

/** The stand-in radio and TNC that the practice screen starts; they answer on TCP ports of this computer. */
export class LinkStandins {
  private radio: { standin: RunningStandin; voice: RadioVoice; faults: Set<RadioFault> } | undefined
  private tnc: { standin: RunningStandin; faults: Set<TncFault>; air: PracticeAir } | undefined
  /** Two at once would each start one, and only the last could be stopped again. */
  private readonly inOrder = createInOrder()

  constructor(private readonly onChange: (state: LinkState['standins']) => void) {}

  /** Starts, changes or stops; only what is named in the request is touched. */
  set(request: LinkStandinRequest): Promise<Done> {
    return this.inOrder(() => this.apply(request))
  }

  private async apply(request: LinkStandinRequest): Promise<Done> {
    const done = request.radio === undefined ? { ok: true as const } : await this.setRadio(request.radio)
    const both = !done.ok || request.tnc === undefined ? done : await this.setTnc(request.tnc)
    this.told()
    return both
  }

  stop(): void {
    this.radio?.standin.stop()
    this.tnc?.standin.stop()
    this.tnc?.air.stop()
    this.radio = undefined
    this.tnc = undefined
  }

  private async setRadio(wanted: NonNullable<LinkStandinRequest['radio']> | null): Promise<Done> {
    const voice = RADIO_VOICES.find((v) => v === wanted?.voice)
    if (wanted && !voice) return { ok: false, error: `There is no practice radio "${wanted.voice}".` }
    const faults = new Set(wanted?.faults.flatMap((f) => radioFaultSchema.safeParse(f).data ?? []))
    if (wanted && this.radio?.voice === voice) {
      this.radio!.faults = faults
      return { ok: true }
    }
    this.radio?.standin.stop()
    this.radio = undefined
    if (!voice) return { ok: true }
    const device = new RadioStandin(
      { voice, serialBaud: SERIAL_BAUD, monotonicMs: () => performance.now() },
      () => this.radio?.faults ?? faults,
    )
    const started = await runDevice(device, ANYWHERE)
    if (!started.ok) return started
    this.radio = { standin: started.standin, voice, faults }
    return { ok: true }
  }

  private async setTnc(wanted: NonNullable<LinkStandinRequest['tnc']> | null): Promise<Done> {
    const faults = new Set(wanted?.faults.flatMap((f) => tncFaultSchema.safeParse(f).data ?? []))
    if (wanted && this.tnc) {
      this.tnc.faults = faults
      return { ok: true }
    }
    this.tnc?.standin.stop()
    this.tnc?.air.stop()
    this.tnc = undefined
    if (!wanted) return { ok: true }
    const air = new PracticeAir()
    const device = new TncStandin({ seed: 1, serialBaud: SERIAL_BAUD, startsIn: 'kiss', air }, () => this.tnc?.faults ?? faults)
    const started = await runDevice(device, ANYWHERE)
    if (!started.ok) {
      air.stop()
      return started
    }
    this.tnc = { standin: started.standin, faults, air }
    return { ok: true }
  }

  private told(): void {
    const { radio, tnc } = this
    this.onChange({
      radio: radio ? { where: radio.standin.where, port: radio.standin.port!, voice: radio.voice, faults: [...radio.faults] } : null,
      tnc: tnc ? { where: tnc.standin.where, port: tnc.standin.port!, faults: [...tnc.faults] } : null,
    })
  }
}
