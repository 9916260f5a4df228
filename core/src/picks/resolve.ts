import type { MemberPick } from './member-pick.ts';
import { NOTHING, type CastLayer } from '../cast/cast.ts';
import { matchMembers } from './patterns.ts';

/** IDs that a change's picks mean, by layer and mode, and the picks whose layer or name this version has not. */
export interface ResolvedPicks {
  with: Map<string, Set<number>>;
  without: Map<string, Set<number>>;
  inside: Map<string, Set<number>>;
  missing: MemberPick[];
}

/** Looks the picks up in the cast. */
export function resolvePicks(picks: readonly MemberPick[], cast: readonly CastLayer[]): ResolvedPicks {
  const resolved: ResolvedPicks = { with: new Map(), without: new Map(), inside: new Map(), missing: [] };
  const byName = new Map<string, Map<string, number>>();
  for (const pick of picks) {
    const layer = cast.find((l) => l.name === pick.layer);
    let ids: number[] = [];
    if (layer && !pick.rule) {
      let names = byName.get(layer.name);
      if (!names) byName.set(layer.name, (names = new Map(layer.members.map((m) => [m.name, m.id]))));
      const id = names.get(pick.member);
      ids = id === undefined ? matchMembers(pick.member, layer.members).map((m) => m.id) : [id];
    } else if (layer) ids = matchMembers(pick.member, layer.members).map((m) => m.id);
    if (ids.length === 0) {
      // A name that this frame does not show is not missing: it may be in the next one.
      const known = layer ? [...layer.unseen, NOTHING].map((name) => ({ name, id: -1 })) : [];
      if (matchMembers(pick.member, known).length === 0) resolved.missing.push(pick);
      // An `inside` that names nothing still limits the mask: to nothing.
      if (pick.mode !== 'inside') continue;
    }
    const sets = resolved[pick.mode];
    const set = sets.get(pick.layer) ?? new Set<number>();
    sets.set(pick.layer, set);
    for (const id of ids) set.add(id);
  }
  return resolved;
}
