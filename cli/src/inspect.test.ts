import { copyFileSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fail, run, start } from '../test/calls.ts';
import { at, exactPlane, read } from '../test/files.ts';
import { samplePath, worst } from '../../core/test/fixtures/samples.ts';
import { tool } from '../../core/test/fixtures/tools.ts';
import { readExr, type Inspection } from '@zesty-crow/core';

describe('inspect', () => {
  test('prints what is in a file', async () => {
    const i = JSON.parse(await run('inspect', samplePath('all.exr'), '--json')) as Inspection;
    expect([i.width, i.height]).toEqual([640, 360]);
    const smoker = i.idLayers[0]!.members.find((m) => m.name === 'table/smoker')!;
    expect(smoker).toMatchObject({ id: '4a1a0189', pixels: 4275 });
    expect(smoker.coverage).toBeCloseTo(4136.75, 2);
    // As a program, in words.
    expect(start('inspect', samplePath('object_only_zips.exr'))).toMatch(
      /CryptoObject: cryptomatte, \d ranks, 15 members/,
    );
  });
  test('reads names from the file beside the picture', async () => {
    copyFileSync(samplePath('object_sidecar.exr'), at('beside.exr'));
    const manifest = async () =>
      (JSON.parse(await run('inspect', at('beside.exr'), '--json')) as Inspection).idLayers[0]!.manifest;
    expect(await manifest()).toBe('missing');
    copyFileSync(samplePath('sidecar.json'), at('sidecar.json'));
    expect(await manifest()).toBe('sidecar');
  });
  test('reports a broken pass', async () => {
    const { findings } = JSON.parse(
      await run('inspect', samplePath('broken_half.exr'), '--json'),
    ) as Inspection;
    expect(findings.find((f) => f.code === 'ids-half')!.severity).toBe('error');
  });
});

describe('a folder', () => {
  test('is grouped into versions, each with the reasons and what is in it', async () => {
    const folder = at('client');
    mkdirSync(join(folder, 'passes'), { recursive: true });
    copyFileSync(samplePath('all.exr'), join(folder, 'shelf.exr'));
    copyFileSync(samplePath('object_only_zips.exr'), join(folder, 'shelf_ids.exr'));
    tool('oiiotool', samplePath('all.exr'), '--ch', 'R', '-d', 'uint8', '-o', join(folder, 'shelf_ao.png'));
    writeFileSync(join(folder, 'passes', 'notes.txt'), 'call me');
    const { versions, refused } = JSON.parse(await run('inspect', folder, '--json')) as {
      versions: { name: string; files: { file: string; pass: string; why: string }[]; first: Inspection }[];
      refused: { file: string; why: string }[];
    };
    expect(versions.map((v) => v.name)).toEqual(['shelf']);
    expect(versions[0]!.files.map((f) => [f.pass, f.why])).toEqual([
      ['', ''],
      ['ao', 'ao by its name'],
      ['ids', 'ids by its name'],
    ]);
    expect(versions[0]!.first.channels.map((c) => c.name)).toContain('ao.Y');
    expect(versions[0]!.first.idLayers.map((l) => l.name)).toEqual(['CryptoObject', 'CryptoMaterial']);
    expect(refused.map((r) => r.file.split('/').at(-1))).toEqual(['notes.txt']);
    expect(await run('inspect', folder)).toContain('ao by its name');
  });

  test('of frames is looked at over all of them', async () => {
    const folder = at('flight');
    mkdirSync(folder);
    // The names are gone for a frame, and one frame never came.
    const frames = { 1: 'object_only_zips.exr', 2: 'object_no_manifest.exr', 3: 'object_only_zips.exr' };
    for (const [n, file] of Object.entries({ ...frames, 5: 'object_only_zips.exr' }))
      copyFileSync(samplePath(file), join(folder, `flight.000${n}.exr`));
    const { versions } = JSON.parse(await run('inspect', folder, '--json')) as {
      versions: { overall: { code: string; message: string }[] }[];
    };
    expect(versions[0]!.overall.map((f) => f.code)).toEqual(
      expect.arrayContaining(['frames-missing', 'member-blinks']),
    );
    expect(await run('inspect', folder)).toContain('warning frames-missing: Frame 4 of 1 to 5 is missing.');
  });
});

describe('what inspect takes', () => {
  const folder = at('walk');
  beforeAll(() => {
    mkdirSync(folder);
    for (const [n, gain] of [
      [1, 1],
      [2, 3],
    ] as const) {
      const path = join(folder, `walk.000${n}.exr`);
      tool(
        'oiiotool',
        samplePath('all.exr'),
        '--ch',
        'R,G,B',
        '--mulc',
        String(gain),
        '-d',
        'float',
        '-o',
        path,
      );
      copyFileSync(samplePath('object_only_zips.exr'), join(folder, `walk_ids.000${n}.exr`));
    }
  });
  test('a folder gives a mask, a frame, one file of all passes', async () => {
    const who = ['--layer', 'CryptoObject', '--with', 'table/smoker'];
    await run('mask', folder, ...who, '--out', at('folder_mask.exr'));
    expect(worst(read('folder_mask.exr').channels[0]!.data, exactPlane('table/smoker'))).toBeLessThan(0.001);
    await run('convert', folder, at('second_frame.exr'), '--frame', '2');
    const names = read('second_frame.exr').channels.map((c) => c.name);
    expect([names.includes('R'), names.includes('CryptoObject00.R')]).toEqual([true, true]);
    tool('oiiotool', at('second_frame.exr'), '--ch', 'R,G,B', '-o', at('second_rgb.exr'));
    expect(tool('oiiotool', at('second_rgb.exr'), join(folder, 'walk.0002.exr'), '--diff')).toContain('PASS');
    expect(await fail('convert', folder, at('x.exr'), '--frame', '9')).toContain('There are: 1-2.');
    const two = [join(folder, 'walk.0001.exr'), samplePath('all.exr')];
    expect(await fail('mask', ...two, ...who, '--out', at('x.exr'))).toContain('These are 2 versions');
  });
  test('channels are a mask, by options or by a recipe', async () => {
    const whole = samplePath('all.exr');
    await run(
      'mask',
      whole,
      '--channels',
      'depth.Z',
      '--from',
      '1000',
      '--to',
      '370',
      '--out',
      at('near.exr'),
    );
    const depth = readExr(new Uint8Array(readFileSync(whole))).channels.find((c) => c.name === 'depth.Z')!;
    const wanted = (depth.data as Float32Array).map((z) => Math.min(1, Math.max(0, (1000 - z) / 630)));
    const near = read('near.exr').channels[0]!.data;
    expect(worst(near, wanted)).toBeLessThan(1e-5);
    const masks = [{ name: 'near', channels: [{ channel: 'depth.Z', times: 1 }], from: 1000, to: 370 }];
    writeFileSync(at('masks.json'), JSON.stringify({ masks }));
    const recipe = ['--interpretation', at('masks.json')];
    await run('mask', whole, '--layer', 'Masks', '--with', 'near', ...recipe, '--out', at('recipe.exr'));
    expect(worst(read('recipe.exr').channels[0]!.data, near)).toBeLessThan(1e-6);
    writeFileSync(at('wrong.json'), '{"masks": 3}');
    expect(
      await fail(
        'mask',
        whole,
        '--channels',
        'R',
        '--interpretation',
        at('wrong.json'),
        '--out',
        at('x.exr'),
      ),
    ).toContain('/masks must be array');
    expect(await fail('mask', whole, '--channels', 'S', '--out', at('x.exr'))).toContain('no channel S');
  });
});
