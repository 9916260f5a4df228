import fc from 'fast-check';
import { idOfName } from '../idlayers/index.ts';
import { SceneError, readGlb, type Scene, type SceneMaterial } from '../scene/index.ts';
import {
  buildBvh,
  DEFAULT_SETTINGS,
  filterOffsets,
  PIXEL_FILTERS,
  renderTiles,
  settingsFault,
  TileRenderer,
  Tracer,
} from './index.ts';

const DIFFUSE: SceneMaterial = {
  name: 'clay',
  kind: 'opaque',
  colour: [0.5, 0.5, 0.5],
  roughness: 1,
  ior: 1,
};
const identity = () => Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);

/** A scene of flat triangles, each an object of its own, seen from the origin along -z with a square view of 90°. */
function sceneOf(
  triangles: number[][],
  materials: SceneMaterial[] = [DIFFUSE],
  materialOf: (i: number) => number = () => 0,
): Scene {
  const count = triangles.length;
  return {
    positions: Float32Array.from(triangles.flat()),
    normals: new Float32Array(9 * count),
    colours: new Float32Array(9 * count).fill(1),
    indices: Uint32Array.from({ length: 3 * count }, (_, i) => i),
    triangleObject: Uint32Array.from({ length: count }, (_, i) => i),
    triangleMaterial: Uint32Array.from({ length: count }, (_, i) => materialOf(i)),
    objects: triangles.map((_, i) => ({ name: `thing_${i}` })),
    materials,
    camera: { matrix: identity(), yfov: Math.PI / 2 },
    sky: { zenith: [1, 1, 1], horizon: [1, 1, 1], ground: [1, 1, 1] },
  };
}
/** Two triangles that fill the view's left part up to x (at distance 1, the view spans -1 to 1). */
const leftOf = (x: number, z = -1) => [
  [-9, -9, z, x, -9, z, x, 9, z],
  [-9, -9, z, x, 9, z, -9, 9, z],
];

describe('finding what rays hit', () => {
  test('agrees with trying every triangle', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 300 }), fc.nat(), (count, seed) => {
        let state = seed + 7;
        const next = () => ((state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32) * 2 - 1;
        const triangles = Array.from({ length: count }, () => {
          const c = [next(), next(), next()];
          return Array.from({ length: 9 }, (_, k) => c[k % 3]! + 0.2 * next());
        });
        const { positions, indices } = sceneOf(triangles);
        const bvh = buildBvh(positions, indices);
        expect([...bvh.order].sort((a, b) => a - b)).toEqual(triangles.map((_, i) => i));
        const tracer = new Tracer(bvh, new Float32Array(3 * count));
        // One leaf with everything in it: the same test without the tree.
        const plain = new Tracer({ ...bvh, nodes: Int32Array.of(count, 0) }, new Float32Array(3 * count));
        for (let i = 0; i < 40; i++) {
          const ray = [2 * next(), 2 * next(), 2 * next(), next(), next(), next()] as const;
          expect(tracer.nearest(...ray, Infinity)).toBe(plain.nearest(...ray, Infinity));
          expect(tracer.t).toBe(plain.t);
          expect(tracer.transmittance(...ray, 1.5)).toBe(plain.transmittance(...ray, 1.5));
        }
      }),
      { numRuns: 30 },
    );
  });
});

describe('pixel filters', () => {
  test.each(PIXEL_FILTERS)(
    '%s spreads samples evenly about the middle, with the spread of its shape',
    (name) => {
      const offset = filterOffsets(name);
      const all = Array.from({ length: 4000 }, (_, i) => offset((i + 0.5) / 4000));
      const mean = all.reduce((a, b) => a + b) / all.length;
      const spread = Math.sqrt(all.reduce((a, b) => a + b * b, 0) / all.length);
      expect(mean).toBeCloseTo(0, 3);
      // Box: 1 / sqrt(12); triangle of radius 1: 1 / sqrt(6).
      if (name === 'box') expect(spread).toBeCloseTo(Math.sqrt(1 / 12), 3);
      if (name === 'triangle') expect(spread).toBeCloseTo(Math.sqrt(1 / 6), 3);
      expect(offset(0)).toBeGreaterThanOrEqual(-2);
      expect(all.every((v, i) => i === 0 || v >= all[i - 1]!)).toBe(true);
    },
  );
});

describe('light', () => {
  const settings = { ...DEFAULT_SETTINGS, width: 16, height: 16, samples: 64, filter: 'box' as const };
  const render = (scene: Scene, more = {}) => {
    const s = { ...settings, ...more };
    const renderer = new TileRenderer(scene, buildBvh(scene.positions, scene.indices), s);
    return renderer.render({ x0: 0, y0: 0, x1: s.width, y1: s.height });
  };
  const mean = (plane: Float32Array) => plane.reduce((a, b) => a + b) / plane.length;

  test('under an even white sky a diffuse wall shows its own colour', () => {
    const { colour } = render(sceneOf(leftOf(9)));
    expect(mean(colour[0]!)).toBeCloseTo(0.5, 2);
    expect(mean(colour[3]!)).toBe(1);
  });

  test('clear glass in front of an even sky changes nothing', () => {
    const glass: SceneMaterial = { name: 'glass', kind: 'glass', colour: [1, 1, 1], roughness: 0, ior: 1.5 };
    expect(mean(render(sceneOf(leftOf(9), [glass])).colour[1]!)).toBeCloseTo(1, 5);
    // A solid slab of two surfaces, too.
    const slab = { ...glass, absorption: [0, 0, 0] as const };
    const back = leftOf(9, -2).map(([ax, ay, az, bx, by, bz, cx, cy, cz]) => [
      ax!,
      ay!,
      az!,
      cx!,
      cy!,
      cz!,
      bx!,
      by!,
      bz!,
    ]);
    expect(mean(render(sceneOf([...leftOf(9), ...back], [slab])).colour[1]!)).toBeCloseTo(1, 5);
  });

  test('a mirror of a perfect metal shows the sky', () => {
    const metal: SceneMaterial = {
      name: 'metal',
      kind: 'metal',
      colour: [1, 1, 1],
      roughness: 0.1,
      ior: 1.5,
    };
    expect(mean(render(sceneOf(leftOf(9), [metal]), { samples: 256 }).colour[0]!)).toBeCloseTo(1, 1);
  });

  test('the sun on a facing diffuse wall gives colour times irradiance over pi', () => {
    const dark = { zenith: [0, 0, 0], horizon: [0, 0, 0], ground: [0, 0, 0] } as const;
    const sun = { direction: [0, 0, 1] as const, irradiance: [2, 2, 2] as const, angularRadius: 0.005 };
    expect(mean(render({ ...sceneOf(leftOf(9)), sky: dark, sun }).colour[0]!)).toBeCloseTo(
      (0.5 * 2) / Math.PI,
      3,
    );
    // A second wall between the wall and the sun takes all of it away.
    const shade = leftOf(9, 3);
    expect(mean(render({ ...sceneOf([...leftOf(9), ...shade]), sky: dark, sun }).colour[0]!)).toBeLessThan(
      1e-4,
    );
  });

  test('an edge in the middle of a pixel column covers half of it, and beauty and mask agree', () => {
    const x = 1 / 16; // the middle of column 8 of 16
    const { objectIds, objectCoverage, colour } = render(sceneOf(leftOf(x)), { samples: 256 });
    for (let y = 0; y < 16; y++) {
      const at = y * 16 + 8;
      const ids = [idOfName('thing_0'), idOfName('thing_1')];
      let sum = 0;
      objectIds.forEach((plane, r) => (sum += ids.includes(plane[at]!) ? objectCoverage[r]![at]! : 0));
      expect(Math.abs(sum - 0.5)).toBeLessThan(0.02);
      expect(sum).toBeCloseTo(colour[3]![at]!, 6);
    }
  });

  test('ranks fall in coverage and sum to alpha, also in the crowd', () => {
    const strips = Array.from({ length: 40 }, (_, i) => leftOf(-1 + (i + 1) / 20, -1 - i * 0.001)).flat();
    const { objectIds, objectCoverage, colour } = render(sceneOf(strips), { ranks: 8, filter: 'gaussian' });
    for (let p = 0; p < 256; p++) {
      const c = objectCoverage.map((plane) => plane[p]!);
      expect(c.every((v, r) => r === 0 || v <= c[r - 1]!)).toBe(true);
      expect(c.reduce((a, b) => a + b)).toBeLessThanOrEqual(colour[3]![p]! + 1e-6);
      objectIds.forEach((plane, r) => expect(plane[p] !== 0).toBe(c[r]! > 0));
    }
  });
});

// Threads are tested through the command line: the test runner's own sandbox does not carry them.
describe('whole pictures', () => {
  test('cover every pixel once', () => {
    const seen = new Uint8Array(70 * 40);
    for (const a of renderTiles(70, 40))
      for (let y = a.y0; y < a.y1; y++) for (let x = a.x0; x < a.x1; x++) seen[y * 70 + x]!++;
    expect(seen.every((n) => n === 1)).toBe(true);
  });

  test('need usable settings', () => {
    expect(settingsFault(DEFAULT_SETTINGS)).toBeUndefined();
    expect(settingsFault({ ...DEFAULT_SETTINGS, width: 0 })).toContain('Width');
    expect(settingsFault({ ...DEFAULT_SETTINGS, samples: 1.5 })).toContain('Samples');
  });
});

describe('scenes from glTF', () => {
  test('the demo scene has a camera, a sun, unique names and shared materials', async () => {
    const { readFileSync } = await import('node:fs');
    const scene = await readGlb(
      new Uint8Array(readFileSync(new URL('../../../demo/files/honey_table.glb', import.meta.url))),
    );
    const names = scene.objects.map((o) => o.name);
    expect(new Set(names).size).toBe(names.length);
    expect(names).toEqual(
      expect.arrayContaining(['jars/jar_1/lid', 'jars/jar_3/honey', 'smoker/bellows', 'hive/roof']),
    );
    expect(names.filter((n) => n.startsWith('lavender/sprig_')).length).toBeGreaterThanOrEqual(40);
    expect(scene.sun).toBeDefined();
    const used = (object: string) =>
      new Set(
        scene.triangleObject.reduce<number[]>(
          (list, o, t) => (names[o] === object ? [...list.slice(-60), scene.triangleMaterial[t]!] : list),
          [],
        ),
      );
    expect(used('jars/jar_1/lid')).toEqual(used('jars/jar_2/lid'));
    expect(
      new Set(
        Array.from(scene.triangleMaterial).filter(
          (_, t) => names[scene.triangleObject[t]!] === 'smoker/bellows',
        ),
      ).size,
    ).toBe(2);
    expect(scene.materials.find((m) => m.name === 'honey')).toMatchObject({
      kind: 'glass',
      absorption: expect.anything(),
    });
    expect(scene.materials.find((m) => m.name === 'brass')!.kind).toBe('metal');
    const finite = scene.positions.every(Number.isFinite) && scene.normals.every(Number.isFinite);
    expect(finite).toBe(true);
  });

  test('what is no scene is refused in plain words', async () => {
    await expect(readGlb(new TextEncoder().encode('hello, this is text'))).rejects.toThrow(SceneError);
    const { Document, WebIO } = await import('@gltf-transform/core');
    const empty = new Document();
    empty.createScene('empty');
    await expect(readGlb(await new WebIO().writeBinary(empty))).rejects.toThrow('no camera');
  });
});
