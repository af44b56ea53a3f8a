/** What a browser lends: ports that it holds, and the modem that hears and makes frames of packet by its sound device. */
export const RELAYED = ['serial', 'bluetooth', 'modem'] as const
export type Relayed = (typeof RELAYED)[number]

/** Those that an operator picks. */
export type Picked = Exclude<Relayed, 'modem'>
