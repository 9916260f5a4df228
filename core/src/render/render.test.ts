import {
  GLASS,
  grouped,
  leftOf,
  material,
  MIRROR,
  renderFilm,
  sceneOf,
  turned,
} from '../../test/fixtures/scenes.ts';
import { idOfName } from '../idlayers/ids.ts';
import type { Scene } from '../scene/scene.ts';
import { DEFAULT_SETTINGS, settingsFault } from './settings.ts';
import { GATHER_IDS, LIGHT_PARTS, SURFACE } from './gather.ts';
import { sourcesOf } from './light-sources.ts';
import { RAY } from './ray-kinds.ts';
import { Film, renderTiles } from './film.ts';
import { judge } from './noise.ts';
import { TileRenderer } from './tile.ts';
import { prepare } from './waves/prepared.ts';

const settings = { ...DEFAULT_SETTINGS, width: 16, height: 16, samples: 64, filter: 'box' as const };
const mean = (plane: Float32Array) => plane.reduce((a, b) => a + b) / plane.length;
const DARK = { zenith: [0, 0, 0], horizon: [0, 0, 0], ground: [0, 0, 0] } as const;
const ids = (scene: Scene) => Uint32Array.from(scene.parts, (p) => idOfName(scene.objects[p.object]!.name));

describe('light', () => {
  const light = (scene: Scene, more = {}) => renderFilm(scene, { ...settings, ...more }).light();

  test('under an even white sky a diffuse wall shows its own colour', () => {
    const film = renderFilm(sceneOf(leftOf(9)), settings);
    expect(mean(film.light()[0]!)).toBeCloseTo(0.5, 2);
    expect(mean(film.alpha())).toBe(1);
  });

  test('clear glass in front of an even sky changes nothing', () => {
    expect(mean(light(sceneOf(leftOf(9), [GLASS]))[1]!)).toBeCloseTo(1, 5);
    // A solid slab of two surfaces, too, and a rough one up to what its microfacets shadow.
    const slab = { ...GLASS, absorption: [0, 0, 0] as const };
    const both = [...leftOf(9), ...turned(leftOf(9, -2))];
    expect(mean(light(sceneOf(both, [slab]))[1]!)).toBeCloseTo(1, 5);
    const rough = mean(
      light(sceneOf(both, [{ ...slab, roughness: 0.3 }]), {
        samples: 256,
        width: 6,
        height: 6,
      })[1]!,
    );
    expect(rough).toBeGreaterThan(0.93);
    expect(rough).toBeLessThanOrEqual(1.001);
  });

  test('tinted glass takes light by the law of Beer and Lambert', () => {
    const absorption = [0.7, 0.7, 0.7] as const;
    const both = [...leftOf(9), ...turned(leftOf(9, -2))];
    // Straight on, without the light that is reflected at the surfaces.
    const scene = sceneOf(both, [{ ...GLASS, ior: 1.0001, absorption }]);
    scene.camera.yfov = 0.02;
    expect(mean(light(scene)[0]!)).toBeCloseTo(Math.exp(-0.7), 2);
  });

  test('a mirror of a perfect metal shows the sky', () => {
    expect(mean(light(sceneOf(leftOf(9), [MIRROR]), { samples: 256, width: 8, height: 8 })[0]!)).toBeCloseTo(
      1,
      1,
    );
  });

  const sun = {
    name: 'sun',
    direction: [0, 0, 1] as const,
    irradiance: [2, 2, 2] as const,
    angularRadius: 0.005,
  };
  test('the sun on a facing diffuse wall gives colour times irradiance over pi', () => {
    expect(mean(light({ ...sceneOf(leftOf(9)), sky: DARK, suns: [sun] })[0]!)).toBeCloseTo(
      (0.5 * 2) / Math.PI,
      3,
    );
    // Two suns give twice as much.
    expect(mean(light({ ...sceneOf(leftOf(9)), sky: DARK, suns: [sun, sun] })[0]!)).toBeCloseTo(
      2 / Math.PI,
      2,
    );
    // A second wall between the wall and the sun takes all of it away.
    const shade = leftOf(9, 3);
    expect(mean(light({ ...sceneOf([...leftOf(9), ...shade]), sky: DARK, suns: [sun] })[0]!)).toBeLessThan(
      1e-4,
    );
  });

  test('a point lamp falls off with the square of the distance', () => {
    const lamp = {
      name: 'lamp',
      position: [0, 0, 0] as const,
      direction: [0, 0, -1] as const,
      intensity: [3, 3, 3] as const,
      innerCosine: -1,
      outerCosine: -1,
    };
    const scene = { ...sceneOf(leftOf(90, -2)), sky: DARK, lamps: [lamp] };
    scene.camera.yfov = 0.02;
    expect(mean(light(scene)[0]!)).toBeCloseTo(((0.5 / Math.PI) * 3) / 4, 3);
  });

  test('a shining square lights a wall as its form factor says, by whatever way it is found', () => {
    // A square of side 2 at distance 1 facing the middle of the wall; the factor between a point and a parallel
    // square over it (Howell, "A Catalog of Radiation Heat Transfer Configuration Factors", B-3, four quarters).
    const a = 1;
    const root = Math.sqrt(1 + a * a);
    const factor = 4 * (1 / (2 * Math.PI)) * 2 * ((a / root) * Math.atan(a / root));
    const shining = material({ name: 'lamp', colour: [0, 0, 0], emission: [4, 4, 4] });
    const square = [
      [-1, -1, 0, 1, -1, 0, 1, 1, 0],
      [-1, -1, 0, 1, 1, 0, -1, 1, 0],
    ];
    const scene = {
      ...sceneOf([...leftOf(9), ...square], [material(), shining], (i) => (i < 2 ? 0 : 1)),
      sky: DARK,
    };
    scene.camera.yfov = 0.02;
    // The camera stands just before the square.
    scene.camera.matrix[14] = scene.camera.matrixEnd[14] = -0.01;
    expect(mean(light(scene, { samples: 4096, bounces: 0, width: 2, height: 2 })[0]!)).toBeCloseTo(
      0.5 * 4 * factor,
      1,
    );
  });

  test('a picture of light all around is sampled without bias', () => {
    const data = new Float32Array(8 * 4 * 3).fill(0.2);
    // One bright spot behind the camera.
    for (let k = 0; k < 3; k++) data[3 * (1 * 8 + 0) + k] = 9;
    const scene = { ...sceneOf(leftOf(9)), surroundings: { width: 8, height: 4, data, turn: 0, gain: 1 } };
    scene.camera.yfov = 0.02;
    // By hand: the integral of radiance times cosine over the half space in front of the wall.
    let sum = 0;
    const n = 400;
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++) {
        const theta = (Math.PI * (i + 0.5)) / n;
        const phi = 2 * Math.PI * ((j + 0.5) / n - 0.5);
        const z = -Math.sin(theta) * Math.cos(phi);
        if (z <= 0) continue;
        const px = Math.min(7, Math.floor((phi / (2 * Math.PI) + 0.5) * 8));
        const py = Math.min(3, Math.floor((theta / Math.PI) * 4));
        sum += data[3 * (py * 8 + px)]! * z * Math.sin(theta) * (Math.PI / n) * ((2 * Math.PI) / n);
      }
    expect(mean(light(scene, { samples: 4096, width: 2, height: 2 })[0]!)).toBeCloseTo(
      (0.5 / Math.PI) * sum,
      1,
    );
  });

  test('the parts of the light add up to the beauty', () => {
    const scene = {
      ...sceneOf(
        [
          ...leftOf(0, -2),
          ...leftOf(9, -3),
          [-2, -2, -1, 2, -2, -1, 0, 0.2, -1],
          [0.2, 0, 1, 2, 0, 1, 2, 2, 1],
        ],
        [
          material({ name: 'glossy', roughness: 0.5, ior: 1.5 }),
          MIRROR,
          GLASS,
          material({ name: 'lamp', emission: [3, 2, 1] }),
        ],
        (i) => [0, 0, 1, 1, 2, 3][i]!,
      ),
      suns: [sun],
    };
    const gather = { ...GATHER_IDS, lightParts: true };
    const film = renderFilm(scene, { ...settings, gather, samples: 128 });
    const beauty = film.light();
    const parts = LIGHT_PARTS.map((p) => film.light([p]));
    const lit = parts.filter((p) => p.some((plane) => plane.some((v) => v > 0))).length;
    expect(lit).toBeGreaterThanOrEqual(6);
    for (let k = 0; k < 3; k++)
      for (let p = 0; p < 256; p++) {
        const sum = parts.reduce((n, part) => n + part[k]![p]!, 0);
        expect(Math.abs(sum - beauty[k]![p]!)).toBeLessThanOrEqual(1e-6 * Math.max(1, beauty[k]![p]!));
      }
    // Gathering the parts changes nothing in the picture.
    const plain = renderFilm(scene, { ...settings, samples: 128 }).light();
    plain[1]!.forEach((v, p) => expect(v).toBeCloseTo(beauty[1]![p]!, 5));
  });

  test('the light of each source adds up to the beauty, and is what it gives alone', () => {
    const wall = [...leftOf(9, -3), [-2, -2, -1, 2, -2, -1, 0, 0.2, -1], [0.2, 0, 1, 2, 0, 1, 2, 2, 1]];
    const glow = material({ name: 'glow', emission: [3, 2, 1] });
    const lamp = {
      name: 'lamp',
      position: [0.5, 0.5, 1] as const,
      direction: [0, 0, -1] as const,
      intensity: [1, 2, 3] as const,
      innerCosine: -1,
      outerCosine: -1,
    };
    const scene = {
      ...sceneOf(wall, [MIRROR, material({ name: 'glossy', roughness: 0.5 }), glow], (i) => [0, 0, 1, 2][i]!),
      suns: [sun],
      lamps: [lamp],
    };
    const gather = { ...GATHER_IDS, lamps: true };
    const film = renderFilm(scene, { ...settings, gather, samples: 64 });
    expect(sourcesOf(scene)).toEqual(['sky', 'shining', 'sun', 'lamp']);
    const beauty = film.light();
    const parts = [0, 1, 2, 3].map((i) => film.lamp(i));
    for (let k = 0; k < 3; k++) {
      const off = beauty[k]!.map((v, p) => {
        const sum = parts.reduce((n, part) => n + part[k]![p]!, 0);
        return Math.abs(sum - v) / Math.max(1, v);
      });
      expect(Math.max(...off)).toBeLessThan(1e-6);
    }
    // With the other sources away, it is what is left: suns are asked every time, so that the very same paths count.
    const alone = renderFilm({ ...scene, sky: DARK, lamps: [] }, { ...settings, samples: 64 }).light();
    const dark = renderFilm(
      { ...scene, sky: DARK, lamps: [], suns: [] },
      { ...settings, samples: 64 },
    ).light();
    for (let k = 0; k < 3; k++) expect(mean(parts[2]![k]!)).toBeCloseTo(mean(alone[k]!) - mean(dark[k]!), 5);
  });
});

describe('coverage', () => {
  test('an edge in the middle of a pixel column covers half of it, and beauty and mask agree', () => {
    const x = 1 / 16; // the middle of column 8 of 16
    const scene = grouped(sceneOf(leftOf(x)), [0, 0]);
    const film = renderFilm(scene, { ...settings, samples: 256 });
    const { ids: found, coverage } = film.ranks(ids(scene), 2);
    for (let y = 0; y < 16; y++) {
      const at = y * 16 + 8;
      expect(found[0]![at]).toBe(idOfName('thing_0'));
      expect(Math.abs(coverage[0]![at]! - 0.5)).toBeLessThan(0.02);
      expect(coverage[0]![at]).toBeCloseTo(film.alpha()[at]!, 6);
    }
  });

  test('ranks fall in coverage and sum to alpha, also in the crowd', () => {
    const strips = Array.from({ length: 40 }, (_, i) => leftOf(-1 + (i + 1) / 20, -1 - i * 0.001)).flat();
    const scene = sceneOf(strips);
    const film = renderFilm(scene, { ...settings, filter: 'gaussian' });
    const alpha = film.alpha();
    const { ids: found, coverage } = film.ranks(ids(scene), 8);
    for (let p = 0; p < 256; p++) {
      const c = coverage.map((plane) => plane[p]!);
      expect(c.every((v, r) => r === 0 || v <= c[r - 1]!)).toBe(true);
      expect(c.reduce((a, b) => a + b)).toBeLessThanOrEqual(alpha[p]! + 1e-6);
      found.forEach((plane, r) => expect(plane[p] !== 0).toBe(c[r]! > 0));
    }
  });

  test('a cut-out lets rays pass where its alpha says so, and covers just the rest', () => {
    const veil = material({ name: 'veil', alphaMode: 'blend', alpha: 0.25 });
    const scene = grouped(
      sceneOf([...leftOf(9), ...leftOf(9, -2)], [veil, material()], (i) => (i < 2 ? 0 : 1)),
      [0, 0, 1, 1],
    );
    const film = renderFilm(scene, { ...settings, samples: 256 });
    const [front, back] = film.coverage([[0], [1]], 2);
    expect(mean(front!)).toBeCloseTo(0.25, 2);
    expect(mean(back!)).toBeCloseTo(0.75, 2);
    const gone = { ...veil, alphaMode: 'mask' as const, cutoff: 0.5 };
    const none = renderFilm({ ...scene, materials: [gone, material()] }, settings);
    expect(mean(none.coverage([[0], [1]], 2)[0]!)).toBe(0);
  });

  test('something that moves one pixel while the shutter is open covers a slope of a pixel more', () => {
    // One pixel is 2 / 16 wide at distance 1.
    const scene = grouped(sceneOf(leftOf(0)), [0, 0]);
    const moving: Scene = {
      ...scene,
      positionsEnd: scene.positions.map((v, i) => (i % 3 === 0 ? v + 2 / 16 : v)),
      firstMoving: 0,
      shutter: 1,
    };
    const gather = { ...GATHER_IDS, surface: true };
    const film = renderFilm(moving, { ...settings, samples: 256, gather });
    const [cover] = film.coverage([[0]], 1);
    for (let y = 0; y < 16; y++) {
      expect(cover![y * 16 + 7]).toBe(1);
      expect(cover![y * 16 + 8]).toBeCloseTo(0.5, 1);
      expect(cover![y * 16 + 9]).toBe(0);
    }
    // The vectors say so, too: one pixel to the right until the end of the span.
    const [vx, vy] = film.surface(SURFACE.motion, 2);
    expect(vx![7 * 16 + 3]).toBeCloseTo(1, 4);
    expect(vy![7 * 16 + 3]).toBeCloseTo(0, 4);
  });

  test('a lens blurs by the circle of confusion that geometry says, and is sharp at its focus', () => {
    const scene = grouped(sceneOf(leftOf(0, -2)), [0, 0]);
    scene.camera.lensRadius = 0.25;
    scene.camera.focus = 2;
    const sharp = renderFilm(scene, { ...settings, samples: 256 }).coverage([[0]], 1)[0]!;
    expect(sharp[8 * 16 + 7]).toBeCloseTo(1, 2);
    expect(sharp[8 * 16 + 8]).toBeCloseTo(0, 2);
    // Focus at 1: a point at 2 is spread over a radius r |1/1 - 1/2| = 0.125 on the plane at 1, one pixel.
    scene.camera.focus = 1;
    const soft = renderFilm(scene, { ...settings, samples: 512 }).coverage([[0]], 1)[0]!;
    expect(soft[8 * 16 + 6]).toBeCloseTo(1, 2);
    expect(soft[8 * 16 + 9]).toBeCloseTo(0, 2);
    // The share of a disc of radius 1 left of a line, averaged over the pixel right of the edge.
    const left = (x: number) => 0.5 - (x * Math.sqrt(1 - x * x) + Math.asin(x)) / Math.PI;
    let expected = 0;
    for (let i = 0; i < 1000; i++) expected += left((i + 0.5) / 1000) / 1000;
    expect(Math.abs(soft[8 * 16 + 8]! - expected)).toBeLessThan(0.02);
  });

  test('is the same with and without light, in one round or many', () => {
    const strips = Array.from({ length: 10 }, (_, i) => leftOf(-0.7 + i / 7, -1 - i * 0.01)).flat();
    const scene = sceneOf(strips);
    scene.camera.lensRadius = 0.05;
    scene.camera.focus = 1.3;
    const all = renderFilm(scene, { ...settings, filter: 'blackman-harris' }, [64]);
    const dark = renderFilm(scene, { ...settings, filter: 'blackman-harris', light: false }, [4, 16, 64]);
    expect(dark.ranks(ids(scene), 6)).toEqual(all.ranks(ids(scene), 6));
    const again = renderFilm(scene, { ...settings, filter: 'blackman-harris' }, [7, 64]);
    expect(again.light()).toEqual(all.light());
  });

  test('hidden things are hidden from just what was asked for', () => {
    // A mirror fills the view; behind the camera hangs a wall.
    const wall = turned(leftOf(9, 2));
    const scene = grouped(
      sceneOf([...leftOf(9), ...wall], [MIRROR, material({ colour: [0, 0, 0] })], (i) => (i < 2 ? 0 : 1)),
      [0, 0, 1, 1],
    );
    const bright = (s: Scene) => mean(renderFilm(s, { ...settings, samples: 16 }).light()[0]!);
    expect(bright(scene)).toBeLessThan(0.1);
    const all = RAY.camera | RAY.reflection | RAY.refraction | RAY.shadow | RAY.bounce;
    const hidden = scene.objects.map((o, i) => (i === 1 ? { ...o, visible: all & ~RAY.reflection } : o));
    expect(bright({ ...scene, objects: hidden })).toBeGreaterThan(0.9);
    const notIn = scene.objects.map((o, i) => (i === 1 ? { ...o, notSeenIn: [0] } : o));
    expect(bright({ ...scene, objects: notIn })).toBeGreaterThan(0.9);
  });
});

describe('through-glass layers', () => {
  test('tell what is seen behind glass, weighed by the light that gets through', () => {
    const tint = { ...GLASS, colour: [0.5, 0.5, 0.5] as const };
    const scene = grouped(
      sceneOf([...leftOf(9), ...leftOf(0, -2), ...leftOf(9, -3)], [tint, material()], (i) => (i < 2 ? 0 : 1)),
      [0, 0, 1, 1, 2, 2],
    );
    const through = [{ way: 'refraction' as const, depth: 1, roughness: 0.1 }];
    const film = renderFilm(scene, { ...settings, samples: 256, gather: { ...GATHER_IDS, through } });
    const { ids: found, coverage } = film.ranks(ids(scene), 2, 0);
    const left = 8 * 16 + 4;
    expect(found[0]![left]).toBe(idOfName('thing_1'));
    // Half by the tint, and what Fresnel's equations leave at normal incidence: 2R / (1 + R) with R = 4 %.
    expect(coverage[0]![left]).toBeCloseTo(0.5 * (1 - 0.08 / 1.04), 1);
    expect(found[0]![8 * 16 + 11]).toBe(idOfName('thing_2'));
    // The direct view knows nothing of what is behind.
    expect(film.ranks(ids(scene), 1).ids[0]![left]).toBe(idOfName('thing_0'));
  });

  test('tell what a mirror shows, and nothing on a surface that is too rough', () => {
    const wall = turned(leftOf(9, 2));
    const scene = grouped(
      sceneOf([...leftOf(9), ...wall], [MIRROR, material()], (i) => (i < 2 ? 0 : 1)),
      [0, 0, 1, 1],
    );
    const through = [
      { way: 'reflection' as const, depth: 1, roughness: 0.3 },
      { way: 'reflection' as const, depth: 1, roughness: 0.01 },
      { way: 'reflection' as const, depth: 2, roughness: 0.3 },
    ];
    const film = renderFilm(scene, { ...settings, samples: 32, gather: { ...GATHER_IDS, through } });
    expect(mean(film.ranks(ids(scene), 1, 0).coverage[0]!)).toBeGreaterThan(0.95);
    expect(film.ranks(ids(scene), 1, 0).ids[0]![100]).toBe(idOfName('thing_1'));
    expect(mean(film.ranks(ids(scene), 1, 1).coverage[0]!)).toBe(0);
    expect(mean(film.ranks(ids(scene), 1, 2).coverage[0]!)).toBe(0);
    const dark = renderFilm(scene, {
      ...settings,
      samples: 32,
      light: false,
      gather: { ...GATHER_IDS, through },
    });
    expect(dark.ranks(ids(scene), 2, 0)).toEqual(film.ranks(ids(scene), 2, 0));
  });
});

describe('data of the first surface', () => {
  const gather = { ...GATHER_IDS, surface: true, shadow: true, occlusion: 0.5 };

  test('depth, normal, position and base colour are those of the wall', () => {
    const film = renderFilm(sceneOf(leftOf(9, -2), [material({ colour: [0.2, 0.4, 0.6] })]), {
      ...settings,
      gather,
    });
    const at = 5 * 16 + 11;
    expect(film.surface(SURFACE.depth, 1)[0]![at]).toBeCloseTo(2, 5);
    expect(film.surface(SURFACE.normal, 3).map((p) => p[at])).toEqual([0, 0, 1]);
    const [x, y, z] = film.surface(SURFACE.position, 3).map((p) => p[at]!);
    expect([x, y, z].map((v) => Math.round(v! * 100) / 100)).toEqual(
      [0.88, 0.63, -2].map((v) => expect.closeTo(v, 1)),
    );
    film.surface(SURFACE.base, 3).forEach((p, k) => expect(p[at]).toBeCloseTo(0.2 * (k + 1), 5));
  });

  test('a corner occludes by the share of directions that it takes', () => {
    // A floor that meets a tall wall: at the very corner half of all cosine-weighted directions are taken.
    const floor = [
      [-9, -0.5, 9, 9, -0.5, 9, 9, -0.5, -1],
      [-9, -0.5, 9, 9, -0.5, -1, -9, -0.5, -1],
    ];
    const film = renderFilm(sceneOf([...leftOf(9), ...floor]), { ...settings, gather, samples: 256 });
    const open = film.occlusion();
    // The floor meets the wall at y = -0.5, in row 12; above it the wall is open.
    expect(open[2 * 16 + 8]).toBeCloseTo(1, 2);
    const nearCorner = open[11 * 16 + 8]!;
    expect(nearCorner).toBeGreaterThan(0.45);
    expect(nearCorner).toBeLessThan(0.75);
  });

  test('shadow is 0 in the open and 1 where nothing gets through', () => {
    const sun = {
      name: 'sun',
      direction: [0, 0, 1] as const,
      irradiance: [2, 2, 2] as const,
      angularRadius: 0.005,
    };
    const open = { ...sceneOf(leftOf(9)), sky: DARK, suns: [sun] };
    expect(mean(renderFilm(open, { ...settings, gather }).shadow())).toBe(0);
    const shaded = { ...sceneOf([...leftOf(9), ...leftOf(9, 3)]), sky: DARK, suns: [sun] };
    expect(mean(renderFilm(shaded, { ...settings, gather }).shadow())).toBe(1);
  });
});

describe('sampling', () => {
  const strips = Array.from({ length: 6 }, (_, i) => leftOf(-0.7 + i / 3, -1 - i * 0.01)).flat();
  const scene = sceneOf(
    strips,
    [material({ name: 'a' }), material({ name: 'b', colour: [0.9, 0.1, 0.1] })],
    (i) => i % 2,
  );

  test('ends where the noise is low enough, and only there', () => {
    const rounds = [16, 32, 64, 128];
    const judged = (noise: number) => {
      const own = { ...settings, samples: 128, noise };
      const renderer = new TileRenderer(prepare(scene), own);
      let tile = renderer.begin({ x0: 0, y0: 0, x1: own.width, y1: own.height });
      for (const upTo of rounds) {
        tile = renderer.extend(tile, upTo);
        judge([tile], own);
      }
      return new Film(scene, own, [tile]).samples();
    };
    expect(Math.min(...judged(0.02))).toBeLessThan(128);
    expect(Math.max(...judged(0.02))).toBe(128);
    expect(Math.min(...judged(0.0001))).toBe(128);
  });

  test('a patch computes just the pixels in which its parts are seen, like a whole render', () => {
    const whole = renderFilm(scene, settings);
    const patch = renderFilm(scene, { ...settings, patch: [2] });
    const cover = whole.coverage(
      scene.parts.map((_, i) => (i === 2 ? [0] : [])),
      1,
    )[0]!;
    const samples = patch.samples();
    expect(samples.some((s) => s > 0)).toBe(true);
    cover.forEach((c, p) => expect(samples[p]! > 0).toBe(c > 0));
    const [a, b] = [whole.light(), patch.light()];
    cover.forEach((c, p) => {
      if (c > 0) for (let k = 0; k < 3; k++) expect(b[k]![p]).toBe(a[k]![p]);
    });
  });

  test('a cut-out shows its members alone, whole or with what covers them cut away', () => {
    const two = grouped(
      sceneOf([...leftOf(0), ...leftOf(9, -2)], [material({ name: 'a' }), material({ name: 'b' })], (i) =>
        i < 2 ? 0 : 1,
      ),
      [0, 0, 1, 1],
    );
    const role = (front: 'away' | 'held'): Scene => ({
      ...two,
      parts: two.parts.map((p, i) => ({ ...p, role: i === 0 ? front : ('shown' as const) })),
    });
    expect(mean(renderFilm(role('away'), settings).alpha())).toBe(1);
    const held = renderFilm(role('held'), settings);
    expect(mean(held.alpha())).toBeCloseTo(0.5, 2);
    const { coverage } = held.ranks(ids(two), 2);
    expect(coverage[0]).toEqual(held.alpha());
  });

  test('a catcher gives only its shadow and reflection', () => {
    const sun = {
      name: 'sun',
      direction: [0, 0, 1] as const,
      irradiance: [2, 2, 2] as const,
      angularRadius: 0.005,
    };
    const two = {
      ...grouped(sceneOf([...leftOf(9), ...leftOf(0, 3)]), [0, 0, 1, 1]),
      sky: DARK,
      suns: [sun],
    };
    const parts = two.parts.map((p, i) => ({
      ...p,
      role: i === 0 ? ('catcher' as const) : ('shown' as const),
    }));
    const film = renderFilm({ ...two, parts }, settings);
    expect(mean(film.alpha())).toBe(0);
    expect(mean(film.light()[0]!)).toBe(0);
    const { shadow } = film.catcher();
    expect(shadow[8 * 16 + 2]).toBeCloseTo(1, 3);
    expect(shadow[8 * 16 + 13]).toBeCloseTo(0, 3);
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
    expect(settingsFault({ ...DEFAULT_SETTINGS, noise: 2 })).toContain('noise');
    const through = Array.from(
      { length: 33 },
      (_, i) => ({ way: 'refraction', depth: i, roughness: 1 }) as const,
    );
    const gather = { ...GATHER_IDS, through };
    expect(settingsFault({ ...DEFAULT_SETTINGS, gather })).toContain('At most 32 passes');
  });
});
