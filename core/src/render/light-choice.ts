import type { Scene, Surroundings } from '../scene/scene.ts';

const luminance = (r: number, g: number, b: number) => 0.2126 * r + 0.7152 * g + 0.0722 * b;

/** Sums that are searched for a random share: entry i is chosen with probability (sums[i + 1] - sums[i]) / total. */
function addUp(weights: ArrayLike<number>, sums = new Float64Array(weights.length + 1)): Float64Array {
  for (let i = 0; i < weights.length; i++) sums[i + 1] = sums[i]! + weights[i]!;
  return sums;
}

/** Lamps and triangles that shine, one of which is chosen by power for each sample. */
export interface LightChoice {
  /** Numbers in the mesh of the triangles that shine. */
  triangles: number[];
  /** For each triangle of the mesh its probability by area if it shines, otherwise 0; empty if none does. */
  densityOf: Float32Array<ArrayBuffer>;
  /** Sums of the power of all lamps, then of all shining triangles. */
  sums: Float64Array;
  total: number;
}

export function lightChoice(
  scene: Pick<Scene, 'indices' | 'parts' | 'trianglePart' | 'materials' | 'positions' | 'lamps'>,
): LightChoice {
  const { indices, parts, trianglePart, materials, positions, lamps } = scene;
  const count = indices.length / 3;
  const triangles: number[] = [];
  const areas: number[] = [];
  const powers: number[] = lamps.map((l) => 4 * Math.PI * luminance(...l.intensity));
  const shines = parts.map(({ material }) => {
    const m = materials[material]!;
    return m.unlit ? 0 : luminance(...m.emission);
  });
  if (shines.some((s) => s > 0))
    for (let t = 0; t < count; t++) {
      const shine = shines[trianglePart[t]!]!;
      if (!(shine > 0)) continue;
      const [a, b, c] = [0, 1, 2].map((k) => 3 * indices[3 * t + k]!) as [number, number, number];
      const e = [0, 1, 2].map((k) => positions[b + k]! - positions[a + k]!);
      const f = [0, 1, 2].map((k) => positions[c + k]! - positions[a + k]!);
      const area =
        Math.hypot(
          e[1]! * f[2]! - e[2]! * f[1]!,
          e[2]! * f[0]! - e[0]! * f[2]!,
          e[0]! * f[1]! - e[1]! * f[0]!,
        ) / 2;
      if (!(area > 0)) continue;
      triangles.push(t);
      areas.push(area);
      powers.push(2 * Math.PI * area * shine);
    }
  const sums = addUp(powers);
  const total = sums[powers.length]!;
  const densityOf = new Float32Array(triangles.length ? count : 0);
  triangles.forEach((t, i) => (densityOf[t] = powers[lamps.length + i]! / total / areas[i]!));
  return { triangles, densityOf, sums, total };
}

/**
 * Sums of the light of a picture all around, by which its pixels are chosen: of its rows, and for each row of its pixels,
 * one row of width + 1 numbers after the other.
 */
export function aroundSums({ width, height, data }: Surroundings): {
  rows: Float64Array;
  columns: Float64Array;
} {
  const columns = new Float64Array(height * (width + 1));
  const weights = new Float64Array(width);
  const rows: number[] = [];
  for (let y = 0; y < height; y++) {
    const sine = Math.sin((Math.PI * (y + 0.5)) / height);
    for (let x = 0; x < width; x++) {
      const at = 3 * (y * width + x);
      weights[x] = Math.max(0, luminance(data[at]!, data[at + 1]!, data[at + 2]!)) * sine + 1e-9;
    }
    const sums = addUp(weights, columns.subarray(y * (width + 1), (y + 1) * (width + 1)));
    rows.push(sums[width]!);
  }
  return { rows: addUp(rows), columns };
}
