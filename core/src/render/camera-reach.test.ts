import fc from 'fast-check';
import { leftOf, material, renderFilm, sceneOf } from '../../test/fixtures/scenes.ts';
import type { Scene } from '../scene/scene.ts';
import { CameraRays } from './plain/camera-rays.ts';
import { CameraReach, SURE } from './camera-reach.ts';
import { DEFAULT_SETTINGS } from './settings.ts';
import { PIXEL_FILTERS } from './pixel-filter.ts';
import { prepare, treesOf } from './prepared.ts';
import { RAY, Tracer } from './plain/tracer.ts';
import { Sampler } from './plain/sampler.ts';

const SIZE = { width: 24, height: 16 };

/** Small triangles before and behind a very large one; the camera is turned and moved at random. */
function randomScene(count: number, seed: number): Scene {
  let state = seed + 7;
  const next = () => ((state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32) * 2 - 1;
  const size = () => 0.02 + 0.2 * Math.max(0, next());
  const scene = sceneOf(
    Array.from({ length: count }, (_, i) => {
      if (i === 0) return [-30, -30, -2, 30, -30, -2, 0, 30, -2];
      const [c, s] = [[next(), next(), next() - 2], size()];
      return Array.from({ length: 9 }, (_, k) => c[k % 3]! + s * next());
    }),
  );
  const turn = 0.3 * next();
  const m = scene.camera.matrix;
  m.set([Math.cos(turn), 0, -Math.sin(turn)], 0);
  m.set([Math.sin(turn), 0, Math.cos(turn)], 8);
  m.set([0.2 * next(), 0.2 * next(), 0.2 * next()], 12);
  scene.camera.matrixEnd = m.slice();
  return scene;
}

function reachOf(scene: Scene, filter: (typeof PIXEL_FILTERS)[number]) {
  const prepared = prepare(scene);
  const trees = treesOf(prepared);
  const rays = new CameraRays(scene, { ...SIZE, filter });
  return { rays, trees, reach: new CameraReach(prepared, rays, { ...SIZE, filter }, trees) };
}

test('what is left for a pixel gives every sample what the whole scene gives it', () => {
  let listed = 0;
  let sure = 0;
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 100 }),
      fc.nat(),
      fc.constantFrom(...PIXEL_FILTERS),
      (count, seed, filter) => {
        const scene = randomScene(count, seed);
        const { rays, trees, reach } = reachOf(scene, filter);
        const [part, whole, sampler] = [new Tracer(trees), new Tracer(trees), new Sampler(seed)];
        reach.enterBlock({ x0: 8, y0: 8, x1: 16, y1: 16 });
        for (let p = 0; p < 64; p++) {
          const [x, y] = [8 + (p % 8), 8 + (p >> 3)];
          reach.enterPixel(x, y);
          part.reach = reach.trees;
          part.list = reach.list;
          const wrong: number[][] = [];
          if (reach.list) listed++;
          if (reach.sure >= 0) sure++;
          for (let i = 0; i < 8; i++) {
            sampler.start(x, y, i);
            rays.aim(x, y, sampler);
            const ray = [...rays.ray] as [number, number, number, number, number, number];
            const met = whole.nearest(...ray, Infinity, RAY.camera);
            const same =
              part.nearest(...ray, Infinity, RAY.camera) === met &&
              (!met ||
                (part.leaf === whole.leaf &&
                  Math.abs(part.t - whole.t) < 5e-10 &&
                  Math.abs(part.u - whole.u) < 5e-7 &&
                  Math.abs(part.v - whole.v) < 5e-7));
            const shown = met ? scene.trianglePart[whole.triangle]! : SURE.nothing;
            if (!same || (reach.sure !== SURE.unsure && reach.sure !== shown)) wrong.push([x, y, i]);
          }
          expect(wrong).toEqual([]);
        }
      },
    ),
    { numRuns: 30, seed: 3 },
  );
  // Both short cuts were taken, and not always.
  expect(listed).toBeGreaterThan(100);
  expect(sure).toBeGreaterThan(100);
  expect(sure).toBeLessThan(listed);
});

describe('a pixel is not sure of what fills it', () => {
  const at = (scene: Scene) => {
    const { reach } = reachOf(scene, 'box');
    reach.enterBlock({ x0: 0, y0: 0, x1: 8, y1: 8 });
    reach.enterPixel(4, 4);
    return reach;
  };
  const wall = leftOf(9, -3);

  test('unless it is the only thing before what it hides', () => {
    expect(at(sceneOf(wall)).sure).toBe(1);
    expect(at(sceneOf([...wall, ...leftOf(9, -5)])).sure).toBe(1);
    expect(at(sceneOf([...wall, ...leftOf(9, -2)])).sure).toBe(3);
    // A small thing before it, in this pixel.
    expect(at(sceneOf([...wall, [-1.9, 0.8, -2, -1.8, 0.8, -2, -1.8, 0.9, -2]])).sure).toBe(SURE.unsure);
    expect(at(sceneOf([[-9, -9, 1, 9, -9, 1, 9, 9, 1]])).sure).toBe(SURE.nothing);
  });

  test('if it has holes or moves', () => {
    const holed = at(sceneOf(wall, [material({ alphaMode: 'blend', alpha: 0.5 })]));
    expect(holed.sure).toBe(SURE.unsure);
    expect(holed.list).toBeUndefined();
    const scene = sceneOf(wall);
    const moving = { ...scene, firstMoving: 0, positionsEnd: scene.positions.map((v) => v + 0.1) };
    expect(at(moving).sure).toBe(SURE.unsure);
    expect(at(moving).list).toBeUndefined();
  });

  test('if the camera has a lens or moves', () => {
    const lens = sceneOf(wall);
    lens.camera.lensRadius = 0.1;
    expect(at(lens).trees).toBeUndefined();
    const moves = sceneOf(wall);
    moves.shutter = 0.5;
    moves.camera.matrixEnd[12] = 0.2;
    expect(at(moves).trees).toBeUndefined();
    moves.shutter = 0;
    expect(at(moves).sure).toBe(1);
  });

  test('if the camera does not see it', () => {
    const scene = sceneOf(wall);
    scene.objects[0]!.visible = scene.objects[1]!.visible = RAY.shadow;
    expect(at(scene).sure).toBe(SURE.nothing);
  });
});

test('IDs counted without tracing are the IDs that the beauty counts, sample for sample', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 200 }), fc.nat(), (count, seed) => {
      const scene = randomScene(count, seed);
      const settings = { ...DEFAULT_SETTINGS, ...SIZE, samples: 6, bounces: 0 };
      const numbers = Uint32Array.from(scene.parts, (_, i) => i + 1);
      const [lit, only] = [true, false].map((light) => renderFilm(scene, { ...settings, light }, [2, 6]));
      expect(only!.ranks(numbers, 8)).toEqual(lit!.ranks(numbers, 8));
      expect(only!.alpha()).toEqual(lit!.alpha());
    }),
    { numRuns: 20 },
  );
});
