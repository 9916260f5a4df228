import type { MemberPick } from '../picks/member-pick.ts';
import { passKind } from '../passes/registry.ts';
import type { PassUse, Plan, Wish } from './plan.ts';
import { partsOfPicks, type Roster } from '../roster/roster.ts';

/** How well a pass serves a wish. */
export interface Service {
  use: PassUse;
  /** Picks of the pass's layer that mean exactly what the wish means. */
  picks: MemberPick[];
  /** Edges are hard, because the pass holds one value a pixel. */
  hard: boolean;
  /** It tells apart the very kind of thing that the wish names, so that a rule stays a rule. */
  sameKind: boolean;
}

/** The members of a pass whose parts together are exactly the wanted ones; undefined if they cannot be told apart. */
export function membersFor(use: PassUse, roster: Roster, wanted: readonly number[]): string[] | undefined {
  const kind = passKind(use.kind);
  if (!kind?.isolates || wanted.length === 0) return undefined;
  const left = new Set(wanted);
  const all = new Set(wanted);
  const members: string[] = [];
  for (const { member, parts } of kind.isolates(use.values, roster)) {
    if (parts.length === 0 || !parts.every((p) => all.has(p))) continue;
    members.push(member);
    for (const p of parts) left.delete(p);
  }
  return left.size === 0 ? members : undefined;
}

const isThrough = (use: PassUse) => use.kind === 'through-glass';
const HARD = new Set(['number-pass', 'flat-colour']);

/** A pass of the plan as an answer to a wish, or undefined. */
export function serves(
  use: PassUse,
  roster: Roster,
  wanted: readonly number[],
  wish?: Wish,
): Service | undefined {
  const kind = passKind(use.kind);
  const members = membersFor(use, roster, wanted);
  if (!kind?.layer || !members) return undefined;
  const layer = kind.layer(use.values);
  // A rule stays a rule where the layer tells the same kind of thing apart: it then holds for later versions, too.
  const by = use.kind === 'cryptomatte' ? (use.values['by'] ?? 'object') : undefined;
  const sameKind = by === 'object' ? 'objects' : by === 'material' ? 'materials' : undefined;
  const same = wish !== undefined && sameKind !== undefined && wish.who.every((p) => p.layer === sameKind);
  const picks: MemberPick[] = same
    ? wish.who.map((p) => ({ ...p, layer }))
    : members.map((member) => ({ mode: 'with', layer, member }));
  return { use, picks, hard: HARD.has(use.kind), sameKind: same };
}

/** What the plan has for a wish, best first: soft edges before hard ones, then the kind that the wish names. */
export interface WishJudgement {
  wish: Wish;
  parts: number[];
  /** Passes that isolate it in the direct view. */
  direct: Service[];
  /** Passes that isolate it through glass or in mirrors. */
  through: Service[];
  served: boolean;
  /** In words: what serves it, or what is missing. */
  verdict: string;
}

/** Judges the plan against one wish. */
export function judgeWish(wish: Wish, plan: Plan, roster: Roster): WishJudgement {
  const parts = partsOfPicks(wish.who, roster);
  const services = plan.passes.filter((p) => p.on).flatMap((use) => serves(use, roster, parts, wish) ?? []);
  // Flat colours are told apart by eye or by another program, not by picking here.
  const usable = services.filter((s) => s.use.kind !== 'flat-colour');
  const direct = usable
    .filter((s) => !isThrough(s.use))
    .sort((a, b) => Number(a.hard) - Number(b.hard) || Number(b.sameKind) - Number(a.sameKind));
  const through = usable.filter((s) => isThrough(s.use));
  const flat = services.find((s) => s.use.kind === 'flat-colour');
  const title = (s: Service) => passKind(s.use.kind)!.title(s.use.values);
  let verdict: string;
  if (wish.who.length === 0) verdict = 'Say whom it concerns.';
  else if (parts.length === 0) verdict = 'Nothing in the scene is meant by it.';
  else if (direct.length === 0)
    verdict = flat
      ? `Only ${title(flat)} shows it, to be picked by colour elsewhere.`
      : 'No pass isolates it.';
  else if (wish.throughGlass && through.length === 0)
    verdict = `${title(direct[0]!)}, but not in mirrors or through glass.`;
  else
    verdict = `${title(direct[0]!)}${direct[0]!.hard ? ', with hard edges' : ''}${wish.throughGlass ? '; also through glass' : ''}.`;
  return {
    wish,
    parts,
    direct,
    through,
    served: direct.length > 0 && (!wish.throughGlass || through.length > 0),
    verdict,
  };
}

/** The picks with which a wish becomes a change once the plan is rendered. */
export function picksOfWish(wish: Wish, plan: Plan, roster: Roster): MemberPick[] {
  const { direct, through } = judgeWish(wish, plan, roster);
  return [...(direct[0]?.picks ?? []), ...(wish.throughGlass ? through.flatMap((s) => s.picks) : [])];
}
