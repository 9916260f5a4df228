import { TILE, type Area } from '@zesty-crow/core';

/** Numbers of the tiles marked in `due`: those on the screen first, from its middle outwards, then all others alike. */
export function tileOrder(due: Uint8Array, tilesX: number, visible: Area | undefined): number[] {
  const tiles: number[] = [];
  for (let t = 0; t < due.length; t++) if (due[t]) tiles.push(t);
  if (!visible) return tiles;
  const [cx, cy] = [(visible.x0 + visible.x1) / 2, (visible.y0 + visible.y1) / 2];
  const rank = tiles.map((t) => {
    const x = (t % tilesX) * TILE;
    const y = Math.floor(t / tilesX) * TILE;
    const seen = x < visible.x1 && x + TILE > visible.x0 && y < visible.y1 && y + TILE > visible.y0;
    return (seen ? 0 : 1e9) + Math.hypot(x + TILE / 2 - cx, y + TILE / 2 - cy);
  });
  return tiles
    .map((_, i) => i)
    .sort((a, b) => rank[a]! - rank[b]!)
    .map((i) => tiles[i]!);
}
