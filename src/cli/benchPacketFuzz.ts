import { createRandom, type Random } from '@/core/dsp'
import { encodeKiss, KissDecoder, monitorLine, parseAx25, TextStream, uiFrame } from '@/core/packet'
import { encodeLinkFrame, linkFrame, type LinkFrame } from '@/core/packet/link/linkFrame'
import { LinkSessions } from '@/core/packet/link/linkSessions'
import { usualLinkSettings } from '@/core/packet/link/linkState'

const PEERS = ['Q5CTL-7', 'Q3TUV', 'Q7HUT-1', 'Q4BOT-3'] as const
const KINDS = ['I', 'RR', 'RNR', 'REJ', 'SREJ', 'SABM', 'SABME', 'DISC', 'UA', 'DM', 'FRMR', 'XID'] as const
const OWN = 'Q5RVR'
const LONGEST_BYTES = 330

/** `zeptik bench packet-fuzz`: frames and KISS streams of any bytes, into what reads and keeps links. It ends at the first that throws. */
export function benchPacketFuzz({ seed, trials }: { seed: number; trials: number }): void {
  const random = createRandom(seed)
  const counted = { sent: 0, delivered: 0, lines: 0, bad: 0 }
  const text = new TextStream()
  const sessions = new LinkSessions({
    settings: usualLinkSettings,
    send: () => void counted.sent++,
    accepts: (own) => own === OWN,
    tell(_, action) {
      if (action.type === 'deliver') counted.delivered += text.push(action.bytes).length
    },
  })
  const decoder = new KissDecoder()
  const before = process.memoryUsage().heapUsed
  let mostSessions = 0
  for (let trial = 0; trial < trials; trial++) {
    const nowMs = trial * 200
    const bytes = drawBytes(random)
    for (const event of decoder.push(bytes)) {
      if (event.type === 'bad') counted.bad++
      if (event.type !== 'frame') continue
      const parsed = parseAx25(event.frame.data)
      if (parsed.ok && monitorLine(parsed.value).length > 0) counted.lines++
      sessions.heard(event.frame.data, nowMs)
    }
    sessions.tick(nowMs)
    mostSessions = Math.max(mostSessions, sessions.all.length)
    const peer = PEERS[Math.floor(PEERS.length * random())]!
    const chance = random()
    if (chance < 0.01) sessions.connect({ own: OWN, peer, via: [] }, nowMs)
    else if (chance < 0.05 && sessions.all.length > 0)
      sessions.do(sessions.all[0]!, { type: 'send', bytes: new Uint8Array(Math.floor(600 * random())) }, nowMs)
  }
  const grownMb = (process.memoryUsage().heapUsed - before) / 2 ** 20
  console.log(
    `${trials} pieces: ${counted.lines} frames read, ${counted.bad} bad, ${counted.sent} answered with a frame, ${counted.delivered} letters delivered; ` +
      `nothing threw. At most ${mostSessions} sessions; the heap is ${grownMb.toFixed(0)} MB larger.`,
  )
}

/** Bytes without sense, a frame of a link with sense in some of it, or a frame that was cut or bent on its way. */
function drawBytes(random: Random): Uint8Array {
  const chance = random()
  const noise = (length: number) => Uint8Array.from({ length: Math.floor(length * random()) }, () => Math.floor(256 * random()))
  if (chance < 0.3) return noise(LONGEST_BYTES)
  const source = PEERS[Math.floor(PEERS.length * random())]!
  if (chance < 0.4) return encodeKiss({ port: 0, command: 0, data: uiFrame(source, 'BEACON', [], 'x'.repeat(Math.floor(200 * random()))) })
  const frame: LinkFrame = {
    ...linkFrame({ kind: KINDS[Math.floor(KINDS.length * random())]!, role: random() < 0.5 ? 'command' : 'response', pf: random() < 0.5 }),
    ...{ ns: Math.floor(8 * random()), nr: Math.floor(8 * random()), info: noise(60) },
  }
  const data = encodeLinkFrame(frame, { destination: OWN, source, path: [], modulo: random() < 0.8 ? 8 : 128 })
  const kiss = encodeKiss({ port: 0, command: 0, data })
  if (chance < 0.9) return kiss
  kiss[Math.floor(kiss.length * random())] = Math.floor(256 * random())
  return kiss.subarray(0, 1 + Math.floor(kiss.length * random()))
}
