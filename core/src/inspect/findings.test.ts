import { readdirSync, readFileSync } from 'node:fs';
import { fileOf, openFiles } from '../../test/fixtures/frames.ts';
import { sample, sampleBytes, samplePath, truth } from '../../test/fixtures/samples.ts';
import { readScratch, scratch, tool } from '../../test/fixtures/tools.ts';
import { asFloats } from '../formats/exr/samples.ts';
import { quickExr } from '../../test/fixtures/quick-exr.ts';
import { statsOfPlane } from '../version/channel-stats.ts';
import { openFrame } from '../version/open-frame.ts';
import { makeString, stringAttribute } from '../formats/exr/attributes.ts';
import { halvesToFloats } from '../planes/half.ts';
import type { ExrChannel, ExrImage } from '../formats/exr/types.ts';
import { linearToSrgb } from '../colour/srgb.ts';
import { FORMER_CODES, isFinding, type Finding } from '../findings/finding.ts';
import { maskToPng } from '../formats/png/write.ts';
import type { Interpretation } from '../version/interpretation.ts';
import { measureShift } from './edges.ts';
import { inspect, inspectFrame } from './inspect.ts';
import type { Check } from './check.ts';
import { CHECKS } from './registry.ts';
import { inspectVersion } from './version-registry.ts';
import type { InspectedVersion, SeenFrame } from './version-check.ts';

/** What is told of the files of a frame, before any pixel is read. */
const told = async (bytes: Uint8Array) =>
  (
    await openFrame([{ role: 'picture', name: 'a.exr', frame: null }], undefined, () =>
      Promise.resolve(bytes),
    )
  ).findings.map((f) => f.code);
/** Checks that take their time; each is run for its own findings, and all of them for sound files. */
const SLOW = new Set([
  'shifted',
  'encoding-doubtful',
  'larger-than-needed',
  'ranks-too-few',
  'levels-unclean',
]);
let wanted = '';
const checks = () =>
  CHECKS.filter(
    (c) =>
      !SLOW.has(c.code) || wanted === c.code || (c.code === 'levels-unclean' && wanted.startsWith('buffer')),
  );
const codes = async (image: ExrImage, sidecars?: Map<string, string>) =>
  (await inspect(image, sidecars, checks())).findings.map((f) => f.code);

/** A copy of a sample with some attributes and channels changed. */
function damaged(
  name: string,
  attribute: (name: string, value: string) => string | undefined = (_, v) => v,
  channel: (c: ExrChannel) => ExrChannel | undefined = (c) => c,
): ExrImage {
  const image = sample(name);
  const channels = image.channels.flatMap((c) => channel(c) ?? []);
  return {
    channels,
    header: {
      ...image.header,
      channels: channels.map(({ data: _, ...info }) => info),
      attributes: image.header.attributes.flatMap((a) => {
        if (a.type !== 'string') return [a];
        const value = attribute(a.name, stringAttribute([a], a.name)!);
        return value === undefined ? [] : [makeString(a.name, value)];
      }),
    },
  };
}
const manifest = (change: (text: string) => string | undefined) =>
  damaged('object_only_zips.exr', (name, value) => (name.endsWith('/manifest') ? change(value) : value));
const first = (text: string) => /^\{\s*("[^"]+")\s*:\s*("[0-9a-f]+")/.exec(text)!;
const cover = (change: (data: Float32Array) => void) =>
  damaged('object_only_zips.exr', undefined, (c) => {
    if (!/00\.[Gg]/.test(c.name)) return c;
    const data = c.data instanceof Uint16Array ? halvesToFloats(c.data) : (c.data as Float32Array).slice();
    change(data);
    return { ...c, type: 'float', data };
  });
const typed = (type: 'half' | 'uint') =>
  damaged('object_only_zips.exr', undefined, (c) =>
    /\d\d\./.test(c.name)
      ? {
          ...c,
          type,
          data: type === 'half' ? new Uint16Array(c.data.length) : new Uint32Array(c.data.length),
        }
      : c,
  );

/** A file of a flat part and a deep one. */
function withDeepPart(): Uint8Array {
  const flat = samplePath('all.exr');
  tool('oiiotool', flat, '--cut', '32x16+300+200', '--ch', 'R,G,B,A,Z=depth.Z', '-o', scratch('flat.exr'));
  tool('oiiotool', scratch('flat.exr'), '--deepen', '-o', scratch('deep.exr'));
  tool('exrmultipart', '-combine', '-i', scratch('flat.exr'), scratch('deep.exr'), '-o', scratch('both.exr'));
  return readScratch('both.exr');
}

/** The sample with another depth. */
const depth = (edit: (d: Float32Array) => unknown) =>
  damaged('all.exr', undefined, (c) => {
    if (c.name !== 'depth.Z') return c;
    const data = (c.data as Float32Array).slice();
    edit(data);
    return { ...c, data };
  });

/** A PNG that says that it has another gamma. */
function withGamma(): Uint8Array {
  tool(
    'oiiotool',
    samplePath('all.exr'),
    '--ch',
    'R,G,B',
    '-d',
    'uint8',
    '--iscolorspace',
    'linear',
    '-o',
    scratch('gamma.png'),
  );
  const bytes = readScratch('gamma.png');
  const gamma = new Uint8Array(16);
  new DataView(gamma.buffer).setUint32(0, 4);
  gamma.set(new TextEncoder().encode('gAMA'), 4);
  new DataView(gamma.buffer).setUint32(8, 100_000);
  // After the header, with a checksum that nobody reads here.
  return Uint8Array.from([...bytes.subarray(0, 33), ...gamma, ...bytes.subarray(33)]);
}

/** What is told of a picture and a pass that was cut smaller. */
async function ofTwoSizes(): Promise<string[]> {
  tool(
    'oiiotool',
    samplePath('all.exr'),
    '--ch',
    'Z=depth.Z',
    '--cut',
    '600x340+0+0',
    '-o',
    scratch('small_z.exr'),
  );
  return toldOf({ 'small.exr': sampleBytes('all.exr'), 'small_z.exr': readScratch('small_z.exr') });
}

/** What is told of several files of one picture. */
async function toldOf(files: Record<string, Uint8Array>): Promise<string[]> {
  const list = Object.keys(files).map((name) => ({ role: 'picture', name, frame: null }));
  const frame = await openFrame(list, undefined, ({ name }) => Promise.resolve(files[name]!));
  return frame.findings.map((f) => f.code);
}

/** What is found in the pixels of several files of one picture. */
async function found(
  files: Record<string, Uint8Array>,
  interpretation?: Interpretation,
  only?: readonly Check[],
): Promise<Finding[]> {
  const frame = await openFiles(files, interpretation);
  return (await inspectFrame(frame, await frame.cast(), await frame.stats(), undefined, only)).findings;
}
const codesOf = async (files: Record<string, Uint8Array>, interpretation?: Interpretation) =>
  (await found(files, interpretation, checks())).map((f) => f.code);

/** The sample with other colours: `at` gets their planes as light. */
function coloured(
  change: (v: number, p: number, planes: Record<string, Float32Array>) => number,
  name = 'all.exr',
) {
  const image = sample(name);
  const planes = Object.fromEntries(
    image.channels.flatMap((c) => ('RGBA'.includes(c.name) ? [[c.name, asFloats(c)] as const] : [])),
  );
  return damaged(name, undefined, (c) =>
    'RGB'.includes(c.name)
      ? { ...c, type: 'float', data: planes[c.name]!.map((v, p) => change(v, p, planes)) }
      : c,
  );
}
const noise = (p: number) => (Math.imul(p + 1, 2654435761) >>> 0) / 2 ** 32;

/** A mask of the sample, changed, as a PNG of 16 bits, beside the picture. */
function buffers(change: (v: number, p: number) => number, ...others: string[]): Record<string, Uint8Array> {
  const mask = objectPlane('table/smoker').map(change);
  return {
    'jars.exr': sampleBytes('all.exr'),
    'jars_buffer_07.png': maskToPng(mask, sample('all.exr').header),
    ...Object.fromEntries(others.map((n) => [`jars_${n}`, sampleBytes(n)])),
  };
}
const objectPlane = (name: string) =>
  sample('truth_object_masks.exr').channels.find((c) => c.name === truth.objects[name]!.channel)!
    .data as Float32Array;

/** A bright disc over nothing, its light times some power of its alpha. */
function disc(power: number): Uint8Array {
  const alpha = (p: number) =>
    Math.min(1, Math.max(0, 30.5 - Math.hypot((p % 100) - 50, Math.floor(p / 100) - 40)));
  const light = (of: number) => (p: number) => (alpha(p) > 0 ? of * alpha(p) ** power : 0);
  return fileOf({ A: alpha, B: light(0.2), G: light(0.5), R: light(0.8) }, { width: 100, height: 80 });
}

/** A picture of two parts of the light. */
function inParts(change: (part: number, v: number) => number): Record<string, Uint8Array> {
  const at = (p: number) => 0.1 + 0.8 * noise(p);
  const three = (layer: string, value: (p: number) => number) =>
    Object.fromEntries(['R', 'G', 'B'].map((c) => [`${layer}${c}`, value] as const));
  return {
    'a.exr': fileOf(
      {
        ...three('', at),
        ...three('diffuse.', (p) => change(0, 0.7 * at(p))),
        ...three('specular.', (p) => change(1, 0.3 * at(p))),
      },
      { width: 64, height: 32 },
    ),
  };
}

/** Frames of a version as they are known beforehand. */
const seen = (
  ...frames: [frame: number, ...members: [name: string, id: number, pixels: number][]][]
): SeenFrame[] =>
  frames.map(([frame, ...members]) => ({
    frame,
    layers: new Map([
      ['objects', members.map(([name, id, pixels]) => ({ name, id, pixels, coverage: pixels }))],
    ]),
  }));
const overall = (version: Partial<InspectedVersion>) =>
  inspectVersion({ frames: [], seen: [], ...version }).map((f) => f.code);

/** Every finding there is, with a file that has it. */
const DAMAGED: Record<string, () => string[] | Promise<string[]>> = {
  'file-cut-off': () => told(sampleBytes('all.exr').subarray(0, 200_000)),
  'profile-embedded': () => told(withGamma()),
  'deep-part': () => told(withDeepPart()),
  'size-differs': ofTwoSizes,
  'manifest-too-large': () =>
    openFiles({
      'a.exr': sampleBytes('object_no_manifest.exr'),
      'a.json': new Uint8Array(129 * 2 ** 20),
    }).then(({ findings }) => findings.map((f) => f.code)),
  'file-damaged': () =>
    toldOf({ 'hive.exr': sampleBytes('all.exr'), 'hive_ids.exr': sampleBytes('all.exr').subarray(0, 300) }),
  'ids-filtered': () =>
    codes(
      damaged('object_only_zips.exr', undefined, (c) => ({
        ...c,
        data: (c.data as Float32Array).map((v, p, all) => (v + (all[p + 1] ?? v)) / 2),
      })),
    ),
  'ranks-too-few': () =>
    codes(damaged('all.exr', undefined, (c) => (/^CryptoObject0[12]/.test(c.name) ? undefined : c))),
  'levels-unclean': () => codesOf(buffers((v, p) => 0.98 * v + 0.02 * noise(p))),
  'buffer-inverted': () => codesOf(buffers((v) => 1 - v, 'buffer_05.png', 'buffer_09.png')),
  'buffer-empty': () => codesOf(buffers(() => 0)),
  'number-twice': () =>
    codesOf(
      buffers((v) => v, 'buffer_05.png'),
      {
        roles: { buffer_05: { role: 'object-buffer', number: 7 } },
      },
    ),
  shifted: async () => {
    const by = (planes: Record<string, Float32Array>, c: string, p: number) => planes[c]![p - 2] ?? 0;
    const image = sample('all.exr');
    const planes = Object.fromEntries(image.channels.map((c) => [c.name, asFloats(c)]));
    return codes(
      damaged('all.exr', undefined, (c) =>
        'RGB'.includes(c.name)
          ? { ...c, type: 'float', data: planes[c.name]!.map((_, p) => by(planes, c.name, p)) }
          : c,
      ),
    );
  },
  'encoding-doubtful': () => codes(coloured((v) => linearToSrgb(v))),
  'premultiplied-twice': () => codesOf({ 'a.exr': disc(2) }),
  'lights-do-not-add': () => codesOf(inParts((part, v) => (part === 0 ? v : 0.5 * v))),
  fireflies: () => codes(coloured((v, p) => (p === 640 * 300 + 20 ? 400 : v))),
  'larger-than-needed': () => codes(cover((d) => d.forEach((v, p) => (d[p] = v * (1 - 1e-5 * noise(p)))))),
  'colours-alike': () =>
    codesOf({ 'jars.exr': sampleBytes('all.exr'), 'jars_flat_colour.png': sampleBytes('flat_colour.png') }),
  'frames-missing': () => overall({ frames: [1, 2, 5] }),
  'member-blinks': () =>
    overall({ frames: [1, 2, 3], seen: seen([1, ['bee', 7, 90]], [2], [3, ['bee', 7, 90]]) }),
  'id-changes': () => overall({ frames: [1, 2], seen: seen([1, ['bee', 7, 90]], [2, ['bee', 8, 90]]) }),
  'windows-differ': () => codes(sample('object_overscan.exr')),
  'no-picture': () => codes(sample('object_only_zips.exr')),
  'no-id-layers': () =>
    codes(damaged('all.exr', (name, v) => (name.startsWith('cryptomatte/') ? undefined : v))),
  'coverage-over-one': () => codes(cover((d) => d.fill(0.9))),
  'coverage-not-a-number': () => codes(cover((d) => (d[7] = NaN))),
  'ids-unknown': () => codes(manifest((text) => text.replace(first(text)[2]!, '"00c0ffee"'))),
  'names-empty': () => codes(manifest((text) => text.replace(first(text)[1]!, '" "'))),
  'names-default': () => codes(manifest((text) => text.replace(first(text)[1]!, '"yard/Cube.001"'))),
  'names-duplicate': () =>
    codes(manifest((text) => text.replace('{', `{${first(text)[1]!.toUpperCase()}:"01234567",`))),
  'pixels-not-finite': () => codes(depth((d) => (d[640 * 7 + 9] = Infinity))),
  'pixels-negative': () =>
    codes(
      damaged('all.exr', undefined, (c) => {
        const data = c.data.slice();
        // The sign of a half.
        if (c.name === 'G') data[5]! |= 0x8000;
        return { ...c, data };
      }),
    ),
  'pass-constant': () => codes(depth((d) => d.fill(4))),
  'names-unseen': () => codes(manifest((text) => text.replace('{', '{"not/there":"01234567",'))),
  'ids-half': () => codes(typed('half')),
  'ids-integer': () => codes(typed('uint')),
  'ranks-missing': () =>
    codes(
      damaged('object_only_zips.exr', undefined, (c) =>
        /\d\d\./.test(c.name) ? { ...c, name: `x${c.name}y` } : c,
      ),
    ),
  'conversion-unknown': () =>
    codes(damaged('object_only_zips.exr', (name, v) => (name.endsWith('/conversion') ? 'by_hand' : v))),
  'manifest-missing': () => codes(sample('object_no_manifest.exr')),
  'manifest-damaged': () => codes(manifest(() => '{"lid": 5}')),
  'ids-clash': () => codes(manifest((text) => text.replace('{', `{"twin":${first(text)[2]},`))),
  'name-repaired': () => codes(manifest((text) => text.replace(first(text)[1]!, '"hi\\u0000ve"'))),
  'sidecar-missing': () => codes(sample('object_sidecar.exr')),
  'sidecar-outside': () =>
    codes(damaged('object_sidecar.exr', (name, v) => (name.endsWith('/manif_file') ? '../names.json' : v))),
};

test.each(Object.entries(DAMAGED))('%s is told of a file that has it', async (code, find) => {
  wanted = code;
  expect(await find()).toContain(code);
});

test('sound files have none of the kind that says something is wrong', async () => {
  for (const name of ['all.exr', 'object_rle.exr', 'material_piz.exr'])
    expect((await inspect(sample(name))).findings.filter((f) => f.severity !== 'info')).toEqual([]);
  // Nor has a picture with every other kind of ID pass beside it.
  const names = [
    'puzzle_set1.png',
    'puzzle_set2_8bit.png',
    'buffer_04.png',
    'buffer_05.png',
    'buffer_09.png',
  ];
  const more = ['beauty_srgb.png', 'number_pass.exr', 'object_only_zips.exr', ...names];
  const findings = await found(Object.fromEntries(more.map((n) => [n, sampleBytes(n)])));
  expect(findings.filter((f) => f.severity !== 'info')).toEqual([]);
});

test('a finding that was renamed is still known by its former name', () => {
  for (const [former, code] of Object.entries(FORMER_CODES)) {
    expect(isFinding({ code }, former)).toBe(true);
    expect(isFinding({ code }, code)).toBe(true);
    expect(isFinding({ code: 'no-picture' }, former)).toBe(false);
  }
});

/** A plane moved by parts of a pixel, by a cubic (Catmull and Rom) down and across, so that edges stay sharp. */
function movedBy(plane: Float32Array, width: number, dx: number, dy: number): Float32Array {
  const height = plane.length / width;
  const along = (from: Float32Array, d: number, step: number, at: (p: number) => number, end: number) => {
    const first = Math.floor(-d) - 1;
    const t = -d - Math.floor(-d);
    const weights = [
      ((-0.5 * t + 1) * t - 0.5) * t,
      (1.5 * t - 2.5) * t * t + 1,
      ((-1.5 * t + 2) * t + 0.5) * t,
      (0.5 * t - 0.5) * t * t,
    ];
    return from.map((_, p) => {
      const x = at(p);
      let sum = 0;
      for (let i = 0; i < 4; i++) {
        const u = x + first + i;
        sum += weights[i]! * from[p + ((u < 0 ? 0 : u >= end ? end - 1 : u) - x) * step]!;
      }
      return sum;
    });
  };
  const across = along(plane, dx, 1, (p) => p % width, width);
  return along(across, dy, width, (p) => (p - (p % width)) / width, height);
}

test.each([
  [0, 0],
  [1, 0],
  [0.5, 0.5],
  [-0.3, 0.7],
  [3.4, -2.6],
])(
  'a picture that lies %d px to the right and %d px down of its IDs is measured to a tenth',
  async (dx, dy) => {
    const frame = await openFiles({ 'all.exr': sampleBytes('all.exr') });
    const [layer] = await frame.cast();
    const { r, g, b, width, height } = await frame.picture();
    const moved = [r, g, b].map((plane) => movedBy(plane, width, dx, dy));
    const shift = measureShift(layer!, { width, height, planes: moved })!;
    expect(Math.abs(shift.x - dx)).toBeLessThanOrEqual(0.1);
    expect(Math.abs(shift.y - dy)).toBeLessThanOrEqual(0.1);
  },
);

describe('what is told says what is the matter', () => {
  test('which part of the light is too much, and whether one is missing', async () => {
    const message = async (files: Record<string, Uint8Array>) =>
      (await found(files)).find((f) => f.code === 'lights-do-not-add')?.message;
    expect(await message(inParts((_, v) => v))).toBeUndefined();
    expect(await message(inParts((part, v) => (part === 0 ? v / 0.7 : v)))).toMatch(
      /Without specular they do/,
    );
    expect(await message(inParts((part, v) => (part === 0 ? v : 0.2 * v)))).toMatch(
      /a part of the light is missing/,
    );
  });
  test('how much is lost where ranks are too few, judged by alpha', async () => {
    const few = damaged('all.exr', undefined, (c) => (/^CryptoObject0[12]/.test(c.name) ? undefined : c));
    const { severity, message, places } = (await inspect(few)).findings.find(
      (f) => f.code === 'ranks-too-few',
    )!;
    expect(severity).toBe('warning');
    expect(message).toMatch(/\d+ pixels are full, with 2 IDs, and cover \d+ % less than the alpha/);
    expect(places!.length).toBeGreaterThan(0);
  });
  test('a picture that was never multiplied by its alpha, and values of a screen in a file of floats', async () => {
    expect(await codesOf({ 'a.exr': disc(1) })).not.toContain('premultiplied-twice');
    const straight = (await found({ 'a.exr': disc(0) })).find((f) => f.code === 'premultiplied-twice');
    expect(straight!.remedy!.label).toBe('Multiply by alpha');
    const stepped = coloured((v) => Math.round(255 * Math.min(1, linearToSrgb(v))) / 255);
    expect((await inspect(stepped)).findings.find((f) => f.code === 'encoding-doubtful')!.message).toMatch(
      /whole steps of 255/,
    );
  });
  test('light that was saved as whole numbers is taken for a picture of a screen, and found by its edges', async () => {
    tool(
      'oiiotool',
      samplePath('all.exr'),
      '--ch',
      'R,G,B',
      '--iscolorspace',
      'sRGB',
      '-d',
      'uint16',
      '-o',
      scratch('linear.png'),
    );
    const findings = await found({
      'jars.png': readScratch('linear.png'),
      'jars_ids.exr': sampleBytes('object_only_zips.exr'),
    });
    expect(findings.find((f) => f.code === 'encoding-doubtful')!.remedy).toMatchObject({
      label: 'Take it as light',
      encoding: { display: false },
    });
  });
  const levels = async (change: (v: number, p: number) => number) =>
    (await found(buffers(change))).find((f) => f.code === 'levels-unclean');
  test('masks that are sound', async () => expect(await levels((v) => v)).toBeUndefined());
  test('masks with a display curve', async () =>
    expect((await levels((v) => linearToSrgb(v)))!.remedy!.label).toBe('Take the curve off'));
  test('masks with levels of their own', async () =>
    expect((await levels((v) => 0.06 + 0.9 * v))!.remedy!.label).toBe('Stretch it to 0 and 1'));
  test('masks that were packed with loss', async () =>
    expect((await levels((v, p) => 0.98 * v + 0.02 * noise(p)))!.message).toMatch(/packed with loss/));
  test('a mask of what lies behind everything is not taken for one that is turned round', async () => {
    const behind = objectPlane('table/smoker').map((v) => 1 - v);
    const rest = {
      'jars.exr': sampleBytes('all.exr'),
      'jars_buffer_07.png': maskToPng(behind, sample('all.exr').header),
    };
    expect(await codesOf({ ...rest })).not.toContain('buffer-inverted');
  });
});

test('no finding is left without a file here', () => {
  const folders = ['../inspect/checks', '../idlayers', '../version', '../roles'];
  const told = new Set<string>();
  for (const folder of folders)
    for (const name of readdirSync(new URL(folder, import.meta.url)).filter((n) =>
      /(?<!\.test)\.ts$/.test(n),
    )) {
      const text = readFileSync(new URL(`${folder}/${name}`, import.meta.url), 'utf8');
      for (const [, code] of text.matchAll(/code: '([a-z-]+)'/g)) told.add(code!);
    }
  expect(told.size).toBeGreaterThan(10);
  expect([...told].filter((code) => !(code in DAMAGED))).toEqual([]);
});

test('where values are no numbers is told, also of a file that is read block by block', async () => {
  const spots = [640 * 40 + 100, 640 * 41 + 101, 640 * 200 + 5];
  const image = depth((d) => spots.forEach((at) => (d[at] = NaN)));
  const { places } = (await inspect(image)).findings.find((f) => f.code === 'pixels-not-finite')!;
  expect(places).toEqual([
    { x0: 100, y0: 40, x1: 102, y1: 42 },
    { x0: 5, y0: 200, x1: 6, y1: 201 },
  ]);
  for (const compression of ['zip', 'zips', 'piz']) {
    const bytes = quickExr({ ...image.header, channels: image.channels }, { compression });
    const list = [{ role: 'picture', name: 'a.exr', frame: null }];
    const stats = await (await openFrame(list, undefined, () => Promise.resolve(bytes))).stats();
    const whole = image.channels.map((c) => [c.name, statsOfPlane(asFloats(c), 640)] as const);
    expect(new Map([...stats].sort())).toEqual(new Map([...whole].sort()));
  }
});
