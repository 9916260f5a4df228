import { Field, WAVE } from '../../../kernels/rays/layout.ts';
import {
  GLASS,
  leftOf,
  material,
  MIRROR,
  renderFilm,
  sceneOf,
  turned,
} from '../../../test/fixtures/scenes.ts';
import type { Scene, SceneMaterial } from '../../scene/scene.ts';
import { GATHER_IDS } from '../gather.ts';
import { DEFAULT_SETTINGS } from '../settings.ts';
import { prepare } from './prepared.ts';
import { Waves } from './waves.ts';

const settings = { ...DEFAULT_SETTINGS, width: 6, height: 6, samples: 1024, filter: 'box' as const };
const DARK = { zenith: [0, 0, 0], horizon: [0, 0, 0], ground: [0, 0, 0] } as const;
const mean = (plane: Float32Array) => plane.reduce((a, b) => a + b) / plane.length;
const brightness = (scene: Scene, more = {}) => mean(renderFilm(scene, { ...settings, ...more }).light()[1]!);

/** A sphere of so many triangles; its normals are those of the true one. */
function sphere(x: number, y: number, z: number, radius: number, steps = 48) {
  const normal = (i: number, j: number) => {
    const [a, b] = [(Math.PI * i) / steps, (Math.PI * j) / steps];
    return [Math.sin(a) * Math.cos(b), Math.cos(a), Math.sin(a) * Math.sin(b)];
  };
  const normals: number[][] = [];
  for (let i = 0; i < steps; i++)
    for (let j = 0; j < 2 * steps; j++) {
      if (i > 0) normals.push([...normal(i, j), ...normal(i, j + 1), ...normal(i + 1, j)]);
      if (i < steps - 1) normals.push([...normal(i + 1, j), ...normal(i, j + 1), ...normal(i + 1, j + 1)]);
    }
  const centre = [x, y, z];
  return { normals, triangles: normals.map((n) => n.map((v, k) => centre[k % 3]! + radius * v)) };
}

/** Directions in which the first samples of a picture go on from what they see first. */
function scattered(scene: Scene, seed: number): { through: boolean; cosine: number; direction: number[] }[] {
  const waves = new Waves(prepare(scene), { ...settings, seed, gather: GATHER_IDS, apart: false });
  waves.begin();
  const { kernel: k, numbers, ints } = waves;
  const count = 512;
  for (let p = 0; p < 32; p++) k.addSamples(16 * p, p % 6, Math.floor(p / 6), 0, 16);
  k.aim(count);
  k.meet(count, 0);
  let left = k.arrive(count, 0);
  k.surfaces(left);
  const before = Array.from({ length: count }, (_, i) => -numbers[WAVE * Field.directionZ + i]!);
  k.choose(left, 4);
  k.draw(5, left, Field.randomX, Field.randomY);
  k.draw(6, left, Field.secondX, Field.secondY);
  left = k.goOn(left, 0, 11);
  return Array.from({ length: left }, (_, n) => {
    const path = ints[WAVE * Field.active + n]!;
    const direction = [0, 1, 2].map((axis) => numbers[WAVE * (Field.directionX + axis) + path]!);
    return { through: direction[2]! < 0, cosine: before[path]!, direction };
  });
}

describe.each([1.33, 1.5, 2.4])('clear glass of index %d', (ior) => {
  const glass = { ...GLASS, ior, absorption: [0, 0, 0] as const };
  const fresnel = (cosine: number, eta: number) => {
    const sine2 = (1 - cosine ** 2) / eta ** 2;
    if (sine2 >= 1) return 1;
    const inner = Math.sqrt(1 - sine2);
    return (
      (((cosine - eta * inner) / (cosine + eta * inner)) ** 2 +
        ((eta * cosine - inner) / (eta * cosine + inner)) ** 2) /
      2
    );
  };

  test.each([
    ['into', leftOf(9), ior],
    ['out of', turned(leftOf(9)), 1 / ior],
  ] as const)(
    'bends light by the law of Snell and reflects as much as Fresnel says, going %s it',
    (_, wall, eta) => {
      const found = [0, 1, 2, 3].flatMap((seed) => scattered(sceneOf(wall as number[][], [glass]), seed));
      let wanted = 0;
      for (const { through, cosine, direction } of found) {
        wanted += fresnel(cosine, eta);
        const sine = Math.sqrt(1 - cosine ** 2);
        const out = Math.hypot(direction[0]!, direction[1]!);
        expect(Math.abs(out - (through ? sine / eta : sine))).toBeLessThan(3e-5);
        if (!through) expect(direction[2]).toBeCloseTo(cosine, 5);
      }
      const reflected = found.filter((f) => !f.through).length;
      // Three deviations of so many throws.
      expect(Math.abs(reflected - wanted)).toBeLessThan(1 + 3 * Math.sqrt(wanted));
    },
  );
});

describe('in an even white surrounding', () => {
  test.each<[string, SceneMaterial, number, number]>([
    ['a white diffuse body', material({ colour: [1, 1, 1] }), 0.985, 1.001],
    ['a white body under a coat', material({ colour: [1, 1, 1], ior: 1.5, roughness: 0.4 }), 0.93, 1.01],
    ['a smooth white metal', { ...MIRROR, roughness: 0.1 }, 0.98, 1.001],
    // Light that bounces more than once among microfacets is not counted.
    ['a rough white metal', { ...MIRROR, roughness: 0.8 }, 0.5, 1.001],
    ['clear solid glass', { ...GLASS, absorption: [0, 0, 0] }, 0.97, 1.001],
    ['clear thin glass', GLASS, 0.999, 1.001],
  ])('%s gives back what it gets, and no more', (_, m, least, most) => {
    const ball = sphere(0, 0, -3, 1);
    const scene = sceneOf(ball.triangles, [m]);
    scene.normals = Float32Array.from(ball.normals.flat());
    scene.camera.yfov = 0.3;
    const found = brightness(scene, { bounces: 12, samples: 256 });
    expect(found).toBeGreaterThan(least);
    expect(found).toBeLessThan(most);
  });
});

describe('direct light', () => {
  const shining = material({ name: 'lamp', colour: [0, 0, 0], emission: [4, 4, 4] });
  const wall = leftOf(9);
  const lit = (triangles: number[][]): Scene => {
    const scene = {
      ...sceneOf([...wall, ...triangles], [material(), shining], (i) => (i < 2 ? 0 : 1)),
      sky: DARK,
    };
    scene.camera.yfov = 0.02;
    return scene;
  };

  test.each([0.3, 0.8])(
    'of a sphere of radius %d is that of its solid angle, however far it hangs',
    (radius) => {
      // Seen from a point, a sphere over it lights by pi L sin^2 of half its angle (Lambert).
      const distance = 2;
      const wanted = (0.5 / Math.PI) * Math.PI * 4 * (radius / distance) ** 2;
      const found = brightness(lit(sphere(0, 0, -1 + distance, radius).triangles), { bounces: 0 });
      expect(Math.abs(found / wanted - 1)).toBeLessThan(0.02);
    },
  );

  test('of a rectangle is that of its edges (Lambert), beside the point, too', () => {
    const corners = [
      [0.3, -0.5, 1],
      [1.4, -0.5, 1],
      [1.4, 0.9, 1],
      [0.3, 0.9, 1],
    ];
    // E = L / 2 times the sum over the edges of their angle and the normal of their plane, turned to the surface.
    let sum = 0;
    corners.forEach((_, i) => {
      const [a, b] = [corners[i]!, corners[(i + 1) % 4]!].map((c) => {
        // The point that is seen lies at distance 1.
        const v = [c[0]!, c[1]!, c[2]! + 1];
        const length = Math.hypot(...v);
        return v.map((x) => x / length);
      }) as [number[], number[]];
      const cross = a[0]! * b[1]! - a[1]! * b[0]!;
      const full = Math.hypot(a[1]! * b[2]! - a[2]! * b[1]!, a[2]! * b[0]! - a[0]! * b[2]!, cross);
      const angle = Math.acos(a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!);
      sum += (angle * cross) / full;
    });
    const wanted = (0.5 / Math.PI) * (4 / 2) * Math.abs(sum);
    const [a, b, c, d] = corners as [number[], number[], number[], number[]];
    const found = brightness(
      lit([
        [...a, ...b, ...c],
        [...a, ...c, ...d],
      ]),
      { bounces: 0 },
    );
    expect(Math.abs(found / wanted - 1)).toBeLessThan(0.02);
  });
});
