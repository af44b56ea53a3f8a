import type { HeardStation } from './contracts'

/** Paths that are tried one after the other at most. */
const MOST_PATHS = 6

/**
 * Ways to a station, the likeliest first: as it was heard, then directly, then by each digipeater that was heard to repeat, the last one
 * heard first.
 */
export function pathsTo(peer: string, heard: readonly HeardStation[]): string[][] {
  const last = [...heard].sort((a, b) => b.lastUtcMs - a.lastUtcMs)
  const known = last.find(({ call }) => call === peer)
  const digipeaters = [...new Set(last.flatMap(({ by }) => (by === null || by === peer ? [] : [by])))]
  const asHeard = known ? [known.by === null ? [] : [known.by]] : []
  const all = [...asHeard, [], ...digipeaters.map((one) => [one])]
  return all.filter((path, k) => all.findIndex((other) => other.join() === path.join()) === k).slice(0, MOST_PATHS)
}
