/** Building blocks of the demo scene: triangles with normals and vertex colours. */
export type Vec = [number, number, number];

export interface Shape {
  positions: number[];
  normals: number[];
  colours: number[];
  indices: number[];
}

export const shape = (): Shape => ({ positions: [], normals: [], colours: [], indices: [] });

/** A random number generator from a seed (mulberry32), so that the scene is the same every time. */
export function random(seed: number): () => number {
  let a = seed;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Smooth value noise over a plane, 0 to 1. */
export function noise(x: number, y: number, seed = 0): number {
  const at = (i: number, j: number) => random((i * 374761393 + j * 668265263 + seed * 974711) | 0)();
  const i = Math.floor(x);
  const j = Math.floor(y);
  const u = (x - i) ** 2 * (3 - 2 * (x - i));
  const v = (y - j) ** 2 * (3 - 2 * (y - j));
  const a = at(i, j) * (1 - u) + at(i + 1, j) * u;
  const b = at(i, j + 1) * (1 - u) + at(i + 1, j + 1) * u;
  return a * (1 - v) + b * v;
}

export const add = (a: Vec, b: Vec): Vec => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
export const sub = (a: Vec, b: Vec): Vec => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
export const scale = (a: Vec, s: number): Vec => [a[0] * s, a[1] * s, a[2] * s];
export const cross = (a: Vec, b: Vec): Vec => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
export const unit = (a: Vec): Vec => scale(a, 1 / (Math.hypot(...a) || 1));

/** A grid of points with normals taken from its own curvature; faces turn towards u x v. */
export function grid(
  s: Shape,
  columns: number,
  rows: number,
  point: (u: number, v: number) => Vec,
  colour: (u: number, v: number) => Vec = () => [1, 1, 1],
): void {
  const base = s.positions.length / 3;
  const e = 1e-4;
  for (let j = 0; j <= rows; j++)
    for (let i = 0; i <= columns; i++) {
      const u = i / columns;
      const v = j / rows;
      s.positions.push(...point(u, v));
      const du = sub(point(Math.min(1, u + e), v), point(Math.max(0, u - e), v));
      const dv = sub(point(u, Math.min(1, v + e)), point(u, Math.max(0, v - e)));
      let n = cross(du, dv);
      // At a pole one side vanishes: look a little further in.
      if (Math.hypot(...n) < 1e-14) {
        const vi = v < 0.5 ? v + 0.01 : v - 0.01;
        n = cross(sub(point(Math.min(1, u + e), vi), point(Math.max(0, u - e), vi)), dv);
      }
      s.normals.push(...unit(n));
      s.colours.push(...colour(u, v));
    }
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) {
      const a = base + j * (columns + 1) + i;
      const b = a + columns + 1;
      s.indices.push(a, a + 1, b + 1, a, b + 1, b);
    }
}

/** Bands of a profile that meet at less than this angle are shaded as one smooth surface. */
const SMOOTH = Math.cos(0.6);

/** Turns a profile of (radius, height) points, listed from bottom to top on the outside, about the y axis. */
export function lathe(s: Shape, profile: [number, number][], segments = 48): void {
  const bands = profile.slice(1).map(([r, y], k): [number, number] => {
    const [r0, y0] = profile[k]!;
    const length = Math.hypot(r - r0, y - y0) || 1;
    return [(y - y0) / length, (r0 - r) / length];
  });
  const blend = (k: number, other: number): [number, number] => {
    const [a, b] = [bands[k]!, bands[other]];
    if (!b || a[0] * b[0] + a[1] * b[1] < SMOOTH) return a;
    const length = Math.hypot(a[0] + b[0], a[1] + b[1]);
    return [(a[0] + b[0]) / length, (a[1] + b[1]) / length];
  };
  bands.forEach((_, k) => {
    const base = s.positions.length / 3;
    const ends = [blend(k, k - 1), blend(k, k + 1)];
    for (const end of [0, 1]) {
      const [r, y] = profile[k + end]!;
      const [nr, ny] = ends[end]!;
      for (let i = 0; i <= segments; i++) {
        const a = (-2 * Math.PI * i) / segments;
        s.positions.push(r * Math.cos(a), y, r * Math.sin(a));
        s.normals.push(nr * Math.cos(a), ny, nr * Math.sin(a));
        s.colours.push(1, 1, 1);
      }
    }
    for (let i = 0; i < segments; i++) {
      const a = base + i;
      const b = a + segments + 1;
      s.indices.push(a, a + 1, b + 1, a, b + 1, b);
    }
  });
}

/** A profile with rounded corners: each inner point is replaced by a short arc (a quadratic curve). */
export function rounded(profile: [number, number][], radius: number, steps = 5): [number, number][] {
  const out: [number, number][] = [profile[0]!];
  for (let i = 1; i + 1 < profile.length; i++) {
    const [p, q, r] = [profile[i - 1]!, profile[i]!, profile[i + 1]!];
    const towards = (a: [number, number]): [number, number] => {
      const d = Math.hypot(a[0] - q[0], a[1] - q[1]);
      const k = Math.min(radius, d / 2) / d;
      return [q[0] + (a[0] - q[0]) * k, q[1] + (a[1] - q[1]) * k];
    };
    const a = towards(p);
    const b = towards(r);
    for (let k = 0; k <= steps; k++) {
      const t = k / steps;
      out.push([
        (1 - t) ** 2 * a[0] + 2 * t * (1 - t) * q[0] + t * t * b[0],
        (1 - t) ** 2 * a[1] + 2 * t * (1 - t) * q[1] + t * t * b[1],
      ]);
    }
  }
  out.push(profile[profile.length - 1]!);
  return out;
}

/** A box with its edges cut off, centred at a point; `colour` is asked for at each corner. */
export function box(
  s: Shape,
  centre: Vec,
  size: Vec,
  bevel = 0.002,
  colour: (p: Vec) => Vec = () => [1, 1, 1],
  cells: [number, number, number] = [1, 1, 1],
): void {
  const h: Vec = [size[0] / 2, size[1] / 2, size[2] / 2];
  const face = (axis: 0 | 1 | 2, sign: 1 | -1) => {
    const a = ((axis + 1) % 3) as 0 | 1 | 2;
    const b = ((axis + 2) % 3) as 0 | 1 | 2;
    const point = (u: number, v: number): Vec => {
      const p: Vec = [0, 0, 0];
      p[axis] = sign * h[axis];
      const k = sign > 0 ? u : 1 - u;
      p[a] = (2 * k - 1) * (h[a] - bevel);
      p[b] = (2 * v - 1) * (h[b] - bevel);
      return add(p, centre);
    };
    // What lies underneath is never seen closely.
    const fine = !(axis === 1 && sign < 0);
    grid(s, fine ? cells[a] : 1, fine ? cells[b] : 1, point, (u, v) => colour(point(u, v)));
  };
  for (const axis of [0, 1, 2] as const) {
    face(axis, 1);
    face(axis, -1);
  }
  if (bevel <= 0) return;
  // The twelve edges as strips between neighbouring faces; the eight corner triangles close the rest.
  for (const axis of [0, 1, 2] as const) {
    const a = ((axis + 1) % 3) as 0 | 1 | 2;
    const b = ((axis + 2) % 3) as 0 | 1 | 2;
    for (const sa of [1, -1])
      for (const sb of [1, -1]) {
        const corner = (along: number, first: boolean): Vec => {
          const p: Vec = [0, 0, 0];
          p[axis] = along * (h[axis] - bevel);
          p[a] = sa * (h[a] - (first ? 0 : bevel));
          p[b] = sb * (h[b] - (first ? bevel : 0));
          return add(p, centre);
        };
        const n: Vec = [0, 0, 0];
        n[a] = sa * Math.SQRT1_2;
        n[b] = sb * Math.SQRT1_2;
        quad(
          s,
          corner(-1, true),
          corner(1, true),
          corner(1, false),
          corner(-1, false),
          n,
          colour(corner(0, true)),
        );
      }
  }
  for (const sx of [1, -1])
    for (const sy of [1, -1])
      for (const sz of [1, -1]) {
        const p = (k: number): Vec => [
          centre[0] + sx * (h[0] - (k === 0 ? 0 : bevel)),
          centre[1] + sy * (h[1] - (k === 1 ? 0 : bevel)),
          centre[2] + sz * (h[2] - (k === 2 ? 0 : bevel)),
        ];
        triangle(s, p(0), p(1), p(2), unit([sx, sy, sz]), colour(p(0)));
      }
}

function triangle(s: Shape, a: Vec, b: Vec, c: Vec, normal: Vec, colour: Vec): void {
  const base = s.positions.length / 3;
  const facing = cross(sub(b, a), sub(c, a));
  const [x, y] = facing[0] * normal[0] + facing[1] * normal[1] + facing[2] * normal[2] > 0 ? [b, c] : [c, b];
  for (const p of [a, x, y]) {
    s.positions.push(...p);
    s.normals.push(...normal);
    s.colours.push(...colour);
  }
  s.indices.push(base, base + 1, base + 2);
}

/** A flat four-cornered face that looks along `normal`. */
export function quad(s: Shape, a: Vec, b: Vec, c: Vec, d: Vec, normal: Vec, colour: Vec = [1, 1, 1]): void {
  triangle(s, a, b, c, normal, colour);
  triangle(s, a, c, d, normal, colour);
}

/** A ball stretched along three axes given as vectors from its centre. */
export function ellipsoid(
  s: Shape,
  centre: Vec,
  axes: [Vec, Vec, Vec],
  columns = 16,
  rows = 10,
  colour?: (u: number, v: number) => Vec,
): void {
  const [x, y, z] = axes;
  grid(
    s,
    columns,
    rows,
    (u, v) => {
      const a = -2 * Math.PI * u;
      const b = Math.PI * (v - 0.5);
      return add(
        centre,
        add(
          add(scale(x, Math.cos(b) * Math.cos(a)), scale(z, Math.cos(b) * Math.sin(a))),
          scale(y, Math.sin(b)),
        ),
      );
    },
    colour,
  );
}

/** A round tube along a curve, its radius a function of the way along. */
export function tube(
  s: Shape,
  curve: (t: number) => Vec,
  radius: (t: number) => number,
  around = 6,
  along = 10,
  colour?: (u: number, v: number) => Vec,
): void {
  grid(
    s,
    around,
    along,
    (u, v) => {
      const d = unit(sub(curve(Math.min(1, v + 0.01)), curve(Math.max(0, v - 0.01))));
      const side = unit(cross(d, Math.abs(d[1]) < 0.9 ? [0, 1, 0] : [1, 0, 0]));
      const up = cross(side, d);
      const a = -2 * Math.PI * u;
      return add(curve(v), scale(add(scale(side, Math.cos(a)), scale(up, Math.sin(a))), radius(v)));
    },
    colour,
  );
}
