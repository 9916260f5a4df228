import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { execFileSync } from 'node:child_process';
import { decode } from 'fast-png';
import { unzipSync } from 'fflate';
import { extractText } from 'unpdf';
import { nodePaper, nodeZlib } from '../../node/index.ts';
import { partBytes, partOf } from '../../test/fixtures/part-of-sample.ts';
import { truth, worst } from '../../test/fixtures/samples.ts';
import { readScratch, tool, writeScratch, scratch } from '../../test/fixtures/tools.ts';
import { correctedPlanes } from '../exports/corrected-planes.ts';
import { emptyChangeList, noMask, type Change, type ChangeList, type StepUse } from '../changes/change.ts';
import { linearToSrgb } from '../colour/srgb.ts';
import { asFloats } from '../formats/exr/samples.ts';
import { Pages } from './report/pages.ts';
import { fileOf } from '../../test/fixtures/frames.ts';
import { readExr } from '../formats/exr/read.ts';
import type { FieldValues } from '../fields/field.ts';
import type { OpenPicture } from '../version/open-picture.ts';
import { openFrame } from '../version/open-frame.ts';
import type { ParcelFrame } from './kind.ts';
import {
  contentOf,
  expectedNames,
  makeParcel,
  mendedIn,
  statesOf,
  type ParcelFile,
  type ParcelShot,
} from './job.ts';
import { asCdl } from './kinds/papers.ts';
import { emptyParcelList, type Parcel } from './parcel.ts';
import { parseParcelList } from './parse.ts';

/** Parcels of a sample, read again by readers that are not ours. */
const step = (kind: string, values: FieldValues): StepUse => ({ id: `${kind}-1`, kind, on: true, values });
const change = (
  id: string,
  words: string,
  layer: string,
  member: string,
  ...corrections: StepUse[]
): Change => ({
  ...noMask(),
  id,
  words,
  on: true,
  done: false,
  plainEdges: false,
  who: [{ mode: 'with', layer, member }],
  corrections,
});
const heading = { ...noMask(), id: 'h', words: 'On the table', on: true };
const smoker = change(
  'smoker',
  'The smoker brighter',
  'CryptoObject',
  'table/smoker',
  step('exposure', { stops: 1 }),
);
const hive = change(
  'hive',
  'Wärmer, bitte',
  'CryptoObject',
  'yard/hive_box',
  step('white-balance', { kelvin: 4500 }),
);
const list: ChangeList = {
  ...emptyChangeList(),
  headings: [heading],
  changes: [hive, { ...smoker, heading: 'h' }],
  variants: [
    {
      id: 'v',
      name: 'Night',
      sets: [{ change: 'smoker', step: 'exposure-1', kind: 'exposure', values: { stops: -2 } }],
    },
  ],
};
const shot: ParcelShot = { shot: 'Honey table', version: 2, list, frames: [] };
const parcelOf = (kind: string, settings: FieldValues = {}, more: Partial<Parcel> = {}): Parcel => ({
  id: 'p',
  kind,
  title: 'For the client',
  frames: '',
  variants: [''],
  settings,
  name: '{shot}_v{version}_{variant}_{part}',
  folder: '',
  ...more,
});

const bytes = partBytes('all.exr');
let frame: ParcelFrame;
let open: OpenPicture;
beforeAll(async () => {
  const own = await openFrame([{ role: 'picture', name: 'all.exr', frame: null }], undefined, () =>
    Promise.resolve(bytes),
  );
  open = await own.all();
  frame = { frame: own, at: () => Promise.resolve(own), open: () => Promise.resolve(open) };
});
const env = { zlib: nodeZlib, paper: nodePaper };
const make = (parcel: Parcel, state = { variant: '', frame: undefined }): Promise<ParcelFile[]> =>
  makeParcel(parcel, frame, shot, state, env);
/** Samples of a file as oiiotool reads them, as floats, without any change of colour. */
function asRead({
  name,
  bytes,
}: {
  name: string;
  bytes: Uint8Array;
}): { name: string; data: Float32Array }[] {
  const path = writeScratch(name.replaceAll('/', '_'), bytes);
  // Colour that is not multiplied by alpha stays so.
  tool(
    'oiiotool',
    '--iconfig',
    'oiio:UnassociatedAlpha',
    '1',
    path,
    '-d',
    'float',
    '-o',
    scratch('read.exr'),
  );
  return readExr(readScratch('read.exr')).channels.map((c) => ({
    name: c.name,
    data: c.data as Float32Array,
  }));
}
const plane = (read: ReturnType<typeof asRead>, name: string) => read.find((c) => c.name === name)!.data;
const clamp = (v: number) => Math.min(1, Math.max(0, v));

test('a parcel that is typed by hand may leave out what is neutral; what is read is whole', () => {
  const typed = { id: 'a', kind: 'picture', title: 'Look', name: '{shot}' };
  const { parcels } = parseParcelList({ format: 'zesty-crow/parcels', version: 1, parcels: [typed] });
  expect(parcels).toEqual([{ ...typed, frames: '', variants: [''], settings: {}, folder: '' }]);
});

test.each([
  ['png8', 0.5 / 255],
  ['png16', 0.5 / 65535],
  ['tiff8', 0.5 / 255],
  ['tiff16', 0.5 / 65535],
  ['tiff32', 0],
])('the corrected picture as %s is sRGB’s formula of it, with its profile', async (format, most) => {
  const [file] = await make(parcelOf('picture', { format, dither: false }));
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

test('the layers of an OpenRaster file add up to the corrected picture within one step of 16 bits', async () => {
  const [file] = await make(parcelOf('layers'));
  const path = writeScratch('layers.ora', file!.bytes);
  // Its type is the first thing in it, and not packed.
  expect(new TextDecoder('latin1').decode(file!.bytes.subarray(30, 54))).toBe('mimetypeimage/openraster');
  expect(execFileSync('python3', ['-m', 'zipfile', '-t', path], { encoding: 'utf8' })).toMatch(
    /Done testing/,
  );
  const inside = unzipSync(new Uint8Array(readFileSync(path)));
  const xml = new TextDecoder().decode(inside['stack.xml']);
  expect(xml).toMatch(/<stack name="On the table"/);
  const stacked = [...xml.matchAll(/<layer [^>]*>/g)].map(([tag]) => {
    const value = (key: string) => new RegExp(`${key}="([^"]*)"`).exec(tag)![1]!;
    return { name: value('name'), src: value('src'), x: Number(value('x')), y: Number(value('y')) };
  });
  expect(stacked.map((l) => l.name)).toEqual(['The smoker brighter', 'Wärmer, bitte', 'As rendered']);
  const sum = new Float64Array(3 * open.width * open.height);
  for (const { src, x, y } of stacked.reverse()) {
    const { data, width, height, channels } = decode(inside[src]!);
    for (let row = 0; row < height; row++)
      for (let column = 0; column < width; column++) {
        const [from, to] = [channels * (row * width + column), 3 * ((row + y) * open.width + column + x)];
        const a = channels === 4 ? data[from + 3]! / 65535 : 1;
        for (let k = 0; k < 3; k++) sum[to + k] = a * data[from + k]! + (1 - a) * sum[to + k]!;
      }
  }
  const planes = await correctedPlanes(open, list.changes, env);
  const wanted = [planes.r, planes.g, planes.b];
  let off = 0;
  for (let p = 0; p < open.width * open.height; p++)
    for (let k = 0; k < 3; k++)
      off = Math.max(
        off,
        Math.abs(sum[3 * p + k]! - Math.round(65535 * clamp(linearToSrgb(wanted[k]![p]!)))),
      );
  expect(off).toBeLessThanOrEqual(1.01);
});

test('the parts of a layered EXR, laid over each other by oiiotool, are the corrected picture', async () => {
  const [file] = await make(parcelOf('layers', { format: 'exr' }));
  const path = writeScratch('layers.exr', file!.bytes);
  expect(tool('exrheader', path)).toMatch(/warmer_bitte/);
  const part = (i: number) => [path, '--subimage', String(i)];
  const alpha = ['--ch', 'R,G,B,A=1'];
  tool(
    'oiiotool',
    ...part(2),
    ...part(1),
    ...part(0),
    ...alpha,
    '--over',
    '--over',
    '-d',
    'float',
    '-o',
    scratch('sum.exr'),
  );
  const planes = await correctedPlanes(open, list.changes, env);
  const found = readExr(readScratch('sum.exr')).channels.find((c) => c.name === 'R')!.data as Float32Array;
  expect(worst(found, planes.r)).toBeLessThan(1e-4);
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

test('a report tells words, members, values and colours, as HTML and as PDF', async () => {
  const [html, pdf] = await make(parcelOf('report'));
  const text = new TextDecoder().decode(html!.bytes);
  for (const words of ['Wärmer, bitte', 'The smoker brighter', 'table/smoker', 'Exposure', 'ΔE2000', 'Night'])
    expect(text).toContain(words);
  // Nothing is fetched from anywhere.
  expect(text).not.toMatch(/(src|href)="(?!data:)/);
  const { text: read } = await extractText(pdf!.bytes.slice(), { mergePages: true });
  for (const words of ['Wärmer, bitte', 'The smoker brighter', 'Night']) expect(read).toContain(words);
  // The sum of what it was made from, as any program finds it.
  const sum = createHash('sha256').update(bytes).digest('hex');
  expect(text).toContain(sum);
  expect(read.replace(/\s/g, '')).toContain(sum);
});

test('a PDF has the letters of many languages', async () => {
  const pages = await Pages.begin('Honey', await nodePaper());
  pages.text('Мёд темнее, μέλι, miód, bal ve çiçek');
  const { text } = await extractText((await pages.save()).slice(), { mergePages: true });
  expect(text).toContain('Мёд темнее, μέλι, miód, bal ve çiçek');
});

test('a variant sheet names all variants, and each is a picture of its own', async () => {
  const files = await make(parcelOf('variant-sheet', { side: 200 }));
  const { text } = await extractText(files[0]!.bytes.slice(), { mergePages: true });
  expect(text).toMatch(/The list itself[\s\S]*Night/);
  const sheet = decode(files[1]!.bytes);
  // Two pictures side by side with room around them.
  expect(sheet.width).toBeGreaterThan(400);
  expect(files.slice(2).map((f) => f.name)).toEqual([
    'honey_table_v2_the_list_itself.png',
    'honey_table_v2_night.png',
  ]);
  const [plain, night] = files.slice(2).map((f) => decode(f.bytes)) as [
    ReturnType<typeof decode>,
    ReturnType<typeof decode>,
  ];
  expect(plain.width).toBe(200);
  expect(Buffer.compare(Buffer.from(plain.data.buffer), Buffer.from(night.data.buffer))).not.toBe(0);
});

test('a CDL holds what it can, and says what it cannot', async () => {
  const files = await make(parcelOf('papers'));
  expect(files.map((f) => f.ending)).toEqual(['.json', '.ccc', '.txt']);
  const [json, ccc, left] = files.map((f) => new TextDecoder().decode(f.bytes));
  expect(JSON.parse(json!)).toEqual(list);
  expect(ccc).toMatch(/<Slope>2 2 2<\/Slope>/);
  expect(left).toMatch(/1 of 2 changes[\s\S]*Wärmer, bitte: “White balance”/);
});

test('what a CDL cannot hold is named for each change, and never handed over as if it were whole', () => {
  const [first] = list.changes as [Change];
  const told = (more: object, values: FieldValues = {}, beside: StepUse[] = []) => {
    const corrections = [step('exposure', { stops: 1, ...values }), ...beside];
    return asCdl({ ...first, edge: [], fence: [], brush: [], corrections, ...more });
  };
  expect(told({}, {}, [step('multiply', { by: [1, 0.5, 1] })])).toEqual({
    values: { slope: [2, 1, 2], offset: [0, 0, 0], power: [1, 1, 1], saturation: 1 },
    masked: [],
  });
  const why = (more: object, values: FieldValues = {}) => (told(more, values) as { why: string }).why;
  expect(why({}, { onlyLight: 'diffuse' })).toBe('it is limited to some of the light');
  expect(why({}, { andLight: 'coat' })).toBe('it is limited to some of the light');
  expect(why({}, { limitHueWidth: 40 })).toBe('it is limited to a range of colours');
  expect(why({}, { limitDepth: 'depth', limitFar: 3 })).toBe('it is limited to a depth');
  expect(why({}, { amount: 40 })).toBe('it is limited in its amount');
  expect(why({ frames: { first: 2 } })).toBe('it is limited to some frames');
  // Softness alone limits nothing.
  expect(told({}, { limitHueSoft: 50 })).toMatchObject({ masked: [] });
  const fence = [{ id: 'f', kind: 'ellipse', on: true, values: {} }];
  expect(told({ fence })).toMatchObject({ masked: ['fence'] });
  expect(told({ fence: [{ ...fence[0]!, on: false }] })).toMatchObject({ masked: [] });
});

describe('what is made', () => {
  const two: ParcelShot = { ...shot, frames: [1, 2, 3, 8] };
  const parcel = parcelOf('picture', {}, { frames: '2-8', variants: ['', 'v', 'gone'] });
  test('is every frame in every variant that there is', () => {
    expect(statesOf(parcel, two)).toEqual(
      [2, 3, 8].flatMap((frame) => ['', 'v'].map((variant) => ({ variant, frame }))),
    );
    expect(expectedNames({ ...parcel, name: '{variant}/{shot}.{frame}' }, two).slice(0, 2)).toEqual([
      'unnamed/honey_table.0002.exr',
      'night/honey_table.0002.exr',
    ]);
    expect(statesOf(parcelOf('report'), two)).toEqual([{ variant: '', frame: 1 }]);
  });
  test('is another one where something of it changed, and only there', () => {
    const key = (l: ChangeList, state = { variant: '', frame: 2 as number | undefined }) =>
      contentOf(parcel, { ...two, list: l }, state);
    const night = { ...list, variants: [{ ...list.variants[0]!, sets: [] }] };
    expect(key(night)).toBe(key(list));
    expect(key(night, { variant: 'v', frame: 2 })).not.toBe(key(list, { variant: 'v', frame: 2 }));
    const [first, second] = list.changes as [Change, Change];
    const limited = { ...list, changes: [first, { ...second, frames: { first: 1, last: 2 } }] };
    expect(key(limited)).toBe(key(list));
    expect(key(limited, { variant: '', frame: 3 })).not.toBe(key(list, { variant: '', frame: 3 }));
    // Masks do not ask what is done under them.
    const masks = parcelOf('masks');
    const brighter = { ...list, changes: [first, { ...second, corrections: [] }] };
    expect(contentOf(masks, { ...two, list: brighter }, { variant: '', frame: 2 })).toBe(
      contentOf(masks, two, { variant: '', frame: 2 }),
    );
    expect(contentOf({ ...parcel, settings: { type: 'half' } }, two, { variant: '', frame: 2 })).not.toBe(
      key(list),
    );
  });
  test('is another one once the numbers of what it is made with were mended, and as before where they were not', () => {
    const [first] = list.changes as [Change];
    const with_ = (kind: string, on = true): ParcelShot => ({
      ...two,
      list: { ...list, changes: [{ ...first, corrections: [{ id: 'k', kind, on, values: {} }] }] },
    });
    const state = { variant: '', frame: 2 };
    // Defocus was mended once, exposure never.
    const now = contentOf(parcel, with_('defocus'), state);
    expect(contentOf(parcel, with_('defocus'), state, 1)).not.toBe(now);
    expect(contentOf(parcel, with_('defocus'), state, 2)).toBe(contentOf(parcel, with_('defocus'), state, 1));
    expect(mendedIn(parcel, with_('defocus'), state)).toEqual([
      { kind: 'defocus', label: 'Defocus', revision: 2 },
    ]);
    for (const shot of [with_('exposure'), with_('defocus', false)])
      expect(contentOf(parcel, shot, state, 1)).toBe(contentOf(parcel, shot, state));
    // Masks are made without corrections.
    expect(mendedIn(parcelOf('masks'), with_('defocus'), state)).toEqual([]);
  });
  test('is stored as it was', () => {
    const stored = { ...emptyParcelList(), parcels: [parcel] };
    expect(parseParcelList(JSON.parse(JSON.stringify(stored)))).toEqual(stored);
    expect(() =>
      parseParcelList({ ...stored, parcels: [{ ...parcel, settings: { format: 'gif' } }] }),
    ).toThrow(/settings/);
  });
});
