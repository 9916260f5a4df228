import { likeName, matchMembers, things, type MemberPick } from '@zesty-crow/core';
import type { Layer } from '../../picture/picture.ts';

/** What the frame says of a pick. */
export interface PickFacts {
  /** False until its layer is read: then nobody knows. */
  known: boolean;
  ids: number[];
  /** Share of the frame that its members cover. */
  share: number;
  /** Neither seen in this frame nor in the layer's list of names. */
  lost: boolean;
}

const NOT_KNOWN: PickFacts = { known: false, ids: [], share: 0, lost: false };

/** Whether its layer's list of names has it, although this frame does not show it. */
const isListed = ({ member }: MemberPick, layer: Layer | undefined): boolean =>
  matchMembers(
    member,
    (layer?.unseen ?? []).map((name) => ({ name, id: -1 })),
  ).length > 0;

export function factsOf(pick: MemberPick, cast: readonly Layer[], pixels: number): PickFacts {
  const layer = cast.find((l) => l.name === pick.layer);
  if (layer?.state === 'coming') return NOT_KNOWN;
  const found = layer ? matchMembers(pick.member, layer.members) : [];
  return {
    known: true,
    ids: found.map((m) => m.id),
    share: found.reduce((n, m) => n + m.coverage, 0) / Math.max(1, pixels),
    lost: found.length === 0 && !isListed(pick, layer),
  };
}

/** Less coverage than this, in pixels, is easily overlooked. */
const TINY = 6;

/** Something about a choice that is worth a look, and the picks that would mend it if there are such. */
export interface PickWarning {
  key: string;
  text: string;
  /** Members that it is about, to be shown. */
  layer: string;
  ids: number[];
  add?: MemberPick;
}

/** Members that are in and hardly seen; and those that are named like members that are in, but are not. */
export function pickWarnings(who: readonly MemberPick[], cast: readonly Layer[]): PickWarning[] {
  const warnings: PickWarning[] = [];
  for (const layer of cast) {
    const own = who.filter((p) => p.layer === layer.name);
    if (layer.state !== 'there' || !own.some((p) => p.mode === 'with')) continue;
    const members = things(layer.members);
    const inside = chosen(own, members);
    const tiny = [...inside].filter((m) => m.coverage < TINY);
    if (tiny.length > 0)
      warnings.push({
        key: `tiny ${layer.name}`,
        text:
          tiny.length === 1
            ? `${tiny[0]!.name} is tiny here: ${tiny[0]!.coverage.toFixed(1)} px.`
            : `${tiny.length} of them are tiny here, under ${TINY} px each.`,
        layer: layer.name,
        ids: tiny.map((m) => m.id),
      });
    const rules = own.filter((p) => p.mode === 'with' && p.rule);
    const hidden = rules.flatMap((p) =>
      matchMembers(
        p.member,
        layer.unseen.map((name, i) => ({ name, id: i + 1 })),
      ),
    );
    if (hidden.length > 0)
      warnings.push({
        key: `hidden ${layer.name}`,
        text: `${hidden.length === 1 ? `${hidden[0]!.name} is` : `${hidden.length} more are`} meant, but not seen in this frame.`,
        layer: layer.name,
        ids: [],
      });
    warnings.push(...alikes(own, layer.name, members, inside));
  }
  return warnings;
}

/** The members that picks of their layer put in. Every pick is looked up once, however many members there are. */
function chosen<M extends { name: string; id: number }>(
  own: readonly MemberPick[],
  members: readonly M[],
): Set<M> {
  const byName = new Map(members.map((m) => [m.name, m]));
  const meant = (p: MemberPick) => {
    const one = p.rule ? undefined : byName.get(p.member);
    return one ? [one] : matchMembers(p.member, members);
  };
  const inside = new Set(own.filter((p) => p.mode === 'with').flatMap(meant));
  for (const p of own) if (p.mode === 'without') for (const m of meant(p)) inside.delete(m);
  return inside;
}

/** More than so many are a choice of their own; so are more picks than this, of which the last are looked at. */
const MOST_PROPOSED = 3;
const MOST_LOOKED_AT = 12;

function alikes<M extends { name: string; id: number }>(
  own: readonly MemberPick[],
  layer: string,
  members: readonly M[],
  inside: ReadonlySet<M>,
): PickWarning[] {
  const names = members.map((m) => m.name);
  const rules = new Set<string>();
  const single = own.filter((p) => p.mode === 'with' && !p.rule).slice(-MOST_LOOKED_AT);
  for (const p of single) rules.add(likeName(p.member, names) ?? '');
  rules.delete('');
  // What was taken out on purpose is no oversight.
  const leftOut = new Set(own.filter((p) => p.mode === 'without').map((p) => p.member));
  return [...rules].slice(0, MOST_PROPOSED).flatMap((member): PickWarning[] => {
    const out = matchMembers(member, members).filter((m) => !inside.has(m) && !leftOut.has(m.name));
    if (out.length === 0) return [];
    return [
      {
        key: `alike ${layer} ${member}`,
        text: `${out.length} more like ${member}`,
        layer,
        ids: out.map((m) => m.id),
        add: { mode: 'with', layer, member, rule: true },
      },
    ];
  });
}
