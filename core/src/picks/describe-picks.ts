import type { MemberPick } from './member-pick.ts';

/** Picks in a few words: rules as they are, members by the last part of their names. */
export function describePicks(who: readonly MemberPick[]): string {
  const short = (p: MemberPick) => (p.rule ? p.member : p.member.slice(p.member.lastIndexOf('/') + 1));
  const of = (mode: MemberPick['mode']) => who.filter((p) => p.mode === mode).map(short);
  const without = of('without');
  const inside = of('inside');
  return [
    of('with').join(', '),
    without.length ? `without ${without.join(', ')}` : '',
    inside.length ? `only inside ${inside.join(', ')}` : '',
  ]
    .filter(Boolean)
    .join('; ');
}
