/** Edge length in pixels of the square tiles in which pictures are worked on. */
export const TILE = 64;

export const tilesAcross = (pixels: number): number => Math.ceil(pixels / TILE);

/** Pixel bounds of a tile, clipped to the picture; `x1` and `y1` are exclusive. */
export function tileBounds(tile: number, tilesX: number, width: number, height: number) {
  const x0 = (tile % tilesX) * TILE;
  const y0 = Math.floor(tile / tilesX) * TILE;
  return { x0, y0, x1: Math.min(x0 + TILE, width), y1: Math.min(y0 + TILE, height) };
}
