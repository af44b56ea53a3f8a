import { performance } from 'node:perf_hooks'
import { listSerialPorts } from '../ports/serialBytePort'
import { createHubPort, type HubHost } from './hub'
import type { KeyMark } from './keyMark'
import { LinkHub } from './linkHub'

/** Runs the links in this process. */
export function openHubHere(host: HubHost, keyMark?: KeyMark): LinkHub {
  return new LinkHub({
    ...(keyMark && { keyMark }),
    monotonicMs: () => performance.now(),
    utcMs: () => Date.now(),
    createPort: (port, serialBaud, keepLines) => createHubPort(port, serialBaud, keepLines, host),
    listPorts: async () => (await listSerialPorts()).map((port) => port.path),
    onVerdict: (link, verdict) => host.onVerdict(link, verdict),
    onPacket: (frame) => host.onPacket(frame),
  })
}
