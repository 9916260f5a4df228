import fc from 'fast-check';
import { fresnelDielectric, ggxD, ggxLambda, schlick } from '../ggx.ts';
import { Sampler } from '../sampler.ts';
import { glass } from './glass.ts';
import { metal } from './metal.ts';
import { opaque } from './opaque.ts';
import { Frame, LOBE, type Material, type Response, type Scatter, type Surface } from './surface.ts';

const surface = (more: Partial<Surface> = {}): Surface => ({
  nx: 0,
  ny: 0,
  nz: 1,
  wx: 0,
  wy: 0,
  wz: 1,
  r: 1,
  g: 1,
  b: 1,
  roughness: 0.5,
  ior: 1.5,
  outside: true,
  thin: false,
  ...more,
});
const tilted = (degrees: number, more: Partial<Surface> = {}) => {
  const a = (degrees * Math.PI) / 180;
  return surface({ wx: Math.sin(a), wz: Math.cos(a), ...more });
};
const response = (): Response => ({
  diffuse: new Float64Array(3),
  reflected: new Float64Array(3),
  diffuseDensity: 0,
  reflectedDensity: 0,
});
const scatter = (): Scatter => ({ x: 0, y: 0, z: 0, weight: new Float64Array(3), lobe: 0, density: 0 });

/** Integrates over the half space above the surface: directions of a fine grid with their solid angles. */
function overDirections(
  visit: (x: number, y: number, z: number, solidAngle: number) => void,
  steps = 160,
): void {
  for (let i = 0; i < steps; i++)
    for (let j = 0; j < 2 * steps; j++) {
      // Even in the square of the sine, so that the mirror direction is met finely enough.
      const z = (i + 0.5) / steps;
      const r = Math.sqrt(1 - z * z);
      const phi = (Math.PI * (j + 0.5)) / steps;
      visit(r * Math.cos(phi), r * Math.sin(phi), z, (2 * Math.PI) / steps / (2 * steps));
    }
}

/** Mean weight of many samples: the share of an even white light that comes back. */
function albedo(material: Material, s: Surface, samples = 4096): number {
  const sampler = new Sampler(5);
  const out = scatter();
  let sum = 0;
  for (let i = 0; i < samples; i++) {
    sampler.start(3, 8, i);
    if (material.sample(s, sampler, 10, out)) sum += out.weight[0]!;
  }
  return sum / samples;
}

describe('the distribution of microfacets', () => {
  test.each([0.05, 0.2, 0.5, 1])('of roughness alpha %d is one projected area', (alpha) => {
    let sum = 0;
    const steps = 20000;
    for (let i = 0; i < steps; i++) {
      const z = (i + 0.5) / steps;
      sum += (ggxD(z, alpha) * z * 2 * Math.PI) / steps;
    }
    expect(sum).toBeCloseTo(1, 2);
  });

  test('shadows nothing when looked at straight on, and more the flatter the view', () => {
    expect(ggxLambda(1, 0.7)).toBe(0);
    fc.assert(
      fc.property(
        fc.double({ min: 0.02, max: 0.98, noNaN: true }),
        fc.double({ min: 0.01, max: 1, noNaN: true }),
        (c, alpha) => {
          expect(ggxLambda(c, alpha)).toBeGreaterThan(ggxLambda(c + 0.01, alpha));
        },
      ),
    );
  });
});

describe('reflectance', () => {
  test('of a dielectric is that of Fresnel: published values, Brewster and total reflection', () => {
    // Glass of index 1.5 at normal incidence: 4 %, from both sides.
    expect(fresnelDielectric(1, 1.5)).toBeCloseTo(0.04, 10);
    expect(fresnelDielectric(1, 1 / 1.5)).toBeCloseTo(0.04, 10);
    // Water: 2.0 %; diamond: 17.2 %.
    expect(fresnelDielectric(1, 1.333)).toBeCloseTo(0.0204, 3);
    expect(fresnelDielectric(1, 2.417)).toBeCloseTo(0.172, 3);
    // At Brewster's angle only the half that is polarised across is reflected.
    const brewster = Math.atan(1.5);
    expect(fresnelDielectric(Math.cos(brewster), 1.5)).toBeCloseTo(
      ((1.5 ** 2 - 1) / (1.5 ** 2 + 1)) ** 2 / 2,
      6,
    );
    // Beyond 41.8 degrees nothing leaves glass.
    expect(fresnelDielectric(Math.cos(0.74), 1 / 1.5)).toBe(1);
    expect(fresnelDielectric(Math.cos(0.72), 1 / 1.5)).toBeLessThan(1);
    expect(fresnelDielectric(1e-9, 1.5)).toBeCloseTo(1, 6);
  });
  test('by Schlick goes from its value straight on to one at the edge', () => {
    expect(schlick(0.3, 1)).toBeCloseTo(0.3, 12);
    expect(schlick(0.3, 0)).toBe(1);
    expect(schlick(0.04, Math.cos(Math.PI / 3))).toBeCloseTo(0.04 + 0.96 / 32, 6);
  });
});

describe.each([
  ['opaque', opaque],
  ['metal', metal],
] as const)('%s', (_, material) => {
  test('gives back no more light than it gets', () => {
    for (const roughness of [0.1, 0.4, 0.8, 1])
      for (const degrees of [0, 40, 75]) {
        const back = albedo(material, tilted(degrees, { roughness }));
        expect(back).toBeLessThanOrEqual(1.01);
        // Light that bounces more than once among microfacets is not counted: rough metal seen flat loses most.
        expect(back).toBeGreaterThan(0.25);
      }
  });

  test('evaluates to what it samples: the integral over all directions is the mean weight', () => {
    const out = response();
    for (const roughness of [0.35, 0.6, 1])
      for (const degrees of [0, 50]) {
        const s = tilted(degrees, { roughness, r: 0.6, g: 0.6, b: 0.6 });
        let sum = 0;
        overDirections((x, y, z, solid) => {
          material.evaluate(s, x, y, z, out);
          sum += (out.diffuse[0]! + out.reflected[0]!) * solid;
        });
        expect(Math.abs(sum - albedo(material, s, 16384))).toBeLessThan(0.015);
      }
  });

  test('has densities that add up to the share of samples that go on', () => {
    const out = response();
    for (const roughness of [0.4, 0.9]) {
      const s = tilted(30, { roughness });
      let sum = 0;
      overDirections((x, y, z, solid) => {
        material.evaluate(s, x, y, z, out);
        sum += (out.diffuseDensity + out.reflectedDensity) * solid;
      });
      const sampler = new Sampler(1);
      const chosen = scatter();
      let above = 0;
      for (let i = 0; i < 4096; i++) {
        sampler.start(1, 1, i);
        if (material.sample(s, sampler, 10, chosen) && chosen.z > 0) above++;
      }
      expect(Math.abs(sum - above / 4096)).toBeLessThan(0.02);
    }
  });

  test('tells with a sample the very density that it evaluates to', () => {
    const sampler = new Sampler(2);
    const chosen = scatter();
    const out = response();
    const s = tilted(35, { roughness: 0.5 });
    for (let i = 0; i < 200; i++) {
      sampler.start(4, 2, i);
      if (!material.sample(s, sampler, 10, chosen)) continue;
      material.evaluate(s, chosen.x, chosen.y, chosen.z, out);
      const density = chosen.lobe === LOBE.diffuse ? out.diffuseDensity : out.reflectedDensity;
      expect(chosen.density / density).toBeCloseTo(1, 6);
      expect(Math.hypot(chosen.x, chosen.y, chosen.z)).toBeCloseTo(1, 6);
    }
  });

  test('is lit from above only', () => {
    const out = response();
    material.evaluate(surface(), 0.6, 0, -0.8, out);
    expect([...out.diffuse, ...out.reflected]).toEqual([0, 0, 0, 0, 0, 0]);
  });

  test('scatters as much one way as the other (Helmholtz)', () => {
    const [a, b] = [response(), response()];
    const cases: [number, number][] = [
      [20, 50],
      [5, 70],
    ];
    for (const [from, to] of cases) {
      const u = (to * Math.PI) / 180;
      const v = (from * Math.PI) / 180;
      // The coat takes its share by the view alone, so only the mirror part is symmetric.
      material.evaluate(tilted(from), Math.sin(u), 0, Math.cos(u), a);
      material.evaluate(tilted(to), Math.sin(v), 0, Math.cos(v), b);
      expect(a.reflected[0]! / Math.cos(u)).toBeCloseTo(b.reflected[0]! / Math.cos(v), 8);
    }
  });
});

describe('glass', () => {
  const sample = (s: Surface, i: number) => {
    const sampler = new Sampler(9);
    sampler.start(0, 0, i);
    const out = scatter();
    return glass.sample(s, sampler, 10, out) ? out : undefined;
  };

  test('bends light by the law of Snell and keeps it in the plane', () => {
    for (const degrees of [10, 45, 80])
      for (const outside of [true, false]) {
        const s = tilted(degrees, { roughness: 0, outside });
        for (let i = 0; i < 64; i++) {
          const out = sample(s, i)!;
          expect(out.y).toBeCloseTo(0, 12);
          if (out.lobe !== LOBE.through) {
            expect([out.x, out.z]).toEqual([expect.closeTo(-s.wx, 9), expect.closeTo(s.wz, 9)]);
            continue;
          }
          const eta = outside ? 1.5 : 1 / 1.5;
          expect(Math.abs(out.x)).toBeCloseTo(Math.sin((degrees * Math.PI) / 180) / eta, 9);
          expect(out.z).toBeLessThan(0);
        }
      }
  });

  test('reflects as often as Fresnel says', () => {
    const s = tilted(60, { roughness: 0 });
    let reflected = 0;
    for (let i = 0; i < 2048; i++) if (sample(s, i)!.lobe === LOBE.reflect) reflected++;
    expect(reflected / 2048).toBeCloseTo(fresnelDielectric(0.5, 1.5), 2);
  });

  test('a thin wall lets light go straight on', () => {
    const s = tilted(50, { roughness: 0, thin: true });
    for (let i = 0; i < 64; i++) {
      const out = sample(s, i)!;
      if (out.lobe === LOBE.through) expect([out.x, out.z]).toEqual([-s.wx, -s.wz]);
    }
  });

  test.each([0.1, 0.4])('that is rough (%d) scatters about the smooth way and adds nothing', (roughness) => {
    const s = tilted(20, { roughness });
    let weight = 0;
    let through = 0;
    let x = 0;
    for (let i = 0; i < 2048; i++) {
      const out = sample(s, i);
      if (!out) continue;
      weight += out.weight[0]!;
      if (out.lobe !== LOBE.through) continue;
      through++;
      x += out.x;
      expect(out.z).toBeLessThan(0);
    }
    expect(weight / 2048).toBeLessThanOrEqual(1);
    expect(weight / 2048).toBeGreaterThan(0.9);
    expect(x / through).toBeCloseTo(-Math.sin((20 * Math.PI) / 180) / 1.5, 1);
  });
});

test('a frame turns vectors there and back', () => {
  const unit = fc.double({ min: -1, max: 1, noNaN: true });
  fc.assert(
    fc.property(fc.tuple(unit, unit, unit, unit, unit, unit), ([a, b, c, x, y, z]) => {
      const length = Math.hypot(a, b, c);
      fc.pre(length > 0.1);
      const frame = new Frame().set(a / length, b / length, c / length);
      frame.toLocal(x, y, z);
      frame.toWorld(frame.x, frame.y, frame.z);
      expect([frame.x, frame.y, frame.z]).toEqual([x, y, z].map((v) => expect.closeTo(v, 9)));
    }),
  );
});
