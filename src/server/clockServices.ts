import { performance } from 'node:perf_hooks'
import { defaultClockConfig, type ClockConfig } from '@/core/links'
import { ClockHub } from './clock/clockHub'
import { readClockConfig, writeClockConfig } from './clockRepository'
import type { Database } from './db/database'
import { createInOrder } from './inOrder'
import { StandinKeeper } from './practice/standinKeeper'

/** Time on the server: the sources, the practice stand-ins, and where both are configured. */
export class ClockServices {
  readonly hub = new ClockHub({ monotonicMs: () => performance.now() })
  readonly standins: StandinKeeper
  private current: ClockConfig = defaultClockConfig
  /** Two at once would each open and close the ports. */
  private readonly inOrder = createInOrder()

  private constructor(
    private readonly database: Database,
    dataFolder: string,
  ) {
    this.standins = new StandinKeeper(
      dataFolder,
      () => this.current,
      (state) => this.hub.setStandins(state),
    )
  }

  static async open(database: Database, dataFolder: string): Promise<ClockServices> {
    const services = new ClockServices(database, dataFolder)
    services.current = await readClockConfig(database)
    await services.hub.configure(services.current)
    return services
  }

  get config(): ClockConfig {
    return this.current
  }

  configure(config: ClockConfig): Promise<void> {
    return this.inOrder(async () => {
      await writeClockConfig(this.database, config)
      this.current = config
      await this.hub.configure(config)
    })
  }

  async close(): Promise<void> {
    this.standins.stop()
    await this.hub.close()
  }
}
