import { bandWithoutMeter, dialOfRadio, type LinkState } from '@/core/links'
import { MODES, practiceDialHz } from '@/core/modes'
import type { Station } from '@/core/station'
import { LinkKeyer, LinkWatch, type Keyer, type SendKey } from './keyer'
import type { StationState } from './state'

export interface StationLinksHost {
  state: () => StationState
  set: (change: Partial<StationState>) => void
  profile: () => Station
  sendKey: SendKey
  silence: (why: string) => void
}

/** What the running station makes of the server's links: who keys the radio, where its dial stands, what alarms mean. */
export class StationLinks {
  private readonly linkKeyer: LinkKeyer
  private readonly linkWatch: LinkWatch
  /** Number of the last alarm after which a person has begun anew. */
  private acknowledgedAlarm = 0

  constructor(private readonly host: StationLinksHost) {
    const shared = { send: host.sendKey, acknowledged: () => this.acknowledgedAlarm }
    this.linkKeyer = new LinkKeyer({ ...shared, links: () => host.state().links, onLost: (why) => host.silence(why) })
    this.linkWatch = new LinkWatch(shared)
  }

  changed(links: LinkState | undefined): void {
    const before = this.host.state().links?.alarm?.sequence ?? 0
    this.host.set({ links })
    if (links?.alarm && links.alarm.sequence > Math.max(before, this.acknowledgedAlarm)) this.host.silence(links.alarm.words)
  }

  /** A person begins something: alarms so far have been seen. */
  acknowledge(): void {
    this.acknowledgedAlarm = this.host.state().links?.alarm?.sequence ?? this.acknowledgedAlarm
  }

  /** What keys the radio over a link, or watches its meters meanwhile. In practice there is no radio. */
  keyer(): Keyer | undefined {
    const { links, source } = this.host.state()
    if (source.kind !== 'microphone' || !links) return undefined
    if (links.keying.by !== 'none' && links.keying.by !== 'vox') return this.linkKeyer
    return links.control.state === 'talking' && links.control.swrMeter ? this.linkWatch : undefined
  }

  /** Whether a link keys the radio, so that it need not key itself by VOX. */
  get keys(): boolean {
    return this.keyer() === this.linkKeyer
  }

  /** The dial as the radio says it is, else as it was set by hand, else where the practice band stands. */
  dialFrequencyHz(): number | null {
    const { links, source, mode } = this.host.state()
    const set = dialOfRadio(links?.control, source.kind) ?? this.host.profile().dialFrequencyHz
    return set ?? (source.kind === 'practice' ? practiceDialHz(MODES[mode].dials) : null)
  }

  /** The band on which the operator must look at the SWR, because nobody else does. */
  unmeteredBand(): { band?: string } {
    const { links, source } = this.host.state()
    const band = bandWithoutMeter(links?.control, source.kind, this.dialFrequencyHz())
    return band === undefined ? {} : { band }
  }
}
