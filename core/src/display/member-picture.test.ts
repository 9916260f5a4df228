import { sample, truth } from '../../test/fixtures/samples.ts';
import { buildIdIndex } from '../idindex/id-index.ts';
import { loadIdLayers } from '../idlayers/load.ts';
import { idColours } from './id-colours.ts';
import { boundsOfMember, dimmingAround, memberThumbnail } from './member-picture.ts';

const layer = loadIdLayers(sample('all.exr')).layers.find((l) => l.name === 'CryptoObject')!;
const index = buildIdIndex(layer.planes!);
const id = (name: string) => parseInt(truth.objects[name]!.id, 16);
const name = Object.keys(truth.objects)[0]!;

test('a member is where its pixels are', () => {
  const box = boundsOfMember(index, id(name))!;
  // All of its pixels are inside, and its sides are touched.
  const { pixels } = truth.objects[name]!;
  expect((box.x1 - box.x0) * (box.y1 - box.y0)).toBeGreaterThanOrEqual(pixels);
  expect([box.x0 >= 0, box.y0 >= 0, box.x1 <= 640, box.y1 <= 360]).toEqual([true, true, true, true]);
  expect(boundsOfMember(index, 12345)).toBeUndefined();
});

test('its thumbnail fills one direction of the room, and shows what covers little', () => {
  const { data, width, height } = memberThumbnail(index, id(name), 40, 26);
  expect([width, height, data.length]).toEqual([40, 26, 4 * 40 * 26]);
  const lit = (u: number, v: number) => data[4 * (v * width + u)]! > 58;
  const columns = Array.from({ length: width }, (_, u) =>
    Array.from({ length: height }, (_, v) => lit(u, v)).some(Boolean),
  );
  const rows = Array.from({ length: height }, (_, v) =>
    Array.from({ length: width }, (_, u) => lit(u, v)).some(Boolean),
  );
  const across = columns.filter(Boolean).length;
  const down = rows.filter(Boolean).length;
  expect(across >= width - 4 || down >= height - 4).toBe(true);
});

test('dimming leaves out what the members cover: their areas add up', () => {
  const { data, width, height } = dimmingAround(index, [id(name)], 640, 200);
  expect([width, height]).toEqual([640, 360]);
  let covered = 0;
  for (let i = 3; i < data.length; i += 4) covered += 1 - data[i]! / 200;
  expect(Math.abs(covered - truth.objects[name]!.area)).toBeLessThan(truth.objects[name]!.area * 0.01 + 5);
  const half = dimmingAround(index, [id(name)], 320, 200);
  expect(half.width).toBe(320);
});

test('neighbours have colours that are told apart', () => {
  const colours = idColours(index);
  expect(colours).toHaveLength(index.ids.length);
  expect(idColours(index)).toBe(colours);
  const { width, height, rowStart, slot, pixel, length, coverage } = index;
  const top = (x: number, y: number) => {
    for (let i = rowStart[y]!; i < rowStart[y + 1]!; i++) {
      const from = pixel[i]! - y * width;
      if (coverage[i]! >= 0.5 && x >= from && x < from + length[i]!) return slot[i]!;
    }
    return -1;
  };
  let nearest = Infinity;
  for (let y = 0; y < height; y += 4)
    for (let x = 4; x < width; x += 4) {
      const [a, b] = [top(x - 4, y), top(x, y)];
      if (a < 0 || b < 0 || a === b) continue;
      nearest = Math.min(nearest, Math.hypot(...[0, 1, 2].map((k) => colours[a]![k]! - colours[b]![k]!)));
    }
  expect(nearest).toBeGreaterThan(60);
});
