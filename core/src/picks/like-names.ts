import { compileGlob } from './glob.ts';

/** A name as a pattern that means itself. */
const literal = (text: string): string => text.replace(/[*?[]/g, (sign) => `[${sign}]`);

/**
 * A rule for all that are named like a thing, or nothing where no other is. Numbers in a name count things of one kind,
 * so `lavender/sprig_24` proposes `lavender/sprig_*` and `jars/jar_1/lid` proposes one for the lids of all jars: of the rules with
 * one or all of its numbers left open, the narrowest that takes any other name, the last number first.
 */
export function likeName(name: string, names: readonly string[]): string | undefined {
  // Pieces without and with digits in turn.
  const pieces = name.split(/(\d+)/);
  const numbered = pieces.flatMap((_, i) => (i % 2 ? [i] : [])).reverse();
  const open = [...numbered.map((i) => [i]), numbered].filter((set) => set.length > 0);
  for (const set of open) {
    const pattern = pieces.map((p, i) => (set.includes(i) ? '*' : literal(p))).join('');
    const takes = compileGlob(pattern);
    if (names.some((n) => n !== name && takes(n))) return pattern;
  }
  return undefined;
}

/** A rule for all that stand with a thing in its group, as paths tell it: `jars/jar_1/*`; nothing without a path. */
export function groupRule(name: string): string | undefined {
  const slash = name.lastIndexOf('/');
  return slash > 0 ? `${literal(name.slice(0, slash))}/*` : undefined;
}
