// What invented operators say, as people write it on the air.
import type { Psk31Operator } from './operators'

const reportFor = (of: Psk31Operator) => (of.snrDb > 4 ? '599' : of.snrDb > -4 ? '579' : '559')

export const callCq = (a: Psk31Operator) => `cq cq cq de ${a.call} ${a.call} ${a.call} pse k`

export const answerTo = (call: string, b: Psk31Operator) => `${call} de ${b.call} ${b.call} k`

/** The long over: report, name, place. @param other the one addressed, and how it is heard */
export function tellAll(me: Psk31Operator, other: { call: string; name?: string; report: string }): string {
  const { call, name, report } = other
  return `${call} de ${me.call} = ga${name ? ` ${name}` : ''} tnx fer call = ur rst ${report} ${report} = name ${me.name} ${me.name} = qth ${me.place} = loc ${me.locator} = hw? btu ${call} de ${me.call} kn`
}

export const sayGoodbye = (me: Psk31Operator, other: { call: string; name?: string }) =>
  `${other.call} de ${me.call} = r r fb${other.name ? ` ${other.name}` : ''} tnx fer qso 73 73 gl = ${other.call} de ${me.call} sk`

export const askAgain = (me: Psk31Operator, call: string) =>
  `${call} de ${me.call} = sri qsb pse agn ur rst es name? btu ${call} de ${me.call} kn`

/** A call that was not copied surely. */
export const askCall = (me: Psk31Operator, perhaps: string) => `${perhaps}? de ${me.call} = ur call agn agn pse? de ${me.call} k`

export const askWho = (me: Psk31Operator) => `qrz? qrz? de ${me.call} pse agn k`

/** A whole contact between two of them, over by over. */
export function wholeContact(a: Psk31Operator, b: Psk31Operator): { who: Psk31Operator; text: string }[] {
  return [
    { who: a, text: callCq(a) },
    { who: b, text: answerTo(a.call, b) },
    { who: a, text: tellAll(a, { call: b.call, report: reportFor(b) }) },
    { who: b, text: tellAll(b, { call: a.call, name: a.name, report: reportFor(a) }) },
    { who: a, text: sayGoodbye(a, b) },
    { who: b, text: `${a.call} de ${b.call} = 73 ${a.name} cuagn sk` },
  ]
}
