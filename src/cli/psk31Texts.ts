/** Overs as people type them, in other words than those that the model of letters is learned from. */
export const OVERS = [
  'Q2LMN de Q5RVR good evening my friend and many thanks for your call. you are rst 579 579 here on the coast. op is rowan rowan and i live in eastbridge, loc jn97qk. the antenna is a delta loop. how do you copy? Q2LMN de Q5RVR kn',
  'q5rvr de q2lmn hello rowan, fb copy and tnx for the info. name is mira mira, qth kisvar kisvar. i run 10 watts into a magnetic loop on the balcony. wx here is foggy and 12 degrees. btu q5rvr de q2lmn k',
  'Q7TUV de Q3XYZ ok dear oskar, your signal came up nicely a minute ago, now 599. I use a kit from last winter, 20 watts, and a wire along the fence at 4 m. Sorry, must check the batteries soon. Back to you. Q7TUV de Q3XYZ pse kn',
] as const

/** Words of a text that hold a digit: calls, reports, locators, numbers. */
const numbersIn = (text: string): string[] => text.toUpperCase().match(/[A-Z0-9/]*\d[A-Z0-9/]*/g) ?? []

/** How many calls and numbers of a text were read right. */
export function numbersRight(text: string, read: string): { right: number; of: number } {
  const left = numbersIn(read)
  const wanted = numbersIn(text)
  const right = wanted.filter((word) => {
    const at = left.indexOf(word)
    if (at >= 0) left.splice(at, 1)
    return at >= 0
  }).length
  return { right, of: wanted.length }
}
