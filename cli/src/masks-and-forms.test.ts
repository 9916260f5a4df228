import { copyFileSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { fail, run, start, startFailing } from '../test/calls.ts';
import { at, exactPlane, read } from '../test/files.ts';
import { partBytes } from '../../core/test/fixtures/part-of-sample.ts';
import { samplePath, worst } from '../../core/test/fixtures/samples.ts';
import { tool } from '../../core/test/fixtures/tools.ts';
import { type Inspection } from '@zesty-crow/core';

describe('convert', () => {
  test('takes a part, or some channels, of any picture', async () => {
    writeFileSync(at('first.exr'), partBytes('all.exr'));
    writeFileSync(at('second.exr'), partBytes('material_piz.exr'));
    tool('exrmultipart', '-combine', '-i', at('first.exr'), at('second.exr'), '-o', at('parts.exr'));
    await run('convert', at('parts.exr'), at('part.exr'), '--part', '2');
    expect(tool('oiiotool', at('second.exr'), at('part.exr'), '--diff')).toContain('PASS');
    await run('convert', at('parts.exr'), at('all_parts.exr'), '--compression', 'piz');
    expect(tool('oiiotool', at('parts.exr'), at('all_parts.exr'), '--diff')).toContain('PASS');
    expect(tool('exrinfo', at('all_parts.exr')).match(/part \d/g)).toHaveLength(2);
    await run('convert', at('parts.exr'), at('some.exr'), '--part', '1', '--channels', 'depth.Z', 'R');
    expect(read('some.exr').channels.map((c) => c.name)).toEqual(['R', 'depth.Z']);
    expect(await fail('convert', at('parts.exr'), at('x.exr'), '--part', '3')).toContain(
      'parts 1 to 2: first, second',
    );
    expect(await fail('convert', at('first.exr'), at('x.exr'), '--channels', 'S')).toContain('no channel S');
    tool('oiiotool', at('first.exr'), '--ch', 'R,G,B', '-d', 'float', '-o', at('light.tif'));
    await run('convert', at('light.tif'), at('light.exr'));
    expect(tool('oiiotool', at('light.tif'), at('light.exr'), '--diff')).toContain('PASS');
  });
});

describe('gather', () => {
  const files = [
    'puzzle_set1.png',
    'buffer_04.png',
    'flat_colour.png',
    'flat_colour_outlined.png',
    'number_pass.exr',
  ];
  // Names that tell nothing: a file says what they are.
  const names = ['slots.png', 'buffer_04.png', 'colours.png', 'lines.png', 'n.exr'];
  const roles = {
    'slots.png': { role: 'puzzle-matte', r: 'hive', g: 'smoker', b: 'cloth' },
    'buffer_04.png': { role: 'object-buffer', number: 4, name: 'smoker' },
    'colours.png': { role: 'flat-colour', outlined: 'lines.png', names: { '#2036f7': 'hive' } },
    'n.exr': { role: 'number-pass', channel: 'objectIndex.Y', names: { 1: 'hive' } },
  };
  const taken = ['beauty.png', ...names].map((n) => at(`gather/${n}`));
  beforeAll(() => {
    mkdirSync(at('gather'));
    copyFileSync(samplePath('beauty_srgb.png'), at('gather/beauty.png'));
    files.forEach((f, i) => copyFileSync(samplePath(f), at(`gather/${names[i]!}`)));
    writeFileSync(at('roles.json'), JSON.stringify(roles));
  });

  test('makes one file in which every ID pass is a cryptomatte called after its file', async () => {
    const listed = JSON.parse(
      start('gather', ...taken, '--roles', at('roles.json'), '--out', at('gathered.exr'), '--json'),
    ) as { file: string; frame: number | null; role: string; layer: string; why: string }[];
    expect(listed.map((l) => [l.file, l.frame, l.role, l.layer])).toEqual([
      ['beauty.png', null, 'picture', 'picture'],
      ['buffer_04.png', null, 'object-buffer', 'buffer_04'],
      ['colours.png', null, 'flat-colour', 'colours'],
      ['lines.png', null, 'outlined', 'colours'],
      ['n.exr', null, 'number-pass', 'n'],
      ['slots.png', null, 'puzzle-matte', 'slots'],
    ]);
    expect(listed.every((l) => l.why.length > 3)).toBe(true);
    const i = JSON.parse(await run('inspect', at('gathered.exr'), '--json')) as Inspection;
    expect(i.idLayers.map((l) => [l.name, l.kind])).toEqual(
      ['buffer_04', 'colours', 'n', 'slots'].map((name) => [name, 'cryptomatte']),
    );
    const hive = exactPlane('yard/hive_box');
    for (const [layer, most] of [
      ['slots', 1e-5],
      ['n', 0.03],
      ['colours', 0.03],
    ] as const) {
      await run('mask', at('gathered.exr'), '--layer', layer, '--with', 'hive', '--out', at('hive.exr'));
      const mask = read('hive.exr').channels[0]!.data as Float32Array;
      const edges = [...hive.keys()].filter((p) => hive[p]! > 0 && hive[p]! < 1);
      expect(edges.reduce((sum, p) => sum + Math.abs(mask[p]! - hive[p]!), 0) / edges.length).toBeLessThan(
        most,
      );
    }
    // The picture is light, as a file of floats should be.
    tool(
      'oiiotool',
      at('gather/beauty.png'),
      '--ch',
      'R,G,B',
      '--colorconvert',
      'sRGB',
      'linear',
      '-d',
      'float',
      '-o',
      at('light.exr'),
    );
    const own = read('gathered.exr').channels.find((c) => c.name === 'G')!.data;
    expect(worst(own, read('light.exr').channels.find((c) => c.name === 'G')!.data)).toBeLessThan(1e-4);
  });

  test('says what is wrong with its roles', async () => {
    writeFileSync(at('lost.json'), '{"bee.png": {"role": "object-buffer", "number": 1}}');
    expect(await fail('gather', ...taken, '--roles', at('lost.json'), '--out', at('x.exr'))).toMatch(
      /names bee\.png/,
    );
    writeFileSync(at('odd.json'), '{"slots.png": {"role": "rainbow"}}');
    expect(await fail('gather', ...taken, '--roles', at('odd.json'), '--out', at('x.exr'))).toMatch(
      /no interpretation/,
    );
  });
});

describe('convert to another form', () => {
  test('slim keeps every ID, and coverages to a thousandth, in fewer bytes', async () => {
    expect(await run('convert', samplePath('object_only_zips.exr'), at('slim.exr'), '--slim')).toMatch(
      /bytes, 158,957 before/,
    );
    const slim = new Uint8Array(readFileSync(at('slim.exr')));
    expect(slim.length).toBeLessThan(0.9 * 158_957);
    for (const member of ['table/smoker', 'sprigs/lavender_0002']) {
      await run('mask', at('slim.exr'), '--layer', 'CryptoObject', '--with', member, '--out', at('m.exr'));
      expect(worst(read('m.exr').channels[0]!.data, exactPlane(member))).toBeLessThanOrEqual(1 / 1024 + 1e-6);
    }
    // Other programs read it.
    expect(tool('exrheader', at('slim.exr'))).toContain('CryptoObject01.A');
  });
  test('chosen members get their numbers, and are picked again by their names', async () => {
    writeFileSync(at('numbers.json'), '{"table/smoker": 5}');
    await run(
      'convert',
      samplePath('all.exr'),
      at('sets.exr'),
      '--as',
      'puzzle-mattes',
      '--layers',
      'CryptoObject',
      '--with',
      'table/smoker',
      'bees/*',
      '--numbers',
      at('numbers.json'),
    );
    const names = read('sets.exr').channels.map((c) => c.name);
    // Number 5 is the green of the second set; the bees are 1 to 3.
    expect(names.filter((n) => n.startsWith('puzzle'))).toEqual(
      [1, 2].flatMap((set) => ['B', 'G', 'R'].map((c) => `puzzle_${set}.${c}`)),
    );
    expect(names.some((n) => n.startsWith('CryptoObject'))).toBe(false);
    await run(
      'mask',
      at('sets.exr'),
      '--layer',
      'Puzzle mattes',
      '--with',
      'table/smoker',
      '--out',
      at('m.exr'),
    );
    expect(worst(read('m.exr').channels[0]!.data, exactPlane('table/smoker'))).toBeLessThan(1e-6);
    expect(
      worst(read('sets.exr').channels.find((c) => c.name === 'puzzle_2.G')!.data, exactPlane('table/smoker')),
    ).toBeLessThan(1e-6);
  });
  test('what cannot be done is said', async () => {
    expect(await fail('convert', samplePath('all.exr'), at('x.exr'), '--as', 'rainbow')).toMatch(
      /--as is one of cryptomatte/,
    );
    expect(await fail('convert', samplePath('beauty_srgb.png'), at('x.exr'), '--slim')).toMatch(
      /There is none/,
    );
  });
});

describe('mask', () => {
  test('of names, rules and exceptions equals the truth', async () => {
    await run(
      'mask',
      samplePath('all.exr'),
      '--layer',
      'CryptoObject',
      '--with',
      'bees/*',
      '--without',
      'bees/bee_002',
      '--out',
      at('bees.exr'),
    );
    const mask = read('bees.exr').channels[0]!.data as Float32Array;
    const three = exactPlane('bees/bee_003');
    expect(
      worst(
        mask,
        exactPlane('bees/bee_001').map((c, p) => c + three[p]!),
      ),
    ).toBeLessThan(1e-6);
    expect(tool('oiiotool', '--info', '-v', at('bees.exr'))).toContain('channel list: Y');
  });
  test('of an unnamed ID', async () => {
    await run(
      'mask',
      samplePath('object_no_manifest.exr'),
      '--layer',
      'CryptoObject',
      '--with',
      'id:4a1a0189',
      '--out',
      at('smoker.png'),
    );
    expect(tool('oiiotool', '--info', '-v', at('smoker.png'))).toMatch(/640 x +360, 1 channel, uint16/);
  });
  test('says what is wrong', async () => {
    const mask = (file: string, layer: string, pattern: string, out = 'm.exr') =>
      fail('mask', samplePath(file), '--layer', layer, '--with', pattern, '--out', at(out));
    expect(await mask('all.exr', 'CryptoObject', 'teapot')).toBe(
      'No member of CryptoObject matches "teapot".',
    );
    // As a program it says the same, and ends with code 1.
    const lost = ['--layer', 'CryptoObject', '--with', 'teapot', '--out', at('m.exr')];
    expect(startFailing('mask', samplePath('all.exr'), ...lost)).toBe(
      'No member of CryptoObject matches "teapot".',
    );
    expect(await mask('all.exr', 'CryptoThing', '*')).toContain('It has CryptoObject, CryptoMaterial.');
    expect(await mask('broken_half.exr', 'CryptoObject', '*')).toContain('16-bit half');
    expect(await mask('all.exr', 'CryptoObject', '*', 'm.jpg')).toContain('.exr or .png');
    expect(
      await fail('mask', at('nowhere.exr'), '--layer', 'a', '--with', 'b', '--out', at('m.exr')),
    ).toContain('no such file');
    expect(await fail('mask', samplePath('all.exr'), '--with', 'b', '--out', at('m.exr'))).toContain(
      '--layer',
    );
  });
});
