/** A picture as it stands in a file: samples side by side, row-major. */
export interface SampleRaster {
  width: number;
  height: number;
  channels: 1 | 3 | 4;
  data: Uint8Array | Uint16Array | Float32Array;
  /** Whether colour is multiplied by a fourth channel, its alpha. */
  premultiplied?: boolean;
}
