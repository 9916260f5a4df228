import type { Area } from '../../planes/area.ts';
import type { Size } from '../../planes/size.ts';
import { lengthIn, toPixels } from '../../planes/shares.ts';

const { hypot, max, min } = Math;

/**
 * One stroke of the brush: the line that it was drawn along. Places are shares of the display window in percent, x of its width
 * and y of its height; the size is in percent of its width: so a stroke fits another size.
 */
export interface Stroke {
  /** Adds to the mask, or takes away from it. */
  way: 'add' | 'take';
  /** Diameter. */
  size: number;
  /** How much of the radius its edge takes, 0 to 1; it is never less than a pixel wide. */
  soft: number;
  points: (readonly [x: number, y: number])[];
}

/** A stroke in the pixels of a picture. */
interface Drawn {
  points: (readonly [x: number, y: number])[];
  inner: number;
  outer: number;
}

function drawn({ points, size, soft }: Stroke, frame: Size): Drawn {
  const radius = lengthIn(frame, size) / 2;
  const edge = max(1, soft * radius);
  return {
    points: points.map(([x, y]) => toPixels(frame, x, y)),
    inner: soft * radius >= 1 ? radius - edge : radius - 0.5,
    outer: soft * radius >= 1 ? radius : radius + 0.5,
  };
}

/** Pairs of places that the line goes between; a single place goes to itself. */
const pieces = ({ points }: Drawn) =>
  points.map((to, i) => ({ from: points[max(0, i - 1)]!, to })).slice(points.length > 1 ? 1 : 0);

const boxOf = ({ from, to }: { from: readonly number[]; to: readonly number[] }, by: number): Area => ({
  x0: min(from[0]!, to[0]!) - by,
  y0: min(from[1]!, to[1]!) - by,
  x1: max(from[0]!, to[0]!) + by,
  y1: max(from[1]!, to[1]!) + by,
});
const meets = (a: Area, b: Area) => a.x0 < b.x1 && b.x0 < a.x1 && a.y0 < b.y1 && b.y0 < a.y1;

/** Whether a stroke may touch an area. */
export function strokeMeets(stroke: Stroke, frame: Size, area: Area): boolean {
  const line = drawn(stroke, frame);
  return pieces(line).some((piece) => meets(boxOf(piece, line.outer), area));
}

/**
 * Brings a stroke into coverage, row-major, in place: towards 1 where it adds and towards 0 where it takes away, by how
 * near each pixel's middle is to the line, smoothly from its inner to its outer radius. So strokes that cross do not add
 * up, and the order of strokes counts.
 */
export function brush(stroke: Stroke, frame: Size, area: Area, coverage: Float32Array): void {
  const line = drawn(stroke, frame);
  const across = area.x1 - area.x0;
  const nearest = new Float64Array(coverage.length).fill(line.outer);
  for (const piece of pieces(line)) {
    const box = boxOf(piece, line.outer);
    const [[ax, ay], [bx, by]] = [piece.from, piece.to];
    const [ux, uy] = [bx - ax, by - ay];
    const long = ux * ux + uy * uy;
    const [x0, x1] = [max(area.x0, Math.floor(box.x0)), min(area.x1, Math.ceil(box.x1))];
    for (let y = max(area.y0, Math.floor(box.y0)); y < min(area.y1, Math.ceil(box.y1)); y++)
      for (let x = x0; x < x1; x++) {
        const [px, py] = [x + 0.5 - ax, y + 0.5 - ay];
        const t = long > 0 ? min(1, max(0, (px * ux + py * uy) / long)) : 0;
        const d = hypot(px - t * ux, py - t * uy);
        const at = (y - area.y0) * across + x - area.x0;
        if (d < nearest[at]!) nearest[at] = d;
      }
  }
  for (let i = 0; i < coverage.length; i++) {
    const s = min(1, max(0, (line.outer - nearest[i]!) / (line.outer - line.inner)));
    if (s === 0) continue;
    const smooth = s * s * (3 - 2 * s);
    const c = coverage[i]!;
    coverage[i] = stroke.way === 'add' ? c + (1 - c) * smooth : c * (1 - smooth);
  }
}
