import { frequencyWords } from '../text/frequency'
import type { LinkState } from './linkContracts'

/** State of a strand, in the words of readiness. */
export type StrandState = 'ready' | 'attention' | 'missing' | 'unknown'

/** One connection between station and radio. */
export interface Strand {
  id: 'audioIn' | 'audioOut' | 'keying' | 'control' | 'tnc'
  name: string
  /** Which of our machines holds its near end. */
  from: 'device' | 'computer'
  direction: 'toRadio' | 'fromRadio' | 'both'
  state: StrandState
  words: string
}

export interface StrandEvidence {
  source: 'none' | 'microphone' | 'recording' | 'practice'
  /** Name of the worst thing that is wrong with received audio. */
  worstFinding?: { name: string; fault: boolean }
  outputProblem?: string
  links?: Pick<LinkState, 'control' | 'keying' | 'tnc'>
}

/** What the state of a line is in those words. */
export const LINE_STATES: Record<LinkState['control']['state'], StrandState> = {
  off: 'unknown',
  opening: 'attention',
  open: 'attention',
  talking: 'ready',
  silent: 'missing',
  problem: 'missing',
}
const KEYED_BY = { none: 'by hand', vox: 'by VOX, with the audio', cat: 'over CAT control', rts: 'by RTS', dtr: 'by DTR' } as const

/** The strands that join this station to its radio, each with its state. Those that are not set up are left out. */
export function strandsOf({ source, worstFinding, outputProblem, links }: StrandEvidence): Strand[] {
  const live = source === 'microphone'
  const audioIn: Strand = {
    id: 'audioIn',
    name: 'Audio from the radio',
    from: 'device',
    direction: 'fromRadio',
    ...(source === 'practice' || source === 'recording'
      ? { state: 'unknown' as const, words: source === 'practice' ? 'practice band instead' : 'a recording instead' }
      : !live
        ? { state: 'missing' as const, words: 'nothing is listened to' }
        : worstFinding
          ? { state: worstFinding.fault ? ('missing' as const) : ('attention' as const), words: worstFinding.name.toLowerCase() }
          : { state: 'ready' as const, words: 'arrives' }),
  }
  const audioOut: Strand = {
    id: 'audioOut',
    name: 'Audio to the radio',
    from: 'device',
    direction: 'toRadio',
    ...(outputProblem !== undefined
      ? { state: 'missing' as const, words: outputProblem }
      : live
        ? { state: 'ready' as const, words: 'ready' }
        : { state: 'unknown' as const, words: 'opened with the input' }),
  }
  const by = links?.keying.by ?? 'vox'
  const overLink = by === 'cat' || by === 'rts' || by === 'dtr'
  const keying: Strand = {
    id: 'keying',
    name: 'Keying',
    from: overLink ? 'computer' : 'device',
    direction: 'toRadio',
    state: !overLink ? (by === 'vox' && live ? 'ready' : 'unknown') : links!.keying.state === 'problem' ? 'missing' : 'ready',
    words: `${KEYED_BY[by]}${links?.keying.state === 'keyed' ? ', keyed now' : ''}`,
  }
  const strands = [audioIn, audioOut, keying]
  const { control, tnc } = links ?? {}
  if (control && control.state !== 'off')
    strands.push({
      id: 'control',
      name: 'Control',
      from: 'computer',
      direction: 'both',
      state: LINE_STATES[control.state],
      words:
        control.state === 'talking' && control.frequencyHz !== null
          ? frequencyWords(control.frequencyHz)
          : control.state === 'silent'
            ? 'does not answer'
            : control.detail,
    })
  if (tnc && tnc.state !== 'off')
    strands.push({
      id: 'tnc',
      name: 'TNC',
      from: 'computer',
      direction: 'both',
      state: LINE_STATES[tnc.state],
      words:
        tnc.state === 'talking'
          ? `${tnc.frames.length} ${tnc.frames.length === 1 ? 'frame' : 'frames'} heard`
          : tnc.state === 'open'
            ? 'nothing heard yet'
            : tnc.detail,
    })
  return strands
}
