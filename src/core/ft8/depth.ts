/** How hard a slot is looked at: one pass, what is usual, or all that can be tried. */
export const DEPTHS = ['quick', 'usual', 'deep'] as const
export type Depth = (typeof DEPTHS)[number]
