import { inverse, type Matrix } from '../../colour/matrix.ts';

type Corner = readonly [x: number, y: number];

/**
 * From a place of the frame to a place of a picture that is seen in perspective: rows of a matrix by which (x, y, 1)
 * becomes (u w, v w, w), u and v 0 to 1 from its upper left corner.
 * @param corners where the picture's corners are, from the upper left on clockwise
 * @returns undefined where the four lie so that no flat picture is seen like that
 * P. Heckbert, "Fundamentals of Texture Mapping and Image Warping", 1989, section 2.2.3.
 */
export function fromCorners(corners: readonly Corner[]): Matrix | undefined {
  const [[x0, y0], [x1, y1], [x2, y2], [x3, y3]] = corners as [Corner, Corner, Corner, Corner];
  const [dx1, dx2, sx] = [x1 - x2, x3 - x2, x0 - x1 + x2 - x3];
  const [dy1, dy2, sy] = [y1 - y2, y3 - y2, y0 - y1 + y2 - y3];
  const det = dx1 * dy2 - dx2 * dy1;
  const g = (sx * dy2 - dx2 * sy) / det;
  const h = (dx1 * sy - sx * dy1) / det;
  const there: Matrix = [
    [x1 - x0 + g * x1, x3 - x0 + h * x3, x0],
    [y1 - y0 + g * y1, y3 - y0 + h * y3, y0],
    [g, h, 1],
  ];
  // What would be seen from behind, or through infinity, is no picture.
  if (!(1 + g > 0 && 1 + h > 0 && 1 + g + h > 0)) return undefined;
  const back = inverse(there);
  return back.flat().every(Number.isFinite) ? back : undefined;
}

/** Through such a matrix; undefined behind the eye. */
export function placeIn(m: Matrix, x: number, y: number): Corner | undefined {
  const w = m[2][0]! * x + m[2][1]! * y + m[2][2]!;
  if (!(w > 1e-12)) return undefined;
  return [(m[0][0]! * x + m[0][1]! * y + m[0][2]!) / w, (m[1][0]! * x + m[1][1]! * y + m[1][2]!) / w];
}
