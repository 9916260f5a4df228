import type { MemberPick } from './member-pick.ts';
import type { Named } from './patterns.ts';
import { isIn } from './put.ts';

/** A rule for everything of a layer. */
const everything = (layer: string): MemberPick => ({ mode: 'with', layer, member: '*', rule: true });
const isEverything = (p: MemberPick) => p.mode === 'with' && p.rule === true && p.member === '*';

/**
 * The choice turned round: in every layer that something was put in from, everything else. Limits stay. Turned round
 * twice it takes what it took. Rules stay rules, unless something was taken out of them: then what is left of them is
 * named one by one.
 */
export function turnRound(
  who: readonly MemberPick[],
  membersOf: (layer: string) => readonly Named[],
): MemberPick[] {
  const layers = [...new Set(who.filter((p) => p.mode === 'with').map((p) => p.layer))];
  const turned = layers.flatMap((layer): MemberPick[] => {
    const own = who.filter((p) => p.layer === layer);
    const [plus, minus] = [own.filter((p) => p.mode === 'with'), own.filter((p) => p.mode === 'without')];
    if (plus.every(isEverything)) return minus.map((p) => ({ ...p, mode: 'with' }));
    if (minus.length === 0)
      return [everything(layer), ...plus.map((p) => ({ ...p, mode: 'without' as const }))];
    const left = membersOf(layer).filter((m) => isIn(own, layer, m));
    return [everything(layer), ...left.map((m) => ({ mode: 'without' as const, layer, member: m.name }))];
  });
  return [...turned, ...who.filter((p) => p.mode === 'inside' || !layers.includes(p.layer))];
}

/** A pick that means another member, while how it counts stays as it is. */
export function swapped(pick: MemberPick, layer: string, member: string, rule = false): MemberPick {
  const { rule: _, ...rest } = pick;
  return { ...rest, layer, member, ...(rule ? { rule } : {}) };
}

/** The same pick in two lists. */
export const samePick = (a: MemberPick, b: MemberPick): boolean =>
  a.mode === b.mode && a.layer === b.layer && a.member === b.member;

/** All picks of two choices, each once. */
export const united = (a: readonly MemberPick[], b: readonly MemberPick[]): MemberPick[] => [
  ...a,
  ...b.filter((p) => !a.some((q) => samePick(p, q))),
];

/** A choice for every pick that puts something in, each with all that takes out and limits; none if there is only one. */
export function apart(who: readonly MemberPick[]): MemberPick[][] {
  const plus = who.filter((p) => p.mode === 'with');
  if (plus.length < 2) return [];
  const rest = who.filter((p) => p.mode !== 'with');
  return plus.map((p) => [p, ...rest]);
}
