import type { MemberPick } from './member-pick.ts';
import { NOTHING, type CastLayer } from '../cast/cast.ts';
import { matchMembers } from './patterns.ts';

/** IDs of one layer that picks mean, each with how much of it counts. */
export interface LayerPicks {
  with: Map<number, number>;
  without: Map<number, number>;
  /** Undefined where the layer limits nothing. */
  inside: Map<number, number> | undefined;
}

const noPicks = (): LayerPicks => ({ with: new Map(), without: new Map(), inside: undefined });

/** What a change's picks mean in a version. */
export interface ResolvedPicks {
  layers: Map<string, LayerPicks>;
  /** The picks whose layer or name this version has not. */
  missing: MemberPick[];
}

/** Looks the picks up in the cast. Where several picks of one kind mean the same ID, the largest amount counts. */
export function resolvePicks(picks: readonly MemberPick[], cast: readonly CastLayer[]): ResolvedPicks {
  const resolved: ResolvedPicks = { layers: new Map(), missing: [] };
  const byName = new Map<string, Map<string, number>>();
  const idsOf = (pick: MemberPick, layer: CastLayer): number[] => {
    if (pick.rule) return matchMembers(pick.member, layer.members).map((m) => m.id);
    let names = byName.get(layer.name);
    if (!names) byName.set(layer.name, (names = new Map(layer.members.map((m) => [m.name, m.id]))));
    const id = names.get(pick.member);
    return id === undefined ? matchMembers(pick.member, layer.members).map((m) => m.id) : [id];
  };
  const put = (name: string, mode: MemberPick['mode'], ids: readonly number[], amount: number) => {
    const layer = resolved.layers.get(name) ?? noPicks();
    resolved.layers.set(name, layer);
    if (mode === 'inside') layer.inside ??= new Map<number, number>();
    const amounts = layer[mode]!;
    for (const id of ids) amounts.set(id, Math.max(amount, amounts.get(id) ?? 0));
  };
  for (const pick of picks) {
    const layer = cast.find((l) => l.name === pick.layer);
    const ids = layer ? idsOf(pick, layer) : [];
    if (ids.length === 0) {
      // A name that this frame does not show is not missing: it may be in the next one.
      const known = layer ? [...layer.unseen, NOTHING].map((name) => ({ name, id: -1 })) : [];
      if (matchMembers(pick.member, known).length === 0) resolved.missing.push(pick);
    }
    // An `inside` that names nothing still limits the mask: to nothing.
    if (ids.length > 0 || pick.mode === 'inside') put(pick.layer, pick.mode, ids, pick.amount ?? 1);
    if (pick.mode === 'inside') continue;
    for (const { layer: name, amount } of pick.also ?? []) {
      const other = cast.find((l) => l.name === name);
      const seen = other ? idsOf(pick, other) : [];
      if (seen.length > 0) put(name, pick.mode, seen, amount);
    }
  }
  return resolved;
}
