/** What is known when a phrase is filled in. */
export interface Known {
  me: string
  them: string
  myName: string
  theirName: string
  myLocator: string
  myPlace: string
  /** What we give them, and what they gave us. */
  report: string
  theirReport: string
  /** Radio, power and antenna. */
  gear: string
  /** Hours and minutes, UTC. */
  time: string
}

/** What may stand in braces, in words for the screen. */
export const PHRASE_WORDS: Readonly<Record<keyof Known, string>> = {
  me: 'own call',
  them: 'their call',
  myName: 'own name',
  theirName: 'their name',
  myLocator: 'own locator',
  myPlace: 'own place',
  report: 'report for them',
  theirReport: 'their report for us',
  gear: 'own gear',
  time: 'time, UTC',
}

/**
 * Fills a phrase in from what is known.
 * @returns the text, and what it wants and nobody knows, in words
 */
export function fillPhrase(phrase: string, known: Known): { text: string; missing: string[] } {
  const missing: string[] = []
  // What stands between bars is left out as a whole when something in it is not known.
  const whole = phrase.replace(/\[([^\]]*)\]/g, (_, part: string) => (wanted(part).every((word) => known[word]) ? part : ''))
  const text = whole.replace(/\{(\w+)\}/g, (braces, word: string) => {
    const value = word in known ? known[word as keyof Known] : undefined
    if (!value) missing.push(word in PHRASE_WORDS ? PHRASE_WORDS[word as keyof Known] : braces)
    return value ?? ''
  })
  return { text: text.replace(/ {2,}/g, ' ').trim(), missing: [...new Set(missing)] }
}

const wanted = (part: string): (keyof Known)[] =>
  [...part.matchAll(/\{(\w+)\}/g)].flatMap(([, word]) => (word && word in PHRASE_WORDS ? [word as keyof Known] : []))

/** Phrases that are always at hand. `ends` hands the turn over. */
export const USUAL_PHRASES: readonly { label: string; text: string; ends: boolean }[] = [
  { label: 'CQ', text: 'cq cq cq de {me} {me} {me} pse k', ends: true },
  { label: 'Answer', text: '{them} {them} de {me} {me} k', ends: true },
  {
    label: 'Report',
    text: '{them} de {me} = ga[ {theirName}] tnx fer call = ur rst {report} {report}[ = name {myName} {myName}][ = qth {myPlace}][ = loc {myLocator}] = hw? btu {them} de {me} kn',
    ends: true,
  },
  { label: 'Gear', text: '{them} de {me} = rig hr {gear} = hw? btu {them} de {me} kn', ends: true },
  { label: 'Again?', text: '{them} de {me} = sri pse agn ur rst name qth? btu {them} de {me} kn', ends: true },
  { label: 'Who calls?', text: 'qrz? qrz? de {me} pse k', ends: true },
  { label: '73', text: '{them} de {me} = r r tnx fer fb qso[ {theirName}] 73 73 = {them} de {me} sk', ends: true },
]
