const isCall = (part: string) => /\d/.test(part) && /[A-Z]/.test(part) && part.length >= 3

/**
 * The call itself in a call with additions: Q1ABC of Q1ABC/P, Q0/Q1ABC and Q0/Q1ABC/P.
 * Of several parts that could be one, the longest is.
 */
function baseCall(call: string): string {
  const parts = call.toUpperCase().split('/')
  const calls = parts.filter(isCall)
  return (calls.length > 0 ? calls : parts).reduce((longest, part) => (part.length > longest.length ? part : longest), '')
}

/** Whether two calls are the same station's, whatever was added to them. */
export function sameStation(a: string | undefined, b: string | undefined): boolean {
  return a !== undefined && b !== undefined && (a === b || baseCall(a) === baseCall(b))
}
