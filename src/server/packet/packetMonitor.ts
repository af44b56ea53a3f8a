import { hexOfFrame, monitorLine, parseAx25, textOf } from '@/core/packet'
import type { HeardStation, MonitorFrame } from '@/core/packet/station/contracts'

const KEPT_FRAMES = 120
const KEPT_STATIONS = 200
const LONGEST_LINE = 400

/** What goes by on the channel: the last frames, and who was heard. */
export class PacketMonitor {
  private list: readonly MonitorFrame[] = []
  private readonly heardStations = new Map<string, HeardStation>()

  constructor(
    private readonly utcMs: () => number,
    private readonly next: () => number,
  ) {}

  /** The last frames, the newest first. */
  get frames(): readonly MonitorFrame[] {
    return this.list
  }

  /** Stations heard, the last one first. */
  get stations(): HeardStation[] {
    return [...this.heardStations.values()].reverse()
  }

  /** A frame that was heard or given away to be sent. @returns it, as it is told; nothing where it cannot be read */
  note(way: MonitorFrame['way'], bytes: Uint8Array): MonitorFrame | undefined {
    const parsed = parseAx25(bytes)
    if (!parsed.ok) return undefined
    const { source, destination, path, kind, info } = parsed.value
    const frame: MonitorFrame = {
      ...{ sequence: this.next(), utcMs: this.utcMs(), way, kind, from: source, to: destination },
      line: monitorLine(parsed.value).slice(0, LONGEST_LINE),
      hex: hexOfFrame(bytes),
    }
    this.list = [frame, ...this.list].slice(0, KEPT_FRAMES)
    if (way === 'in') {
      const before = this.heardStations.get(source)
      this.heardStations.delete(source)
      this.heardStations.set(source, {
        ...{ call: source, lastUtcMs: frame.utcMs, frames: (before?.frames ?? 0) + 1 },
        by: path.findLast(({ repeated }) => repeated)?.call ?? null,
        text: kind === 'UI' ? textOf(info).slice(0, 120) : (before?.text ?? null),
      })
      for (const call of [...this.heardStations.keys()].slice(0, -KEPT_STATIONS)) this.heardStations.delete(call)
    }
    return frame
  }
}
