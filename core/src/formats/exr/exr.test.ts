import fc from 'fast-check';
import { nodeZlib } from '../../../node/zlib.ts';
import { sample, sampleBytes, samplePath, worst } from '../../../test/fixtures/samples.ts';
import { readScratch, scratch, tool, writeScratch } from '../../../test/fixtures/tools.ts';
import { ExrError } from './errors.ts';
import { floatsToHalves, halfTable, halvesToFloats, toHalf } from '../../planes/half.ts';
import { portableZlib } from './portable-zlib.ts';
import { readExr } from './read.ts';
import { stringAttribute } from './attributes.ts';
import { writeExr, WRITABLE_COMPRESSIONS } from './write.ts';
import type { ExrChannel, ExrImage, PixelType } from './types.ts';
import { runs } from '../../../test/runs.ts';

const bytesOf = (c: ExrChannel) => new Uint8Array(c.data.buffer, c.data.byteOffset, c.data.byteLength);
const sameBits = (a: ExrImage, b: ExrImage) => {
  expect(b.channels.map((c) => [c.name, c.type])).toEqual(a.channels.map((c) => [c.name, c.type]));
  a.channels.forEach((c, i) => expect(Buffer.compare(bytesOf(c), bytesOf(b.channels[i]!))).toBe(0));
};

describe('half floats', () => {
  test('every pattern survives a round trip', () => {
    const table = halfTable();
    const wrong = Array.from(table).findIndex((value, h) => {
      const isNan = (h & 0x7c00) === 0x7c00 && (h & 0x3ff) !== 0;
      return isNan ? !Number.isNaN(value) : toHalf(value) !== h;
    });
    expect(wrong).toBe(-1);
  });

  test('a number becomes the nearest half, ties to even', () => {
    const table = halfTable();
    fc.assert(
      fc.property(fc.float({ min: -65000, max: 65000, noNaN: true }), (value) => {
        const h = toHalf(value);
        const error = Math.abs(table[h]! - value);
        for (const neighbour of [h - 1, h + 1]) {
          if ((neighbour & 0x7fff) > 0x7bff || neighbour < 0 || neighbour > 65535) continue;
          const other = Math.abs(table[neighbour]! - value);
          expect(error < other || (error === other && (h & 1) === 0) || table[neighbour] === table[h]).toBe(
            true,
          );
        }
      }),
      { numRuns: runs(2000) },
    );
    expect(toHalf(2049)).toBe(toHalf(2048));
    expect(toHalf(2051)).toBe(toHalf(2052));
    expect(toHalf(65519)).toBe(0x7bff);
    expect(toHalf(65520)).toBe(0x7c00);
    expect(toHalf(2 ** -25)).toBe(0);
    expect(toHalf(2 ** -25 * 1.001)).toBe(1);
  });
});

describe('reading files of the reference libraries', () => {
  const NAMES = [
    'all.exr',
    'material_piz.exr',
    'object_rle.exr',
    'object_only_zips.exr',
    'object_overscan.exr',
  ];
  // Uncompressed by the reference tool, so that only its decoding is compared with ours; in one start, which takes longest.
  beforeAll(() => {
    tool('oiiotool', '--compression', 'none', ...NAMES.flatMap((n) => [samplePath(n), '-o', scratch(n)]));
  });
  test.each(NAMES)('%s holds what the reference tool reads', (name) => {
    const own = sample(name);
    const reference = readExr(readScratch(name));
    expect(reference.header.compression).toBe('none');
    // The tool widens all channels to the widest type; widening loses nothing.
    const floats = (c: ExrChannel) => (c.data instanceof Uint16Array ? halvesToFloats(c.data) : c.data);
    expect(reference.channels.map((c) => c.name).sort()).toEqual(own.channels.map((c) => c.name).sort());
    for (const c of own.channels)
      expect(worst(floats(c), floats(reference.channels.find((r) => r.name === c.name)!))).toBe(0);
  });

  test('PIZ of half, float and uint channels of odd sizes', () => {
    const made = {
      'piz_half.exr': ['noise', '37x83', '4', '-d', 'half'],
      'piz_float.exr': ['fill:topleft=0,0,0:bottomright=9,5,2', '101x45', '3', '-d', 'float'],
      'piz_uint.exr': ['noise', '33x70', '2', '--mulc', '60000', '-d', 'uint32'],
    };
    tool(
      'oiiotool',
      ...Object.entries(made).flatMap(([name, of]) => [
        ...['--pattern', ...of, '--compression', 'piz', '-o', scratch(name)],
        ...[scratch(name), '--compression', 'none', '-o', scratch(`plain_${name}`)],
      ]),
    );
    for (const name of Object.keys(made)) {
      const own = readExr(readScratch(name));
      expect(own.header.compression).toBe('piz');
      sameBits(own, readExr(readScratch(`plain_${name}`)));
    }
  });

  test('only the wanted channels are decoded', () => {
    const image = readExr(sampleBytes('all.exr'), { channels: (c) => c.name === 'R' });
    expect(image.channels.map((c) => c.name)).toEqual(['R']);
    expect(worst(image.channels[0]!.data, sample('all.exr').channels.find((c) => c.name === 'R')!.data)).toBe(
      0,
    );
  });

  test.each(['all.exr', 'object_only_zips.exr', 'object_rle.exr', 'material_piz.exr'])(
    '%s: kernels and plain code read the same, with both zlibs',
    (name) => {
      const image = sample(name);
      sameBits(readExr(sampleBytes(name), { plain: portableZlib }), image);
      sameBits(readExr(sampleBytes(name), { plain: nodeZlib }), image);
      const few = readExr(sampleBytes(name), { channels: (c) => c.name.endsWith('G') });
      expect(few.channels.length).toBeGreaterThan(0);
      sameBits(few, { ...image, channels: image.channels.filter((c) => c.name.endsWith('G')) });
    },
  );
});

describe('writing', () => {
  test.each(WRITABLE_COMPRESSIONS)(
    '%s files are read by the reference tools with equal pixels and attributes',
    (compression) => {
      const image = sample('all.exr');
      const path = writeScratch(
        `written_${compression}.exr`,
        writeExr({ ...image.header, channels: image.channels }, { compression, zlib: nodeZlib }),
      );
      expect(tool('oiiotool', samplePath('all.exr'), path, '--diff')).toContain('PASS');
      expect(tool('exrinfo', path)).toContain('CryptoMaterial00.A');
      const header = tool('exrheader', path);
      for (const attribute of image.header.attributes.filter((a) => a.type === 'string'))
        expect(header).toContain(
          `${attribute.name} (type string): "${stringAttribute([attribute], attribute.name)}"`,
        );
    },
  );

  test('overscan windows are kept', () => {
    const image = sample('object_overscan.exr');
    const again = readExr(writeExr({ ...image.header, channels: image.channels }));
    expect(again.header.dataWindow).toEqual({ xMin: -16, yMin: -8, xMax: 623, yMax: 351 });
    expect(again.header.displayWindow).toEqual(image.header.displayWindow);
    sameBits(image, again);
  });

  const channel = (name: string, type: PixelType, words: number[], count: number): ExrChannel => ({
    name,
    type,
    xSampling: 1,
    ySampling: 1,
    pLinear: false,
    data:
      type === 'half'
        ? Uint16Array.from({ length: count }, (_, i) => words[i % words.length]!)
        : type === 'float'
          ? new Float32Array(Uint32Array.from({ length: count }, (_, i) => words[i % words.length]!).buffer)
          : Uint32Array.from({ length: count }, (_, i) => words[i % words.length]!),
  });

  test('any pixels in any compression come back bit for bit', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: 1, max: 40 }),
        fc.array(fc.constantFrom<PixelType>('half', 'float', 'uint'), { minLength: 1, maxLength: 4 }),
        fc.array(fc.integer({ min: 0, max: 2 ** 32 - 1 }), { minLength: 1, maxLength: 30 }),
        fc.constantFrom(...WRITABLE_COMPRESSIONS),
        fc.integer({ min: -50, max: 50 }),
        (width, height, types, words, compression, offset) => {
          const dataWindow = {
            xMin: offset,
            yMin: -offset,
            xMax: offset + width - 1,
            yMax: height - 1 - offset,
          };
          const channels = types.map((t, i) => channel(`c${i}`, t, words, width * height));
          const file = writeExr({ dataWindow, channels }, { compression });
          const again = readExr(file);
          sameBits(readExr(file, { plain: portableZlib }), again);
          channels.forEach((c, i) => expect(Buffer.compare(bytesOf(c), bytesOf(again.channels[i]!))).toBe(0));
        },
      ),
      { numRuns: runs(60) },
    );
  });

  test('what cannot be written is refused with the reason', () => {
    const dataWindow = { xMin: 0, yMin: 0, xMax: 3, yMax: 3 };
    const write = (channels: ExrChannel[], compression?: string) => () =>
      writeExr({ dataWindow, channels }, compression ? { compression } : {});
    expect(write([])).toThrow('no channel');
    expect(write([channel('a', 'half', [1], 15)])).toThrow('does not have the size');
    expect(write([channel('a', 'half', [1], 16), channel('a', 'half', [1], 16)])).toThrow('two channels');
    expect(write([channel('a', 'half', [1], 16)], 'b44')).toThrow('cannot be written');
  });
});

describe('bad files', () => {
  const code = (work: () => unknown): string => {
    try {
      work();
    } catch (error) {
      if (error instanceof ExrError) return error.code;
      throw error;
    }
    return 'none';
  };

  test('each kind of damage has its own answer', () => {
    const sound = sampleBytes('object_two_ranks.exr');
    expect(code(() => readExr(new Uint8Array(0)))).toBe('not-exr');
    expect(code(() => readExr(new TextEncoder().encode('<html>not a picture</html>')))).toBe('not-exr');
    expect(code(() => readExr(sound.subarray(0, 200)))).toBe('truncated');
    expect(code(() => readExr(sound.subarray(0, 3000)))).toBe('truncated');
    expect(code(() => readExr(sound, { maxBytes: 1000 }))).toBe('too-large');
  });

  test('a header that promises a huge picture takes no memory', () => {
    const small = writeExr({
      dataWindow: { xMin: 0, yMin: 0, xMax: 0, yMax: 0 },
      channels: [
        { name: 'Y', type: 'half', xSampling: 1, ySampling: 1, pLinear: false, data: floatsToHalves([1]) },
      ],
    });
    const at = Buffer.from(small).indexOf('dataWindow\0box2i\0') + 'dataWindow\0box2i\0'.length + 4;
    const huge = small.slice();
    new DataView(huge.buffer).setInt32(at + 8, 20000, true);
    new DataView(huge.buffer).setInt32(at + 12, 100000, true);
    expect(code(() => readExr(huge))).toBe('truncated');
  });

  test('no damaged byte leads to anything but a typed error or a picture of the right size', () => {
    const sources = ['object_two_ranks.exr', 'material_piz.exr', 'object_rle.exr'].map(sampleBytes);
    fc.assert(
      fc.property(
        fc.constantFrom(...sources),
        fc.array(fc.tuple(fc.nat(6000), fc.integer({ min: 0, max: 255 })), { minLength: 1, maxLength: 6 }),
        (source, edits) => {
          const bytes = source.slice();
          for (const [at, value] of edits) bytes[at] = value;
          try {
            const image = readExr(bytes, { maxBytes: 1e8 });
            for (const c of image.channels) expect(c.data.length).toBeGreaterThan(0);
          } catch (error) {
            expect(error).toBeInstanceOf(ExrError);
          }
        },
      ),
      { numRuns: runs(40) },
    );
  });

  test('a table of lines that was never filled in is rebuilt', () => {
    const bytes = sampleBytes('object_only_zips.exr').slice();
    const image = sample('object_only_zips.exr');
    // The table follows the header and holds one offset a line.
    const first = new DataView(bytes.buffer);
    let at = 0;
    for (let i = 8; i < bytes.length - 8; i++)
      if (Number(first.getBigUint64(i, true)) === i + 8 * 360) {
        at = i;
        break;
      }
    expect(at).toBeGreaterThan(0);
    bytes.fill(0, at, at + 8 * 360);
    sameBits(readExr(bytes), image);
  });

  test('floats widen and narrow', () => {
    expect([...halvesToFloats(floatsToHalves([0, 1, -2, 0.5, 65504]))]).toEqual([0, 1, -2, 0.5, 65504]);
  });
});
