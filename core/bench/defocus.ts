/** Defocus by depth: what a lens costs against a copy of a plane, at two sizes. */
import { correctionOf } from '../src/corrections/registry.ts';
import { TILE } from '../src/planes/tiles.ts';
import { time, type Tell } from './report.ts';
import { workingValues } from './values.ts';

/** Middles, radii and depths of round things before a table that runs to the back, all in shares of the picture's height. */
const THINGS = [
  [0.46, 0.46, 0.19, 1.2],
  [1.11, 0.56, 0.14, 2],
  [0.83, 0.28, 0.11, 4],
  [1.48, 0.74, 0.23, 0.8],
] as const;

function depthOf(width: number, height: number): Float32Array {
  return Float32Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [(i % width) / height, Math.floor(i / width) / height];
    const seen = THINGS.filter(([cx, cy, r]) => Math.hypot(x - cx, y - cy) < r).map(([, , , z]) => z);
    return Math.min(1 + 8 * (1 - y), ...seen);
  });
}

/** A picture blurred tile by tile on one thread, by a lens that reaches so far and by one half as large. */
export async function defocusFigures(tell: Tell, width: number, height: number, radius = 30): Promise<void> {
  const correction = correctionOf('defocus')!;
  if (correction.works !== 'area') throw new Error('Defocus is no correction of an area any more.');
  const depth = depthOf(width, height);
  const plane = new Float32Array(width * height).fill(1);
  const target = new Float32Array(width * height);
  const copy = await time(() => target.set(plane), 9);
  const msOf = (most: number) => {
    const values = { ...workingValues(correction.fields), pass: 'depth', focus: 2, size: most, most };
    const margin = correction.reach(values, { width, height });
    const side = TILE + 2 * margin;
    const noise = (seed: number) =>
      Float32Array.from({ length: side * side }, (_, i) => 0.02 + ((i * 7919 + seed) % 1009) / 1200);
    const planes = { width: side, height: side, r: noise(1), g: noise(300), b: noise(700) };
    const coverage = new Float32Array(side * side).fill(1);
    const one = () => new Float32Array(TILE * TILE);
    const out = { width: TILE, height: TILE, r: one(), g: one(), b: one() };
    return time(() => {
      for (let y0 = 0; y0 + TILE <= height; y0 += TILE)
        for (let x0 = 0; x0 + TILE <= width; x0 += TILE)
          correction.apply(
            {
              area: { x0, y0, x1: x0 + TILE, y1: y0 + TILE },
              ...{ margin, planes, coverage, frame: { width, height }, passes: { depth: [depth] } },
            },
            values,
            out,
          );
    });
  };
  const [half, full] = [await msOf(radius / 2), await msOf(radius)];
  tell(
    {
      name: `defocus of ${width}x${height}, radius ${radius}, one thread`,
      value: full / copy,
      unit: 'copies',
      goal: 550,
      better: 'less',
      against: `copying a plane, ${copy.toFixed(1)} ms`,
    },
    {
      name: `defocus, radius ${radius} against ${radius / 2}`,
      value: full / half,
      unit: 'x',
      goal: 2.3,
      better: 'less',
      against: `${half.toFixed(0)} ms`,
    },
  );
}
