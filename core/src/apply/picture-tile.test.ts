import fc from 'fast-check';
import { TILE, tileBounds, tilesAcross } from '../planes/tiles.ts';
import { pictureTile, reducedTile } from './picture-tile.ts';
import { PLAIN_DISPLAY } from '../display/show.ts';

/** Means of four pixels' bytes, and beyond the picture its border: the plain way. */
function halved(data: ArrayLike<number>, side: number, width: number, height: number): number[] {
  const out: number[] = [];
  for (let y = 0; y < side / 2; y++)
    for (let x = 0; x < side / 2; x++)
      for (let k = 0; k < 4; k++) {
        const at = (dx: number, dy: number) =>
          data[4 * (Math.min(2 * y + dy, height - 1) * side + Math.min(2 * x + dx, width - 1)) + k]!;
        out.push((at(0, 0) + at(1, 0) + at(0, 1) + at(1, 1) + 2) >> 2);
      }
  return out;
}

/** The pixels that belong to the picture. */
function inside(data: ArrayLike<number>, side: number, width: number, height: number): number[] {
  const out: number[] = [];
  for (let y = 0; y < height; y++) for (let i = 0; i < 4 * width; i++) out.push(data[4 * y * side + i]!);
  return out;
}

test('a tile from afar holds means of what is shown, also at the border of the picture', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 100 }),
      fc.integer({ min: 1, max: 100 }),
      fc.integer({ min: 1, max: 4 }),
      fc.integer(),
      (width, height, halvings, seed) => {
        const bytes = Uint8Array.from(
          { length: 4 * TILE * TILE },
          (_, i) => Math.imul(i + seed, 2654435761) >>> 13,
        );
        const tile = tilesAcross(width) * tilesAcross(height) - 1;
        const { x0, y0, x1, y1 } = tileBounds(tile, tilesAcross(width), width, height);
        let plain: ArrayLike<number> = bytes;
        let [side, across, down] = [TILE, x1 - x0, y1 - y0];
        for (let i = 0; i < halvings; i++) {
          plain = halved(plain, side, across, down);
          [side, across, down] = [side / 2, Math.ceil(across / 2), Math.ceil(down / 2)];
        }
        const found = reducedTile(bytes, tile, { width, height }, halvings);
        expect(found).toHaveLength(4 * side * side);
        expect(inside(found, side, across, down)).toEqual(inside(plain, side, across, down));
      },
    ),
    { numRuns: 60 },
  );
});

test('the picture itself is reduced as it is shown, not in linear light', () => {
  const plane = Float32Array.from({ length: 4 }, (_, i) => (i % 2 ? 1 : 0));
  const planes = { width: 2, height: 2, r: plane, g: plane, b: plane };
  expect([...pictureTile(planes, 0, PLAIN_DISPLAY, 1).subarray(0, 4)]).toEqual([128, 128, 128, 255]);
});
