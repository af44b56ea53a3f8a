/** Overs as people type them, written after the text that the model of letters is learned from and in other words. */
export const OVERS = [
  'Q2LMN de Q5RVR fine signal this time, mira. report for you 569 569, operator is rowan rowan. staying at a cabin above eastbridge, square jn97qk, with a wire slung between two pines and 15 watts from the car. hope you got that? Q2LMN de Q5RVR kn',
  'q5rvr de q2lmn r r rowan, glad to meet again. you drop into the hiss at times but most came through. mira here, town is kisvar kisvar. using 10 watts and a short mast on the roof. raining since noon, 12 c. over q5rvr de q2lmn k',
  'Q7TUV de Q3XYZ OK Oskar, got everything except your town, would you send that once more? This side a second hand rig, 20 watts, and the aerial is bent round the chimney at 4 m. Must leave in 5 minutes, bus to catch. Q7TUV de Q3XYZ pse kn',
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
