/**
 * The decoded pixels of one ID layer: for every rank a plane of 32-bit IDs and one of coverage 0 to 1, all
 * row-major and `width * height` long. ID 0 with coverage 0 is an unused rank.
 */
export interface RankPlanes {
  width: number;
  height: number;
  ids: Uint32Array[];
  coverage: Float32Array[];
}
