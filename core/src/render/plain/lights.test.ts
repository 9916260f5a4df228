import { leftOf, material, sceneOf } from '../../../test/fixtures/scenes.ts';
import type { Scene } from '../../scene/scene.ts';
import { Around, FiniteLights, type FiniteSample } from './lights.ts';
import { Sampler } from './sampler.ts';
import { sunRadiance } from '../sky.ts';

const sample = (): FiniteSample => ({
  x: 0,
  y: 0,
  z: 0,
  distance: 0,
  light: new Float64Array(3),
  density: 0,
  lamp: -1,
  triangle: -1,
  u: 0,
  v: 0,
});

describe('light all around by a picture', () => {
  const width = 16;
  const height = 8;
  const data = Float32Array.from({ length: 3 * width * height }, (_, i) => ((i * 7919) % 100) / 100);
  data.set([50, 40, 30], 3 * (2 * width + 5));
  const scene = (turn: number): Scene => ({
    ...sceneOf(leftOf(1)),
    surroundings: { width, height, data, turn, gain: 2 },
  });

  test('is chosen with a density that is one over the whole sphere', () => {
    const around = new Around(scene(0.7));
    let sum = 0;
    const steps = 256;
    for (let i = 0; i < steps; i++)
      for (let j = 0; j < 2 * steps; j++) {
        const y = 1 - (2 * (i + 0.5)) / steps;
        const r = Math.sqrt(1 - y * y);
        const phi = (Math.PI * (j + 0.5)) / steps;
        sum +=
          around.density(r * Math.cos(phi), y, r * Math.sin(phi)) * ((4 * Math.PI) / steps / (2 * steps));
      }
    expect(sum).toBeCloseTo(1, 1);
  });

  test.each([0, 0.7, -3])('turned by %d, a sample tells the density and light of its direction', (turn) => {
    const around = new Around(scene(turn));
    const sampler = new Sampler(3);
    const out = sample();
    const seen = new Float64Array(3);
    for (let i = 0; i < 300; i++) {
      sampler.start(1, 2, i);
      expect(around.sample(sampler, 4, out)).toBe(true);
      expect(Math.hypot(out.x, out.y, out.z)).toBeCloseTo(1, 9);
      expect(around.density(out.x, out.y, out.z) / out.density).toBeCloseTo(1, 6);
      seen.fill(0);
      around.add(out.x, out.y, out.z, Float64Array.of(1, 1, 1), seen);
      for (let k = 0; k < 3; k++) expect(out.light[k]! * out.density).toBeCloseTo(seen[k]!, 4);
    }
  });

  test('looks ahead to the middle of the picture, up to its top, and a turn moves it', () => {
    const mark = new Float32Array(3 * width * height);
    mark.fill(1, 3 * (4 * width + 8), 3 * (4 * width + 8) + 3);
    const look = (turn: number, x: number, y: number, z: number) => {
      const out = new Float64Array(3);
      const s = { ...scene(turn), surroundings: { width, height, data: mark, turn, gain: 1 } };
      new Around(s).add(x, y, z, Float64Array.of(1, 1, 1), out);
      return out[0];
    };
    expect(look(0, 0.1, -0.1, -0.99)).toBe(1);
    expect(look(0, 0.1, -0.1, 0.99)).toBe(0);
    expect(look(0, 0, 1, 0)).toBe(0);
    // A quarter turn brings the middle of the picture to the right.
    expect(look(Math.PI / 2, 0.99, -0.1, 0.1)).toBe(1);
  });
});

describe('shining surfaces and lamps', () => {
  const lamp = (intensity: number, outerCosine = -1) => ({
    name: 'lamp',
    position: [0, 3, -1] as const,
    direction: [0, -1, 0] as const,
    intensity: [intensity, intensity, intensity] as const,
    innerCosine: outerCosine < 0 ? -1 : Math.min(1, outerCosine + 0.1),
    outerCosine,
  });
  const shining = (lamps: Scene['lamps']): Scene => ({
    ...sceneOf(leftOf(1), [material({ emission: [2, 2, 2] })]),
    lamps,
  });

  test('are chosen by power, and a triangle by its area', () => {
    const lights = new FiniteLights(shining([]));
    // Both triangles have half of 10 x 18 units: the density by area is one over all of it.
    expect(lights.any).toBe(true);
    for (const triangle of [0, 1]) expect(lights.densityOf(triangle)).toBeCloseTo(1 / 180, 6);
    expect(new FiniteLights(sceneOf(leftOf(1))).any).toBe(false);
  });

  test('give every point of a triangle the same chance', () => {
    const lights = new FiniteLights(shining([]));
    const sampler = new Sampler(4);
    const out = sample();
    let [u, v] = [0, 0];
    const n = 2048;
    for (let i = 0; i < n; i++) {
      sampler.start(7, 7, i);
      expect(lights.sample(0, 0, 5, 0, sampler, 2, out)).toBe(true);
      expect(out.u + out.v).toBeLessThanOrEqual(1);
      u += out.u / n;
      v += out.v / n;
    }
    // The middle of a triangle.
    expect(u).toBeCloseTo(1 / 3, 1);
    expect(v).toBeCloseTo(1 / 3, 1);
  });

  test('a spot shines inside its cone and fades towards its edge', () => {
    const at = (x: number) => {
      const lights = new FiniteLights({ ...sceneOf(leftOf(1)), lamps: [lamp(9, Math.cos(0.5))] });
      const sampler = new Sampler(1);
      sampler.start(0, 0, 0);
      const out = sample();
      return lights.sample(x, 0, -1, 0, sampler, 0, out) ? out.light[0]! : 0;
    };
    expect(at(0)).toBeCloseTo(1, 6); // 9 by the square of 3
    expect(at(3 * Math.tan(0.55))).toBe(0);
    const near = at(3 * Math.tan(0.45));
    expect(near).toBeGreaterThan(0);
    expect(near).toBeLessThan(at(0.1));
  });

  test('a strong lamp is chosen more often than a weak one, and the sum stays', () => {
    const lights = new FiniteLights({
      ...sceneOf(leftOf(1)),
      lamps: [lamp(8), { ...lamp(1), position: [0, -3, -1] as const }],
    });
    const sampler = new Sampler(6);
    const out = sample();
    let strong = 0;
    let sum = 0;
    for (let i = 0; i < 1024; i++) {
      sampler.start(2, 3, i);
      lights.sample(0, 0, -1, 0, sampler, 0, out);
      if (out.y > 0) strong++;
      sum += out.light[0]! / 1024;
    }
    expect(strong / 1024).toBeCloseTo(8 / 9, 2);
    expect(sum).toBeCloseTo(9 / 9, 2);
  });
});

test('the radiance of a sun times its solid angle is its irradiance', () => {
  const sun = {
    name: 'sun',
    direction: [0, 1, 0] as const,
    irradiance: [3, 2, 1] as const,
    angularRadius: 0.1,
  };
  const solid = 2 * Math.PI * (1 - Math.cos(0.1));
  expect(sunRadiance(sun).map((v) => v * solid)).toEqual([3, 2, 1].map((v) => expect.closeTo(v, 9)));
});
