import type { LinkState, PortKeeper } from '@/core/links'

/** How a line stands; `open` is what to say of it while its port is open. */
export function lineState(port: PortKeeper | undefined, open: 'talking' | 'silent' | 'open'): LinkState['tnc']['state'] {
  if (!port) return 'off'
  return port.isOpen ? open : port.isOpening ? 'opening' : 'problem'
}

/** Waiting for a port keeps no process alive. */
export const sleep = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms).unref())
