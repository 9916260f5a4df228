/** A rectangle of pixels, `x1` and `y1` exclusive. */
export interface Area {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}
