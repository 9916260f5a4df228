import type { IdIndex } from '../idindex/id-index.ts';

/**
 * Display colours for IDs, 8-bit sRGB. An ID has some candidates by its hash, so that it keeps its colour from frame to
 * frame where it can; of these it gets the one that is farthest from those of its neighbours in the picture.
 */

/** Hue by the hash, three steps of lightness; `turn` 0, 1, … gives other candidates. */
export function idColour(id: number, turn = 0): [number, number, number] {
  if (id === 0) return [40, 40, 40];
  const seed = (id + Math.imul(turn, 0x9e3779b9)) >>> 0;
  const mixed = (Math.imul(seed ^ (seed >>> 15), 0x2c1b3c6d) >>> 0) / 2 ** 32;
  const hue = 6 * mixed;
  const step = (seed >>> 7) % 3;
  const high = [235, 200, 165][step]!;
  const low = [120, 75, 45][step]!;
  const f = hue - Math.floor(hue);
  const up = low + (high - low) * f;
  const down = high - (high - low) * f;
  return (
    [
      [high, up, low],
      [down, high, low],
      [low, high, up],
      [low, down, high],
      [up, low, high],
      [high, low, down],
    ] as [number, number, number][]
  )[Math.floor(hue) % 6]!;
}

const CANDIDATES = 6;
/** Squared distance from which two colours are told apart at a glance. */
const FAR = 90 ** 2;
const distance = (a: readonly number[], b: readonly number[]) =>
  (a[0]! - b[0]!) ** 2 + (a[1]! - b[1]!) ** 2 + (a[2]! - b[2]!) ** 2;

/** Lines and columns that are looked at for neighbours: things are larger than that, or not seen anyway. */
const EVERY = 4;

/** Which members touch each other: pairs of slots of the IDs that cover most of two pixels, a few apart. */
function neighbours(index: IdIndex): Map<number, Set<number>> {
  const { width, height, rowStart, slot, pixel, length, coverage } = index;
  const found = new Map<number, Set<number>>();
  const meet = (a: number, b: number) => {
    if (a === b || a < 0 || b < 0) return;
    for (const [from, to] of [[a, b] as const, [b, a] as const]) {
      const set = found.get(from);
      if (set) set.add(to);
      else found.set(from, new Set([to]));
    }
  };
  const columns = Math.ceil(width / EVERY);
  let above = new Int32Array(columns).fill(-1);
  let own = new Int32Array(columns);
  for (let y = 0; y < height; y += EVERY) {
    own.fill(-1);
    for (let i = rowStart[y]!; i < rowStart[y + 1]!; i++) {
      if (coverage[i]! < 0.5) continue;
      const x = pixel[i]! - y * width;
      for (let k = Math.ceil(x / EVERY); k * EVERY < x + length[i]!; k++) own[k] = slot[i]!;
    }
    for (let k = 0; k < columns; k++) {
      meet(own[k]!, above[k]!);
      if (k > 0) meet(own[k]!, own[k - 1]!);
    }
    [above, own] = [own, above];
  }
  return found;
}

const known = new WeakMap<IdIndex, readonly (readonly [number, number, number])[]>();

/** The colour of every slot of an index. */
export function idColours(index: IdIndex): readonly (readonly [number, number, number])[] {
  const there = known.get(index);
  if (there) return there;
  const touching = neighbours(index);
  const colours: [number, number, number][] = [];
  // Slots come in the order of the picture, so that half of the neighbours have theirs.
  index.ids.forEach((id, s) => {
    const around = [...(touching.get(s) ?? [])].flatMap((n) => (n < s ? [colours[n]!] : []));
    let best = idColour(id);
    let far = Math.min(FAR, ...around.map((c) => distance(c, best)));
    for (let turn = 1; far < FAR && turn < CANDIDATES && id !== 0; turn++) {
      const other = idColour(id, turn);
      const nearest = Math.min(FAR, ...around.map((c) => distance(c, other)));
      if (nearest > far) [best, far] = [other, nearest];
    }
    colours.push(best);
  });
  known.set(index, colours);
  return colours;
}
