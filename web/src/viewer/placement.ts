/** Picture pixels to screen pixels: scale, then shift. */
export interface Placement {
  k: number;
  x: number;
  y: number;
}
