import { PLAIN_DISPLAY, pictureTile, TILE, tilesAcross, type RgbPlanes } from '@zesty-crow/core';
import { decode } from 'fast-png';
import { standIn } from './preview.ts';

const noise = (seed: number, count: number) =>
  Float32Array.from({ length: count }, (_, i) => ((Math.imul(i + seed, 2654435761) >>> 0) / 2 ** 32) * 1.4);
const [width, height] = [148, 74];
const planes: RgbPlanes = {
  width,
  height,
  r: noise(1, width * height),
  g: noise(7, width * height),
  b: noise(31, width * height),
};

test.each([
  [0, 148],
  [1, 74],
])('what stands in is what the pixels look like, %i times halved, within 2 levels', (halvings, across) => {
  const { data, channels } = decode(standIn(planes, across));
  const side = TILE >> halvings;
  let most = 0;
  for (let tile = 0; tile < tilesAcross(width) * tilesAcross(height); tile++) {
    const bytes = pictureTile(planes, tile, PLAIN_DISPLAY, halvings);
    const left = (tile % tilesAcross(width)) * side;
    const top = Math.floor(tile / tilesAcross(width)) * side;
    for (let y = top; y < Math.min(top + side, height >> halvings); y++)
      for (let x = left; x < Math.min(left + side, across); x++)
        for (let k = 0; k < 3; k++) {
          const shown = bytes[4 * ((y - top) * side + x - left) + k]!;
          most = Math.max(most, Math.abs(shown - data[channels * (y * across + x) + k]!));
        }
  }
  expect(most).toBeLessThanOrEqual(2);
});
