import type { StationHost } from './host'
import type { StationState } from './state'

/** Calls asked about at once. */
const MOST_CALLS = 500

export interface WorkedKeeperHost extends Pick<StationHost, 'askWorked' | 'askPlaces'> {
  state: () => StationState
  set: (change: Partial<StationState>) => void
  /** Answers to questions of another epoch are dropped. */
  epoch: () => number
}

/** Asks the log who and which places were worked before. */
export class WorkedKeeper {
  constructor(private readonly host: WorkedKeeperHost) {}

  /** @param heard calls that are heard now */
  async askCalls(heard: readonly string[], practice: boolean): Promise<void> {
    const epoch = this.host.epoch()
    const known = this.host.state().worked
    const calls = heard.filter((call) => !(call in known)).slice(0, MOST_CALLS)
    if (calls.length === 0) return
    const rows = await this.host.askWorked(calls, practice)
    if (!rows || epoch !== this.host.epoch()) return
    const asked = Object.fromEntries(calls.map((call) => [call, rows.filter((row) => row.call === call)]))
    this.host.set({ worked: { ...this.host.state().worked, ...asked } })
  }

  async askPlaces(practice: boolean): Promise<void> {
    const epoch = this.host.epoch()
    const workedPlaces = await this.host.askPlaces(practice)
    if (workedPlaces && epoch === this.host.epoch()) this.host.set({ workedPlaces })
  }
}
