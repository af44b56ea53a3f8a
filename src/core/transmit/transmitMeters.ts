/** What a radio's own meters say while it transmits; a control link fills in what it can read. */
export interface TransmitMeters {
  powerW?: number
  /** Deflection of the level-control meter, share of its scale. */
  levelControl?: number
  swr?: number
}

/** Just moving: below this the level control does not act. */
const LEVEL_CONTROL_ACTS = 0.05
const LEVEL_CONTROL_TOO_MUCH = 0.3

/** What the meters mean for the level of transmitted audio; undefined when they say nothing of it. */
export function judgeMeters(m: TransmitMeters): { state: 'low' | 'good' | 'over'; words: string } | undefined {
  if (m.levelControl === undefined) return undefined
  const power = m.powerW === undefined ? '' : `${m.powerW.toFixed(1)} W, `
  if (m.levelControl > LEVEL_CONTROL_TOO_MUCH)
    return { state: 'over', words: `${power}level control at ${Math.round(100 * m.levelControl)} %: turn the audio down` }
  if (m.levelControl > LEVEL_CONTROL_ACTS)
    return { state: 'good', words: `${power}level control just moves: leave it there, or a touch lower` }
  return { state: 'low', words: `${power}level control does not move: clean, with power to spare` }
}
