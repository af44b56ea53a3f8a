import { randomUUID } from 'node:crypto'
import { performance } from 'node:perf_hooks'
import type { Database } from '../db/database'
import type { LinkServices } from '../linkServices'
import { readProfile, storeHeard } from '../stationRepository'
import { FrameBatch, reportOf } from './frameBatch'
import { PacketStation } from './packetStation'
import { storePacketSession } from './sessionRepository'

/** A call as packet can bear it: without what stands before or behind a stroke. */
function packetCallOf(call: string): string {
  const parts = call.split('/').filter((part) => /^(?=.*\d)[A-Z0-9]{3,6}$/.test(part))
  return parts.sort((a, b) => b.length - a.length)[0] ?? ''
}

/** The packet station over the TNC that the links have. */
export function openPacketStation({ database, links }: { database: Database; links: LinkServices }): PacketStation {
  const frames = new FrameBatch((reports) => storeHeard(database, reports, Date.now()))
  const station = new PacketStation({
    monotonicMs: () => performance.now(),
    utcMs: () => Date.now(),
    station: async () => {
      const { call, licenceConfirmedUtcMs } = (await readProfile(database, false)).station
      return { call: packetCallOf(call), licenceConfirmed: licenceConfirmedUtcMs !== null }
    },
    airBaud: () => links.config.tnc.airBaud,
    txDelayMs: () => links.config.tnc.parameters.txDelayMs,
    problem() {
      const { state, detail } = links.hub.state(Infinity).tnc
      return state === 'off' || state === 'opening' || state === 'problem' ? `No TNC is there: ${detail}` : undefined
    },
    send: (frame) => links.hub.sendPacket(frame),
    newId: randomUUID,
    async setTxDelay(txDelayMs) {
      const { tnc, ...config } = links.config
      const done = await links.configure({ ...config, tnc: { ...tnc, parameters: { ...tnc.parameters, txDelayMs } } })
      if (!done.ok) throw new Error(done.error)
    },
    keepSession: (session) => storePacketSession(database, session),
    keepFrame(frame) {
      const { tnc, standins } = links.hub.state(Infinity)
      // What the modem of a screen hears, that screen keeps, with how well it was heard.
      if (!tnc.modem) frames.add(reportOf(frame, standins.tnc !== null))
    },
  })
  links.onPacket = (frame) => station.heard(frame)
  return station
}
