import lab from '@pmndrs/assets/hdri/lab.exr.js';
import park from '@pmndrs/assets/hdri/park.exr.js';
import venice from '@pmndrs/assets/hdri/venice.exr.js';
import fc from 'fast-check';
import { runs } from '../../../test/runs.ts';
import { sample, samplePath } from '../../../test/fixtures/samples.ts';
import { readScratch, scratch, tool, writeScratch } from '../../../test/fixtures/tools.ts';
import { halvesToFloats } from '../../planes/half.ts';
import { ExrError } from './errors.ts';
import { readExr, readExrOutline } from './read.ts';
import type { ExrChannel, ExrImage } from './types.ts';
import { writeExr, writeExrParts } from './write.ts';

/** Files of every kind, written by the reference tools; what those read is the truth. */
const floats = ({ data }: ExrChannel) => (data instanceof Uint16Array ? halvesToFloats(data) : data);
const samplesOf = (image: ExrImage, name: string) => floats(image.channels.find((c) => c.name === name)!);

/** Pixels that are not exactly the same, and by how many steps of a half float the worst is off. */
function differences(own: ExrImage, truth: ExrImage): { off: number; of: number; steps: number } {
  expect(own.channels.map((c) => c.name).sort()).toEqual(truth.channels.map((c) => c.name).sort());
  let [off, of, steps] = [0, 0, 0];
  for (const c of own.channels) {
    const wanted = samplesOf(truth, c.name);
    floats(c).forEach((v, i) => {
      of++;
      const w = wanted[i]!;
      if (Object.is(v, w) || v === w) return;
      off++;
      steps = Math.max(
        steps,
        Math.abs(v - w) / 2 ** (Math.floor(Math.log2(Math.max(Math.abs(w), 6.2e-5))) - 10),
      );
    });
  }
  return { off, of, steps };
}

/** A piece of the sample, of odd size and away from the corner: colour, depth and IDs. */
beforeAll(() => {
  const cut = ['--cut', '203x131+301+117', '--origin', '-7+5', '--fullsize', '203x131-7+5'];
  const ids = ['R', 'G', 'B', 'A'].map((c) => `CryptoObject00.${c}`);
  const channels = ['--ch', ['R', 'G', 'B', 'A', 'depth.Z', ...ids].join(',')];
  tool(
    'oiiotool',
    samplePath('all.exr'),
    ...cut,
    ...channels,
    '--compression',
    'none',
    '-o',
    scratch('base.exr'),
  );
});

/** How a piece is turned into another kind of file. */
const pieceOf = (name: string, more: readonly string[]) => [
  scratch('base.exr'),
  ...more,
  '-o',
  scratch(name),
];
function piece(name: string, ...more: string[]): string {
  tool('oiiotool', ...pieceOf(name, more));
  return scratch(name);
}

/** How the reference tool reads a file and writes it in the simplest way. */
const plainOf = (path: string) => [
  ...[path, '--selectmip', '0', '--compression', 'none', '--scanline'],
  ...['-o', `${path}.none.exr`],
];
function readPlain(path: string): ExrImage {
  const image = readExr(readScratch(`${path}.none.exr`.slice(scratch('').length)));
  expect(image.header).toMatchObject({ compression: 'none' });
  expect(image.header.tiles).toBeUndefined();
  return image;
}
function truthOf(path: string): ExrImage {
  tool('oiiotool', ...plainOf(path));
  return readPlain(path);
}
/** What makes a piece, and has the reference tool read it, too, in the same start of it: starting takes longest. */
const pieceAndPlain = (name: string, more: readonly string[]) => [
  ...pieceOf(name, more),
  ...plainOf(scratch(name)),
];
const pieceAndTruthOf = (name: string) => ({ own: read(name), truth: readPlain(scratch(name)) });
function pieceAndTruth(name: string, ...more: string[]): { own: ExrImage; truth: ExrImage } {
  tool('oiiotool', ...pieceAndPlain(name, more));
  return pieceAndTruthOf(name);
}
const read = (name: string, part?: number) => readExr(readScratch(name), { part });

describe('every compression gives what the reference tool reads', () => {
  const EXACT = ['none', 'rle', 'zips', 'zip', 'piz', 'pxr24', 'b44', 'b44a'];
  const ROUNDED = ['dwaa', 'dwab'];
  const TYPES = ['half', 'float'];
  const fileOf = (compression: string, type: string) => `${compression}_${type}.exr`;
  beforeAll(() => {
    const kinds = [...EXACT, ...ROUNDED].flatMap((c) => TYPES.map((type) => [c, type] as const));
    const packed = (c: string) => (ROUNDED.includes(c) ? `${c}:80` : c);
    tool(
      'oiiotool',
      ...kinds.flatMap(([c, type]) =>
        pieceAndPlain(fileOf(c, type), ['--ch', 'R,G,B,A,depth.Z', '-d', type, '--compression', packed(c)]),
      ),
    );
  });

  test.each(EXACT)('%s', (compression) => {
    for (const type of TYPES) {
      const { own, truth } = pieceAndTruthOf(fileOf(compression, type));
      expect(own.header).toMatchObject({ compression, dataWindow: { xMin: -7, yMin: 5 } });
      expect(own.channels.every((c) => c.type === type)).toBe(true);
      expect(differences(own, truth)).toMatchObject({ off: 0 });
    }
  });
  test.each(ROUNDED)('%s, but for roundings of single pixels', (compression) => {
    for (const type of TYPES) {
      const { own, truth } = pieceAndTruthOf(fileOf(compression, type));
      expect(own.header).toMatchObject({ compression });
      const { off, of, steps } = differences(own, truth);
      // Halves are bent for the eye before they are cut: one step there is up to four of what comes out.
      expect(off).toBeLessThan(of / 1000);
      expect(steps).toBeLessThanOrEqual(4);
    }
  });
  test.each([
    ['lab', lab],
    ['park', park],
    ['venice', venice],
  ])('a real picture by others: %s', (name, url) => {
    const bytes = new Uint8Array(Buffer.from(url.slice(url.indexOf(',') + 1), 'base64'));
    const own = readExr(bytes);
    expect(own.header).toMatchObject({ compression: 'dwab' });
    const { off, of, steps } = differences(own, truthOf(writeScratch(`${name}.exr`, bytes)));
    expect(off).toBeLessThan(of / 5000);
    // Brighter than 1 the bend is steeper.
    expect(steps).toBeLessThanOrEqual(8);
  });
  test('dwaa of luma, of a layer, and of colours without all three', () => {
    for (const channels of ['Y=R', 'R,G,sky.B=B,sky.G=G,sky.R=R']) {
      const { own, truth } = pieceAndTruth(
        'dwaa.exr',
        ...['--ch', channels, '-d', 'half', '--compression', 'dwaa'],
      );
      expect(differences(own, truth).steps).toBeLessThanOrEqual(4);
    }
  });
});

describe('every layout', () => {
  test.each([
    ['tiles', '-o', 'zip'],
    ['tiles with mip-maps', '-m', 'piz'],
    ['tiles with rip-maps', '-r', 'b44'],
  ])('%s', (_name, flag, compression) => {
    const source = piece('flat.exr', '--ch', 'R,G,B,depth.Z');
    tool(
      'exrmaketiled',
      ...(flag === '-o' ? [] : [flag]),
      '-t',
      '48',
      '40',
      '-z',
      compression,
      source,
      scratch('tiled.exr'),
    );
    const own = read('tiled.exr');
    expect(own.header.tiles).toMatchObject({ width: 48, height: 40 });
    expect(differences(own, truthOf(scratch('tiled.exr'))).off).toBe(0);
  });
  test('lines from the last to the first', () => {
    const { own, truth } = pieceAndTruth(
      'up.exr',
      ...['--ch', 'R,G,B,A', '--attrib', 'openexr:lineOrder', 'decreasingY'],
    );
    expect(own.header.lineOrder).toBe('decreasing');
    expect(differences(own, truth).off).toBe(0);
  });
  test('tiles in any order, as the format allows', () => {
    const source = piece('order.exr', '--ch', 'R,G,B');
    tool('exrmaketiled', '-t', '64', '64', '-z', 'none', source, scratch('tiled.exr'));
    const bytes = readScratch('tiled.exr');
    const sound = readExr(bytes);
    // Blocks of the same size change their places, and the table follows.
    const view = new DataView(bytes.buffer);
    const table = Buffer.from(bytes).indexOf('screenWindowWidth');
    let at = table;
    while (Number(view.getBigUint64(at, true)) !== at + 8 * 12) at++;
    const [first, second] = [0, 1].map((i) => Number(view.getBigUint64(at + 8 * i, true))) as [
      number,
      number,
    ];
    const size = second - first;
    const kept = bytes.slice(first, second);
    bytes.copyWithin(first, second, second + size);
    bytes.set(kept, second);
    view.setBigUint64(at, BigInt(second), true);
    view.setBigUint64(at + 8, BigInt(first), true);
    expect(differences(readExr(bytes), sound).off).toBe(0);
  });
  test('parts of a file, each with its own channels; a deep one is passed over and told', () => {
    const colour = piece('colour.exr', '--ch', 'R,G,B,A,Z=depth.Z');
    const ids = piece(
      'ids.exr',
      '--ch',
      'CryptoObject00.R,CryptoObject00.G,CryptoObject00.B,CryptoObject00.A',
    );
    tool('oiiotool', colour, '--deepen', '-o', scratch('deep.exr'));
    tool('exrmultipart', '-combine', '-i', colour, scratch('deep.exr'), ids, '-o', scratch('parts.exr'));
    const { parts, refused } = readExrOutline(readScratch('parts.exr'));
    expect(parts.map((p) => p.name)).toEqual(['colour', 'ids']);
    expect(refused.map((r) => r.name)).toEqual(['deep']);
    expect(differences(read('parts.exr', 0), read('colour.exr')).off).toBe(0);
    expect(differences(read('parts.exr', 1), read('ids.exr')).off).toBe(0);
    expect(() => readExr(readScratch('deep.exr'))).toThrow(ExrError);
    expect(() => readExr(readScratch('deep.exr'))).toThrow('Flatten it');
  });
});

describe('a file that ends too soon', () => {
  test.each([
    ['lines', []],
    ['tiles', ['--tile', '64', '32']],
  ])('of %s shows what is there, and says what is not', (_name, more) => {
    piece('whole.exr', '--ch', 'R,G,B', '--compression', 'zip', ...more);
    const bytes = readScratch('whole.exr');
    const whole = readExr(bytes);
    const cut = readExr(bytes.subarray(0, Math.round(0.6 * bytes.length)));
    const { missing, dataWindow: box } = cut.header;
    expect(missing!.length).toBeGreaterThan(0);
    const width = box.xMax - box.xMin + 1;
    const [own, all] = [samplesOf(cut, 'G'), samplesOf(whole, 'G')];
    let there = 0;
    own.forEach((v, i) => {
      const [x, y] = [box.xMin + (i % width), box.yMin + Math.floor(i / width)];
      const gone = missing!.some((m) => x >= m.xMin && x <= m.xMax && y >= m.yMin && y <= m.yMax);
      if (!gone) there++;
      if (v !== (gone ? 0 : all[i])) throw new Error(`${x}, ${y} is ${v}`);
    });
    expect(there).toBeGreaterThan(own.length / 3);
    expect(there).toBeLessThan(0.8 * own.length);
  });
});

test('files of several parts are written so that the reference tool reads them, with equal pixels', () => {
  const image = sample('all.exr');
  const colours = image.channels.filter((c) => 'RGBA'.includes(c.name));
  const ids = image.channels.filter((c) => c.name.startsWith('CryptoObject'));
  const bytes = writeExrParts([
    { ...image.header, name: 'picture', channels: colours },
    { ...image.header, name: 'ids', channels: ids, compression: 'zips' },
  ]);
  writeScratch('own_parts.exr', bytes);
  expect(readExrOutline(bytes).parts.map((p) => [p.name, p.compression])).toEqual([
    ['picture', 'zip'],
    ['ids', 'zips'],
  ]);
  tool(
    'oiiotool',
    ...[0, 1].flatMap((part) => [
      ...[scratch('own_parts.exr'), '--subimage', String(part)],
      ...['--compression', 'none', '-o', scratch(`part_${part}.exr`)],
    ]),
  );
  for (const [part, wanted] of [colours, ids].entries()) {
    const found = read(`part_${part}.exr`);
    expect(differences(readExr(bytes, { part }), found).off).toBe(0);
    expect(found.channels.map((c) => c.name).sort()).toEqual(wanted.map((c) => c.name).sort());
    for (const c of wanted) expect(samplesOf(readExr(bytes, { part }), c.name)).toEqual(floats(c));
  }
  expect(() =>
    writeExrParts([
      { ...image.header, channels: colours },
      { ...image.header, channels: ids },
    ]),
  ).toThrow('a name of its own');
});

test('subsampled channels lie as the format says, in lines and columns that they have', () => {
  const image = sample('all.exr');
  const luma = image.channels.find((c) => c.name === 'R')!;
  const box = { xMin: -3, yMin: -5, xMax: 16, yMax: 12 };
  // Columns -2, 0, … 16 and lines -4, 0, … 12.
  const chroma = { ...luma, name: 'BY', xSampling: 2, ySampling: 4, data: luma.data.slice(0, 10 * 5) };
  const own = { ...luma, name: 'Y', data: luma.data.slice(0, 20 * 18) };
  const bytes = writeExr({ dataWindow: box, channels: [chroma, own] });
  expect(readExr(bytes).channels.map((c) => [...floats(c)])).toEqual([[...floats(chroma)], [...floats(own)]]);
});

test('no damage to a file of any kind leads to anything but a typed error or a picture', () => {
  const kinds = ['pxr24', 'b44a', 'dwaa', 'dwab'].map((compression) => {
    piece('small.exr', '--ch', 'R,G,B,A,depth.Z', '--cut', '48x40+10+10', '--compression', compression);
    return readScratch('small.exr');
  });
  for (const flag of ['-m', '-r']) {
    const source = piece('small.exr', '--ch', 'R,G,B', '--cut', '48x40+10+10');
    tool('exrmaketiled', flag, '-t', '16', '16', '-z', 'zip', source, scratch('small_tiled.exr'));
    kinds.push(readScratch('small_tiled.exr'));
    tool('exrmultipart', '-combine', '-i', source, scratch('small.exr'), '-o', scratch('small_parts.exr'));
  }
  kinds.push(readScratch('small_parts.exr'));
  const place = fc.double({ min: 0, max: 1, maxExcluded: true, noNaN: true });
  const edits = fc.array(fc.tuple(place, fc.integer({ min: 0, max: 255 })), { minLength: 1, maxLength: 5 });
  fc.assert(
    fc.property(fc.constantFrom(...kinds), edits, fc.option(place), (source, changes, end) => {
      const bytes = source.slice(0, end === null ? source.length : Math.floor(end * source.length));
      for (const [at, value] of changes) bytes[Math.floor(at * bytes.length)] = value;
      try {
        for (const part of readExrOutline(bytes).parts.keys())
          for (const c of readExr(bytes, { part, maxBytes: 1e8 }).channels)
            expect(c.data.length).toBeGreaterThan(0);
      } catch (error) {
        expect(error).toBeInstanceOf(ExrError);
      }
    }),
    { numRuns: runs(300) },
  );
});
