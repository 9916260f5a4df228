import { decode } from 'fast-png';
import { partOf } from '../../test/fixtures/part-of-sample.ts';
import { truth, worst } from '../../test/fixtures/samples.ts';
import { readScratch, tool, writeScratch, scratch } from '../../test/fixtures/tools.ts';
import { correctedPlanes } from '../exports/corrected-planes.ts';
import { emptyChangeList, type ChangeList } from '../changes/change.ts';
import { linearToSrgb } from '../colour/srgb.ts';
import { asFloats } from '../formats/exr/samples.ts';
import { fileOf } from '../../test/fixtures/frames.ts';
import { readExr } from '../formats/exr/read.ts';
import type { FieldValues } from '../fields/field.ts';
import { openFrame } from '../version/open-frame.ts';
import type { ParcelFrame } from './kind.ts';
import { expectedNames, makeParcel, type ParcelFile } from './job.ts';
import { parseParcelList } from './parse.ts';
import {
  hive,
  smoker,
  list,
  shot,
  parcelOf,
  env,
  clamp,
  plane,
  make,
  asRead,
  open,
  frame,
} from '../../test/fixtures/parcels.ts';

/** Parcels of a sample, read again by readers that are not ours. */
test('a parcel that is typed by hand may leave out what is neutral; what is read is whole', () => {
  const typed = { id: 'a', kind: 'picture', title: 'Look', name: '{shot}' };
  const { parcels } = parseParcelList({ format: 'zesty-crow/parcels', version: 2, parcels: [typed] });
  expect(parcels).toEqual([{ ...typed, frames: '', variants: [''], settings: {}, folder: '' }]);
});

test.each([
  ['png8', 0.5 / 255],
  ['png16', 0.5 / 65535],
  ['tiff8', 0.5 / 255],
  ['tiff16', 0.5 / 65535],
  ['tiff32', 0],
])('the corrected picture as %s is sRGB’s formula of it, with its profile', async (format, most) => {
  const [file] = await make(parcelOf('picture', { format, dither: false, transform: 'srgb' }));
  const planes = await correctedPlanes(open, list.changes, env);
  const read = asRead(file!);
  const alpha = asFloats(open.image.channels.find((c) => c.name === 'A')!);
  for (const [channel, own] of [
    ['R', planes.r],
    ['G', planes.g],
    ['B', planes.b],
  ] as const) {
    const found = plane(read, channel);
    const wanted = own.map((v, p) => {
      const shown = linearToSrgb(alpha[p]! > 0 ? v / alpha[p]! : v);
      return format === 'tiff32' ? shown : clamp(shown);
    });
    expect(worst(found, wanted)).toBeLessThanOrEqual(most + 1e-6);
  }
  expect(tool('oiiotool', '--info', '-v', scratch(file!.name))).toMatch(/profile_description: "sRGB"/);
});

test('a TIFF of floats is linear light and says so, unless it is asked for otherwise', async () => {
  const [file] = await make(parcelOf('picture', { format: 'tiff32' }));
  const planes = await correctedPlanes(open, list.changes, env);
  const alpha = asFloats(open.image.channels.find((c) => c.name === 'A')!);
  const wanted = planes.g.map((v, p) => (alpha[p]! > 0 ? v / alpha[p]! : v));
  expect(worst(plane(asRead(file!), 'G'), wanted)).toBeLessThan(1e-6);
  expect(tool('oiiotool', '--info', '-v', scratch(file!.name))).toMatch(
    /profile_description: "Rec. 709, linear"/,
  );
  // Whole numbers cannot hold it: they are for a screen.
  const [whole] = await make(parcelOf('picture', { format: 'tiff16' }));
  asRead(whole!);
  expect(tool('oiiotool', '--info', '-v', scratch(whole!.name))).toMatch(/profile_description: "sRGB"/);
});

test('a JPEG is near the picture, and holds its profile', async () => {
  const [file] = await make(parcelOf('picture', { format: 'jpeg', quality: 95 }));
  const planes = await correctedPlanes(open, list.changes, env);
  const found = plane(asRead(file!), 'G');
  const off =
    found.reduce((sum, v, p) => sum + Math.abs(v - clamp(linearToSrgb(planes.g[p]!))), 0) / found.length;
  expect(off).toBeLessThan(0.01);
  expect(tool('oiiotool', '--info', '-v', scratch(file!.name))).toMatch(/profile_description: "sRGB"/);
});

test('the EXR keeps every other channel; a crop is that part of it', async () => {
  const [whole] = await make(parcelOf('picture'));
  const path = writeScratch('whole.exr', whole!.bytes);
  const names = (text: string) => [...text.matchAll(/^ {4}(\S+), \d+-bit/gm)].map((m) => m[1]);
  const header = tool('exrheader', path);
  expect(names(header).sort()).toEqual(
    partOf('all.exr')
      .channels.map((c) => c.name)
      .sort(),
  );
  const [crop] = await make(
    parcelOf('picture', { crop: '20x10+30+40', others: false, type: 'half', compression: 'piz' }),
  );
  const read = readExr(crop!.bytes);
  expect(read.header).toMatchObject({
    compression: 'piz',
    dataWindow: { xMin: 30, yMin: 40, xMax: 49, yMax: 49 },
  });
  tool('oiiotool', path, '--ch', 'R,G,B', '--cut', '20x10+30+40', '-d', 'half', '-o', scratch('cut.exr'));
  const wanted = readExr(readScratch('cut.exr')).channels.find((c) => c.name === 'G')!.data;
  expect(read.channels.find((c) => c.name === 'G')!.data).toEqual(wanted);
  await expect(make(parcelOf('picture', { crop: '10' }))).rejects.toThrow(/Write the crop as/);
});

describe('an EXR', () => {
  test('has the frame, or its overscan with it', async () => {
    const displayWindow = { xMin: 2, yMin: 1, xMax: 9, yMax: 4 };
    const source = fileOf(
      { R: (p) => p, G: () => 0.5, B: () => 0.25 },
      { width: 12, height: 6, displayWindow },
    );
    const own = await openFrame([{ role: 'picture', name: 'a.exr', frame: null }], undefined, () =>
      Promise.resolve(source),
    );
    const overscan: ParcelFrame = { frame: own, at: () => Promise.resolve(own), open: () => own.all() };
    const plain = { ...shot, list: emptyChangeList() };
    const windows = async (settings: FieldValues) => {
      const parcel = parcelOf('picture', settings);
      const [made] = await makeParcel(parcel, overscan, plain, { variant: '', frame: undefined }, env);
      const path = writeScratch('overscan.exr', made!.bytes);
      const told = tool('exrheader', path);
      return [...told.matchAll(/^(data|display)Window .*: \((\S+) (\S+)\) - \((\S+) (\S+)\)/gm)].map((m) =>
        m.slice(1).join(' '),
      );
    };
    expect(await windows({})).toEqual(['data 2 1 9 4', 'display 2 1 9 4']);
    tool('oiiotool', scratch('overscan.exr'), '--ch', 'R', '-d', 'float', '-o', scratch('read.exr'));
    expect([...readExr(readScratch('read.exr')).channels[0]!.data].slice(0, 3)).toEqual([14, 15, 16]);
    expect(await windows({ window: 'data' })).toEqual(['data 0 0 11 5', 'display 2 1 9 4']);
  });

  test('has channels in the depth that is asked for, but never its IDs', async () => {
    await expect(make(parcelOf('picture', { depths: '*=half' }))).rejects.toThrow('holds IDs');
    const [made] = await make(parcelOf('picture', { depths: '*.Z=half, R=float, G=float' }));
    const type = (name: string) => readExr(made!.bytes).channels.find((c) => c.name === name)!.type;
    expect([type('R'), type('G'), type('CryptoObject00.R')]).toEqual(['float', 'float', 'float']);
    await expect(make(parcelOf('picture', { depths: 'R=8 bit' }))).rejects.toThrow('“R=8 bit” is no depth');
  });

  test('has a part for each that the source has, with its own name, depth and compression', async () => {
    const size = { width: 8, height: 4 };
    const files: Record<string, Uint8Array> = {
      'shot_picture.exr': fileOf({ R: (p) => p, G: () => 0.5, B: () => 0.25 }, size),
      'shot_depth.exr': fileOf({ Z: (p) => 100 + p }, size),
    };
    const given = Object.keys(files).map((name) => ({ role: 'picture', name, frame: null }));
    const own = await openFrame(given, undefined, ({ name }) => Promise.resolve(files[name]!));
    const two: ParcelFrame = { frame: own, at: () => Promise.resolve(own), open: () => own.all() };
    const settings = { parts: 'source', crop: '4x2+2+1' };
    const plain = { ...shot, list: emptyChangeList() };
    const state = { variant: '', frame: undefined };
    const [made] = await makeParcel(parcelOf('picture', settings), two, plain, state, env);
    const path = writeScratch('parts.exr', made!.bytes);
    const told = tool('exrheader', path);
    expect([...told.matchAll(/^name \(type string\): "(.*)"/gm)].map((m) => m[1])).toEqual([
      'shot_picture',
      'shot_depth',
    ]);
    tool('oiiotool', path, '--subimage', '1', '-d', 'float', '-o', scratch('read.exr'));
    const [depth] = readExr(readScratch('read.exr')).channels;
    expect([depth!.name, [...depth!.data]]).toEqual(['Z', [110, 111, 112, 113, 118, 119, 120, 121]]);
  });
});

/** True coverage of an object. */
const exact = (name: string) => {
  const { channel } = truth.objects[name]!;
  return partOf('truth_object_masks.exr').channels.find((c) => c.name === channel)!.data as Float32Array;
};

test('masks are the true coverage, one by one, three a picture, and as channels', async () => {
  const members = { of: 'members', members: 'table/smoker, yard/hive_box' };
  const one = await make(parcelOf('masks', members));
  expect(one.map((f) => f.name).sort()).toEqual([
    'honey_table_v2_table_smoker.png',
    'honey_table_v2_yard_hive_box.png',
  ]);
  const own = one.find((f) => f.name.includes('smoker'))!;
  expect(worst(asRead(own)[0]!.data, exact('table/smoker'))).toBeLessThan(0.6 / 65535 + 1e-6);
  const [three] = await make(parcelOf('masks', { ...members, how: 'three', format: 'tiff16' }));
  const read = asRead(three!);
  const planes = ['R', 'G', 'B'].map((c) => plane(read, c));
  const order = ['table/smoker', 'yard/hive_box'].map((m) =>
    planes.findIndex((p) => worst(p, exact(m)) < 1e-4),
  );
  expect([...order].sort()).toEqual([0, 1]);
  expect(planes[2]!.every((v) => v === 0)).toBe(true);
  const [channels] = await make(parcelOf('masks', { ...members, how: 'channels' }));
  expect(worst(plane(asRead(channels!), 'table_smoker'), exact('table/smoker'))).toBeLessThan(1e-6);
  const changes = await make(parcelOf('masks'));
  expect(changes.map((f) => f.part)).toEqual(['warmer_bitte', 'the_smoker_brighter']);
  expect(expectedNames(parcelOf('masks'), shot)).toEqual(changes.map((f) => f.name));
  await expect(make(parcelOf('masks', { of: 'members', members: 'wasp' }))).rejects.toThrow(
    /nobody called wasp/,
  );
});

test('cut-outs have the coverage as alpha; straight colour times alpha is premultiplied colour', async () => {
  const of = { of: 'members', members: 'table/smoker' };
  const [straight] = await make(parcelOf('cut-outs', of));
  const [multiplied] = await make(parcelOf('cut-outs', { ...of, alpha: 'premultiplied' }));
  // fast-png's own reading: oiiotool multiplies by itself.
  const [s, m] = [straight!, multiplied!].map((f) => decode(f.bytes).data) as [Uint16Array, Uint16Array];
  let off = 0;
  for (let p = 0; p < s.length / 4; p++)
    for (let k = 0; k < 3; k++)
      off = Math.max(off, Math.abs((s[4 * p + k]! * s[4 * p + 3]!) / 65535 - m[4 * p + k]!));
  // Each of three numbers was rounded.
  expect(off).toBeLessThanOrEqual(1.5);
  const [trimmed] = await make(parcelOf('cut-outs', { ...of, trim: true, format: 'exr' }));
  const { dataWindow } = readExr(trimmed!.bytes).header;
  const cover = exact('table/smoker');
  const xs = [...cover.keys()].filter((p) => cover[p]! > 0).map((p) => p % open.width);
  expect([dataWindow.xMin, dataWindow.xMax]).toEqual([Math.min(...xs), Math.max(...xs)]);
});

test('who is named and not shown in a frame has an empty mask there, and a clear cut-out', async () => {
  const own = { ...open, cast: open.cast.map((l) => ({ ...l, unseen: [...l.unseen, 'bees/bee_away'] })) };
  const away: ParcelFrame = { ...frame, open: () => Promise.resolve(own) };
  const settings = { of: 'members', members: 'bees/bee_away', format: 'exr' };
  for (const [kind, channel] of [
    ['masks', 'Y'],
    ['cut-outs', 'A'],
  ] as const) {
    const state = { variant: '', frame: undefined };
    const made = await makeParcel(parcelOf(kind, settings), away, shot, state, env);
    expect(made.map((f) => f.part)).toEqual(['bees_bee_away']);
    expect(plane(asRead(made[0]!), channel).every((v) => v === 0)).toBe(true);
  }
});

describe('cut-outs on a ground', () => {
  const of = { of: 'members', members: 'table/smoker', format: 'exr' };
  const light = (file: ParcelFile) => {
    const read = asRead(file);
    return ['R', 'G', 'B'].map((c) => plane(read, c));
  };
  /** The same version with what a thing throws on the table. */
  const withCaught = (): ParcelFrame => {
    const size = open.width * open.height;
    const channel = (name: string, v: number) => ({
      ...open.image.channels.find((c) => c.name === 'R')!,
      ...{ name, type: 'float' as const, data: new Float32Array(size).fill(v) },
    });
    const channels = [
      ...open.image.channels,
      channel('caught_shadow.Y', 0.25),
      ...['R', 'G', 'B'].map((c, k) => channel(`caught_reflection.${c}`, 0.1 * k)),
    ];
    const shown = { ...open, image: { ...open.image, channels } };
    return { ...frame, open: () => Promise.resolve(shown) };
  };
  let cover: Float32Array;
  beforeAll(() => (cover = exact('table/smoker')));

  test('are mixed in light, and cover it', async () => {
    const [alone] = await make(parcelOf('cut-outs', { ...of, alpha: 'premultiplied' }));
    const [put] = await make(parcelOf('cut-outs', { ...of, ground: 'colour', colour: [0.2, 0.4, 0.8] }));
    const [own, on] = [light(alone!), light(put!)];
    [0.2, 0.4, 0.8].forEach((g, k) =>
      expect(
        worst(
          on[k]!,
          own[k]!.map((v, p) => v + (1 - cover[p]!) * g),
        ),
      ).toBeLessThan(1e-5),
    );
    expect(readExr(put!.bytes).channels.map((c) => c.name)).toEqual(['B', 'G', 'R']);
  });

  test('may be a picture that fills the frame, its middle in the middle', async () => {
    // Twice as wide as it is shown: black and white stripes left and right are cut off.
    const [w, h] = [2 * open.width, open.height];
    const column = (p: number) => p % w;
    const picture = fileOf(
      { R: (p) => (column(p) < w / 2 ? 1 : 0.25), G: (p) => (column(p) < w / 8 ? 9 : 0.5), B: () => 0 },
      { width: w, height: h },
    );
    const settings = { ...of, ground: 'picture', picture: { file: 'meadow', name: 'meadow.exr' } };
    const made = await makeParcel(
      parcelOf('cut-outs', settings),
      frame,
      shot,
      { variant: '', frame: undefined },
      {
        ...env,
        readPicture: () => Promise.resolve(picture),
      },
    );
    const [r, g] = light(made[0]!);
    // Bilinear reading mixes at the border of the colours alone.
    const free = [...cover.keys()].filter((p) => {
      const x = p % open.width;
      return cover[p] === 0 && Math.abs(x - open.width / 2) >= 2;
    });
    const shownAt = (v: Float32Array) => Float32Array.from(free, (p) => v[p]!);
    const half = Float32Array.from(free, (p) => (p % open.width < open.width / 2 ? 1 : 0.25));
    expect(worst(shownAt(r!), half)).toBeLessThan(1e-5);
    expect(
      worst(
        shownAt(g!),
        half.map(() => 0.5),
      ),
    ).toBeLessThan(1e-5);
    await expect(make(parcelOf('cut-outs', settings))).rejects.toThrow('not at hand');
    await expect(make(parcelOf('cut-outs', { ...of, ground: 'picture' }))).rejects.toThrow(
      'Choose the picture',
    );
  });

  test('keep the shadow and the reflection that were rendered: apart, or on the ground', async () => {
    const state = { variant: '', frame: undefined };
    const apart = await makeParcel(parcelOf('cut-outs', of), withCaught(), shot, state, env);
    expect(apart.map((f) => f.part)).toEqual(['table_smoker', 'shadow', 'reflection']);
    expect(plane(asRead(apart[1]!), 'A').every((v) => v === 0.25)).toBe(true);
    const ground: FieldValues = { ...of, ground: 'colour', colour: [1, 1, 1] };
    const [on] = await makeParcel(parcelOf('cut-outs', ground), withCaught(), shot, state, env);
    light(on!).forEach((v, k) => {
      const free = v.filter((_, p) => cover[p] === 0);
      expect(
        worst(
          free,
          free.map(() => 0.75 + 0.1 * k),
        ),
      ).toBeLessThan(1e-6);
    });
    const without = await makeParcel(
      parcelOf('cut-outs', { ...of, caught: false }),
      withCaught(),
      shot,
      state,
      env,
    );
    expect(without).toHaveLength(1);
  });
});

test('parts that are called alike are different files', async () => {
  const twins: ChangeList = { ...list, headings: [], changes: [hive, { ...smoker, words: hive.words }] };
  for (const kind of ['cut-outs', 'masks']) {
    const made = await makeParcel(
      parcelOf(kind),
      frame,
      { ...shot, list: twins },
      { variant: '', frame: undefined },
      env,
    );
    expect(made.map((f) => f.part)).toEqual(['warmer_bitte', 'warmer_bitte_2']);
    expect(expectedNames(parcelOf(kind), { ...shot, list: twins })).toEqual(made.map((f) => f.name));
    const wordless = { ...list, changes: list.changes.map((c) => ({ ...c, words: '' })) };
    expect(expectedNames(parcelOf(kind), { ...shot, list: wordless })).toEqual([
      expect.stringContaining('change_1'),
      expect.stringContaining('change_2'),
    ]);
  }
});

test.each(['as-is', 'slim', 'object-buffers', 'puzzle-mattes'])(
  'ID passes %s, without anything else',
  async (form) => {
    const [file] = await make(parcelOf('id-passes', { form, layers: 'CryptoObject' }));
    const again = await openFrame([{ role: 'picture', name: 'ids.exr', frame: null }], undefined, () =>
      Promise.resolve(file!.bytes),
    );
    expect(again.beauty).toBeUndefined();
    expect(again.header.channels.some((c) => c.name.startsWith('CryptoMaterial'))).toBe(false);
    expect(tool('exrheader', writeScratch('ids.exr', file!.bytes))).toMatch(/dataWindow/);
    if (form !== 'as-is' && form !== 'slim') return;
    const layer = again.layers.find((l) => l.name === 'CryptoObject')!;
    const index = await again.index(layer);
    const known = open.cast.find((l) => l.name === 'CryptoObject')!;
    for (const m of known.members.filter((m) => m.pixels > 100))
      expect(index.coverageOf[index.slotOf.get(m.id)!]! / m.coverage).toBeCloseTo(1, 2);
  },
);
