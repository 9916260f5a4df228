import { add, cross, ellipsoid, random, scale, sub, tube, unit, type Shape, type Vec } from './shape.ts';

/** One sprig: a bent stem with rings of florets at its end. */
export interface Sprig {
  seed: number;
  from: Vec;
  middle: Vec;
  to: Vec;
}

/** Lays sprig `i` into the bunch on the table; the last few lie loose. */
export function sprig(i: number, rnd: () => number): Sprig {
  const tie: Vec = [-0.163, 0.014, 0.235];
  if (i >= 37) {
    const x = -0.02 + (i - 37) * 0.055 + rnd() * 0.02;
    const z = 0.265 + rnd() * 0.035;
    const a = 0.1 + rnd() * 0.5;
    return {
      seed: i,
      from: [x, 0.004, z],
      middle: [x + 0.05 * Math.cos(a), 0.006, z - 0.05 * Math.sin(a)],
      to: [x + 0.1 * Math.cos(a + 0.15), 0.009, z - 0.1 * Math.sin(a + 0.15)],
    };
  }
  // The bunch is round where it is tied and spreads towards the flowers.
  const ring = Math.sqrt(rnd());
  const turn = rnd() * 2 * Math.PI;
  const off: Vec = [0, 0.012 * ring * Math.sin(turn), 0.015 * ring * Math.cos(turn)];
  const through = add(tie, off);
  const spread = 2.1 + rnd() * 1.4;
  const length = 0.12 + rnd() * 0.055;
  const to: Vec = [
    through[0] - length,
    Math.max(0.009, 0.02 + off[1] * spread * 1.4),
    through[2] + off[2] * spread * 1.5 + length * 0.28,
  ];
  const back = 0.07 + rnd() * 0.03;
  const from: Vec = [
    through[0] + back,
    Math.max(0.003, 0.012 + off[1] * 1.6),
    through[2] + off[2] * 2 - back * 0.3,
  ];
  return { seed: i, from, middle: through, to };
}

const curve =
  (s: Sprig) =>
  (t: number): Vec => {
    // A quadratic curve that passes through the middle point.
    const m = sub(scale(s.middle, 2), scale(add(s.from, s.to), 0.5));
    return add(add(scale(s.from, (1 - t) ** 2), scale(m, 2 * t * (1 - t))), scale(s.to, t * t));
  };

export function drawStem(shape: Shape, s: Sprig): void {
  const k = 0.85 + 0.4 * random(s.seed + 900)();
  tube(
    shape,
    curve(s),
    (t) => 0.0011 - 0.0004 * t,
    5,
    9,
    () => [k, k, k * 0.9],
  );
}

export function drawFlorets(shape: Shape, s: Sprig): void {
  const rnd = random(s.seed * 31 + 5);
  const at = curve(s);
  const tone = 0.75 + 0.5 * rnd();
  for (let ring = 0; ring < 9; ring++) {
    // One ring stands apart below the head, as on the plant.
    const t = ring === 0 ? 0.66 : 0.74 + (ring - 1) * 0.037;
    const centre = at(t);
    const along = unit(sub(at(Math.min(1, t + 0.02)), at(t - 0.02)));
    const side = unit(cross(along, [0, 1, 0]));
    const up = cross(side, along);
    const size = ring === 0 ? 0.8 : ring > 6 ? 0.75 : 1;
    for (let k = 0; k < 6; k++) {
      const a = ((k + 0.5 * (ring % 2)) / 6) * 2 * Math.PI + rnd() * 0.4;
      const out = add(scale(side, Math.cos(a)), scale(up, Math.sin(a)));
      const lean = unit(add(scale(out, 0.75), along));
      const bud = add(centre, scale(out, 0.0034 * size));
      const tint = tone * (0.8 + 0.4 * rnd());
      const across = unit(
        cross(lean, side[0] * lean[0] + side[1] * lean[1] + side[2] * lean[2] > 0.9 ? up : side),
      );
      ellipsoid(
        shape,
        bud,
        [scale(across, 0.0019 * size), scale(lean, 0.0042 * size), scale(cross(across, lean), 0.0019 * size)],
        5,
        3,
        (_u, v) => [tint * (0.55 + 0.35 * v), tint * (0.55 + 0.3 * v), tint * (0.65 + 0.2 * v)],
      );
    }
  }
}
