import { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { pipeline } from 'node:stream/promises';
import fc from 'fast-check';
import { CHUNK, ChunkRows, RowBytes } from './copy-format.ts';

const ID = '0b5e7c1a-2222-4333-8444-555566667777';

/** Cuts bytes at given places, as a network would. */
function cut(bytes: Buffer, places: number[]): Buffer[] {
  const at = [...new Set(places.map((p) => p % (bytes.length + 1)))].sort((a, b) => a - b);
  return [0, ...at]
    .map((from, i) => bytes.subarray(from, at[i] ?? bytes.length))
    .filter((part) => part.length > 0);
}

/** What `copy (select bytes …) to stdout (format binary)` would send for these rows. */
function copyOf(rows: Buffer[]): Buffer {
  const head = Buffer.concat([Buffer.from('PGCOPY\n\xff\r\n\0', 'latin1'), Buffer.alloc(8)]);
  const parts = rows.map((row) => {
    const lead = Buffer.alloc(6);
    lead.writeInt16BE(1, 0);
    lead.writeInt32BE(row.length, 2);
    return Buffer.concat([lead, row]);
  });
  return Buffer.concat([head, ...parts, Buffer.from([0xff, 0xff])]);
}

const bytes = fc.uint8Array({ maxLength: 300 }).map((a) => Buffer.from(a));
const places = fc.array(fc.nat(5000), { maxLength: 12 });

test('rows come out as the bytes that went in, however the stream is cut', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(bytes, { maxLength: 6 }), places, async (rows, where) => {
      const out = new RowBytes();
      const read = buffer(out);
      await pipeline(Readable.from(cut(copyOf(rows), where)), out);
      expect(Buffer.compare(await read, Buffer.concat(rows))).toBe(0);
    }),
  );
});

test('a stream that stops early is an error, not a short file', async () => {
  const whole = copyOf([Buffer.from('honey'), Buffer.from('wax')]);
  for (const length of [5, 20, 25, 30, whole.length - 1]) {
    const out = new RowBytes();
    out.resume();
    await expect(pipeline(Readable.from([whole.subarray(0, length)]), out)).rejects.toThrow('too early');
  }
});

test('a file is cut into full chunks and a rest, numbered from 0, each with its id', async () => {
  const file = Buffer.alloc(2 * CHUNK + 1000, 7);
  const rows = new ChunkRows(ID);
  const read = buffer(rows);
  await pipeline(Readable.from(cut(file, [1, 100_000, CHUNK, 700_000])), rows);
  const copy = await read;
  let at = 19;
  const sizes: number[] = [];
  for (let n = 0; copy.readInt16BE(at) !== -1; n++) {
    expect(copy.readInt16BE(at)).toBe(3);
    expect(copy.subarray(at + 6, at + 22).toString('hex')).toBe(ID.replaceAll('-', ''));
    expect(copy.readInt32BE(at + 26)).toBe(n);
    const size = copy.readInt32BE(at + 30);
    sizes.push(size);
    at += 34 + size;
  }
  expect(sizes).toEqual([CHUNK, CHUNK, 1000]);
  expect(at + 2).toBe(copy.length);
});
