import { converter } from 'culori';
import { sample } from '../../test/fixtures/samples.ts';
import { readScratch, scratch, tool } from '../../test/fixtures/tools.ts';
import { pictureTile } from '../apply/picture-tile.ts';
import { displayByte, linearToSrgb } from './srgb.ts';
import { onScreen } from '../display/view.ts';
import { PLAIN_DISPLAY } from '../display/show.ts';
import { chromaticities } from '../formats/exr/attributes.ts';
import { readExr } from '../formats/exr/read.ts';
import { writeExr } from '../formats/exr/write.ts';
import { openPicture } from '../version/open-picture.ts';
import { inverse, product, through } from './matrix.ts';
import { primariesName, toRec709, type Primaries } from './primaries.ts';

const REC2020: Primaries = {
  red: [0.708, 0.292],
  green: [0.17, 0.797],
  blue: [0.131, 0.046],
  white: [0.3127, 0.329],
};
const P3: Primaries = { red: [0.68, 0.32], green: [0.265, 0.69], blue: [0.15, 0.06], white: [0.3127, 0.329] };
const ACESCG: Primaries = {
  red: [0.713, 0.293],
  green: [0.165, 0.83],
  blue: [0.128, 0.044],
  white: [0.32168, 0.33767],
};

test('light of other primaries becomes what another library makes of it', () => {
  const linear = converter('lrgb');
  for (const rgb of [
    [1, 1, 1],
    [0.5, 0.2, 0.1],
    [0.02, 0.7, 0.3],
  ]) {
    // P3 is bent like sRGB there, so that it can be said.
    const [r, g, b] = rgb.map(linearToSrgb) as [number, number, number];
    const wanted = linear({ mode: 'p3', r, g, b });
    through(toRec709(P3)!, rgb).forEach((v, k) =>
      expect(v).toBeCloseTo([wanted.r, wanted.g, wanted.b][k]!, 3),
    );
  }
});

test('matrices as published: ITU-R BT.2087 for Rec. 2020, and ACEScg to Rec. 709', () => {
  const close = (m: readonly (readonly number[])[], wanted: number[][], digits: number) =>
    m.forEach((row, r) => row.forEach((v, c) => expect(v).toBeCloseTo(wanted[r]![c]!, digits)));
  close(
    toRec709(REC2020)!,
    [
      [1.6605, -0.5876, -0.0728],
      [-0.1246, 1.1329, -0.0083],
      [-0.0182, -0.1006, 1.1187],
    ],
    3,
  );
  close(
    toRec709(ACESCG)!,
    [
      [1.7051, -0.6218, -0.0833],
      [-0.1303, 1.1408, -0.0105],
      [-0.024, -0.129, 1.153],
    ],
    2,
  );
});

test('white stays white, Rec. 709 is left alone, and primaries are known by name', () => {
  for (const p of [REC2020, P3, ACESCG])
    through(toRec709(p)!, [1, 1, 1]).forEach((v) => expect(v).toBeCloseTo(1, 3));
  expect(
    toRec709({ red: [0.64, 0.33], green: [0.3, 0.6], blue: [0.15, 0.06], white: [0.3127, 0.329] }),
  ).toBeUndefined();
  expect([REC2020, P3, ACESCG].map(primariesName)).toEqual(['Rec. 2020', 'P3', 'ACEScg']);
  expect(primariesName({ ...P3, red: [0.6, 0.35] })).toBe('primaries of its own');
  // Three times the same: nothing can have these.
  expect(
    toRec709({ red: [0.3, 0.3], green: [0.3, 0.3], blue: [0.3, 0.3], white: [0.3, 0.3] }),
  ).toBeUndefined();
  const m = toRec709(P3)!;
  product(m, inverse(m))
    .flat()
    .forEach((v, i) => expect(v).toBeCloseTo(i % 4 ? 0 : 1, 9));
});

test('a file’s chromaticities are read, shown on the screen, and kept when it is written', () => {
  const { header, channels } = sample('all.exr');
  const value = new Uint8Array(
    Float32Array.of(...REC2020.red, ...REC2020.green, ...REC2020.blue, ...REC2020.white).buffer,
  );
  const attributes = [...header.attributes, { name: 'chromaticities', type: 'chromaticities', value }];
  const image = readExr(writeExr({ ...header, channels, attributes }));
  expect(chromaticities(image.header.attributes)!.green[1]).toBeCloseTo(0.797, 6);
  const { planes } = openPicture(image);
  const plain = openPicture(sample('all.exr')).planes;
  // The pixels are the file's own.
  expect(planes.g).toEqual(plain.g);
  const tile = 33;
  const bytes = pictureTile(planes, tile, PLAIN_DISPLAY);
  const shown = onScreen(planes);
  let off = 0;
  for (let i = 0; i < 64 * 64; i++) {
    const p = (Math.floor(tile / 10) * 64 + (i >> 6)) * 640 + (tile % 10) * 64 + (i & 63);
    [shown.r, shown.g, shown.b].forEach((plane, k) => {
      off = Math.max(off, Math.abs(bytes[4 * i + k]! - displayByte(plane[p]!)));
    });
  }
  expect(off).toBeLessThan(1.1);
  expect(Buffer.compare(bytes, pictureTile(plain, tile, PLAIN_DISPLAY))).not.toBe(0);
});

test('the attribute of the reference tools is the one that is read', () => {
  tool(
    'oiiotool',
    '--pattern',
    'constant:color=.2,.5,.1',
    '8x8',
    '3',
    '--attrib:type=float[8]',
    'chromaticities',
    '0.68,0.32,0.265,0.69,0.15,0.06,0.3127,0.329',
    '-o',
    scratch('p3.exr'),
  );
  const stated = chromaticities(readExr(readScratch('p3.exr')).header.attributes);
  expect(stated && primariesName(stated)).toBe('P3');
});
