import jpeg from 'jpeg-js';
import { readFillPictures } from './fill-picture.ts';
import { memoryForFile } from './memory.ts';

/** A JPEG of a few pixels that says it has so many. */
function claiming(width: number, height: number): Uint8Array {
  const { data } = jpeg.encode({ width: 16, height: 16, data: Buffer.alloc(16 * 16 * 4, 200) }, 80);
  const bytes = new Uint8Array(data);
  // The frame header: FFC0, a length, the bits, then height and width.
  const at = bytes.findIndex((b, i) => b === 0xff && bytes[i + 1] === 0xc0);
  new DataView(bytes.buffer, bytes.byteOffset).setUint16(at + 5, height);
  new DataView(bytes.buffer, bytes.byteOffset).setUint16(at + 7, width);
  return bytes;
}
const wall = { file: 'f', name: 'wall.jpg' };

test('a picture to lay that claims more than it may have is refused before memory is taken', async () => {
  const bytes = claiming(17_000, 17_000);
  expect(bytes.length).toBeLessThan(3000);
  const before = process.resourceUsage().maxRSS;
  await expect(readFillPictures([wall], () => Promise.resolve(bytes))).rejects.toThrow(
    /wall.jpg: opening it would take \d+(\.\d+)? GB of memory; 3(\.0)? GB are allowed/,
  );
  expect(process.resourceUsage().maxRSS - before).toBeLessThan(100_000);
  expect(await memoryForFile(bytes)).toBeGreaterThan(3 * 2 ** 30);
});

test('one that is as large as it says is read, within what it may have', async () => {
  const bytes = claiming(16, 16);
  const [planes] = Object.values(await readFillPictures([wall], () => Promise.resolve(bytes)));
  expect(planes!.length).toBeGreaterThan(0);
  await expect(readFillPictures([wall], () => Promise.resolve(bytes), { maxMemory: 1000 })).rejects.toThrow(
    /wall.jpg/,
  );
});
