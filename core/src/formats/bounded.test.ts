import { encode } from 'fast-png';
import fc from 'fast-check';
import { deflateSync } from 'node:zlib';
import { samplePath } from '../../test/fixtures/samples.ts';
import { readScratch, scratch, tool } from '../../test/fixtures/tools.ts';
import { runs } from '../../test/runs.ts';
import { alone } from '../crew/alone.ts';
import { decodeTexture } from '../scene/texture.ts';
import { inflateUpTo, OverlongError } from './bounded-inflate.ts';
import { ExrError } from './exr/errors.ts';
import { signedWith } from './png/chunks.ts';
import { readerFor } from './registry.ts';
import { unpackLzw } from './tiff/lzw.ts';
import { unpackBits } from './tiff/pack-bits.ts';

/** A small file may be made to unpack to much: readers stop at what the header allows, and fail in words. */
const read = async (bytes: Uint8Array) => readerFor(bytes).read(bytes, alone);
const LONG = 300_000_000;
const bomb = deflateSync(Buffer.alloc(LONG));
const small = { width: 4, height: 3, data: Uint8Array.from({ length: 48 }, (_, i) => 5 * i), channels: 4 };

/** The chunks of a PNG. */
function chunksOf(png: Uint8Array): { name: string; data: Uint8Array }[] {
  const out = [];
  const view = new DataView(png.buffer, png.byteOffset);
  for (let at = 8; at < png.length;) {
    const length = view.getUint32(at);
    const name = String.fromCharCode(...png.subarray(at + 4, at + 8));
    out.push({ name, data: png.slice(at + 8, at + 8 + length) });
    at += 12 + length;
  }
  return out;
}
/** Most memory that the process has had, in bytes. */
const peak = () => 1024 * process.resourceUsage().maxRSS;
const replaced = (png: Uint8Array, name: string, data: Uint8Array) =>
  signedWith(chunksOf(png).map((c) => (c.name === name ? { name, data } : c)));

test('what unpacks to its size is the same, in however many parts; a byte more is too much', () => {
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 5000 }), fc.nat({ max: 4000 }), (bytes, cut) => {
      const packed = deflateSync(bytes);
      const parts = [packed.subarray(0, cut), packed.subarray(cut)];
      expect(Buffer.from(inflateUpTo(parts, bytes.length)).equals(Buffer.from(bytes))).toBe(true);
      expect(inflateUpTo(parts, bytes.length + 9)).toHaveLength(bytes.length);
      if (bytes.length > 0) expect(() => inflateUpTo(parts, bytes.length - 1)).toThrow(OverlongError);
    }),
    { numRuns: runs(200) },
  );
});

describe('PNG', () => {
  const png = encode(small);
  test('rows without end are refused before they are unpacked', async () => {
    const before = peak();
    await expect(read(replaced(png, 'IDAT', bomb))).rejects.toThrow('The PNG file cannot be unpacked');
    expect(() => decodeTexture(replaced(png, 'IDAT', bomb))).toThrow('cannot be unpacked');
    expect(peak() - before).toBeLessThan(100e6);
  });
  test('a colour profile without end is not unpacked at all', async () => {
    const [header, ...rest] = chunksOf(png);
    const profile = Uint8Array.from([0x68, 0x69, 0x76, 0x65, 0, 0, ...bomb]);
    const before = peak();
    const image = await read(signedWith([header!, { name: 'iCCP', data: profile }, ...rest]));
    expect(peak() - before).toBeLessThan(100e6);
    expect(image.header).toMatchObject({ profile: 'the colour profile “hive”' });
    expect(image.channels[1]!.data[2]).toBeCloseTo(small.data[9]! / 255, 6);
  });
  test('rows that are missing are told', async () => {
    const cut = deflateSync(Buffer.alloc(20));
    await expect(read(replaced(png, 'IDAT', cut))).rejects.toMatchObject({ code: 'truncated' });
  });
});

/** A TIFF of 16 x 16 bytes in one strip. */
function tiff(compression: number, strip: Uint8Array, rows = 16): Uint8Array {
  const tags: [number, number, number][] = [
    ...([
      [256, 4, 16],
      [257, 4, 16],
      [258, 3, 8],
      [259, 3, compression],
    ] as [number, number, number][]),
    ...([
      [262, 3, 1],
      [273, 4, 8],
      [277, 3, 1],
    ] as [number, number, number][]),
    ...([
      [278, 4, rows],
      [279, 4, strip.length],
    ] as [number, number, number][]),
  ];
  const at = 8 + strip.length + (strip.length & 1);
  const out = new Uint8Array(at + 2 + 12 * tags.length + 4);
  const view = new DataView(out.buffer);
  out.set([0x49, 0x49, 42, 0]);
  view.setUint32(4, at, true);
  out.set(strip, 8);
  view.setUint16(at, tags.length, true);
  tags.forEach(([tag, type, value], i) => {
    view.setUint16(at + 2 + 12 * i, tag, true);
    view.setUint16(at + 4 + 12 * i, type, true);
    view.setUint32(at + 6 + 12 * i, 1, true);
    view.setUint32(at + 10 + 12 * i, value, true);
  });
  return out;
}

describe('TIFF', () => {
  const rows = Uint8Array.from({ length: 256 }, (_, i) => i);
  test('a strip with any number of rows is read as far as the picture goes', async () => {
    for (const claimed of [16, 4_294_967_295]) {
      const { channels } = await read(tiff(8, deflateSync(rows), claimed));
      expect(Array.from(channels[0]!.data, (v) => Math.round(255 * v))).toEqual([...rows]);
    }
  });
  test('strips without end are refused before they are unpacked', async () => {
    const before = peak();
    await expect(read(tiff(8, bomb))).rejects.toThrow('The TIFF file cannot be read');
    // A byte that is repeated 128 times, again and again.
    await read(tiff(32773, new Uint8Array(1e6).fill(0x81)));
    expect(peak() - before).toBeLessThan(100e6);
  });
  test('a damaged strip of LZW ends, in words or as far as it goes', async () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 13_000 }), fc.integer({ min: 0, max: 4000 }), (packed, size) => {
        let length = 0;
        try {
          length = unpackLzw(packed, size).length;
        } catch (error) {
          expect((error as Error).message).toBe('The LZW codes are damaged.');
        }
        expect(length).toBeLessThanOrEqual(size);
        expect(unpackBits(packed, size).length).toBeLessThanOrEqual(size);
      }),
      { numRuns: runs(400) },
    );
  });
  test('how it is packed otherwise is told', async () => {
    await expect(read(tiff(50000, rows))).rejects.toThrow(/compression number 50000 cannot be read/);
  });
});

describe('damaged files of every format end in words', () => {
  const FILES: [string, string[]][] = [
    ['plain.png', ['-d', 'uint8']],
    ['deep.png', ['-d', 'uint16']],
    ['lzw.tif', ['-d', 'uint8', '--compression', 'lzw']],
    ['zip.tif', ['-d', 'float', '--compression', 'zip']],
    ['packbits.tif', ['-d', 'uint8', '--compression', 'packbits']],
    ['tiles.tif', ['-d', 'uint16', '--tile', '16', '16', '--compression', 'lzw']],
    ['jpeg.tif', ['-d', 'uint8', '--compression', 'jpeg']],
    ['plain.jpg', ['-d', 'uint8', '--compression', 'jpeg:80']],
  ];
  test.each(FILES)('%s', async (name, how) => {
    tool(
      'oiiotool',
      samplePath('all.exr'),
      '--ch',
      'R,G,B',
      '--cut',
      '33x21+300+150',
      ...how,
      '-o',
      scratch(name),
    );
    const whole = readScratch(name);
    const edits = fc.array(
      fc.record({ at: fc.nat({ max: whole.length - 1 }), value: fc.integer({ min: 0, max: 255 }) }),
      { minLength: 1, maxLength: 8 },
    );
    await fc.assert(
      fc.asyncProperty(edits, fc.nat({ max: 3 }), fc.nat({ max: whole.length }), async (list, kind, cut) => {
        const bytes = whole.slice(0, kind === 0 ? cut : whole.length);
        for (const { at, value } of list) if (at < bytes.length) bytes[at] = value;
        const begun = performance.now();
        try {
          const reader = readerFor(bytes);
          const outline = await reader.outline(bytes);
          // What is large is refused by whoever opens it; here it would only be slow.
          const { dataWindow: box } = outline.parts[0]!;
          if ((box.xMax - box.xMin) * (box.yMax - box.yMin) * outline.parts[0]!.channels.length < 4e6)
            await reader.read(bytes, alone);
        } catch (error) {
          if (!(error instanceof ExrError)) throw error;
        }
        expect(performance.now() - begun).toBeLessThan(10_000);
      }),
      { numRuns: runs(400) },
    );
  });
});
