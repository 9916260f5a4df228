import { matchMembers, type Named } from './patterns.ts';
import type { MemberPick } from './member-pick.ts';

/** How a member stands in a change's *who*. */
function standing(who: readonly MemberPick[], layer: string, member: Named) {
  const own = who.filter((p) => p.layer === layer);
  const named = (mode: MemberPick['mode']) =>
    own.some((p) => p.mode === mode && !p.rule && p.member === member.name);
  const ruled = (mode: MemberPick['mode']) =>
    own.some((p) => p.mode === mode && p.rule && matchMembers(p.member, [member]).length > 0);
  return { named, ruled };
}

/** True if the picks of a layer put this member in. */
export function isIn(who: readonly MemberPick[], layer: string, member: Named): boolean {
  const { named, ruled } = standing(who, layer, member);
  return (named('with') || ruled('with')) && !named('without') && !ruled('without');
}

/** The picks with a member put in: taken off the exceptions, and named unless a rule brings it already. */
export function putIn(who: readonly MemberPick[], layer: string, member: Named): MemberPick[] {
  if (isIn(who, layer, member)) return [...who];
  const without = who.filter(
    (p) => !(p.layer === layer && p.mode === 'without' && !p.rule && p.member === member.name),
  );
  return isIn(without, layer, member) ? without : [...without, { mode: 'with', layer, member: member.name }];
}

/** The picks with a member taken out: no longer named, and named as an exception where a rule brings it. */
export function putOut(who: readonly MemberPick[], layer: string, member: Named): MemberPick[] {
  if (!isIn(who, layer, member)) return [...who];
  const rest = who.filter(
    (p) => !(p.layer === layer && p.mode === 'with' && !p.rule && p.member === member.name),
  );
  return isIn(rest, layer, member) ? [...rest, { mode: 'without', layer, member: member.name }] : rest;
}
