import { readdirSync, readFileSync } from 'node:fs';
import { sample, sampleBytes, samplePath } from '../../test/fixtures/samples.ts';
import { readScratch, scratch, tool } from '../../test/fixtures/tools.ts';
import { asFloats } from '../formats/exr/samples.ts';
import { writeExr } from '../formats/exr/write.ts';
import { statsOfPlane } from '../version/channel-stats.ts';
import { openFrame } from '../version/open-frame.ts';
import { makeString, stringAttribute } from '../formats/exr/attributes.ts';
import { halvesToFloats } from '../planes/half.ts';
import type { ExrChannel, ExrImage } from '../formats/exr/types.ts';
import { inspect } from './inspect.ts';

/** What is told of the files of a frame, before any pixel is read. */
const told = async (bytes: Uint8Array) =>
  (
    await openFrame([{ role: 'picture', name: 'a.exr', frame: null }], undefined, () =>
      Promise.resolve(bytes),
    )
  ).findings.map((f) => f.code);
const codes = (image: ExrImage, sidecars?: Map<string, string>) =>
  inspect(image, sidecars).findings.map((f) => f.code);

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

/** Every finding there is, with a file that has it. */
const DAMAGED: Record<string, () => string[] | Promise<string[]>> = {
  'file-cut-off': () => told(sampleBytes('all.exr').subarray(0, 200_000)),
  'profile-embedded': () => told(withGamma()),
  'deep-part': () => told(withDeepPart()),
  'size-differs': ofTwoSizes,
  'file-damaged': () =>
    toldOf({ 'hive.exr': sampleBytes('all.exr'), 'hive_ids.exr': sampleBytes('all.exr').subarray(0, 300) }),
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
  'name-clash': () => codes(manifest((text) => text.replace('{', `{"twin":${first(text)[2]},`))),
  'name-repaired': () => codes(manifest((text) => text.replace(first(text)[1]!, '"hi\\u0000ve"'))),
  'sidecar-missing': () => codes(sample('object_sidecar.exr')),
  'sidecar-outside': () =>
    codes(damaged('object_sidecar.exr', (name, v) => (name.endsWith('/manif_file') ? '../names.json' : v))),
};

test.each(Object.entries(DAMAGED))('%s is told of a file that has it', async (code, find) =>
  expect(await find()).toContain(code),
);

test('sound files have none of the kind that says something is wrong', () => {
  for (const name of ['all.exr', 'object_rle.exr', 'material_piz.exr'])
    expect(inspect(sample(name)).findings.filter((f) => f.severity !== 'info')).toEqual([]);
});

test('no finding is left without a file here', () => {
  const folders = ['../inspect/checks', '../idlayers', '../version'];
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
  const { places } = inspect(image).findings.find((f) => f.code === 'pixels-not-finite')!;
  expect(places).toEqual([
    { x0: 100, y0: 40, x1: 102, y1: 42 },
    { x0: 5, y0: 200, x1: 6, y1: 201 },
  ]);
  for (const compression of ['zip', 'zips', 'piz']) {
    const bytes = writeExr({ ...image.header, channels: image.channels }, { compression });
    const list = [{ role: 'picture', name: 'a.exr', frame: null }];
    const stats = await (await openFrame(list, undefined, () => Promise.resolve(bytes))).stats();
    const whole = image.channels.map((c) => [c.name, statsOfPlane(asFloats(c), 640)] as const);
    expect(new Map([...stats].sort())).toEqual(new Map([...whole].sort()));
  }
});
