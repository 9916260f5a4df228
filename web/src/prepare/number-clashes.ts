import type { RosterEntry } from '@zesty-crow/core/roster';

/** Sources of entries that share a number although they were numbered apart. */
export function clashing(entries: readonly RosterEntry[]): Set<string> {
  const byNumber = new Map<number, RosterEntry[]>();
  for (const e of entries) if (e.number > 0) byNumber.set(e.number, [...(byNumber.get(e.number) ?? []), e]);
  return new Set(
    [...byNumber.values()]
      .filter((list) => list.length > 1 && list.some((e) => e.numberFrom === 'own'))
      .flatMap((list) => list.map((e) => e.source)),
  );
}
