import type { HeardStation } from '@/core/ft8'
import type { StationHost } from './stationHost'
import type { StationState } from './stationState'

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

  async askCalls(stations: ReadonlyMap<string, HeardStation>, practice: boolean): Promise<void> {
    const epoch = this.host.epoch()
    const known = this.host.state().worked
    const calls = [...stations.keys()].filter((call) => !known.has(call)).slice(0, MOST_CALLS)
    if (calls.length === 0) return
    const rows = await this.host.askWorked(calls, practice)
    if (!rows || epoch !== this.host.epoch()) return
    const worked = new Map(this.host.state().worked)
    for (const call of calls)
      worked.set(
        call,
        rows.filter((row) => row.call === call),
      )
    this.host.set({ worked })
  }

  async askPlaces(practice: boolean): Promise<void> {
    const epoch = this.host.epoch()
    const workedPlaces = await this.host.askPlaces(practice)
    if (workedPlaces && epoch === this.host.epoch()) this.host.set({ workedPlaces })
  }
}
