/** Edge length in pixels of the square tiles in which pictures are worked on. */
export const TILE = 64;

/** Pixels of a whole tile. */
export const TILE_PIXELS = TILE * TILE;

/** How often a tile is halved at most, to be seen from afar. */
export const MOST_HALVINGS = 4;

/** Halvings of a picture that is drawn at a scale: what is drawn is never smaller than it is seen. */
export const halvingsAt = (scale: number): number =>
  Math.min(MOST_HALVINGS, Math.max(0, Math.floor(Math.log2(1 / scale))));

export const tilesAcross = (pixels: number): number => Math.ceil(pixels / TILE);

/** Pixel bounds of a tile, clipped to the picture; `x1` and `y1` are exclusive. */
export function tileBounds(tile: number, tilesX: number, width: number, height: number) {
  const x0 = (tile % tilesX) * TILE;
  const y0 = Math.floor(tile / tilesX) * TILE;
  return { x0, y0, x1: Math.min(x0 + TILE, width), y1: Math.min(y0 + TILE, height) };
}

/** Marked tiles and all that come within some pixels of them. */
export function dilatedTiles(
  marked: Uint8Array,
  { tilesX, tilesY }: { tilesX: number; tilesY: number },
  pixels: number,
): Uint8Array<ArrayBuffer> {
  const by = Math.ceil(pixels / TILE);
  const out = new Uint8Array(marked);
  if (by === 0) return out;
  for (let t = 0; t < marked.length; t++) {
    if (!marked[t]) continue;
    const tx = t % tilesX;
    const ty = Math.floor(t / tilesX);
    for (let y = Math.max(0, ty - by); y <= Math.min(tilesY - 1, ty + by); y++)
      out.fill(1, y * tilesX + Math.max(0, tx - by), y * tilesX + Math.min(tilesX - 1, tx + by) + 1);
  }
  return out;
}
