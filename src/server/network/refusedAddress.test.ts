import { createTcpBytePort } from '../ports/tcpBytePort'
import { guardedLookup, isRefusedAddress, lookUp } from './refusedAddress'
import { reach } from './reach'

describe('addresses that are never tried', () => {
  it.each([
    ...['169.254.169.254', '169.254.1.2', '0.0.0.0', '224.0.0.251', '255.255.255.255', '100.100.100.200'],
    ...['::', 'fe80::1', 'ff02::fb', 'fd00:ec2::254', '::ffff:169.254.169.254', '::ffff:a9fe:a9fe'],
  ])('are %s', (address) => expect(isRefusedAddress(address)).toBe(true))
  it.each(['127.0.0.1', '192.168.1.20', '10.0.0.5', '172.20.10.1', '100.64.0.1', '::1', 'fd12::1', '2001:db8::1', '::ffff:192.168.1.20'])(
    'are not %s',
    (address) => expect(isRefusedAddress(address)).toBe(false),
  )

  // As a number, in octal, with its middle left out: whatever the system takes for an address.
  it.each(['169.254.169.254', '[fe80::1]', '2852039166', '0251.0376.0251.0376', '169.16689662', '0'])(
    'are not reached as %s',
    async (host) => {
      const port = createTcpBytePort(host, 80, 500)
      expect(await port.open({ onBytes: () => undefined, onClosed: () => undefined })).toMatchObject({
        ok: false,
        error: expect.stringMatching(/never tried|No address is known/),
      })
      expect(await reach({ host, port: 80 }, 500)).toMatchObject({
        ok: false,
        words: expect.stringMatching(/never tried|No address is known/),
      })
    },
  )

  it('leave the rest of a name’s addresses: a device may have a link-local one beside its own', async () => {
    const known: Record<string, { address: string; family: number }[]> = {
      'radio.local': [
        { address: 'fe80::1', family: 6 },
        { address: '192.168.1.20', family: 4 },
      ],
      'only.local': [{ address: '169.254.7.7', family: 4 }],
    }
    const look = async (host: string) => known[host]!
    expect(await lookUp('radio.local', look)).toEqual([{ address: '192.168.1.20', family: 4 }])
    await expect(lookUp('only.local', look)).rejects.toThrow(/never tried/)
  })

  it('leave others as they are, one or all of them', async () => {
    const look = (all: boolean) => new Promise((done) => guardedLookup('127.0.0.1', { all }, (error, found) => done(error ?? found)))
    expect(await look(false)).toBe('127.0.0.1')
    expect(await look(true)).toEqual([{ address: '127.0.0.1', family: 4 }])
  })
})
