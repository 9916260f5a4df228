/** The things on the honey maker's table, each put on a stage by one function. */
import type { Stage } from './document.ts';
import { box, cross, grid, lathe, noise, quad, random, rounded, sub, tube, unit, type Vec } from './shape.ts';

/** Column-major matrix of something at `eye` whose -z looks at `target`. */
export function lookAt(eye: Vec, target: Vec): number[] {
  const z = unit(sub(eye, target));
  const x = unit(cross([0, 1, 0], z));
  const y = cross(z, x);
  return [...x, 0, ...y, 0, ...z, 0, ...eye, 1];
}

/** Lengthwise wood grain as a brightness and warmth, from noise stretched along x. */
function grain(x: number, z: number, seed: number): Vec {
  const broad = noise(x * 3, z * 90, seed);
  const fine = noise(x * 14, z * 420, seed + 7);
  const k = 0.6 + 0.3 * broad + 0.16 * (fine - 0.5);
  return [k, k * (0.97 + 0.03 * broad), k * (0.92 + 0.06 * broad)];
}

export function materials(stage: Stage): void {
  stage.material('oak', { colour: [0.36, 0.22, 0.12], roughness: 0.45 });
  stage.material('beech', { colour: [0.58, 0.4, 0.24], roughness: 0.4 });
  stage.material('plaster', { colour: [0.62, 0.58, 0.52], roughness: 0.95 });
  stage.material('paint_hive', { colour: [0.22, 0.42, 0.4], roughness: 0.35 });
  stage.material('zinc', { colour: [0.72, 0.74, 0.76], roughness: 0.42, metal: true });
  stage.material('dark_wood', { colour: [0.03, 0.022, 0.018], roughness: 0.8 });
  stage.material('glass', { colour: [0.97, 0.985, 0.98], roughness: 0, glass: { ior: 1.5 } });
  stage.material('honey', {
    colour: [1, 1, 1],
    roughness: 0,
    glass: { ior: 1.36, tint: { colour: [0.93, 0.5, 0.055], over: 0.03 } },
  });
  stage.material('lid_enamel', { colour: [0.62, 0.07, 0.05], roughness: 0.22 });
  stage.material('paper', { colour: [0.82, 0.78, 0.68], roughness: 0.8 });
  stage.material('ink', { colour: [0.07, 0.05, 0.045], roughness: 0.6 });
  stage.material('brass', { colour: [0.88, 0.62, 0.26], roughness: 0.24, metal: true });
  stage.material('leather', { colour: [0.2, 0.075, 0.035], roughness: 0.5 });
  stage.material('linen', { colour: [0.66, 0.64, 0.6], roughness: 0.95 });
  stage.material('lavender', { colour: [0.3, 0.2, 0.62], roughness: 0.7 });
  stage.material('stem', { colour: [0.2, 0.3, 0.12], roughness: 0.7 });
  stage.material('twine', { colour: [0.5, 0.36, 0.2], roughness: 0.9 });
  stage.material('bee_fur', { colour: [0.8, 0.45, 0.06], roughness: 0.75 });
  stage.material('bee_wing', { colour: [0.85, 0.88, 0.9], roughness: 0, glass: { ior: 1.3 } });
}

export function room(stage: Stage): void {
  for (let i = 0; i < 6; i++) {
    const z = 0.42 - i * 0.19;
    const tone = 0.8 + 0.2 * random(i + 11)();
    stage.object(
      `table/plank_${i + 1}`,
      {},
      {
        oak: (s) =>
          box(
            s,
            [0, -0.02, z],
            [2.4, 0.04, 0.186],
            0.002,
            (p) => {
              const g = grain(p[0], p[2], i);
              return [g[0] * tone, g[1] * tone, g[2] * tone];
            },
            [40, 1, 40],
          ),
      },
    );
  }
  stage.object(
    'wall',
    {},
    {
      plaster: (s) =>
        grid(
          s,
          60,
          36,
          (u, v) => [(u - 0.5) * 5, v * 2.4 - 0.4, -0.95 + 0.012 * noise(u * 60, v * 34, 3)],
          (u, v) => {
            const k = 0.74 + 0.2 * noise(u * 14, v * 9, 5) + 0.06 * noise(u * 70, v * 44, 6);
            return [k, k * 0.995, k * 0.98];
          },
        ),
    },
  );
}

export function hive(stage: Stage): void {
  const at: Vec = [-0.3, 0, -0.34];
  const turn = 0.38;
  const worn = (p: Vec): Vec => {
    const k = 0.8 + 0.2 * noise(p[0] * 30, p[1] * 40 + p[2] * 30, 21);
    return [k, k, k];
  };
  const place = { at, turn, scale: 0.9 };
  stage.object('hive/stand', place, {
    dark_wood: (s) => {
      box(s, [-0.14, 0.012, 0], [0.03, 0.024, 0.3]);
      box(s, [0.14, 0.012, 0], [0.03, 0.024, 0.3]);
    },
  });
  stage.object('hive/landing_board', place, {
    beech: (s) =>
      box(s, [0, 0.032, 0.03], [0.34, 0.016, 0.36], 0.002, (p) => grain(p[0], p[2], 40), [12, 1, 30]),
  });
  const level = (name: string, y: number, entrance: boolean) =>
    stage.object(`hive/${name}`, place, {
      paint_hive: (s) => box(s, [0, y + 0.066, 0], [0.33, 0.13, 0.3], 0.003, worn, [9, 5, 9]),
      dark_wood: (s) => {
        if (entrance) box(s, [0, y + 0.013, 0.15], [0.16, 0.018, 0.003], 0);
        else box(s, [0, y + 0.085, 0.15], [0.07, 0.016, 0.003], 0);
      },
    });
  level('box_lower', 0.04, true);
  level('box_upper', 0.173, false);
  stage.object('hive/roof', place, {
    zinc: (s) => {
      box(s, [0, 0.336, 0], [0.36, 0.066, 0.33], 0.005);
      box(s, [0, 0.374, 0], [0.3, 0.012, 0.27], 0.004);
    },
  });
}

export function jar(
  stage: Stage,
  number: number,
  x: number,
  z: number,
  size: number,
  fill: number,
  turn: number,
): void {
  const path = `jars/jar_${number}`;
  const place = { at: [x, 0, z] as Vec, turn, scale: size };
  const radius = 0.038;
  stage.object(`${path}/glass`, place, {
    glass: (s) =>
      lathe(
        s,
        rounded(
          [
            [0, 0.0008],
            [radius, 0.0008],
            [radius, 0.086],
            [0.031, 0.096],
            [0.031, 0.108],
          ],
          0.007,
          6,
        ),
        56,
      ),
  });
  const top = 0.006 + 0.082 * fill;
  stage.object(`${path}/honey`, place, {
    honey: (s) =>
      lathe(
        s,
        rounded(
          [
            [0, 0.004],
            [radius - 0.002, 0.004],
            [radius - 0.002, top],
            [0, top],
          ],
          0.006,
          6,
        ),
        56,
      ),
  });
  stage.object(`${path}/lid`, place, {
    lid_enamel: (s) => {
      lathe(
        s,
        rounded(
          [
            [0.032, 0.098],
            [0.035, 0.098],
            [0.035, 0.114],
            [0, 0.1155],
          ],
          0.003,
          5,
        ),
        56,
      );
      tube(
        s,
        (t) => [0.0352 * Math.cos(t * 6.2832), 0.1, 0.0352 * Math.sin(t * 6.2832)],
        () => 0.0011,
        6,
        56,
      );
    },
  });
  const around = (a: number, y: number, r: number): Vec => [r * Math.sin(a), y, r * Math.cos(a)];
  const r = radius + 0.0003;
  const wide = 0.8;
  stage.object(`${path}/label`, place, {
    paper: (s) => grid(s, 24, 1, (u, v) => around((u * 2 - 1) * wide, 0.022 + 0.042 * v, r)),
    ink: (s) => {
      const patch = (a0: number, a1: number, y0: number, y1: number) =>
        grid(s, 12, 1, (u, v) => around(a0 + (a1 - a0) * u, y0 + (y1 - y0) * v, r + 0.00015));
      patch(-wide + 0.06, wide - 0.06, 0.0245, 0.0255);
      patch(-wide + 0.06, wide - 0.06, 0.0605, 0.0615);
      patch(-0.5, 0.5, 0.031, 0.0325);
      patch(-0.36, 0.36, 0.0275, 0.0286);
      // A comb of seven cells.
      for (const [cx, cy] of [
        [0, 0],
        [1, 0],
        [-1, 0],
        [0.5, 0.87],
        [-0.5, 0.87],
        [0.5, -0.87],
        [-0.5, -0.87],
      ] as const) {
        const cell = (k: number, q: number): Vec => {
          const t = ((k + 0.5) * Math.PI) / 3;
          return around(
            (cx * 0.0085 + q * Math.cos(t)) / r,
            0.0465 + cy * 0.0085 + q * Math.sin(t),
            r + 0.0002,
          );
        };
        for (let k = 0; k < 6; k++)
          quad(
            s,
            cell(k, 0.0046),
            cell(k + 1, 0.0046),
            cell(k + 1, 0.0036),
            cell(k, 0.0036),
            unit(around(cx * 0.2, 0, 1)),
          );
      }
    },
  });
}

export function smoker(stage: Stage): void {
  const place = { at: [0.3, 0, -0.16] as Vec, turn: -0.5 };
  stage.object('smoker/can', place, {
    brass: (s) => {
      lathe(
        s,
        rounded(
          [
            [0, 0.001],
            [0.05, 0.001],
            [0.05, 0.15],
            [0.053, 0.15],
            [0.053, 0.156],
            [0.05, 0.156],
          ],
          0.002,
          4,
        ),
        72,
      );
      for (const y of [0.02, 0.13])
        tube(
          s,
          (t) => [0.0505 * Math.cos(t * 6.2832), y, 0.0505 * Math.sin(t * 6.2832)],
          () => 0.002,
          8,
          72,
        );
    },
  });
  stage.object('smoker/hood', place, {
    brass: (s) => {
      lathe(
        s,
        rounded(
          [
            [0.051, 0.157],
            [0.051, 0.163],
            [0.026, 0.205],
            [0.016, 0.212],
          ],
          0.008,
          6,
        ),
        72,
      );
      tube(
        s,
        (t) => [0.05 * t * t + 0.012 * t, 0.2 + 0.04 * t, 0.02 * t * t],
        (t) => 0.018 - 0.007 * t,
        32,
        20,
      );
    },
  });
  stage.object('smoker/bellows', place, {
    beech: (s) => {
      box(s, [-0.068, 0.085, 0], [0.009, 0.13, 0.085], 0.002, (p) => grain(p[1], p[2], 50), [2, 14, 12]);
      box(s, [-0.122, 0.088, 0], [0.009, 0.13, 0.085], 0.002, (p) => grain(p[1], p[2], 51), [2, 14, 12]);
    },
    leather: (s) => {
      for (let k = 0; k < 4; k++)
        box(
          s,
          [-0.079 - k * 0.011, 0.086, 0],
          [0.0105, 0.122 - (k % 2) * 0.006, 0.08 - (k % 2) * 0.008],
          0.004,
        );
    },
  });
}

export function cloth(stage: Stage): void {
  const height = (x: number, z: number) =>
    0.0025 + 0.006 * noise(x * 13 + 2, z * 15, 61) + 0.016 * Math.max(0, noise(x * 7, z * 5 + 3, 62) - 0.5);
  stage.object(
    'cloth',
    { at: [0.06, 0, 0.1], turn: 0.24 },
    {
      linen: (s) =>
        grid(
          s,
          150,
          92,
          (u, v) => {
            const x = (u - 0.5) * 0.46 + 0.008 * noise(v * 9, 0, 63);
            const z = (0.5 - v) * 0.27 + 0.008 * noise(u * 11, 5, 64);
            return [x, height(x, z), z];
          },
          (u, v) => {
            const stripe = v < 0.1 && v > 0.075 ? 0.55 : v < 0.065 && v > 0.055 ? 0.55 : 1;
            const weave = 0.94 + 0.06 * ((Math.floor(u * 150) + Math.floor(v * 92)) & 1);
            return [
              weave * (stripe < 1 ? 0.42 : 1),
              weave * (stripe < 1 ? 0.5 : 1),
              weave * (stripe < 1 ? 0.68 : 1),
            ];
          },
        ),
    },
  );
}

export function dipper(stage: Stage): void {
  stage.object(
    'dipper',
    {},
    {
      beech: (s) => {
        const from: Vec = [-0.02, 0.024, 0.2];
        const to: Vec = [0.17, 0.03, 0.145];
        const profile = (t: number) => {
          if (t > 0.3) return 0.0045 + 0.0008 * Math.sin(t * 9);
          const bulge = Math.sin((Math.PI * (t + 0.02)) / 0.34);
          const groove = Math.sin((t / 0.3) * Math.PI * 14) > 0 ? 1 : 0.78;
          return Math.max(0.0001, 0.0175 * Math.sqrt(Math.max(0, bulge)) * groove);
        };
        tube(
          s,
          (t) => [
            from[0] + (to[0] - from[0]) * t,
            from[1] + (to[1] - from[1]) * t,
            from[2] + (to[2] - from[2]) * t,
          ],
          (t) => (t > 0.998 ? 0.0005 : profile(t)),
          16,
          130,
          (u, v) => grain(v * 0.2, u * 0.03, 71),
        );
      },
    },
  );
}
