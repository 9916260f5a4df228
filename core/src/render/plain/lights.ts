import type { Rgb, Scene, Surroundings } from '../../scene/scene.ts';
import { aroundSums, lightChoice, type LightChoice } from '../light-choice.ts';
import { addSky } from '../sky.ts';
import type { Sampler } from './sampler.ts';
import { lengthOf } from './vector.ts';

/** Number of the entry that a value falls to: sums[i] <= value < sums[i + 1]. */
function choose(sums: Float64Array, from: number, to: number, value: number): number {
  let low = from;
  let high = to;
  while (high - low > 1) {
    const mid = (low + high) >> 1;
    if (sums[mid]! <= value) low = mid;
    else high = mid;
  }
  return low;
}

/** A direction towards light, chosen at random. */
export interface LightSample {
  x: number;
  y: number;
  z: number;
  distance: number;
  /** Light that arrives unhindered, divided by the probability of the choice. */
  light: Float64Array;
  /** Density over solid angle; 0 for lamps and suns that paths cannot hit by chance. */
  density: number;
}

/** What {@link FiniteLights} chose: a lamp by its number, or a point of a triangle that shines. */
export interface FiniteSample extends LightSample {
  /** -1 for a triangle. */
  lamp: number;
  /** -1 for a lamp. */
  triangle: number;
  u: number;
  v: number;
}

/** Surfaces that shine and lamps; one of them is chosen by power for each sample. */
export class FiniteLights {
  readonly any: boolean;
  private readonly table: LightChoice;

  constructor(private readonly scene: Scene) {
    this.table = lightChoice(scene);
    this.any = this.table.total > 0;
  }

  /** Probability by area with which a triangle of the mesh is chosen, 0 if it does not shine. */
  densityOf(triangle: number): number {
    return this.table.densityOf[triangle] ?? 0;
  }

  /**
   * Chooses a lamp or a point of a shining triangle as seen from a point. A triangle's light is left to the caller,
   * who knows its texture: `triangle`, `u` and `v` are set and `light` is 1 over the density.
   */
  sample(
    px: number,
    py: number,
    pz: number,
    time: number,
    sampler: Sampler,
    pair: number,
    out: FiniteSample,
  ): boolean {
    const { scene } = this;
    const { sums, triangles } = this.table;
    const total = sums[sums.length - 1]!;
    sampler.take(pair);
    const i = choose(sums, 0, sums.length - 1, sampler.x * total);
    const probability = (sums[i + 1]! - sums[i]!) / total;
    const lamps = scene.lamps;
    if (i < lamps.length) {
      const lamp = lamps[i]!;
      const d: Rgb = [lamp.position[0] - px, lamp.position[1] - py, lamp.position[2] - pz];
      out.distance = lengthOf(d[0], d[1], d[2]);
      if (!(out.distance > 0)) return false;
      out.x = d[0] / out.distance;
      out.y = d[1] / out.distance;
      out.z = d[2] / out.distance;
      let fade = 1 / (out.distance * out.distance * probability);
      if (lamp.outerCosine > -1) {
        const c = -(out.x * lamp.direction[0] + out.y * lamp.direction[1] + out.z * lamp.direction[2]);
        // The falloff that KHR_lights_punctual recommends.
        const s = Math.max(
          0,
          Math.min(1, (c - lamp.outerCosine) / Math.max(1e-4, lamp.innerCosine - lamp.outerCosine)),
        );
        fade *= s * s;
      }
      for (let k = 0; k < 3; k++) out.light[k] = lamp.intensity[k]! * fade;
      out.density = 0;
      out.lamp = i;
      out.triangle = -1;
      return fade > 0;
    }
    const t = triangles[i - lamps.length]!;
    sampler.take(pair + 1);
    // Even points of a triangle (Turk 1990).
    const root = Math.sqrt(sampler.x);
    out.u = root * (1 - sampler.y);
    out.v = root * sampler.y;
    out.lamp = -1;
    out.triangle = t;
    const { positions, positionsEnd, indices } = scene;
    const corner = (k: number, axis: number) => {
      const at = 3 * indices[3 * t + k]! + axis;
      return positions[at]! + time * (positionsEnd[at]! - positions[at]!);
    };
    const p = [0, 0, 0];
    const e = [0, 0, 0];
    const f = [0, 0, 0];
    for (let axis = 0; axis < 3; axis++) {
      const a = corner(0, axis);
      e[axis] = corner(1, axis) - a;
      f[axis] = corner(2, axis) - a;
      p[axis] = a + out.u * e[axis]! + out.v * f[axis]!;
    }
    const [dx, dy, dz] = [p[0]! - px, p[1]! - py, p[2]! - pz];
    out.distance = lengthOf(dx, dy, dz);
    if (!(out.distance > 0)) return false;
    out.x = dx / out.distance;
    out.y = dy / out.distance;
    out.z = dz / out.distance;
    const n = [e[1]! * f[2]! - e[2]! * f[1]!, e[2]! * f[0]! - e[0]! * f[2]!, e[0]! * f[1]! - e[1]! * f[0]!];
    const cosine = Math.abs(n[0]! * out.x + n[1]! * out.y + n[2]! * out.z) / lengthOf(n[0]!, n[1]!, n[2]!);
    if (!(cosine > 1e-6)) return false;
    out.density = (this.densityOf(t) * out.distance * out.distance) / cosine;
    out.light.fill(1 / out.density);
    return true;
  }
}

/** What lies around a scene: a picture of light, chosen from where it is bright, or a sky. */
export class Around {
  private readonly rows: Float64Array;
  private readonly columns: Float64Array;
  readonly picture: Surroundings | undefined;

  constructor(private readonly scene: Scene) {
    this.picture = scene.surroundings;
    const sums = this.picture ? aroundSums(this.picture) : undefined;
    this.rows = sums?.rows ?? new Float64Array(1);
    this.columns = sums?.columns ?? new Float64Array(1);
  }

  private columnsOf(row: number): Float64Array {
    const length = this.picture!.width + 1;
    return this.columns.subarray(row * length, (row + 1) * length);
  }

  /** Adds the radiance from a direction, times `w`, to `out`. */
  add(x: number, y: number, z: number, w: Float64Array, out: Float64Array): void {
    if (!this.picture) return addSky(this.scene.sky, x, y, z, w, out);
    const { data, gain } = this.picture;
    const at = 3 * this.pixelOf(x, y, z);
    for (let k = 0; k < 3; k++) out[k]! += w[k]! * data[at + k]! * gain;
  }

  private pixelOf(x: number, y: number, z: number): number {
    const { width, height, turn } = this.picture!;
    const around = (Math.atan2(x, -z) - turn) / (2 * Math.PI) + 0.5;
    const px = Math.min(width - 1, Math.floor((around - Math.floor(around)) * width));
    const py = Math.min(height - 1, Math.floor((Math.acos(Math.max(-1, Math.min(1, y))) / Math.PI) * height));
    return py * width + px;
  }

  /** Density over solid angle with which {@link sample} chooses a direction; 0 for a sky, which is not sampled. */
  density(x: number, y: number, z: number): number {
    if (!this.picture) return 0;
    const { width, height } = this.picture;
    const pixel = this.pixelOf(x, y, z);
    const py = Math.floor(pixel / width);
    const px = pixel % width;
    const sums = this.columnsOf(py);
    const share = (sums[px + 1]! - sums[px]!) / this.rows[height]!;
    return share / this.solidAngle(py);
  }

  private solidAngle(row: number): number {
    const { width, height } = this.picture!;
    const a = Math.cos((Math.PI * row) / height) - Math.cos((Math.PI * (row + 1)) / height);
    return (a * 2 * Math.PI) / width;
  }

  sample(sampler: Sampler, pair: number, out: LightSample): boolean {
    const { width, height, turn, data, gain } = this.picture!;
    sampler.take(pair);
    const wanted = sampler.x * this.rows[height]!;
    const py = choose(this.rows, 0, height, wanted);
    const sums = this.columnsOf(py);
    const px = choose(sums, 0, width, Math.min(sampler.y, 0.999999) * sums[width]!);
    const share = (sums[px + 1]! - sums[px]!) / this.rows[height]!;
    // A point within the pixel, even over its solid angle, from what is left of the random numbers.
    const inRow = (wanted - this.rows[py]!) / (this.rows[py + 1]! - this.rows[py]!);
    const inColumn = (sampler.y * sums[width]! - sums[px]!) / (sums[px + 1]! - sums[px]!);
    const top = Math.cos((Math.PI * py) / height);
    const bottom = Math.cos((Math.PI * (py + 1)) / height);
    out.y = top + (bottom - top) * Math.min(0.9999, Math.max(0.0001, inRow));
    const around = ((px + Math.min(0.9999, Math.max(0.0001, inColumn))) / width - 0.5) * 2 * Math.PI + turn;
    const r = Math.sqrt(Math.max(0, 1 - out.y * out.y));
    out.x = r * Math.sin(around);
    out.z = -r * Math.cos(around);
    out.distance = Infinity;
    out.density = share / this.solidAngle(py);
    const at = 3 * (py * width + px);
    for (let k = 0; k < 3; k++) out.light[k] = (data[at + k]! * gain) / out.density;
    return true;
  }
}
