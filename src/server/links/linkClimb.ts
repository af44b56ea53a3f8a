import {
  idleDiagnosis,
  LinkProber,
  reduceDiagnosis,
  type BytePort,
  type DiagnoseRequest,
  type Diagnosis,
  type DiagnosisEvent,
  type LinkState,
  type LinkTarget,
  type PortChoice,
  type SerialLines,
  type TriedLink,
  type Verdict,
} from '@/core/links'
import { sleep } from './lineState'
import type { Done } from '../done'

export interface LinkClimbHost {
  monotonicMs: () => number
  listPorts: () => Promise<readonly string[]>
  createPort: (port: PortChoice, serialBaud: number) => BytePort
  targetOf: (link: TriedLink) => LinkTarget | undefined
  /** Key lines as they are while receiving, where there are any. */
  restLines: () => SerialLines | undefined
  /** What the link has heard by now, in words. */
  heardBefore: (link: TriedLink) => string | undefined
  letGo: (link: TriedLink) => Promise<void>
  takeUpAgain: (link: TriedLink) => Promise<void>
  onVerdict: (link: TriedLink, verdict: Verdict) => void
  changed: () => void
}

/** Climbs the ladder of a link that fails, rung by rung. The link is let go meanwhile, so that its port is free. */
export class LinkClimb {
  private present: { link: TriedLink; now: Diagnosis; prober: LinkProber } | undefined

  constructor(private readonly host: LinkClimbHost) {}

  /** Starts, answers and stops a climb. */
  async diagnose(request: DiagnoseRequest): Promise<Done> {
    if (request.action === 'stop') {
      if (this.present) await this.climb({ type: 'stop' })
      return { ok: true }
    }
    if (request.action === 'answer') {
      if (!this.present) return { ok: false, error: 'Nothing is being tried.' }
      void this.climb({ type: 'answered', rung: request.rung, answer: request.answer })
      return { ok: true }
    }
    if (this.present?.now.at) return { ok: false, error: 'A link is being tried already.' }
    const { host } = this
    const target = host.targetOf(request.link)
    if (!target) return { ok: false, error: 'Choose the port first.' }
    const heardBefore = host.heardBefore(request.link)
    await host.letGo(request.link)
    const restLines = host.restLines()
    const prober = new LinkProber(target, {
      listPorts: host.listPorts,
      heardBefore,
      createPort: host.createPort,
      ...(restLines && { restLines }),
      monotonicMs: host.monotonicMs,
      sleep,
    })
    this.present = { link: request.link, now: idleDiagnosis, prober }
    void this.climb({ type: 'start' })
    return { ok: true }
  }

  /** The settings of a link have changed: what was found with the old ones says nothing of it any more. */
  forget(link: TriedLink): void {
    if (this.present?.link === link && this.present.now.at === null) this.present = undefined
  }

  state(): LinkState['diagnosis'] {
    const { present } = this
    return present ? { link: present.link, now: present.now as NonNullable<LinkState['diagnosis']>['now'] } : null
  }

  private async climb(event: DiagnosisEvent): Promise<void> {
    const { present, host } = this
    if (!present) return
    const [now, actions] = reduceDiagnosis(present.now, event)
    present.now = now
    host.changed()
    for (const action of actions) {
      if (action.type === 'ask') continue
      if (action.again) present.prober.forget()
      const finding = await present.prober.probe(action.rung)
      if (this.present === present) await this.climb({ type: 'found', rung: action.rung, finding })
    }
    if (now.at === null && (now.verdict || event.type === 'stop')) {
      if (now.verdict) host.onVerdict(present.link, now.verdict)
      await host.takeUpAgain(present.link)
    }
    host.changed()
  }
}
