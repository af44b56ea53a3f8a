// What a rung of the ladder can be found to be, and what a port that does not open means.
import type { PortFault } from './bytePort'
import type { Finding } from './diagnose'

export const good = (evidence: string): Finding => ({ outcome: 'good', evidence })
export const unsure = (evidence: string): Finding => ({ outcome: 'unsure', evidence })
export const notNeeded = (evidence: string): Finding => ({ outcome: 'notNeeded', evidence })
export const bad = (code: NonNullable<Finding['code']>, evidence: string, advice: string): Finding => ({
  outcome: 'bad',
  code,
  evidence,
  advice,
})

/** What a port that does not open means. */
export function fromFault(fault: PortFault, name: string, error: string): Finding {
  switch (fault) {
    case 'missing':
      return bad('port-missing', error, 'Plug the interface in, try another lead and another socket, and choose the port that appears.')
    case 'busy':
      return bad('port-busy', error, 'Close the other program, or its tab, and try again.')
    case 'permission':
      return bad('no-permission', error, 'Let this user use serial ports (often the group dialout), and log in again.')
    case 'pairing':
      return bad('stale-pairing', error, 'Delete the pairing on both sides, pair as if for the first time, then connect twice.')
    case 'unknownHost':
      return bad(
        'unknown-host',
        error,
        'Check the name, or use the address in numbers. Names of the house are not known in the radio’s own network.',
      )
    case 'refused':
      return bad(
        'refused-connection',
        error,
        'Nothing listens there: start it, check the port number, and restart the radio if its network settings were changed.',
      )
    case 'login':
      return bad('login-refused', error, 'Enter user and password anew in the address book: Connect, Network.')
    case 'unreachable':
    case 'timeout':
      return bad(
        'unreachable',
        error,
        'Check that this device is in the same network as the radio: house, radio’s own, or phone’s hotspot. The address differs in each. Restart the radio if its network settings were changed.',
      )
    case 'unsupported':
      return bad('unsupported', error, 'Use another browser for this, or plug the device into the field computer.')
    case 'other':
      return bad('cannot-open', `${name}: ${error}`, 'Unplug the device, plug it in again, and try again.')
  }
}
