import { fileOf, openFiles } from '../../test/fixtures/frames.ts';
import { sample, sampleBytes, truth, worst } from '../../test/fixtures/samples.ts';
import { scratch, tool, writeScratch } from '../../test/fixtures/tools.ts';
import { linearToSrgb } from '../colour/srgb.ts';
import type { Finding, MendRemedy, Mending } from '../findings/finding.ts';
import { asFloats } from '../formats/exr/samples.ts';
import { quickExr } from '../../test/fixtures/quick-exr.ts';
import { maskToPng } from '../formats/png/write.ts';
import { inspectFrame } from '../inspect/inspect.ts';
import { CHECKS } from '../inspect/registry.ts';
import { mendFile } from './mend-file.ts';
import { MENDINGS } from './registry.ts';

type Files = Record<string, Uint8Array>;

/** What the check of a code finds, and what headers tell. */
const findingsOf = async (files: Files, code: string): Promise<Finding[]> => {
  const frame = await openFiles(files);
  const own = CHECKS.filter((c) => c.code === (code === 'buffer-inverted' ? 'levels-unclean' : code));
  return (await inspectFrame(frame, await frame.cast(), await frame.stats(), undefined, own)).findings;
};

/** Mends by the remedy of a finding, and gives the files as they are then. */
async function mended(files: Files, code: string): Promise<{ files: Files; what: string; after: Finding[] }> {
  const found = (await findingsOf(files, code)).find(
    (f) => f.code === code && f.remedy && 'mend' in f.remedy,
  )!;
  const { mend } = found.remedy as MendRemedy;
  const { replaces, name, bytes } = await mendFile(await openFiles(files), mend);
  const { [replaces]: _, ...rest } = files;
  const now = { ...rest, [name]: bytes };
  return { files: now, what: mend.what, after: await findingsOf(now, code) };
}

const smoker = sample('truth_object_masks.exr').channels.find(
  (c) => c.name === truth.objects['table/smoker']!.channel,
)!.data as Float32Array;
const buffer = (change: (v: number, p: number) => number): Files => ({
  'jars.png': sampleBytes('beauty_srgb.png'),
  'jars_buffer_04.png': maskToPng(smoker.map(change), sample('all.exr').header),
  'jars_buffer_05.png': sampleBytes('buffer_05.png'),
  'jars_buffer_09.png': sampleBytes('buffer_09.png'),
});
const plane = async (files: Files, channel: string) =>
  asFloats((await (await openFiles(files)).channels((n) => n === channel))[0]!);
const noise = (p: number) => (Math.imul(p + 1, 2654435761) >>> 0) / 2 ** 32;
const done = new Set<string>();

describe('a remedy takes its finding away, and changes nothing else', () => {
  test.each([
    ['buffer-inverted', 'a mask that is turned round', (v: number) => 1 - v, 2e-5],
    ['levels-unclean', 'levels of its own', (v: number) => 0.0625 + 0.875 * v, 2e-3],
    ['levels-unclean', 'a display curve', linearToSrgb, 2e-4],
    ['levels-unclean', 'loss', (v: number, p: number) => 0.98 * v + 0.02 * noise(p), 0.1],
  ] as const)('%s: %s', async (code, _, change, most) => {
    const { files, what, after } = await mended(buffer(change), code);
    done.add(what);
    expect(after.map((f) => f.code)).not.toContain(code);
    expect(Object.keys(files)).toContain('jars_buffer_04.exr');
    expect(worst(await plane(files, 'buffer_04.Y'), smoker)).toBeLessThanOrEqual(most);
  });

  test('pixels that shine out, and values that are no numbers', async () => {
    const image = sample('all.exr');
    const spots = [640 * 300 + 20, 640 * 20 + 600];
    const broken = (value: number): Files => ({
      'jars.exr': quickExr({
        ...image.header,
        channels: image.channels.map((c) => {
          if (!'RGB'.includes(c.name)) return c;
          const data = asFloats(c).slice();
          for (const p of spots) data[p] = value;
          return { ...c, type: 'float', data };
        }),
      }),
    });
    for (const [code, value] of [
      ['fireflies', 300],
      ['pixels-not-finite', NaN],
    ] as const) {
      const { files, what, after } = await mended(broken(value), code);
      done.add(what);
      expect(after.map((f) => f.code)).not.toContain(code);
      const [now, was] = [await plane(files, 'G'), asFloats(image.channels.find((c) => c.name === 'G')!)];
      for (const p of spots) expect(Math.abs(now[p]! - was[p]!)).toBeLessThan(0.05);
      expect([...now.keys()].filter((p) => now[p] !== was[p] && !spots.includes(p))).toEqual([]);
    }
  });

  test('colours that were multiplied by alpha twice, or never', async () => {
    const alpha = (p: number) =>
      Math.min(1, Math.max(0, 30.5 - Math.hypot((p % 100) - 50, Math.floor(p / 100) - 40)));
    const disc = (power: number): Files => {
      const light = (of: number) => (p: number) => (alpha(p) > 0 ? of * alpha(p) ** power : 0);
      return {
        'a.exr': fileOf(
          { A: alpha, B: light(0.2), G: light(0.5), R: light(0.8) },
          { width: 100, height: 80 },
        ),
      };
    };
    for (const power of [0, 2]) {
      const { files, what, after } = await mended(disc(power), 'premultiplied-twice');
      done.add(what);
      expect(after.map((f) => f.code)).not.toContain('premultiplied-twice');
      expect(worst(await plane(files, 'R'), await plane(disc(1), 'R'))).toBeLessThan(1e-6);
    }
  });

  test('IDs as integers become the floats that they are', async () => {
    const image = sample('object_only_zips.exr');
    const channels = image.channels.map((c) => {
      if (!/\d\d\.[RrBb]/.test(c.name)) return c;
      const d = c.data as Float32Array;
      return { ...c, type: 'uint' as const, data: new Uint32Array(d.buffer, d.byteOffset, d.length) };
    });
    const files = { 'ids.exr': quickExr({ ...image.header, channels }) };
    const { files: now, what, after } = await mended(files, 'ids-integer');
    done.add(what);
    expect(after.map((f) => f.code)).not.toContain('ids-integer');
    const [layer] = await (await openFiles(now)).cast();
    expect(layer!.members.find((m) => m.name === 'table/smoker')!.coverage).toBeCloseTo(4136.75, 2);
  });

  test('a cryptomatte that is larger than it needs to be keeps what it says, and other programs read it', async () => {
    const image = sample('object_only_zips.exr');
    const channels = image.channels.map((c) =>
      /\d\d\.[GgAa]/.test(c.name) ? { ...c, data: asFloats(c).map((v, p) => v * (1 - 1e-5 * noise(p))) } : c,
    );
    const files = { 'ids.exr': quickExr({ ...image.header, channels }) };
    const { files: now, what, after } = await mended(files, 'larger-than-needed');
    done.add(what);
    expect(after.map((f) => f.code)).not.toContain('larger-than-needed');
    expect(now['ids.exr']!.length).toBeLessThan(0.7 * files['ids.exr'].length);
    const [before, slim] = [
      (await (await openFiles(files)).cast())[0]!,
      (await (await openFiles(now)).cast())[0]!,
    ];
    expect(slim.members.map((m) => [m.name, m.id]).sort()).toEqual(
      before.members.map((m) => [m.name, m.id]).sort(),
    );
    writeScratch('slim-mended.exr', now['ids.exr']!);
    expect(tool('exrheader', scratch('slim-mended.exr'))).toContain('cryptomatte/3ae39a5/manifest');
  });

  test('light that has a display curve on again', async () => {
    // Only as the remedy of a mask that is too dark: the other way round.
    const { what, files } = await mended(
      buffer((v) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4)),
      'levels-unclean',
    );
    done.add(what);
    expect(worst(await plane(files, 'buffer_04.Y'), smoker)).toBeLessThan(2e-3);
  });

  test('no way to mend is left untried', () =>
    expect(MENDINGS.map((m) => m.what).filter((w) => !done.has(w))).toEqual([]));
});

test('what is spread over files, and what nobody knows, is refused in words', async () => {
  const frame = await openFiles(buffer((v) => v));
  const mend = (m: Mending) => mendFile(frame, m);
  await expect(mend({ what: 'polish', layer: 'buffer_04.Y' })).rejects.toThrow(/no remedy called/);
  await expect(mend({ what: 'turn-round', layer: 'nothing.Y' })).rejects.toThrow(/not in one file/);
});
