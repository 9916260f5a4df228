/** Scene-linear colour planes, row-major. */
export interface RgbPlanes {
  width: number;
  height: number;
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
}
