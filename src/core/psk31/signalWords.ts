import type { Fading } from './signalHistory'
import { CLEAN_DB, isOverdriven, type Linearity } from './linearity'

/** One thing that is told of a signal. */
export interface SignalWord {
  words: string
  /** Worth telling the other one, or doing something about. */
  bad: boolean
}

/** Slower drift is nothing to speak of. */
const DRIFTS_HZ_S = 0.05
/** Fading from this on is deep. */
export const DEEP_DB = 8
const FADES_DB = 5
/** Strong ones whose phase does not hold have come by an unsteady path. */
const STRONG_DB = 3
const FLUTTERS = 0.55

const below = (db: number) => `${Math.round(-db)} dB below`

function linearityWords(linearity: Linearity): SignalWord {
  const { productsDb, atMost, withinDb } = linearity
  const bad = isOverdriven(linearity)
  const sure = withinDb >= 1.5 ? `, give or take ${Math.round(withinDb)} dB` : ''
  if (atMost)
    return {
      words:
        productsDb <= CLEAN_DB
          ? `clean: products more than ${below(productsDb)}`
          : `clean as far as it can be heard, to ${below(productsDb)}`,
      bad: false,
    }
  const words = bad ? 'overdriven' : productsDb > CLEAN_DB ? 'driven a little hard' : 'clean'
  return { words: `${words}: products ${below(productsDb)}${sure}`, bad }
}

function fadingWords({ depthDb, periodS }: Fading): SignalWord | undefined {
  if (depthDb < FADES_DB) return undefined
  const every = periodS === undefined ? '' : ` every ${Math.max(1, Math.round(periodS))} s`
  const advice = periodS !== undefined && periodS >= 4 ? `: keep overs under ${overWithin(periodS)} s` : ''
  return { words: `comes and goes by ${Math.round(depthDb)} dB${every}${advice}`, bad: depthDb >= DEEP_DB }
}

/** An over that fits between two weak times. */
const overWithin = (periodS: number) => Math.max(4, Math.round(periodS / 2))

/** All that is told of a signal, worst first. */
export function signalWords(signal: {
  snrDb: number
  driftHzS?: number | undefined
  fading?: Fading | undefined
  steadiness: number
  linearity?: Linearity | undefined
}): SignalWord[] {
  const { snrDb, driftHzS, fading, steadiness, linearity } = signal
  const out: SignalWord[] = []
  if (linearity) out.push(linearityWords(linearity))
  if (linearity?.hum) out.push({ words: `hum: lines ${linearity.hum.hz} Hz to the side, ${below(linearity.hum.db)}`, bad: true })
  const fades = fading && fadingWords(fading)
  if (fades) out.push(fades)
  if (driftHzS !== undefined && Math.abs(driftHzS) >= DRIFTS_HZ_S)
    out.push({
      words: `drifts ${driftHzS > 0 ? 'up' : 'down'} ${Math.abs(60 * driftHzS).toFixed(0)} Hz a minute`,
      bad: Math.abs(driftHzS) > 0.3,
    })
  if (snrDb > STRONG_DB && steadiness > 0 && steadiness < FLUTTERS) out.push({ words: 'its phase flutters', bad: false })
  return out.sort((a, b) => Number(b.bad) - Number(a.bad))
}

/** Politely, to be sent to who can do something about it. */
export function faultPhrase(linearity: Linearity | undefined): string | undefined {
  if (!linearity) return undefined
  if (linearity.hum) return `= pse chk ur sig om, i see hum ${Math.round(-linearity.hum.db)} db down ${linearity.hum.hz} hz beside it =`
  if (!isOverdriven(linearity)) return undefined
  return `= ur imd abt minus ${Math.round(-linearity.productsDb)} db om, pse try a little less audio drive =`
}
