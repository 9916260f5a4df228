import { readFileSync } from 'node:fs';
import { execFileSync } from 'node:child_process';
import { decode } from 'fast-png';
import { unzipSync } from 'fflate';
import { worst } from '../../../test/fixtures/samples.ts';
import { readScratch, tool, writeScratch, scratch } from '../../../test/fixtures/tools.ts';
import { correctedPlanes } from '../../exports/corrected-planes.ts';
import { linearToSrgb } from '../../colour/srgb.ts';
import { readExr } from '../../formats/exr/read.ts';
import { asFloats } from '../../formats/exr/samples.ts';
import { makeParcel } from '../job.ts';
import type { ParcelFrame } from '../kind.ts';
import { frame, list, shot, parcelOf, env, clamp, make, open } from '../../../test/fixtures/parcels.ts';

/** Layered files, added up by others than ours. */
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
  for (const [i, { src, x, y }] of stacked.reverse().entries()) {
    const { data, width, height, channels } = decode(inside[src]!);
    for (let row = 0; row < height; row++)
      for (let column = 0; column < width; column++) {
        const [from, to] = [channels * (row * width + column), 3 * ((row + y) * open.width + column + x)];
        // Colours are straight, and what lies over the picture leaves its alpha alone.
        const a = i > 0 && channels === 4 ? data[from + 3]! / 65535 : 1;
        for (let k = 0; k < 3; k++) sum[to + k] = a * data[from + k]! + (1 - a) * sum[to + k]!;
      }
  }
  const planes = await correctedPlanes(open, list.changes, env);
  const alpha = asFloats(open.image.channels.find((c) => c.name === 'A')!);
  const wanted = [planes.r, planes.g, planes.b].map((v) => v.map((own, p) => own / (alpha[p]! || 1)));
  let off = 0;
  for (let p = 0; p < open.width * open.height; p++)
    for (let k = 0; k < 3; k++)
      off = Math.max(
        off,
        Math.abs(sum[3 * p + k]! - Math.round(65535 * clamp(linearToSrgb(wanted[k]![p]!)))),
      );
  expect(off).toBeLessThanOrEqual(1.01);
});

/** The layers of a picture with another alpha, unpacked. */
async function madeWith(change: (a: number, p: number) => number) {
  const alpha = asFloats(open.image.channels.find((c) => c.name === 'A')!).map(change);
  const channels = open.image.channels.map((c) =>
    c.name === 'A' ? { ...c, type: 'float' as const, data: alpha } : c,
  );
  const own = { ...open, image: { ...open.image, channels } };
  const other: ParcelFrame = { ...frame, open: () => Promise.resolve(own) };
  const [made] = await makeParcel(parcelOf('layers'), other, shot, { variant: '', frame: undefined }, env);
  return { alpha, own: unzipSync(made!.bytes) };
}

test('an OpenRaster file keeps the alpha of the picture, and its layers do not fill what is clear', async () => {
  const { alpha, own } = await madeWith((a, p) => (p % 3 === 0 ? a / 2 : a));
  const merged = decode(own['mergedimage.png']!);
  expect(merged.channels).toBe(4);
  alpha.forEach((a, p) => {
    if (merged.data[4 * p + 3] !== Math.round(65535 * Math.min(1, a))) throw new Error(`pixel ${p}`);
  });
  // What lies over the picture leaves its alpha as it is: composited as SVG's "atop" says.
  const xml = new TextDecoder().decode(own['stack.xml']);
  const tags = [...xml.matchAll(/<(?:layer|stack name)[^>]*>/g)].map(([tag]) => [
    /name="([^"]*)"/.exec(tag)![1],
    /composite-op="svg:([^"]*)"/.exec(tag)![1],
  ]);
  expect(tags).toEqual([
    ['On the table', 'src-atop'],
    ['The smoker brighter', 'src-over'],
    ['Wärmer, bitte', 'src-atop'],
    ['As rendered', 'src-over'],
  ]);
  // A picture that is opaque everywhere has no use for it.
  const opaque = await madeWith(() => 1);
  expect(decode(opaque.own['mergedimage.png']!).channels).toBe(3);
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
