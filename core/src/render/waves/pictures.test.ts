import {
  GLASS,
  grouped,
  leftOf,
  material,
  MIRROR,
  renderFilm,
  sceneOf,
  turned,
} from '../../../test/fixtures/scenes.ts';
import type { Scene } from '../../scene/scene.ts';
import type { Texture } from '../../scene/texture.ts';
import type { Film } from '../film.ts';
import { LIGHT_PARTS, SURFACE, type Gather } from '../gather.ts';
import { sourcesOf } from '../light-sources.ts';
import { renderPlain } from '../plain/render.ts';
import { ALL_RAYS, RAY } from '../ray-kinds.ts';
import { DEFAULT_SETTINGS } from '../settings.ts';

const SAMPLES = 48;
const settings = { ...DEFAULT_SETTINGS, width: 20, height: 16, samples: SAMPLES, seed: 3 };
const EVERYTHING: Gather = {
  ids: true,
  lightParts: true,
  lamps: true,
  surface: true,
  shadow: true,
  occlusion: 0.7,
  through: [
    { way: 'refraction', depth: 1, roughness: 0.5 },
    { way: 'refraction', depth: 2, roughness: 0.5 },
    { way: 'reflection', depth: 1, roughness: 0.3 },
  ],
};

/** Noise that fits together at its borders. */
const texture = (wrapS: Texture['wrapS'], alpha = 255): Texture => ({
  width: 8,
  height: 4,
  data: Uint8Array.from({ length: 8 * 4 * 4 }, (_, i) =>
    i % 4 === 3 ? (i % 8 === 3 ? alpha : 255) : (i * 73) % 256,
  ),
  wrapS,
  wrapT: 'repeat',
});
const use = (t: Texture, set: 0 | 1 = 0) => ({
  texture: t,
  set,
  transform: [2, 0.3, 0.1, -0.2, 1.5, 0] as const,
});

const sun = {
  name: 'sun',
  direction: [0.36, 0.48, 0.8] as const,
  irradiance: [2, 1.8, 1.5] as const,
  angularRadius: 0.05,
};
const lamp = {
  name: 'lamp',
  position: [0.5, 0.8, 0.5] as const,
  direction: [0, 0, -1] as const,
  intensity: [1, 2, 3] as const,
  innerCosine: 0.95,
  outerCosine: 0.6,
};

/** A wall, and before it things of a material, a mirror, and something that shines. */
function table(m: ReturnType<typeof material>, more: Partial<Scene> = {}): Scene {
  const front = [
    [-1.4, -1, -2, 0.2, -1.1, -2.2, -0.6, 1, -1.9],
    [-0.2, -0.9, -1.7, 1.1, -0.8, -2.4, 0.6, 0.7, -2],
  ];
  const body = [...front, ...turned(front).map((t) => t.map((v, k) => (k % 3 === 2 ? v - 0.4 : v)))];
  const triangles = [
    ...leftOf(9, -3),
    ...body,
    [0.6, -1, -1.5, 1.5, -1, -2.6, 1.2, 0.9, -2.5],
    [-2, 1.2, -2, 2, 1.2, -2, 0, 1.2, -1],
  ];
  const materials = [
    material({ name: 'wall', roughness: 0.6, ior: 1.5, colour: [0.7, 0.5, 0.4] }),
    m,
    { ...MIRROR, colour: [0.9, 0.8, 0.6] as const, roughness: 0.2 },
    material({ name: 'lamp', emission: [3, 2, 1] }),
  ];
  const scene = grouped(
    sceneOf(triangles, materials, (i) => (i < 2 ? 0 : i < 6 ? 1 : i < 7 ? 2 : 3)),
    [0, 0, 1, 2, 1, 2, 3, 4],
  );
  return {
    ...scene,
    uvs: Float32Array.from({ length: 4 * 3 * triangles.length }, (_, i) => ((i * 37) % 19) / 19),
    colours: Float32Array.from(scene.colours, (_, i) => 0.6 + 0.4 * Math.sin(i) ** 2),
    suns: [sun],
    lamps: [lamp],
    ...more,
  };
}

const around = {
  width: 16,
  height: 8,
  data: Float32Array.from({ length: 3 * 128 }, (_, i) => (i % 50 === 0 ? 9 : 0.2 + 0.1 * Math.sin(i))),
  turn: 0.7,
  gain: 0.8,
};
const bent = table(material({ roughness: 0.5, ior: 1.4 }));
const ends = bent.positions.map((v, i) => (i >= 18 ? v + 0.1 * Math.sin(i) : v));

const SCENES: Record<string, Scene> = {
  clay: table(material({ roughness: 0.7, ior: 1.45 })),
  'clear glass': table({ ...GLASS, colour: [0.9, 0.8, 0.7] }),
  honey: table({ ...GLASS, absorption: [0.2, 0.6, 1.5] }),
  'rough glass': table({ ...GLASS, roughness: 0.4, absorption: [0.1, 0.1, 0.1] }),
  'rough thin glass': table({ ...GLASS, roughness: 0.4 }),
  'half metal, half glass': table(material({ metalness: 0.5, transmission: 0.5, roughness: 0.3, ior: 1.5 })),
  textures: table(
    material({
      roughness: 0.8,
      metalness: 0.7,
      ior: 1.5,
      colourMap: use(texture('repeat')),
      surfaceMap: use(texture('mirror'), 1),
      normalMap: { ...use(texture('clamp')), scale: 0.6 },
      emission: [0.4, 0.3, 0.2],
      emissionMap: use(texture('repeat'), 1),
    }),
  ),
  'leaves cut out': table(
    material({ alphaMode: 'mask', cutoff: 0.5, alpha: 0.9, colourMap: use(texture('repeat', 0)) }),
  ),
  veils: table(material({ alphaMode: 'blend', alpha: 0.6, colourMap: use(texture('repeat', 90)) })),
  'without shading': table(material({ unlit: true, colour: [0.3, 0.6, 0.2] })),
  'a picture all around': table(material({ roughness: 0.3, ior: 1.5 }), { surroundings: around }),
  'a sky with a glow': table(MIRROR, {
    sky: {
      zenith: [0.2, 0.4, 0.9],
      horizon: [0.8, 0.8, 0.7],
      ground: [0.2, 0.2, 0.1],
      glow: { direction: [0, 0.6, 0.8], radiance: [4, 3, 2], sharpness: 20 },
    },
  }),
  'things in motion': { ...bent, positionsEnd: ends, firstMoving: 2, shutter: 0.7, span: 0.5 },
  'a moving camera with a lens': (() => {
    const scene = { ...bent, shutter: 1, camera: { ...bent.camera, lensRadius: 0.05, focus: 2 } };
    scene.camera.matrixEnd = scene.camera.matrix.slice();
    scene.camera.matrixEnd[12] = 0.3;
    return scene;
  })(),
  'in parallel': { ...bent, camera: { ...bent.camera, yfov: 0, yHalf: 1.5 } },
  'what is hidden, held and caught': {
    ...bent,
    parts: bent.parts.map((p, i) => ({
      ...p,
      role: (['catcher', 'held', 'away', 'shown', 'shown'] as const)[i]!,
    })),
    objects: bent.objects.map((o, i) => ({
      ...o,
      ...(i === 4 ? { visible: ALL_RAYS & ~RAY.shadow } : {}),
      ...(i === 2 ? { notSeenIn: [3] } : {}),
    })),
  },
};

/** Differences of two sets of planes: the mean of all pixels, and the largest. */
function off(a: readonly Float32Array[], b: readonly Float32Array[]): { mean: number; most: number } {
  let [sum, most, count] = [0, 0, 0];
  a.forEach((plane, k) =>
    plane.forEach((v, p) => {
      sum += v - b[k]![p]!;
      most = Math.max(most, Math.abs(v - b[k]![p]!));
      count++;
    }),
  );
  return { mean: Math.abs(sum / count), most };
}

describe.each(Object.entries(SCENES))(
  'a wave shows what plain code shows, with the same samples: %s',
  (_, scene) => {
    const [found, plain] = [renderFilm, renderPlain].map((render) =>
      render(scene, { ...settings, gather: EVERYTHING }),
    ) as [Film, Film];
    const sets = scene.parts.map((_unused, i) => [i]);
    const numbers = Uint32Array.from(scene.parts, (_unused, i) => i + 1);

    test('masks', () => {
      // A sample that falls on an edge may fall to either side.
      const masks = off(found.coverage(sets, sets.length), plain.coverage(sets, sets.length));
      expect(masks.most).toBeLessThanOrEqual(2 / SAMPLES);
      expect(masks.mean).toBeLessThan(1e-3);
      expect(off([found.alpha()], [plain.alpha()]).most).toBeLessThanOrEqual(2 / SAMPLES);
    });

    test('light, by its ways and by its sources', () => {
      const means = (planes: Float32Array[]) => planes.map((p) => p.reduce((a, b) => a + b) / p.length);
      const agree = (a: Float32Array[], b: Float32Array[]) =>
        means(a).forEach((v, k) =>
          expect(Math.abs(v - means(b)[k]!)).toBeLessThan(2e-3 + 0.01 * means(b)[k]!),
        );
      agree(found.light(), plain.light());
      for (const part of LIGHT_PARTS) agree(found.light([part]), plain.light([part]));
      sourcesOf(scene).forEach((_unused, i) => agree(found.lamp(i), plain.lamp(i)));
      // Nearly every pixel is the very same one.
      const [a, b] = [found.light()[1]!, plain.light()[1]!];
      const same = a.filter((v, p) => Math.abs(v - b[p]!) < 1e-3 * (1 + b[p]!)).length;
      expect(same / a.length).toBeGreaterThan(0.9);
    });

    test('what is seen through and in it', () => {
      for (const layer of EVERYTHING.through.keys()) {
        const [a, b] = [found.ranks(numbers, 4, layer), plain.ranks(numbers, 4, layer)];
        const sum = (planes: Float32Array[]) => planes.reduce((n, p) => n + p.reduce((x, y) => x + y), 0);
        expect(Math.abs(sum(a.coverage) - sum(b.coverage))).toBeLessThan(0.2 + 0.01 * sum(b.coverage));
        const same = a.ids[0]!.filter((id, p) => id === b.ids[0]![p]).length;
        expect(same / a.ids[0]!.length).toBeGreaterThan(0.95);
      }
    });

    test('data of the first surface', () => {
      const [a, b] = [found, plain].map((f) => f.surface(0, SURFACE.count)) as [
        Float32Array[],
        Float32Array[],
      ];
      expect(off(a, b).mean).toBeLessThan(2e-3);
      expect(off([found.shadow()], [plain.shadow()]).mean).toBeLessThan(5e-3);
      expect(off([found.occlusion()], [plain.occlusion()]).mean).toBeLessThan(5e-3);
      const [c, d] = [found.catcher(), plain.catcher()];
      expect(off([c.shadow, ...c.reflection], [d.shadow, ...d.reflection]).mean).toBeLessThan(5e-3);
    });
  },
);
