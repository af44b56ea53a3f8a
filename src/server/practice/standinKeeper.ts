import { existsSync } from 'node:fs'
import { join } from 'node:path'
import type { ClockConfig, ServerClock, SerialPortEntry, StandinRequest, StandinWay } from '@/core/links'
import { locatorToPosition } from '@/core/place'
import { gpsFaultSchema, timeFaultSchema, type GpsFault, type TimeFault } from '@/standins'
import { runGpsStandin, type GpsWay, type RunningStandin } from '@/standins/node/gpsRunner'
import { runTimeServer } from '@/standins/node/timeServerRunner'
import type { Done } from '../done'
import { createInOrder } from '../inOrder'

const PRACTICE_LOCATOR = 'JN97LK45'
const SERIAL_BAUD = 9600

interface Running<F> {
  standin: RunningStandin
  faults: Set<F>
}

interface RunningReceiver extends Running<GpsFault> {
  way: StandinWay
  where: string
  /** Whoever it talked to has hung up. */
  gone: boolean
}

/** The stand-in receiver and time server that the practice screen starts; they talk over real ports of this computer. */
export class StandinKeeper {
  private gps: RunningReceiver | undefined
  private time: Running<TimeFault> | undefined
  private readonly ptyPath: string
  /** Two at once would each start one, and only the last could be stopped again. */
  private readonly inOrder = createInOrder()

  constructor(
    dataFolder: string,
    private readonly config: () => ClockConfig,
    private readonly onChange: (state: ServerClock['standins']) => void,
  ) {
    this.ptyPath = join(dataFolder, 'practice-gps')
  }

  /** Starts, changes or stops; only what is named in the request is touched. */
  set(request: StandinRequest): Promise<Done> {
    return this.inOrder(() => this.apply(request))
  }

  private async apply(request: StandinRequest): Promise<Done> {
    if (request.gps !== undefined) {
      const done = await this.setGps(request.gps)
      if (!done.ok) return done
    }
    if (request.time !== undefined) {
      const done = await this.setTime(request.time)
      if (!done.ok) return done
    }
    return { ok: true }
  }

  private async setGps(wanted: StandinRequest['gps']): Promise<Done> {
    if (!wanted) {
      this.gps?.standin.stop()
      this.gps = undefined
      this.told()
      return { ok: true }
    }
    const faults = new Set(wanted.faults.flatMap((f) => gpsFaultSchema.safeParse(f).data ?? []))
    const { udp, tcp } = this.config()
    const way: GpsWay =
      wanted.way === 'serial'
        ? { kind: 'pty', path: this.ptyPath }
        : wanted.way === 'udp'
          ? { kind: 'udp', host: '127.0.0.1', port: udp.port }
          : { kind: 'tcpTo', host: '127.0.0.1', port: tcp.port }
    const key = JSON.stringify(way)
    if (this.gps?.where === key) this.gps.faults = faults
    else {
      this.gps?.standin.stop()
      this.gps = undefined
      const running: RunningReceiver = { standin: undefined as never, faults, way: wanted.way, where: key, gone: false }
      const options = { seed: 1, position: locatorToPosition(PRACTICE_LOCATOR), ...(wanted.way !== 'udp' && { serialBaud: SERIAL_BAUD }) }
      const started = await runGpsStandin(
        options,
        way,
        () => running.faults,
        () => this.lost(running),
      )
      if (!started.ok) return { ok: false, error: explain(wanted.way, started.error) }
      running.standin = started.standin
      this.gps = running
      if (running.gone) this.lost(running)
    }
    this.told()
    return { ok: true }
  }

  private lost(running: RunningReceiver): void {
    running.gone = true
    if (this.gps !== running) return
    // Else it would go on talking to nobody, every second.
    running.standin.stop()
    this.gps = undefined
    this.told()
  }

  private async setTime(wanted: StandinRequest['time']): Promise<Done> {
    if (!wanted) {
      this.time?.standin.stop()
      this.time = undefined
      this.told()
      return { ok: true }
    }
    const faults = new Set(wanted.faults.flatMap((f) => timeFaultSchema.safeParse(f).data ?? []))
    if (this.time) this.time.faults = faults
    else {
      const running: Running<TimeFault> = { standin: undefined as never, faults }
      const started = await runTimeServer({ host: '127.0.0.1', port: 0 }, () => running.faults)
      if (!started.ok) return started
      running.standin = started.standin
      this.time = running
    }
    this.told()
    return { ok: true }
  }

  private told(): void {
    const shown = <F>(r: Running<F> | undefined) => (r ? { where: r.standin.where, faults: [...r.faults].map(String) } : null)
    const gps = shown(this.gps)
    this.onChange({ gps: gps && this.gps ? { ...gps, way: this.gps.way } : null, time: shown(this.time) })
  }

  /** The pseudo-terminal of the stand-in, which the system does not list among its ports. */
  ports(): SerialPortEntry[] {
    return existsSync(this.ptyPath) ? [{ path: this.ptyPath, name: 'Practice receiver' }] : []
  }

  stop(): void {
    this.gps?.standin.stop()
    this.time?.standin.stop()
    this.gps = undefined
    this.time = undefined
  }
}

function explain(way: string, error: string): string {
  return way === 'tcp' ? `${error}. Turn on "NMEA over TCP" first.` : error
}
