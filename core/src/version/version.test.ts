import { decode } from 'fast-png';
import { openFiles } from '../../test/fixtures/frames.ts';
import { sample, sampleBytes, truth, worst } from '../../test/fixtures/samples.ts';
import { tool, writeScratch, scratch, readScratch } from '../../test/fixtures/tools.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { linearToSrgb } from '../colour/srgb.ts';
import { halvesToFloats } from '../planes/half.ts';
import { readExr } from '../formats/exr/read.ts';
import { writeExr } from '../formats/exr/write.ts';
import type { ExrChannel } from '../formats/exr/types.ts';
import { inspect } from '../inspect/inspect.ts';
import { maskOf } from '../masks/pipeline.ts';
import { applyChanges } from '../apply/apply-changes.ts';
import { findBeauty } from './beauty.ts';
import { maskToExr } from '../exports/mask-file.ts';
import { maskToPng, pictureToPng } from '../formats/png/write.ts';
import { openPicture } from './open-picture.ts';
import { withCorrected } from '../exports/corrected-channels.ts';

const floats = (c: ExrChannel) =>
  c.data instanceof Uint16Array ? halvesToFloats(c.data) : (c.data as Float32Array);

describe('the corrected picture as a file', () => {
  let planes: RgbPlanes;
  beforeAll(async () => {
    planes = await applyChanges(open, [change]);
  });
  const open = openPicture(sample('all.exr'));
  const change = {
    id: 'a',
    words: '',
    on: true,
    done: false,
    edge: [],
    fence: [],
    brush: [],
    plainEdges: true,
    who: [{ mode: 'with' as const, layer: 'CryptoMaterial', member: 'brass' }],
    corrections: [{ id: 'b', kind: 'exposure', on: true, values: { stops: 1 } }],
  };

  test('keeps every other channel bit for bit, and the reference tools read it', () => {
    const { header } = open.image;
    const bytes = writeExr({ ...header, channels: withCorrected(open, planes).channels });
    const again = readExr(bytes);
    expect(again.channels.map((c) => c.name)).toEqual(open.image.channels.map((c) => c.name));
    for (const c of open.image.channels.filter((x) => !'RGB'.includes(x.name))) {
      const now = again.channels.find((x) => x.name === c.name)!;
      expect(Buffer.compare(new Uint8Array(now.data.buffer), new Uint8Array(c.data.buffer))).toBe(0);
    }
    expect(again.channels.find((c) => c.name === 'R')!.type).toBe('half');
    const path = writeScratch('corrected.exr', bytes);
    tool('oiiotool', path, '--ch', 'R', '-o', scratch('r.exr'));
    const red = readExr(readScratch('r.exr')).channels[0]!;
    expect(
      worst(floats(red), halvesToFloats(again.channels.find((c) => c.name === 'R')!.data as Uint16Array)),
    ).toBe(0);
    expect(worst(floats(red), planes.r)).toBeLessThan(0.002);
  });

  test('as PNG it shows the sRGB values of the linear ones', () => {
    const png = decode(pictureToPng(planes, open.image.header, 16));
    expect([png.width, png.height, png.depth, png.channels]).toEqual([640, 360, 16, 3]);
    for (const p of [0, 1000, 77777, 150000]) {
      const expected = Math.round(Math.min(1, Math.max(0, linearToSrgb(planes.g[p]!))) * 65535);
      expect(png.data[p * 3 + 1]).toBe(expected);
    }
    expect(decode(pictureToPng(planes, open.image.header, 8)).depth).toBe(8);
  });
});

describe('masks as files', () => {
  test('EXR holds the exact coverage in one channel Y', () => {
    const open = openPicture(sample('object_overscan.exr'));
    const { name, members } = open.cast[0]!;
    const coverage = maskOf(open, {
      who: [{ mode: 'with', layer: name, member: members[0]!.name }],
    }).flat();
    const image = readExr(maskToExr(coverage, open.image.header));
    expect(image.channels.map((c) => [c.name, c.type])).toEqual([['Y', 'float']]);
    expect(image.header.dataWindow).toEqual(open.image.header.dataWindow);
    expect(worst(image.channels[0]!.data, coverage)).toBe(0);
    // The PNG shows the frame: overscan on all sides is left out.
    const png = decode(maskToPng(coverage, open.image.header));
    expect([png.width, png.height, png.depth, png.channels]).toEqual([608, 344, 16, 1]);
    for (const [x, y] of [
      [100, 100],
      [300, 200],
      [607, 343],
    ] as const)
      expect(png.data[y * 608 + x]).toBe(Math.round(coverage[(y + 8) * 640 + x + 16]! * 65535));
  });
});

describe('which channels are the picture', () => {
  const named = (...names: string[]) => ({
    attributes: [],
    channels: names.map((name) => ({
      name,
      type: 'half' as const,
      xSampling: 1,
      ySampling: 1,
      pLinear: false,
    })),
  });
  test.each([
    [['A', 'B', 'G', 'R'], { layer: '', r: 'R', g: 'G', b: 'B', a: 'A' }],
    [['beauty.B', 'beauty.G', 'beauty.R'], { layer: 'beauty.', r: 'beauty.R', g: 'beauty.G', b: 'beauty.B' }],
    [['Y'], { layer: '', r: 'Y', g: 'Y', b: 'Y' }],
    [['depth.Z'], undefined],
  ])('%j', (names, expected) => expect(findBeauty(named(...names))).toEqual(expected));
  test('the preview of a cryptomatte is not taken for it', () => {
    expect(findBeauty(sample('object_only_zips.exr').header)).toBeUndefined();
    expect(findBeauty(sample('all.exr').header)).toEqual({ layer: '', r: 'R', g: 'G', b: 'B', a: 'A' });
  });
});

test('a list of names that is added later is found, by its name or because there is no other', async () => {
  const bytes = sampleBytes('object_no_manifest.exr');
  const names = JSON.stringify(Object.fromEntries(Object.entries(truth.objects).map(([n, o]) => [n, o.id])));
  const text = new TextEncoder().encode(names);
  const other = new TextEncoder().encode('{"brass":"2a7655cc"}');
  for (const files of [
    { 'a.exr': bytes, 'whatever.json': text },
    { 'a.exr': bytes, 'a_cryptoobject_names.json': text, 'more.json': other },
  ]) {
    const { layers, findings } = await openFiles(files);
    expect([layers[0]!.manifestFrom, layers[0]!.manifest.nameOf.size]).toEqual(['sidecar', 15]);
    expect(findings).toEqual([]);
  }
  // Of two that could be it, none is taken.
  const doubt = await openFiles({ 'a.exr': bytes, 'x.json': text, 'y.json': other });
  expect(doubt.layers[0]!.manifestFrom).toBe('missing');
});

describe('inspection', () => {
  test('of a full file lists every member with its true area', async () => {
    const i = await inspect(sample('all.exr'));
    expect([i.width, i.height, i.compression]).toEqual([640, 360, 'zip']);
    expect(i.idLayers.map((l) => [l.name, l.kind, l.ranks, l.manifest, l.members.length])).toEqual([
      ['CryptoObject', 'cryptomatte', 6, 'embedded', 16],
      ['CryptoMaterial', 'cryptomatte', 6, 'embedded', 10],
    ]);
    const [rest] = i.idLayers[1]!.members.slice(-1);
    expect([rest!.name, rest!.id]).toEqual(['nothing', '00000000']);
    for (const m of i.idLayers[1]!.members.slice(0, -1)) {
      expect(m.id).toBe(truth.materials[m.name]!.id);
      expect(m.coverage).toBeCloseTo(truth.materials[m.name]!.area, 1);
    }
    expect(i.findings.filter((f) => f.severity === 'error')).toEqual([]);
  });
  test('unnamed IDs are shown as numbers', async () =>
    expect((await inspect(sample('object_no_manifest.exr'))).idLayers[0]!.members[0]!.name).toMatch(
      /^id:[0-9a-f]{8}$/,
    ));
  test('IDs in half are an error, and nothing is offered for masks', async () => {
    const i = await inspect(sample('broken_half.exr'));
    expect(i.idLayers[0]!.members).toEqual([]);
    expect(i.findings).toContainEqual(expect.objectContaining({ severity: 'error', code: 'ids-half' }));
  });
  test('a pass that was resized is recognised by its strange IDs', async () => {
    const image = sample('object_only_zips.exr');
    const channels = image.channels.map((c) => {
      const data = (c.data as Float32Array).slice();
      for (let p = 0; p + 1 < data.length; p++) data[p] = (data[p]! + data[p + 1]!) / 2;
      return { ...c, data };
    });
    const codes = (await inspect({ ...image, channels })).findings.map((f) => `${f.severity} ${f.code}`);
    expect(codes).toContain('error ids-unknown');
  });
  test('coverage that sums to more than one is told', async () => {
    const image = sample('object_only_zips.exr');
    const channels = image.channels.map((c) =>
      c.name === 'CryptoObject00.G' ? { ...c, data: (c.data as Float32Array).map((v) => v * 1.2) } : c,
    );
    expect((await inspect({ ...image, channels })).findings.map((f) => f.code)).toContain(
      'coverage-over-one',
    );
  });
  test('overscan is told', async () =>
    expect((await inspect(sample('object_overscan.exr'))).findings.map((f) => f.code)).toContain(
      'windows-differ',
    ));
});
