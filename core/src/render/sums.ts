import type { Sightings } from './coverage.ts';
import { LIGHT_PARTS, SURFACE, type Gather } from './gather.ts';
import type { TileSums } from './tile-sums.ts';

/** What sums belong to: they can only be gone on with for the very same frame. */
export interface SumsKey {
  width: number;
  height: number;
  /** A text that is another one whenever the same samples would come out otherwise. */
  key: string;
}

/** These sums are none, or are of something else. */
export class SumsError extends Error {
  override name = 'SumsError';
}

const NUMBERS = ['light', 'lamps', 'half', 'noise', 'surface', 'shadow', 'occlusion', 'catcher'] as const;
const COUNTS = ['samples', 'seen'] as const;
type Numbers = Float64Array<ArrayBuffer>;

/** The parts of a rectangle that are not arrays. */
type Rest = Pick<TileSums, 'area' | 'halfAt' | 'rays' | 'spent' | 'spentOcclusion'>;
interface Head extends SumsKey {
  format: 'zesty-crow/sums';
  version: 1;
  /** Lengths of the arrays of numbers; for each list of sightings how many pixels and entries it has. */
  tiles: (Rest & { lengths: number[]; sightings: [pixels: number, entries: number][] })[];
}

const used = (s: Sightings) => [
  s.head,
  s.thing.subarray(0, s.used),
  s.next.subarray(0, s.used),
  s.weight.subarray(0, s.used),
];
const arraysOf = (t: TileSums): ArrayBufferView[] => [
  ...NUMBERS.map((name) => t[name]),
  ...COUNTS.map((name) => t[name]),
  t.finished,
  ...[t.ids, ...t.through].flatMap(used),
];
const bytesOf = (a: ArrayBufferView) => new Uint8Array(a.buffer, a.byteOffset, a.byteLength);

/** Bytes that the sums of a frame take, before it is rendered; `sources` as in `sourcesOf`. */
export function sumsBytes(pixels: number, gather: Gather, light: boolean, sources: number): number {
  const numbers =
    (light ? (gather.lightParts ? 3 * LIGHT_PARTS.length : 3) + (gather.lamps ? 3 * sources : 0) : 0) +
    1 +
    (gather.surface ? SURFACE.count : 0) +
    (gather.shadow ? 2 : 0) +
    (gather.occlusion > 0 ? 1 : 0);
  // Of most pixels one thing is known, of those at edges two or three.
  const sightings = (1 + gather.through.length) * (4 + 1.2 * 16);
  return pixels * (8 * numbers + 9 + sightings);
}

/**
 * The sums of a whole frame as bytes, in pieces: a line of JSON, which says what there is, then the arrays one after the
 * other, little-endian. They hold every bit, so that samples added later give what they would have given at once.
 */
export function* packSums(tiles: readonly TileSums[], key: SumsKey): Generator<Uint8Array> {
  const head: Head = {
    format: 'zesty-crow/sums',
    version: 1,
    ...key,
    tiles: tiles.map((t) => ({
      area: t.area,
      halfAt: t.halfAt,
      rays: t.rays,
      spent: t.spent,
      spentOcclusion: t.spentOcclusion,
      lengths: NUMBERS.map((name) => t[name].length),
      sightings: [t.ids, ...t.through].map((s) => [s.head.length, s.used]),
    })),
  };
  yield new TextEncoder().encode(`${JSON.stringify(head)}\n`);
  for (const tile of tiles) for (const array of arraysOf(tile)) if (array.byteLength) yield bytesOf(array);
}

/** The sums of a frame from their bytes. Throws a {@link SumsError} for those of another frame, or none at all. */
export function unpackSums(bytes: Uint8Array, key: SumsKey): TileSums[] {
  const end = bytes.indexOf(10);
  let head: Head | undefined;
  try {
    head = JSON.parse(new TextDecoder().decode(bytes.subarray(0, end))) as Head;
  } catch {
    head = undefined;
  }
  if (end < 0 || head?.format !== 'zesty-crow/sums') throw new SumsError('These are no sums of a render.');
  if (head.version !== 1 || head.key !== key.key || head.width !== key.width || head.height !== key.height)
    throw new SumsError('Its sums are of another scene, or of another version of Zesty Crow.');
  let at = end + 1;
  // Copies, since the arrays need places that their elements divide.
  const take = (length: number) => {
    if (at + length > bytes.length) throw new SumsError('Its sums are not whole.');
    return bytes.slice(at, (at += length)).buffer;
  };
  return head.tiles.map(({ lengths, sightings, ...rest }): TileSums => {
    const pixels = (rest.area.x1 - rest.area.x0) * (rest.area.y1 - rest.area.y0);
    const numbers = Object.fromEntries(
      NUMBERS.map((name, i) => [name, new Float64Array(take(8 * lengths[i]!))]),
    ) as Record<(typeof NUMBERS)[number], Numbers>;
    const [samples, seen] = COUNTS.map(() => new Uint32Array(take(4 * pixels)));
    const finished = new Uint8Array(take(pixels));
    const [ids, ...through] = sightings.map(([own, n]): Sightings => ({
      head: new Int32Array(take(4 * own)),
      thing: new Int32Array(take(4 * n)),
      next: new Int32Array(take(4 * n)),
      weight: new Float64Array(take(8 * n)),
      used: n,
    }));
    return { ...rest, ...numbers, samples: samples!, seen: seen!, finished, ids: ids!, through };
  });
}

/** Sums of which every pixel that was sampled may get more samples. */
export function reopened(tiles: readonly TileSums[]): TileSums[] {
  for (const t of tiles) t.samples.forEach((n, p) => (t.finished[p] = n > 0 ? 0 : 1));
  return [...tiles];
}
