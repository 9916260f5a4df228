/**
 * The image of a point that is out of focus, at one size: the shape of a lens's opening, as rows of pixels or of cells
 * of 2x2 pixels, softened by a pixel at its rim.
 */
export interface Aperture {
  /** Radius in pixels of the ideal shape that spreads light as far: of the circle through its corners. */
  circle: number;
  /** Width of a cell in pixels: 1, or 2 for large apertures, whose inside needs no more. */
  cell: 1 | 2;
  /** First row relative to the point, in cells. */
  top: number;
  /** First and last cell of each row, relative to the point; the last is below the first where a row is empty. */
  spans: Int32Array;
  /** How many cells there are. */
  count: number;
  /** Pixels that light may go from its own. */
  reach: number;
}

/** Apertures from here on, in pixels, are made of cells of 2x2 pixels. */
const COARSE = 16;
const { cos, floor, hypot, max, min, sqrt, abs, PI } = Math;

/** True for what lies within a shape of radius 1 with so many straight sides; a circle below three. */
function insideOf(blades: number): (x: number, y: number) => boolean {
  if (blades < 3) return (x, y) => hypot(x, y) <= 1;
  const inner = cos(PI / blades);
  const sides = Array.from({ length: blades }, (_, i) => PI + (2 * PI * i) / blades);
  return (x, y) => sides.every((s) => x * cos(s) + y * Math.sin(s) <= inner + 1e-9);
}

/**
 * Variance of an even shape of radius 1 along an axis: a quarter for a disc, (2 + cos(2π/n)) / 12 for a polygon of n
 * sides (its second moment of area over its area).
 */
const varianceOf = (blades: number) => (blades < 3 ? 1 / 4 : (2 + cos((2 * PI) / blades)) / 12);

/** One aperture of a radius in cells. */
function apertureOf(blades: number, radius: number, cell: 1 | 2): Aperture {
  const inside = insideOf(blades);
  const end = floor(radius);
  const spans = new Int32Array(2 * (2 * end + 1));
  let [count, variance, far] = [0, 0, 0];
  for (let y = -end; y <= end; y++) {
    let [first, last] = [1, 0];
    for (let x = -end; x <= end; x++) {
      if (!(x === 0 && y === 0) && !inside(x / radius, y / radius)) continue;
      if (first > last) first = x;
      last = x;
      count++;
      // Shapes lean to no side for long: both axes together tell how wide they are.
      variance += (x * x + y * y) / 2;
      far = max(far, abs(x), abs(y));
    }
    spans.set([first, last], 2 * (y + end));
  }
  // What softens the rim spreads, too: 1 2 1 by half a square pixel; cells and what lies between them by one.
  const soft = cell === 1 ? 1 / 2 : 1;
  const circle = sqrt(((variance / count) * cell * cell + soft) / varianceOf(blades));
  return { circle, cell, top: -end, spans, count, reach: cell === 1 ? far + 1 : 2 * (far + 1) + 1 };
}

/** Largest circle of confusion that there are apertures for, in pixels. */
export const LARGEST = 60;

const made = new Map<number, readonly Aperture[]>();

/**
 * Apertures from none, which leaves a pixel as it is, to the largest, about a pixel apart.
 * @param blades straight sides; a circle below three
 */
export function apertures(blades: number): readonly Aperture[] {
  const known = made.get(blades);
  if (known) return known;
  const none: Aperture = { circle: 0, cell: 1, top: 0, spans: Int32Array.of(0, 0), count: 1, reach: 0 };
  const list = [none];
  const last = () => list.at(-1)!.circle;
  for (let radius = 0.5; last() < COARSE; radius += radius < 2 ? 0.5 : 1) {
    const next = apertureOf(blades, radius, 1);
    if (next.circle > last()) list.push(next);
  }
  for (let radius = floor(last()) / 2; last() < LARGEST; radius += 0.5) {
    const next = apertureOf(blades, radius, 2);
    if (next.circle > last() + 0.25) list.push(next);
  }
  made.set(blades, list);
  return list;
}

/** Parts into which a pixel between two apertures is shared out. */
export const PARTS = 16;

/**
 * Which aperture a circle of confusion has, and how many {@link PARTS} of its light go to the next larger one: as many
 * as spread it just as far (by variance).
 */
export function apertureAt(list: readonly Aperture[], circle: number): { at: number; next: number } {
  let at = min(list.length - 1, floor(circle) + 1);
  while (at > 0 && list[at]!.circle > circle) at--;
  while (at + 1 < list.length && list[at + 1]!.circle <= circle) at++;
  if (at + 1 === list.length) return { at, next: 0 };
  const [low, high] = [list[at]!.circle ** 2, list[at + 1]!.circle ** 2];
  const next = Math.round((PARTS * (circle ** 2 - low)) / (high - low));
  return next === PARTS ? { at: at + 1, next: 0 } : { at, next };
}
