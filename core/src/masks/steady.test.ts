import fc from 'fast-check';
import { leapsOf, partOf, type MaskPart } from './steady.ts';
import { TileMask } from './tile-mask.ts';
import { TILE, TILE_PIXELS } from '../planes/tiles.ts';

const along = (parts: readonly MaskPart[]) => parts.map((part, i) => ({ frame: i + 1, part }));

test('a part is told by what it covers and where its middle is', () => {
  const mask = new TileMask({ width: 2 * TILE, height: TILE });
  const cover = new Float32Array(TILE_PIXELS);
  for (let y = 0; y < 10; y++) cover.fill(0.5, y * TILE, y * TILE + 20);
  mask.replace(1, cover);
  const part = partOf(mask);
  expect(part.area).toBeCloseTo((100 * 0.5 * 200) / (2 * TILE * TILE), 6);
  expect(part.x).toBeCloseTo((100 * (TILE + 10)) / (2 * TILE), 6);
  expect(part.y).toBeCloseTo(500 / TILE, 6);
  expect(partOf(new TileMask({ width: 10, height: 10 })).area).toBe(0);
});

test('what moves and grows evenly never leaps, however fast', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -20, max: 20, noNaN: true }),
      fc.double({ min: 0.6, max: 1.6, noNaN: true }),
      fc.integer({ min: 2, max: 60 }),
      (way, growth, count) => {
        const parts = Array.from({ length: count }, (_, i) => ({
          area: growth ** i,
          x: 10 + way * i,
          y: 50,
        }));
        expect(leapsOf(along(parts))).toEqual([]);
      },
    ),
  );
});

test('a leap in place, in size, and what comes or goes are marked, and nothing else', () => {
  const still: MaskPart = { area: 2, x: 40, y: 50 };
  const parts = Array.from({ length: 20 }, (_, i) => ({ ...still, x: 40 + 0.2 * i }));
  parts[6] = { ...parts[6]!, y: 62 };
  parts[11] = { ...parts[11]!, area: 5 };
  parts[16] = { area: 0, x: 0, y: 0 };
  // There and back again.
  expect(leapsOf(along(parts))).toEqual([7, 8, 12, 13, 17, 18]);
});

test('a missing frame is no leap', () => {
  const parts = [1, 2, 3, 6, 7, 8].map((frame) => ({ frame, part: { area: 3, x: 4 * frame, y: 9 } }));
  expect(leapsOf(parts)).toEqual([]);
});
