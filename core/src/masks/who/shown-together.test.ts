import fc from 'fast-check';
import { renderedPair } from '../../../test/fixtures/pairs.ts';
import { worst } from '../../../test/fixtures/samples.ts';
import { runs } from '../../../test/runs.ts';
import { castOf } from '../../cast/cast.ts';
import { buildIdIndex } from '../../idindex/id-index.ts';
import type { RankPlanes } from '../../idlayers/rank-planes.ts';
import type { MemberPick } from '../../picks/member-pick.ts';
import { maskOf } from '../pipeline.ts';

const pick = (
  mode: MemberPick['mode'],
  layer: string,
  member: string,
  more: Partial<MemberPick> = {},
): MemberPick => ({ mode, layer, member, ...(/[*?]/.test(member) ? { rule: true } : {}), ...more });

/** Coverage of picks, and the truth: the sum of all that is of an object and a material at once, where both do. */
function compared(
  name: string,
  who: MemberPick[],
  counts: (object: string, material: string) => boolean,
): { worst: number; mean: number } {
  const { cast } = renderedPair(name);
  const both = cast.find((l) => l.name === 'Both')!;
  const open = { ...both.index, cast };
  const seen = maskOf(open, { who }).flat();
  const true_ = new Float32Array(seen.length);
  const { slot, pixel, length, coverage, ids } = both.index;
  const nameOf = new Map(both.members.map((m) => [m.id, m.name]));
  slot.forEach((s, i) => {
    const [object, material] = nameOf.get(ids[s]!)!.split(' ');
    if (!counts(object!, material!)) return;
    for (let p = pixel[i]!; p < pixel[i]! + length[i]!; p++) true_[p]! += coverage[i]!;
  });
  let [sum, count] = [0, 0];
  for (let p = 0; p < seen.length; p++)
    if (true_[p]! > 0 && true_[p]! < 0.999) {
      sum += Math.abs(seen[p]! - true_[p]!);
      count++;
    }
  return { worst: worst(seen, true_), mean: sum / count };
}

describe('objects and materials together, against what was rendered', () => {
  const sprig = (o: string) => o.startsWith('lavender/sprig');
  test.each([
    [
      'the lid of one jar alone',
      'lids',
      [pick('with', 'Materials', 'lid_enamel'), pick('inside', 'Objects', 'jars/jar_2/*')],
      (o: string, m: string) => m === 'lid_enamel' && o.startsWith('jars/jar_2'),
      0.001,
    ],
    [
      'jars without their glass',
      'label',
      [pick('with', 'Objects', 'jars/*'), pick('without', 'Materials', 'glass')],
      (o: string, m: string) => o.startsWith('jars/') && m !== 'glass',
      0.005,
    ],
    [
      'a smoker and all brass',
      'brass',
      [pick('with', 'Objects', 'smoker/bellows'), pick('with', 'Materials', 'brass')],
      (o: string, m: string) => o === 'smoker/bellows' || m === 'brass',
      0.001,
    ],
    [
      'lavender without its stems',
      'cloth',
      [pick('with', 'Objects', 'lavender/*'), pick('without', 'Materials', 'stem')],
      (o: string, m: string) => o.startsWith('lavender/') && m !== 'stem',
      0.02,
    ],
    [
      'the fur of a bee in flight',
      'bee',
      [pick('with', 'Objects', 'bees/*'), pick('inside', 'Materials', 'bee_fur')],
      (o: string, m: string) => o.startsWith('bees/') && m === 'bee_fur',
      0.01,
    ],
    [
      'blossoms of sprigs no pixel of which is pure',
      'lavender',
      [pick('with', 'Objects', 'lavender/sprig_*'), pick('inside', 'Materials', 'lavender')],
      (o: string, m: string) => sprig(o) && m === 'lavender',
      0.02,
    ],
    [
      'one sprig without its stem, its blossoms mixed with those of others',
      'lavender',
      [pick('with', 'Objects', 'lavender/sprig_0*'), pick('without', 'Materials', 'stem')],
      (o: string, m: string) => o.startsWith('lavender/sprig_0') && m !== 'stem',
      0.5,
    ],
  ] as const)('%s', (_, name, who, counts, most) => {
    const off = compared(name, [...who], counts);
    expect(off.worst).toBeLessThan(most);
    expect(off.mean).toBeLessThan(0.04);
  });
});

/**
 * What pixels of three things show, sharp or soft; each layer gives the things IDs of its own. Each thing is somewhere
 * seen alone: from such pixels it is known what goes together.
 */
const scene = fc
  .record({ seed: fc.nat(), width: fc.integer({ min: 4, max: 90 }), height: fc.integer({ min: 4, max: 70 }) })
  .map(({ seed, width, height }) => {
    let state = seed + 1;
    const next = () => (state = (Math.imul(state, 1103515245) + 12345) >>> 0) / 2 ** 32;
    const shares = Array.from({ length: width * height }, (_, p) => {
      const pure = next() < 0.5 || p < 3;
      const parts = [next(), next(), next()].map((v, _, all) => v / (all[0]! + all[1]! + all[2]!));
      const only = p < 3 ? p : Math.floor(next() * 3);
      return pure ? [0, 1, 2].map((k) => (k === only ? 1 : 0)) : parts;
    });
    return { width, height, shares };
  });

/** An ID layer in which each of the things has an ID. */
function layerOf(
  name: string,
  { width, height, shares }: { width: number; height: number; shares: number[][] },
  ids: readonly number[],
) {
  const planes: RankPlanes = {
    width,
    height,
    ids: ids.map(() => new Uint32Array(width * height)),
    coverage: ids.map(() => new Float32Array(width * height)),
  };
  shares.forEach((own, p) => {
    const byId = new Map<number, number>();
    own.forEach((c, k) => c > 0 && byId.set(ids[k]!, (byId.get(ids[k]!) ?? 0) + c));
    [...byId]
      .sort((a, b) => b[1] - a[1])
      .forEach(([id, c], r) => {
        planes.ids[r]![p] = id;
        planes.coverage[r]![p] = c;
      });
  });
  const named = new Map([...new Set(ids)].map((id) => [id, `${name}${id}`]));
  const manifest = { nameOf: named, clashes: [], repaired: 0 };
  return castOf({ name, manifest }, buildIdIndex(planes));
}

describe('layers of any picture', () => {
  test('things that are what they are made of are told apart at every pixel', () => {
    fc.assert(
      fc.property(
        scene,
        fc.constantFrom<MemberPick['mode']>('with', 'without', 'inside'),
        (picture, mode) => {
          // Two of the three things are of one material.
          const cast = [layerOf('object', picture, [1, 2, 3]), layerOf('material', picture, [7, 7, 9])];
          const open = { ...picture, cast };
          const who = [pick('with', 'object', 'object1'), pick(mode, 'material', 'material9')];
          if (mode === 'inside') who[1] = pick(mode, 'material', 'material7');
          const seen = maskOf(open, { who }).flat();
          const wanted = picture.shares.map(([a, , c]) => a! + (mode === 'with' ? c! : 0));
          expect(worst(seen, wanted)).toBeLessThan(2e-3);
        },
      ),
      { numRuns: runs(60) },
    );
  });

  test('what is seen through glass is added to what is seen of it directly, by its own amount', () => {
    fc.assert(
      fc.property(scene, fc.double({ min: 0, max: 1, noNaN: true }), (picture, amount) => {
        // Through the glass (2) the lid (1) is seen, which is also there by itself; beside it is the wall (3).
        const cast = [
          layerOf('direct', picture, [1, 2, 3]),
          layerOf('through', { ...picture, shares: picture.shares.map(([, g]) => [g!, 0, 0]) }, [1, 2, 3]),
        ];
        cast[1]!.members.forEach((m) => (m.name = m.name.replace('through', 'direct')));
        const who = [pick('with', 'direct', 'direct1', { also: [{ layer: 'through', amount }] })];
        const seen = maskOf({ ...picture, cast }, { who }).flat();
        const wanted = picture.shares.map(([lid, glass]) => lid! + amount * glass!);
        expect(worst(seen, wanted)).toBeLessThan(2e-3);
      }),
      { numRuns: runs(60) },
    );
  });

  test('no more than either lets through, and no less than both must share', () => {
    fc.assert(
      fc.property(scene, scene, (one, two) => {
        const [width, height] = [Math.min(one.width, two.width), Math.min(one.height, two.height)];
        const cut = (s: typeof one) => ({
          width,
          height,
          shares: Array.from(
            { length: width * height },
            (_, p) => s.shares[Math.floor(p / width) * s.width + (p % width)]!,
          ),
        });
        const [a, b] = [cut(one), cut(two)];
        const cast = [layerOf('a', a, [1, 2, 3]), layerOf('b', b, [4, 5, 6])];
        const who = [pick('with', 'a', 'a1'), pick('inside', 'b', 'b4')];
        const seen = maskOf({ width, height, cast }, { who }).flat();
        const wrong = seen.filter((c, p) => {
          const [x, y] = [a.shares[p]![0]!, b.shares[p]![0]!];
          return !(c < Math.min(x, y) + 2e-3 && c > Math.max(0, x + y - 1) - 2e-3);
        });
        expect([...wrong]).toEqual([]);
      }),
      { numRuns: runs(30) },
    );
  });
});
