import type { MemberFacts } from './facts.ts';

/** How alike two members are, each part and all of it 0 to 1; a part of which nothing is known is undefined. */
export interface Likeness {
  score: number;
  name: number | undefined;
  place: number;
  colour: number | undefined;
}

/** How much each part counts; what is not known is left out. */
const WEIGHTS = { name: 0.45, place: 0.35, colour: 0.2 };
/** So far apart, in heights of the frame, places are alike by 1/e. */
const NEAR = 0.15;
/** So far apart in Oklab colours are alike by 1/e. */
const SAME = 0.12;

/** A name without what programs put before and behind it: words in small letters, as they are written anywhere. */
const words = (name: string): string =>
  name
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();
/** The last part of a path, and what stands behind the last colon. */
const leafOf = (name: string): string => name.split(/[/|:]/).at(-1)!;
const isNamed = (name: string): boolean => !/^id:[0-9a-f]{8}$/.test(name);

/** Share of letter pairs that two texts have in common (Dice 1945). */
function pairsInCommon(a: string, b: string): number {
  if (a === b) return 1;
  const pairs = (text: string) =>
    Array.from({ length: Math.max(0, text.length - 1) }, (_, i) => text.slice(i, i + 2));
  const [own, other] = [pairs(a), pairs(b)];
  if (own.length + other.length === 0) return 0;
  const left = new Map<string, number>();
  for (const p of own) left.set(p, (left.get(p) ?? 0) + 1);
  let common = 0;
  for (const p of other) {
    const n = left.get(p) ?? 0;
    if (n === 0) continue;
    left.set(p, n - 1);
    common++;
  }
  return (2 * common) / (own.length + other.length);
}

const numbersOf = (text: string): string => (text.match(/\d+/g) ?? []).map(Number).join();

/** How alike two names are; undefined if one of them is none. The last part of a path says most. */
export function nameLikeness(a: string, b: string): number | undefined {
  if (!isNamed(a) || !isNamed(b)) return undefined;
  const [leafA, leafB] = [words(leafOf(a)), words(leafOf(b))];
  const alike = 0.7 * pairsInCommon(leafA, leafB) + 0.3 * pairsInCommon(words(a), words(b));
  // Jar 1 is not jar 2, however alike their names are.
  return numbersOf(leafA) === numbersOf(leafB) ? alike : 0.6 * alike;
}

function placeLikeness(a: MemberFacts, b: MemberFacts): number {
  const size = Math.min(a.share, b.share) / Math.max(a.share, b.share, 1e-12);
  return 0.7 * Math.exp(-Math.hypot(a.x - b.x, a.y - b.y) / NEAR) + 0.3 * size;
}

function colourLikeness(a: MemberFacts, b: MemberFacts): number | undefined {
  if (!a.colour || !b.colour) return undefined;
  return Math.exp(-Math.hypot(...a.colour.map((v, k) => v - b.colour![k]!)) / SAME);
}

/** How likely two members of two versions are the same thing, by name, place and colour. */
export function likenessOf(a: MemberFacts, b: MemberFacts): Likeness {
  const parts = {
    name: nameLikeness(a.name, b.name),
    place: placeLikeness(a, b),
    colour: colourLikeness(a, b),
  };
  let [sum, weight] = [0, 0];
  for (const key of ['name', 'place', 'colour'] as const) {
    const part = parts[key];
    if (part === undefined) continue;
    sum += WEIGHTS[key] * part;
    weight += WEIGHTS[key];
  }
  return { ...parts, score: sum / weight };
}
