import { isStandardCall } from './callField'
import { formatReport } from './infoField'

/** What can be said next in an exchange. */
export type Step = 'cq' | 'locator' | 'report' | 'rogerReport' | 'roger' | 'seventyThree'

export interface Saying {
  step: Step
  ownCall: string
  /** Four or more characters; only four are sent. */
  ownLocator: string
  otherCall?: string
  reportDb?: number
  finish: 'RR73' | 'RRR'
  /** Up to four letters or three digits after CQ. */
  cqWord?: string
}

const isSendable = (call: string) => isStandardCall(call.replace(/\/[RP]$/, ''))

/** Whether two stations can send each other reports: beside one, only one of the two calls may be a hash. */
export function canExchangeReports(ownCall: string, otherCall: string): boolean {
  return isSendable(ownCall) || isSendable(otherCall)
}

/**
 * Words a step as it is sent. A compound call does not fit beside a report: it goes as a hash once it has been said in full,
 * and endings give it in full with the other call hashed (payload types 1, 2 and 4).
 */
export function wordStep({ step, ownCall, ownLocator, otherCall, reportDb, finish, cqWord }: Saying): string {
  const ownFits = isSendable(ownCall)
  if (step === 'cq') {
    if (!ownFits) return `CQ ${ownCall}`
    return ['CQ', cqWord, ownCall, ownLocator.slice(0, 4).toUpperCase()].filter(Boolean).join(' ')
  }
  if (!otherCall) throw new RangeError(`step "${step}" needs the other station's call`)
  const otherFits = isSendable(otherCall)
  const to = otherFits ? otherCall : `<${otherCall}>`
  switch (step) {
    case 'locator':
      return ownFits ? `${to} ${ownCall} ${ownLocator.slice(0, 4).toUpperCase()}` : `<${otherCall}> ${ownCall}`
    case 'report':
      return `${to} ${ownFits ? ownCall : `<${ownCall}>`} ${formatReport(reportDb ?? 0)}`
    case 'rogerReport':
      return `${to} ${ownFits ? ownCall : `<${ownCall}>`} R${formatReport(reportDb ?? 0)}`
    case 'roger':
      return ending(otherCall, ownCall, ownFits, to, finish)
    case 'seventyThree':
      return ending(otherCall, ownCall, ownFits, to, '73')
  }
}

function ending(otherCall: string, ownCall: string, ownFits: boolean, to: string, word: string): string {
  return ownFits ? `${to} ${ownCall} ${word}` : `<${otherCall}> ${ownCall} ${word}`
}
