// Addresses at which no radio, TNC or time server stands, and at which a computer can be made to give things away.
import type { LookupAddress } from 'node:dns'
import { lookup } from 'node:dns/promises'
import { BlockList, connect, isIP, Socket, type LookupFunction } from 'node:net'

const refused = new BlockList()
// This network, link-local with the metadata services of hosted machines, multicast, broadcast (RFC 6890).
refused.addSubnet('0.0.0.0', 8, 'ipv4')
refused.addSubnet('169.254.0.0', 16, 'ipv4')
refused.addSubnet('224.0.0.0', 3, 'ipv4')
refused.addAddress('100.100.100.200', 'ipv4')
refused.addAddress('::', 'ipv6')
refused.addAddress('fd00:ec2::254', 'ipv6')
refused.addSubnet('fe80::', 10, 'ipv6')
refused.addSubnet('ff00::', 8, 'ipv6')

export const isRefusedAddress = (address: string): boolean => refused.check(address, isIP(address) === 6 ? 'ipv6' : 'ipv4')

export const REFUSED_CODE = 'EREFUSED'

class RefusedAddress extends Error {
  readonly code = REFUSED_CODE

  constructor(host: string) {
    super(`${host} is an address that is never tried: nothing of a station stands at link-local, multicast or metadata addresses`)
  }
}

const allOf = (host: string): Promise<LookupAddress[]> => lookup(host, { all: true })

/**
 * The addresses of a name, without those that are refused: many a device in a house network has a link-local one beside its own.
 * @throws what the system says of the name; RefusedAddress when there is no other
 */
export async function lookUp(host: string, look = allOf): Promise<[LookupAddress, ...LookupAddress[]]> {
  const [first, ...others] = (await look(host)).filter(({ address }) => !isRefusedAddress(address))
  if (!first) throw new RefusedAddress(host)
  return [first, ...others]
}

/** Looks a name up as the system does, but for addresses that are refused. */
export const guardedLookup: LookupFunction = (host, { all }, done) => {
  lookUp(host).then(
    (found) => (all ? done(null, found) : done(null, found[0].address, found[0].family)),
    (error: NodeJS.ErrnoException) => done(error, ''),
  )
}

/** Connects, unless the address is one that is refused: then it fails as a connection fails. @param host brackets about an IPv6 address are left out */
export function guardedConnect(host: string, port: number): Socket {
  const name = host.replace(/^\[(.*)\]$/, '$1')
  // An address in numbers is not looked up.
  if (isIP(name) && isRefusedAddress(name)) {
    const socket = new Socket()
    setImmediate(() => socket.destroy(new RefusedAddress(host)))
    return socket
  }
  return connect({ host: name, port, lookup: guardedLookup })
}
