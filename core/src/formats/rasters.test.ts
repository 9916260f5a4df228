import { samplePath } from '../../test/fixtures/samples.ts';
import { readScratch, scratch, tool, writeScratch } from '../../test/fixtures/tools.ts';
import { alone } from '../crew/alone.ts';
import { readExr } from './exr/read.ts';
import { ExrError } from './exr/errors.ts';
import { profileName } from './profile.ts';
import { readerFor } from './registry.ts';

/** Pictures that are no OpenEXR, written by the reference tool, which reads them as numbers for comparison. */
beforeAll(() => {
  const cut = ['--ch', 'R,G,B', '--cut', '101x67+300+150'];
  tool('oiiotool', samplePath('all.exr'), ...cut, '-o', scratch('base.exr'));
});
/** The file, and beside it what the tool makes of it without any conversion, in one start of the tool. */
const source = (name: string, ...more: string[]) => {
  tool(
    'oiiotool',
    ...[scratch('base.exr'), ...more, '-o', scratch(name)],
    ...[scratch(name), '-d', 'float', '--compression', 'none', '-o', scratch(`${name}.raw.exr`)],
  );
  return readScratch(name);
};
const truth = (name: string) => readExr(readScratch(`${name}.raw.exr`));
async function read(bytes: Uint8Array) {
  const reader = readerFor(bytes);
  const image = await reader.read(bytes, alone);
  const outline = await reader.outline(bytes);
  expect(outline.parts[0]).toEqual(image.header);
  return { format: reader.format, image };
}
test.each([
  ['a.png', 'png', 'uint8', 'display', []],
  ['b.png', 'png', 'uint16', 'display', []],
  ['grey.png', 'png', 'uint8', 'display', ['--ch', 'R']],
  ['alpha.png', 'png', 'uint16', 'display', ['--ch', 'R,G,B,A=1']],
  ['a.tif', 'tiff', 'uint8', 'display', ['--compression', 'lzw']],
  ['b.tif', 'tiff', 'uint16', 'display', ['--compression', 'zip']],
  ['c.tif', 'tiff', 'float', undefined, ['--compression', 'zip']],
  ['d.tif', 'tiff', 'float', undefined, ['--tile', '32', '32', '--compression', 'lzw']],
  ['e.tif', 'tiff', 'uint8', 'display', ['--compression', 'packbits', '--planarconfig', 'separate']],
])('%s', async (name, format, type, encoding, more) => {
  const bytes = source(name, ...more, '-d', type);
  const { format: found, image } = await read(bytes);
  expect(found).toBe(format);
  const wanted = truth(name);
  expect(image.channels.length).toBe(wanted.channels.length);
  for (const [i, c] of image.channels.entries()) {
    expect(c.encoding).toBe(c.name === 'A' ? undefined : encoding);
    const same = wanted.channels.find((w) => w.name === c.name) ?? wanted.channels[i]!;
    const off = c.data.findIndex((v, p) => Math.abs(v - (same.data as Float32Array)[p]!) > 1e-6);
    expect([c.name, off]).toEqual([c.name, -1]);
  }
});

test('JPEG, within what decoders may differ', async () => {
  const { image } = await read(
    source('a.jpg', '-d', 'uint8', '--attrib', 'jpeg:subsampling', '4:4:4', '--compression', 'jpeg:95'),
  );
  const wanted = truth('a.jpg');
  for (const c of image.channels) {
    const same = wanted.channels.find((w) => w.name === c.name)!.data as Float32Array;
    const worst = (c.data as Float32Array).reduce((most, v, p) => Math.max(most, Math.abs(v - same[p]!)), 0);
    expect(worst).toBeLessThan(6 / 255);
  }
});

test.each(['a.png', 'c.tif', 'a.jpg'])('%s: damage is told in words', async (name) => {
  const bytes = source(name, ...(name === 'c.tif' ? ['-d', 'float'] : []));
  for (const end of [20, 40, Math.round(bytes.length / 2)]) {
    const cut = bytes.slice(0, end);
    const failure: unknown = await Promise.resolve()
      .then(() => readerFor(bytes).read(cut, alone))
      .then(
        () => undefined,
        (error: unknown) => error,
      );
    // A decoder may make something of half a picture; it fails in words or not at all.
    if (failure !== undefined) expect(failure).toBeInstanceOf(ExrError);
    if (end < 100) expect(failure).toBeInstanceOf(ExrError);
  }
});

/** An ICC profile with nothing but what it calls itself. */
function profileCalled(name: string): Uint8Array {
  const text = new TextEncoder().encode(`${name}\0`);
  const bytes = new Uint8Array(144 + 12 + text.length + 80);
  const view = new DataView(bytes.buffer);
  const letters = (at: number, s: string) => bytes.set(new TextEncoder().encode(s), at);
  view.setUint32(0, bytes.length);
  letters(12, 'mntrRGB XYZ ');
  letters(36, 'acsp');
  // White as the connection space has it.
  [0xf6d6, 0x10000, 0xd32d].forEach((v, i) => view.setUint32(68 + 4 * i, v));
  view.setUint32(128, 1);
  letters(132, 'desc');
  view.setUint32(136, 144);
  view.setUint32(140, 12 + text.length);
  letters(144, 'desc');
  view.setUint32(152, text.length);
  bytes.set(text, 156);
  return bytes;
}

test.each(['png', 'jpg', 'tif'])('a profile in a .%s is told, and changes no number', async (ending) => {
  const { parts } = await readerFor(source(`bare.${ending}`, '-d', 'uint8')).outline(
    readScratch(`bare.${ending}`),
  );
  // The tool writes down that the numbers of its PNG are light.
  expect(parts[0]!.profile).toBe(ending === 'png' ? 'a gamma of 1.00' : undefined);
  writeScratch('wide.icc', profileCalled('Wide Meadow'));
  const bytes = source(`wide.${ending}`, '-d', 'uint8', '--iccread', scratch('wide.icc'));
  const { image } = await read(bytes);
  expect(image.header.profile).toMatch(ending === 'png' ? /^the colour profile/ : /“Wide Meadow”/);
  const bare = await read(readScratch(`bare.${ending}`));
  expect(image.channels.map((c) => c.data)).toEqual(bare.image.channels.map((c) => c.data));
});

test('a profile that is cut off is told without its name', () => {
  const whole = profileCalled('Meadow');
  expect(profileName(whole)).toBe('Meadow');
  for (let n = 0; n < whole.length; n += 7)
    expect(['Meadow', 'without a name']).toContain(
      profileName(whole.subarray(0, n)).replace(/^M?e?a?d?o?w?$/, 'Meadow'),
    );
});
