import type { Change, Heading } from '../changes/change.ts';
import type { MemberPick } from '../picks/member-pick.ts';
import { matchMembers } from '../picks/patterns.ts';
import type { LayerFacts, MemberFacts } from './facts.ts';
import { likenessOf, type Likeness } from './likeness.ts';

/**
 * What became of a pick: it names something here; its layer is there but not what it names (`lost`, with what that may be
 * called now); or its layer is not there. What only this frame does not show is `unseen`, and not lost.
 */
export type PickFate = 'found' | 'unseen' | 'lost' | 'no-layer';

/** A member of the new version that a lost one may be. */
export interface Proposal {
  name: string;
  id: number;
  like: Likeness;
}

export interface PickReport {
  /** The change or heading that it belongs to, and its place there. */
  owner: string;
  at: number;
  pick: MemberPick;
  fate: PickFate;
  /** How many members it names, before and now; undefined before where nothing is known of that. */
  count: readonly [before: number | undefined, now: number];
  /** Of a lost one, the likeliest first. */
  proposals: Proposal[];
  /** The first proposal is likely enough, by itself and against the others, to be offered with one click for all. */
  likely: boolean;
}

export interface RelinkReport {
  picks: PickReport[];
  /** By layer, members that the version before had not; undefined where nothing is known of that. */
  fresh: { layer: string; names: string[] }[] | undefined;
}

/** Less alike than this nothing is proposed. */
const LEAST = 0.4;
const PROPOSALS = 4;
/** As alike as this, and by so much more than the next, a proposal is likely. */
const LIKELY = 0.6;
const APART = 0.06;

type Owner = Pick<Change | Heading, 'id' | 'who'>;

/**
 * How the picks of changes fare in another version. Nothing is changed by it.
 * @param before facts of the version that the picks were made in; without it likeness is by names alone
 */
export function relinkReport(
  owners: readonly Owner[],
  now: readonly LayerFacts[],
  before?: readonly LayerFacts[],
): RelinkReport {
  const picks = owners.flatMap(({ id, who }) =>
    who.map((pick, at): PickReport => {
      const layer = now.find((l) => l.layer === pick.layer);
      const old = before?.find((l) => l.layer === pick.layer);
      const hits = (facts: LayerFacts | undefined) =>
        facts ? matchMembers(pick.member, facts.members).length : 0;
      const count = [old && hits(old), hits(layer)] as const;
      const base = { owner: id, at, pick, count, proposals: [], likely: false };
      if (!layer) return { ...base, fate: 'no-layer' };
      if (count[1] > 0) return { ...base, fate: 'found' };
      const listed = layer.unseen.map((name) => ({ name, id: -1 }));
      if (matchMembers(pick.member, listed).length > 0) return { ...base, fate: 'unseen' };
      return { ...base, fate: 'lost', proposals: pick.rule ? [] : proposalsFor(pick.member, layer, old) };
    }),
  );
  markLikely(picks);
  return { picks, fresh: before && freshIn(now, before) };
}

/** What a member that is lost may be: of those that the version before had not, if that is known. */
function proposalsFor(name: string, now: LayerFacts, before: LayerFacts | undefined): Proposal[] {
  const known = new Set(before?.members.map((m) => m.name));
  const own = before?.members.find((m) => m.name === name);
  return now.members
    .filter((m) => !known.has(m.name))
    .map((m): Proposal => {
      // Of one that no frame has shown only its name is known.
      const like = likenessOf(own ?? { ...m, name, colour: undefined }, m);
      return { name: m.name, id: m.id, like: own ? like : { ...like, score: like.name ?? 0 } };
    })
    .filter((p) => p.like.score >= LEAST)
    .sort((a, b) => b.like.score - a.like.score)
    .slice(0, PROPOSALS);
}

/** No member is likely for two that are lost: the one that it is most like has it. */
function markLikely(picks: readonly PickReport[]): void {
  const best = new Map<string, { member: string; score: number }>();
  const keyOf = (p: PickReport) => `${p.pick.layer}\0${p.proposals[0]!.name}`;
  const lost = picks.filter((p) => p.proposals.length > 0);
  for (const p of lost) {
    const { score } = p.proposals[0]!.like;
    const held = best.get(keyOf(p));
    if (!held || score > held.score) best.set(keyOf(p), { member: p.pick.member, score });
  }
  for (const p of lost) {
    const [first, second] = p.proposals;
    const apart = first!.like.score - (second?.like.score ?? 0) >= APART;
    p.likely = first!.like.score >= LIKELY && apart && best.get(keyOf(p))!.member === p.pick.member;
  }
}

function freshIn(
  now: readonly LayerFacts[],
  before: readonly LayerFacts[],
): { layer: string; names: string[] }[] {
  return now.flatMap(({ layer, members }) => {
    const old = before.find((l) => l.layer === layer);
    const known = new Set([...(old?.members ?? []).map((m: MemberFacts) => m.name), ...(old?.unseen ?? [])]);
    const names = members.map((m) => m.name).filter((n) => !known.has(n));
    return names.length ? [{ layer, names }] : [];
  });
}
