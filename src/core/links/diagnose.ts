import type { PortChoice } from './portChoice'

/** The rungs, in the order in which experienced people climb them. */
export const RUNGS = ['power', 'port', 'pairing', 'rightPort', 'speed', 'mode', 'answers', 'hears', 'keys'] as const
export type Rung = (typeof RUNGS)[number]

export const RUNG_NAMES: Record<Rung, string> = {
  power: 'Powered',
  port: 'Port is there',
  pairing: 'Paired',
  rightPort: 'Right port',
  speed: 'Serial speed',
  mode: 'Mode',
  answers: 'Answers',
  hears: 'Hears',
  keys: 'Keys',
}

/** What can be wrong with a link. */
export const LINK_FAULTS = [
  'no-power',
  'port-missing',
  'port-busy',
  'no-permission',
  'cannot-open',
  'unsupported',
  'unknown-host',
  'unreachable',
  'refused-connection',
  'login-refused',
  'stale-pairing',
  'wrong-port',
  'wrong-service',
  'wrong-speed',
  'wrong-dialect',
  'wrong-mode',
  'refused',
  'slow',
  'no-answer',
  'lost-settings',
  'deaf',
  'not-keying',
  'stays-keyed',
] as const
export type LinkFault = (typeof LINK_FAULTS)[number]

/** What the test of a rung found. */
export interface Finding {
  outcome: 'good' | 'bad' | 'unsure' | 'notNeeded'
  code?: LinkFault
  evidence: string
  advice?: string
  /** What only the operator can see; asked when the application cannot be sure. */
  question?: string
  /** A setting that would put it right. */
  fix?: { port?: PortChoice; serialBaud?: number }
}

export type Answer = 'yes' | 'no' | 'unknown'

export interface RungState extends Omit<Finding, 'outcome'> {
  rung: Rung
  status: 'waiting' | 'testing' | 'asking' | Finding['outcome']
  tries: number
}

/** One climb. */
export interface Diagnosis {
  rungs: readonly RungState[]
  /** The rung that is tried now; null before the start and after the end. */
  at: Rung | null
  verdict: Verdict | null
}

export type Verdict =
  | { ok: true; words: string; unsure: readonly Rung[] }
  | { ok: false; rung: Rung; code: LinkFault; evidence: string; advice: string; fix?: Finding['fix'] }

export type DiagnosisEvent =
  { type: 'start' } | { type: 'found'; rung: Rung; finding: Finding } | { type: 'answered'; rung: Rung; answer: Answer } | { type: 'stop' }

export type DiagnosisAction = { type: 'probe'; rung: Rung; again: boolean } | { type: 'ask'; rung: Rung; question: string }

/** How often a rung is tried before it counts as bad: radio links fail by chance. */
export const TRIES = 3

const waiting = (rung: Rung): RungState => ({ rung, status: 'waiting', tries: 0, evidence: '' })
export const idleDiagnosis: Diagnosis = { rungs: RUNGS.map(waiting), at: null, verdict: null }

/** The ladder as a pure machine: it asks for one test after the other, and stops at the first rung that does not hold. */
export function reduceDiagnosis(state: Diagnosis, event: DiagnosisEvent): [Diagnosis, DiagnosisAction[]] {
  switch (event.type) {
    case 'start':
      return probe({ ...idleDiagnosis }, RUNGS[0], false)
    case 'stop':
      return [
        { ...state, at: null, rungs: state.rungs.map((r) => (r.status === 'testing' || r.status === 'asking' ? waiting(r.rung) : r)) },
        [],
      ]
    case 'found':
      return event.rung === state.at && current(state).status === 'testing' ? found(state, event.finding) : [state, []]
    case 'answered':
      return event.rung === state.at && current(state).status === 'asking' ? answered(state, event.answer) : [state, []]
  }
}

const current = (state: Diagnosis): RungState => state.rungs.find((r) => r.rung === state.at)!

function update(state: Diagnosis, change: Partial<RungState>): Diagnosis {
  return { ...state, rungs: state.rungs.map((r) => (r.rung === state.at ? { ...r, ...change } : r)) }
}

function probe(state: Diagnosis, rung: Rung, again: boolean): [Diagnosis, DiagnosisAction[]] {
  const at = { ...state, at: rung }
  return [update(at, { status: 'testing', tries: current(at).tries + 1 }), [{ type: 'probe', rung, again }]]
}

function found(state: Diagnosis, finding: Finding): [Diagnosis, DiagnosisAction[]] {
  const { rung, tries } = current(state)
  const { outcome, ...rest } = finding
  const told = update(state, { code: undefined, advice: undefined, question: undefined, fix: undefined, ...rest })
  // A fault that comes with a setting that cures it was seen, not guessed: trying again would find it again.
  if (outcome === 'bad' && !finding.fix && tries < TRIES) return probe(told, rung, true)
  if (finding.question && (outcome === 'unsure' || outcome === 'bad'))
    return [update(told, { status: 'asking' }), [{ type: 'ask', rung, question: finding.question }]]
  if (outcome === 'bad') return fail(told)
  return climb(update(told, { status: outcome }))
}

function answered(state: Diagnosis, answer: Answer): [Diagnosis, DiagnosisAction[]] {
  const { rung } = current(state)
  // Of the ear the question is whether there is traffic at all: without, silence shows nothing.
  if (rung === 'hears')
    return answer === 'yes' ? fail(state) : climb(update(state, { status: 'unsure', code: undefined, advice: undefined }))
  if (answer === 'yes') return climb(update(state, { status: 'good', evidence: 'The operator says so.' }))
  if (answer === 'unknown') return climb(update(state, { status: 'unsure' }))
  return fail(
    update(
      state,
      rung === 'power'
        ? {
            code: 'no-power',
            evidence: 'The operator sees no sign of power.',
            advice: 'Switch it on; check its supply, fuse and leads. Then try again.',
          }
        : {
            code: 'not-keying',
            evidence: 'The operator saw no transmit lamp.',
            advice: 'Check the keying line and its polarity, and that the radio’s menu lets this connector key it.',
          },
    ),
  )
}

function climb(state: Diagnosis): [Diagnosis, DiagnosisAction[]] {
  const next = RUNGS[RUNGS.indexOf(state.at!) + 1]
  if (next) return probe(state, next, false)
  const unsure = state.rungs.filter((r) => r.status === 'unsure').map((r) => r.rung)
  const answers = state.rungs.find((r) => r.rung === 'answers')!
  const words = answers.status === 'good' || unsure.length === 0 ? 'The link works.' : 'Nothing is wrong that could be seen.'
  return [{ ...state, at: null, verdict: { ok: true, words, unsure } }, []]
}

function fail(state: Diagnosis): [Diagnosis, DiagnosisAction[]] {
  const { rung, code, evidence, advice, fix } = current(state)
  const verdict: Verdict = { ok: false, rung, code: code ?? 'no-answer', evidence, advice: advice ?? '', ...(fix && { fix }) }
  return [{ ...update(state, { status: 'bad' }), at: null, verdict }, []]
}
