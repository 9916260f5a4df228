import type { Area } from '../../planes/area.ts';
import type { Size } from '../../planes/size.ts';
import { lengthIn, toPixels } from '../../planes/shares.ts';

const { ceil, floor, max, min, sqrt } = Math;

/**
 * One stroke of the brush: the line that it was drawn along. Places are shares of the display window in percent, x of its width
 * and y of its height; the size is in percent of its width: so a stroke fits another size.
 */
export interface Stroke {
  /** Adds to the mask, or takes away from it. */
  readonly way: 'add' | 'take';
  /** Diameter. */
  readonly size: number;
  /** How much of the radius its edge takes, 0 to 1; it is never less than a pixel wide. */
  readonly soft: number;
  readonly points: readonly (readonly [x: number, y: number])[];
}

/** A stroke in the pixels of a picture. */
interface Drawn {
  /** Pieces of the line, four numbers each: x and y where it begins, and where it ends. */
  pieces: Float64Array;
  /** Up to the inner radius it is as strong as can be, from the outer one on it is not there. */
  inner: number;
  outer: number;
  /** What no pixel that it touches is outside of. */
  box: Area;
}

/** A stroke is looked at for every tile: what it is in a picture's pixels is found once. */
const known = new WeakMap<Stroke, { frame: string; drawn: Drawn }>();

function drawn(stroke: Stroke, frame: Size): Drawn {
  const { width, height, display } = frame;
  const key = `${width} ${height} ${display ? Object.values(display).join(' ') : ''}`;
  const found = known.get(stroke);
  if (found?.frame === key) return found.drawn;
  const radius = lengthIn(frame, stroke.size) / 2;
  const edge = max(1, stroke.soft * radius);
  const wide = stroke.soft * radius >= 1;
  const places = stroke.points.map(([x, y]) => toPixels(frame, x, y));
  // A single place goes to itself.
  const count = max(1, places.length - 1);
  const pieces = new Float64Array(places.length === 0 ? 0 : 4 * count);
  for (let i = 0; 4 * i < pieces.length; i++) {
    pieces.set(places[i]!, 4 * i);
    pieces.set(places[min(i + 1, places.length - 1)]!, 4 * i + 2);
  }
  const outer = wide ? radius : radius + 0.5;
  const box = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity };
  for (const [x, y] of places) {
    box.x0 = min(box.x0, x - outer);
    box.y0 = min(box.y0, y - outer);
    box.x1 = max(box.x1, x + outer);
    box.y1 = max(box.y1, y + outer);
  }
  const own = { pieces, inner: wide ? radius - edge : radius - 0.5, outer, box };
  known.set(stroke, { frame: key, drawn: own });
  return own;
}

const meets = (a: Area, b: Area) => a.x0 < b.x1 && b.x0 < a.x1 && a.y0 < b.y1 && b.y0 < a.y1;

/** Whether a piece of a line may touch an area. */
function pieceMeets({ pieces, outer }: Drawn, i: number, { x0, y0, x1, y1 }: Area): boolean {
  const ax = pieces[i]!;
  const ay = pieces[i + 1]!;
  const bx = pieces[i + 2]!;
  const by = pieces[i + 3]!;
  return (
    min(ax, bx) - outer < x1 &&
    max(ax, bx) + outer > x0 &&
    min(ay, by) - outer < y1 &&
    max(ay, by) + outer > y0
  );
}

/** Whether a stroke may touch an area. */
export function strokeMeets(stroke: Stroke, frame: Size, area: Area): boolean {
  const line = drawn(stroke, frame);
  if (!meets(line.box, area)) return false;
  for (let i = 0; i < line.pieces.length; i += 4) if (pieceMeets(line, i, area)) return true;
  return false;
}

/** Whether two strokes are the same line, drawn in the same way. */
export const sameStroke = (a: Stroke, b: Stroke): boolean =>
  a === b ||
  (a.way === b.way &&
    a.size === b.size &&
    a.soft === b.soft &&
    a.points.length === b.points.length &&
    a.points.every(([x, y], i) => x === b.points[i]![0] && y === b.points[i]![1]));

/**
 * Brings a stroke into coverage, row-major, in place: towards 1 where it adds and towards 0 where it takes away, by how
 * near each pixel's middle is to the line, smoothly from its inner to its outer radius. So strokes that cross do not add
 * up, and the order of strokes counts.
 */
export function brush(stroke: Stroke, frame: Size, area: Area, coverage: Float32Array): void {
  const line = drawn(stroke, frame);
  const { pieces, inner, outer } = line;
  const across = area.x1 - area.x0;
  // Squares: a root is taken once for each pixel.
  const nearest = new Float64Array(coverage.length).fill(outer * outer);
  for (let i = 0; i < pieces.length; i += 4) {
    if (!pieceMeets(line, i, area)) continue;
    const ax = pieces[i]!;
    const ay = pieces[i + 1]!;
    const bx = pieces[i + 2]!;
    const by = pieces[i + 3]!;
    const ux = bx - ax;
    const uy = by - ay;
    const long = ux * ux + uy * uy;
    const x0 = max(area.x0, floor(min(ax, bx) - outer));
    const x1 = min(area.x1, ceil(max(ax, bx) + outer));
    const y1 = min(area.y1, ceil(max(ay, by) + outer));
    for (let y = max(area.y0, floor(min(ay, by) - outer)); y < y1; y++)
      for (let x = x0; x < x1; x++) {
        const px = x + 0.5 - ax;
        const py = y + 0.5 - ay;
        const t = long > 0 ? min(1, max(0, (px * ux + py * uy) / long)) : 0;
        const dx = px - t * ux;
        const dy = py - t * uy;
        const at = (y - area.y0) * across + x - area.x0;
        const square = dx * dx + dy * dy;
        if (square < nearest[at]!) nearest[at] = square;
      }
  }
  const far = outer * outer;
  for (let i = 0; i < coverage.length; i++) {
    if (nearest[i] === far) continue;
    const s = min(1, max(0, (outer - sqrt(nearest[i]!)) / (outer - inner)));
    if (s === 0) continue;
    const smooth = s * s * (3 - 2 * s);
    const c = coverage[i]!;
    coverage[i] = stroke.way === 'add' ? c + (1 - c) * smooth : c * (1 - smooth);
  }
}
