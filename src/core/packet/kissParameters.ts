import { z } from 'zod'
import { encodeKiss, KISS_COMMANDS } from './kiss'

/** What a KISS TNC can be told; times in milliseconds, of which it knows tens. */
export const kissParametersSchema = z.object({
  txDelayMs: z.number('Key-up time is a number of milliseconds').min(0, 'Not below 0').max(2550, 'At most 2550 ms'),
  /** Share of free slots in which a waiting frame is sent, above 0 to 1. */
  persistence: z
    .number()
    .min(1 / 256, 'At least 1/256')
    .max(1, 'At most 1'),
  slotTimeMs: z.number().min(0, 'Not below 0').max(2550, 'At most 2550 ms'),
  txTailMs: z.number().min(0, 'Not below 0').max(2550, 'At most 2550 ms'),
  fullDuplex: z.boolean(),
})
export type KissParameters = z.infer<typeof kissParametersSchema>

/** Starting values: 300 ms suits most handhelds; a quarter and 100 ms are the protocol's own. */
export const usualKissParameters: KissParameters = { txDelayMs: 300, persistence: 0.25, slotTimeMs: 100, txTailMs: 20, fullDuplex: false }

/** The frames that tell a TNC its parameters. */
export function parameterFrames(p: KissParameters, port = 0): Uint8Array[] {
  const tens = (ms: number) => Math.min(255, Math.max(0, Math.round(ms / 10)))
  const frame = (command: number, value: number) => encodeKiss({ port, command, data: Uint8Array.of(value) })
  return [
    frame(KISS_COMMANDS.txDelay, tens(p.txDelayMs)),
    frame(KISS_COMMANDS.persistence, Math.min(255, Math.max(0, Math.round(p.persistence * 256) - 1))),
    frame(KISS_COMMANDS.slotTime, tens(p.slotTimeMs)),
    frame(KISS_COMMANDS.txTail, tens(p.txTailMs)),
    frame(KISS_COMMANDS.fullDuplex, p.fullDuplex ? 1 : 0),
  ]
}

export interface ParameterCost {
  /** Seconds on the air for one frame, key-up and tail included. */
  frameS: number
  /** Share of that which carries nothing. */
  overheadShare: number
  /** Mean wait on a free channel before the frame goes out. */
  meanWaitMs: number
  /** Chance that one of the others starts in the same slot, when each has a frame ready. */
  collisionChance: number
}

/** Flags, addresses, control, PID and check sequence of a frame through no digipeater, in bytes. */
const FRAME_BYTES = 2 + 14 + 2 + 2
/** A stuffed zero after five ones: one bit in 62 on average. */
const STUFFING = 1 + 1 / 62

/**
 * What the parameters cost.
 * @param airBaud on-air speed, such as 1200
 * @param infoBytes carried by the frame
 * @param others stations that wait for the same free channel
 */
export function costOfParameters(p: KissParameters, airBaud: number, { infoBytes = 128, others = 2 } = {}): ParameterCost {
  const dataS = ((infoBytes + FRAME_BYTES) * 8 * STUFFING) / airBaud
  const overheadS = (p.txDelayMs + p.txTailMs) / 1000
  return {
    frameS: dataS + overheadS,
    overheadShare: overheadS / (dataS + overheadS),
    // Each slot the frame is sent with the chance p: it waits (1 - p) / p slots on average.
    meanWaitMs: p.fullDuplex ? 0 : ((1 - p.persistence) / p.persistence) * p.slotTimeMs,
    collisionChance: p.fullDuplex ? 1 : 1 - (1 - p.persistence) ** others,
  }
}

/** A transmission of others lasts so long in the mean, and is noticed so long after its begin. */
const USUAL_BURST_S = 1
const NOTICED_S = 0.3
/** Nothing can be told of a channel that is hardly ever free. */
const MOST_BUSY = 0.95

export interface CostNow {
  /** From when a frame is given until it is out, in the mean. */
  outAfterS: number
  /** Chance that another one sends into it. */
  collisionChance: number
}

/**
 * What the parameters cost on a channel as it is used now: waits for its slot, and for others. Transmissions of others are taken to begin at
 * random.
 * @param othersShare of the time in which others send
 */
export function costNow(p: KissParameters, airBaud: number, othersShare: number, burstS = USUAL_BURST_S): CostNow {
  const { frameS, meanWaitMs } = costOfParameters(p, airBaud)
  const busy = Math.min(MOST_BUSY, Math.max(0, othersShare))
  if (p.fullDuplex) return { outAfterS: frameS, collisionChance: busy }
  const startsPerS = busy / burstS
  // Whoever waited for the same end of a transmission draws for the same slot.
  const chanceFree = Math.exp(-startsPerS * NOTICED_S - busy * p.persistence)
  return { outAfterS: frameS + (meanWaitMs / 1000 + busy * burstS) / (1 - busy), collisionChance: 1 - chanceFree }
}

/** What is unwise about parameters, in words; empty when nothing is. */
export function adviseParameters(p: KissParameters, airBaud: number): string[] {
  const cost = costOfParameters(p, airBaud)
  const advice: string[] = []
  const percent = (share: number) => `${Math.round(share * 100)} %`
  if (p.txDelayMs < 100)
    advice.push(`A key-up time of ${p.txDelayMs} ms is shorter than most radios need: the start of each frame is lost.`)
  else if (cost.overheadShare > 0.4)
    advice.push(
      `Key-up and tail take ${percent(cost.overheadShare)} of the air at ${airBaud} baud. Shorten them step by step while the other side still copies.`,
    )
  if (p.fullDuplex)
    advice.push('Full duplex does not listen before it sends. Leave it off unless receive and transmit are different channels.')
  else if (cost.collisionChance > 0.7)
    advice.push(
      `With persistence ${p.persistence} two other waiting stations collide with ${percent(cost.collisionChance)} of your frames. 0.25 is usual.`,
    )
  else if (cost.meanWaitMs > 3000)
    advice.push(`Each frame waits ${(cost.meanWaitMs / 1000).toFixed(1)} s on a free channel. Raise persistence, or shorten the slot time.`)
  if (p.txTailMs > 100) advice.push(`A tail of ${p.txTailMs} ms is from days of slow modems: 20 to 50 ms are enough.`)
  return advice
}
