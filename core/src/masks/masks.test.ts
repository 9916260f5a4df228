import fc from 'fast-check';
import { sample, truth, worst } from '../../test/fixtures/samples.ts';
import { castOf, NOTHING } from '../cast/cast.ts';
import { buildIdIndex } from '../idindex/id-index.ts';
import { tilesAcross, TILE, tileBounds } from '../planes/tiles.ts';
import { idFromHex } from '../idlayers/ids.ts';
import { loadIdLayers } from '../idlayers/load.ts';
import type { RankPlanes } from '../idlayers/rank-planes.ts';
import { contourSegments, maskContour } from './contour.ts';
import { TileMask } from './tile-mask.ts';
import { compileGlob } from '../picks/glob.ts';
import { matchMembers } from '../picks/patterns.ts';
import { MaskPipeline } from './pipeline.ts';
import { MemberMask } from './who/member-mask.ts';
import type { MemberPick } from '../picks/member-pick.ts';
import { runs } from '../../test/runs.ts';

const layersOf = (name: string) => loadIdLayers(sample(name)).layers;
const exact = {
  objects: sample('truth_object_masks.exr'),
  materials: sample('truth_material_masks.exr'),
};
const exactPlane = (kind: 'objects' | 'materials', member: string) => {
  const { channel } = truth[kind][member]!;
  return exact[kind].channels.find((c) => c.name === channel)!.data as Float32Array;
};

const memberMask = (index: ReturnType<typeof buildIdIndex>) => {
  const part = new MemberMask(index);
  return { mask: part.mask, set: (...ids: number[]) => part.setMembers(new Set(ids)) };
};

describe('masks of the samples', () => {
  test.each([
    ['all.exr', 0, 'objects'],
    ['all.exr', 1, 'materials'],
    ['material_piz.exr', 0, 'materials'],
    ['object_rle.exr', 0, 'objects'],
    ['object_only_zips.exr', 0, 'objects'],
    ['object_no_manifest.exr', 0, 'objects'],
    ['object_overscan.exr', 0, 'objects'],
  ] as const)('%s layer %i: every member equals the truth to 1e-6', (file, at, kind) => {
    const planes = layersOf(file)[at]!.planes!;
    const index = buildIdIndex(planes);
    for (const [name, { id }] of Object.entries(truth[kind])) {
      const { mask, ...part } = memberMask(index);
      part.set(idFromHex(id)!);
      expect(worst(mask.flat(), exactPlane(kind, name))).toBeLessThan(1e-6);
    }
  });

  test('areas and pixel counts are the true ones', () => {
    const layer = layersOf('all.exr')[0]!;
    const { members } = castOf(layer, buildIdIndex(layer.planes!));
    const things = members.filter((m) => m.name !== NOTHING);
    expect(things).toHaveLength(Object.keys(truth.objects).length);
    for (const m of things) {
      expect(m.pixels).toBe(truth.objects[m.name]!.pixels);
      expect(m.coverage).toBeCloseTo(truth.objects[m.name]!.area, 2);
    }
  });
});

/** Small random rank planes, sorted as the format wants them. */
const randomPlanes = fc
  .record({
    width: fc.integer({ min: 1, max: 150 }),
    height: fc.integer({ min: 1, max: 90 }),
    seed: fc.nat(),
    ids: fc.integer({ min: 1, max: 12 }),
  })
  .map(({ width, height, seed, ids }): RankPlanes => {
    let state = seed + 1;
    const next = () => (state = (Math.imul(state, 1103515245) + 12345) >>> 0) / 2 ** 32;
    const planes: RankPlanes = {
      width,
      height,
      ids: [0, 1, 2].map(() => new Uint32Array(width * height)),
      coverage: [0, 1, 2].map(() => new Float32Array(width * height)),
    };
    for (let p = 0; p < width * height; p++) {
      let left = 1;
      for (let r = 0; r < 3 && next() < 0.6; r++) {
        const c = left * next();
        planes.ids[r]![p] = 1 + Math.floor(next() * ids);
        planes.coverage[r]![p] = c;
        left -= c;
      }
    }
    return planes;
  });

/** The definition of a mask, pixel by pixel. */
function byDefinition(planes: RankPlanes, ids: ReadonlySet<number>): Float32Array {
  return Float32Array.from({ length: planes.width * planes.height }, (_, p) => {
    let sum = 0;
    planes.ids.forEach((plane, r) => {
      if (ids.has(plane[p]!)) sum += planes.coverage[r]![p]!;
    });
    return sum;
  });
}

describe('masks of any picture', () => {
  test('follow the definition while members come and go, and are exactly 0 elsewhere', () => {
    fc.assert(
      fc.property(
        randomPlanes,
        fc.array(fc.tuple(fc.boolean(), fc.integer({ min: 1, max: 12 })), { maxLength: 25 }),
        (planes, steps) => {
          const index = buildIdIndex(planes);
          const part = memberMask(index);
          const set = new Set<number>();
          let last: Float32Array = new Float32Array(planes.width * planes.height);
          for (const [put, id] of steps) {
            if (put) set.add(id);
            else set.delete(id);
            const tiles = part.set(...set);
            const now = part.mask.flat();
            // What is told not to have changed has not.
            const across = tilesAcross(planes.width);
            const missed = now.findIndex((c, p) => {
              const x = p % planes.width;
              const y = (p - x) / planes.width;
              return c !== last[p] && !tiles[Math.floor(y / TILE) * across + Math.floor(x / TILE)];
            });
            expect(missed).toBe(-1);
            last = now;
          }
          const expected = byDefinition(planes, set);
          expect(worst(last, expected)).toBeLessThan(1e-6);
          expect(expected.every((c, p) => c !== 0 || last[p] === 0)).toBe(true);
          // Bit for bit, in whatever order they came.
          const fresh = memberMask(index);
          fresh.set(...[...set].reverse());
          expect(worst(fresh.mask.flat(), last)).toBe(0);
          // Only tiles with anything in them are kept.
          for (let t = 0; t < part.mask.tileCount; t++)
            expect(part.mask.tile(t)?.some((c) => c > 0)).not.toBe(false);
        },
      ),
      { numRuns: runs(40) },
    );
  });

  test('tiles cover every pixel once', () => {
    const [w, h] = [150, 70];
    const seen = new Uint8Array(w * h);
    for (let t = 0; t < tilesAcross(w) * tilesAcross(h); t++) {
      const b = tileBounds(t, tilesAcross(w), w, h);
      for (let y = b.y0; y < b.y1; y++) for (let x = b.x0; x < b.x1; x++) seen[y * w + x]!++;
    }
    expect(seen.every((n) => n === 1)).toBe(true);
  });
});

describe('the mask of a change', () => {
  const cast = layersOf('all.exr').map((l) => castOf(l, buildIdIndex(l.planes!)));
  const recipe = (who: MemberPick[]) => ({ who, edge: [], fence: [] });
  const maskOf = (who: MemberPick[]) => {
    const pipeline = new MaskPipeline(cast, { width: 640, height: 360 });
    pipeline.update(recipe(who));
    return {
      pipeline,
      get coverage() {
        return pipeline.mask.flat();
      },
      get missing() {
        return pipeline.missing;
      },
    };
  };
  const pick = (member: string, mode: MemberPick['mode'] = 'with', layer = 'CryptoObject'): MemberPick => ({
    mode,
    layer,
    member,
  });

  test('a rule takes all it names; an exception leaves', () => {
    const mask = maskOf([{ ...pick('bees/*'), rule: true }, pick('bees/bee_002', 'without')]);
    const one = exactPlane('objects', 'bees/bee_001');
    const three = exactPlane('objects', 'bees/bee_003');
    expect(
      worst(
        mask.coverage,
        one.map((c, i) => c + three[i]!),
      ),
    ).toBeLessThan(1e-6);
  });

  test('a thing and its own material together are no wider than the material', () => {
    const both = maskOf([pick('table/smoker'), pick('brass', 'with', 'CryptoMaterial')]);
    expect(worst(both.coverage, exactPlane('materials', 'brass'))).toBeLessThan(1e-6);
  });

  test('only inside: the lids of one jar', () => {
    const mask = maskOf([pick('lid_enamel', 'with', 'CryptoMaterial'), pick('table/jar_01/lid', 'inside')]);
    expect(worst(mask.coverage, exactPlane('objects', 'table/jar_01/lid'))).toBeLessThan(1e-6);
  });

  test('without a thing of another layer', () => {
    const mask = maskOf([pick('lid_enamel', 'with', 'CryptoMaterial'), pick('table/jar_01/lid', 'without')]);
    expect(worst(mask.coverage, exactPlane('objects', 'table/jar_02/lid'))).toBeLessThan(1e-6);
  });

  test('what is not there is reported; only inside nothing is nothing', () => {
    const mask = maskOf([pick('table/smoker'), pick('table/teapot'), pick('table/kettle', 'inside')]);
    expect(mask.missing.map((p) => p.member)).toEqual(['table/teapot', 'table/kettle']);
    expect(mask.coverage.every((c) => c === 0)).toBe(true);
  });

  test('updating gives what starting over gives', () => {
    const all = { ...pick('*'), rule: true };
    const linen = pick('linen', 'with', 'CryptoMaterial');
    const ways: MemberPick[][] = [
      [all],
      [pick('bees/bee_001'), linen],
      [linen],
      [linen, pick('table/smoker', 'inside')],
      [linen, pick('table/smoker', 'without')],
      [],
      [all, pick('yard/*', 'without'), linen],
      [all],
    ];
    const { pipeline } = maskOf([]);
    let last = pipeline.mask.flat();
    for (const who of ways) {
      const changed = pipeline.update(recipe(who));
      const now = pipeline.mask.flat();
      expect(worst(now, maskOf(who).coverage)).toBe(0);
      const missed = now.findIndex(
        (c, p) => c !== last[p] && !changed[Math.floor(p / 640 / TILE) * 10 + Math.floor((p % 640) / TILE)],
      );
      expect(missed).toBe(-1);
      last = now;
    }
  });

  test('what no ID covers is picked by name, in every layer, and no rule takes it', () => {
    for (const { name, members } of cast) {
      const rest = maskOf([pick(NOTHING, 'with', name)]).coverage;
      const things = maskOf([{ ...pick('*', 'with', name), rule: true }]).coverage;
      expect(members.at(-1)!.name).toBe(NOTHING);
      const wrong = things.findIndex((c, p) => Math.abs(c + rest[p]! - 1) > 0.0041);
      expect(wrong).toBe(-1);
      expect(rest.some((c) => c === 1)).toBe(true);
    }
    expect(maskOf([pick(NOTHING)]).missing).toEqual([]);
  });
});

describe('patterns', () => {
  const members = ['hive/lid', 'jar_1/lid', 'jar_2/lid', 'odd[1]', 'odd1', 'a*b'].map((name, id) => ({
    name,
    id: id + 1,
  }));
  test.each([
    ['*lid', ['hive/lid', 'jar_1/lid', 'jar_2/lid']],
    ['jar_?/lid', ['jar_1/lid', 'jar_2/lid']],
    ['jar_[13]/*', ['jar_1/lid']],
    ['jar_[!1]/*', ['jar_2/lid']],
    ['odd[1]', ['odd[1]']],
    ['a*b', ['a*b']],
    ['id:00000005', ['odd1']],
    ['nothing', []],
  ])('%s', (pattern, names) => expect(matchMembers(pattern, members).map((m) => m.name)).toEqual(names));
  test('any text without wildcards means itself', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: 'grapheme' }).filter((s) => !/[*?[]/.test(s)),
        (text) => {
          expect(compileGlob(text)(text)).toBe(true);
          expect(compileGlob(text)(`${text}x`)).toBe(false);
        },
      ),
    );
  });
});

describe('contours', () => {
  test('of a disc lie on its edge and enclose its area', () => {
    const [n, r] = [64, 20];
    const mask = Float32Array.from({ length: n * n }, (_, p) => {
      const d = Math.hypot((p % n) + 0.5 - 32, Math.floor(p / n) + 0.5 - 32);
      return Math.min(1, Math.max(0, r - d + 0.5));
    });
    const s = contourSegments(mask, n, n);
    let area = 0;
    for (let i = 0; i < s.length; i += 4) {
      expect(Math.abs(Math.hypot(s[i]! - 32, s[i + 1]! - 32) - r)).toBeLessThan(0.1);
      area += Math.abs((s[i]! - 32) * (s[i + 3]! - 32) - (s[i + 2]! - 32) * (s[i + 1]! - 32)) / 2;
    }
    expect(area).toBeCloseTo(Math.PI * r * r, -1);
  });
  test('of a mask in tiles is that of the whole mask', () => {
    const key = (s: Float32Array) =>
      Array.from({ length: s.length / 4 }, (_, i) => s.slice(4 * i, 4 * i + 4).join(' ')).sort();
    for (const size of [
      { width: 150, height: 128 },
      { width: 64, height: 70 },
    ]) {
      const mask = new TileMask(size);
      for (let t = 0; t < mask.tileCount; t++) {
        if (t === 3) continue;
        const { x0, y0, x1, y1 } = tileBounds(t, mask.tilesX, size.width, size.height);
        const tile = mask.cleared(t);
        for (let y = y0; y < y1; y++)
          for (let x = x0; x < x1; x++) {
            const d = Math.hypot(x - 70, y - 60);
            tile[(y - y0) * TILE + x - x0] = Math.min(1, Math.max(0, 1 - Math.abs(d - 45) / 25));
          }
      }
      const whole = contourSegments(mask.flat(), size.width, size.height);
      expect(whole.length).toBeGreaterThan(100);
      expect(key(maskContour(mask))).toEqual(key(whole));
    }
  });
  test('from afar an outline has fewer segments and stays where it was, thin things too', () => {
    const mask = new TileMask({ width: 300, height: 200 });
    for (let t = 0; t < mask.tileCount; t++) {
      const { x0, y0, x1, y1 } = tileBounds(t, mask.tilesX, 300, 200);
      const tile = mask.cleared(t);
      for (let y = y0; y < y1; y++)
        for (let x = x0; x < x1; x++)
          if (Math.hypot(x - 120, y - 90) < 60 || x === 250) tile[(y - y0) * TILE + x - x0] = 1;
    }
    const [near, far] = [maskContour(mask), maskContour(mask, 2)];
    expect(far.length).toBeLessThan(near.length / 2.5);
    let onStem = 0;
    for (let i = 0; i < far.length; i += 2) {
      const [x, y] = [far[i]!, far[i + 1]!];
      if (Math.abs(x - 250.5) < 6) onStem++;
      else expect(Math.abs(Math.hypot(x - 120.5, y - 90.5) - 60)).toBeLessThan(6);
    }
    expect(onStem).toBeGreaterThan(20);
  });
  // One segment in each of the ten cells around the border, none within.
  test('a mask that fills the picture is outlined along its border', () => {
    expect(contourSegments(new Float32Array(6).fill(1), 3, 2).length / 4).toBe(10);
  });
});
