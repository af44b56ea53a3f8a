import type { LinkState, TriedLink } from '@/core/links'

const KEPT = 60
/** Of a longer piece only its beginning is shown. */
const SHOWN_BYTES = 64

/** What crossed the wires lately, to be looked at. Alarms and frames are numbered along with it. */
export class WireLog {
  private entries: LinkState['wire'] = []

  /** @param sequence goes on from the time of start, so that a restarted server's alarms are newer than all before */
  constructor(private sequence: number) {}

  /** The highest number given so far. */
  get last(): number {
    return this.sequence
  }

  next(): number {
    return ++this.sequence
  }

  note(link: TriedLink, way: 'in' | 'out', bytes: Uint8Array): void {
    const shown = bytes.subarray(0, SHOWN_BYTES)
    const hex = [...shown].map((byte) => byte.toString(16).toUpperCase().padStart(2, '0')).join(' ')
    const text = [...shown].map((byte) => (byte >= 0x20 && byte < 0x7f ? String.fromCharCode(byte) : '·')).join('')
    this.entries = [...this.entries, { sequence: this.next(), link, way, hex, text }].slice(-KEPT)
  }

  after(sequence: number): LinkState['wire'] {
    return this.entries.filter((entry) => entry.sequence > sequence)
  }
}
