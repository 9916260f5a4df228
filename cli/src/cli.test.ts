import { createHash } from 'node:crypto';
import { copyFileSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Document, WebIO } from '@gltf-transform/core';
import { fail, notes, run, start, startFailing } from '../test/calls.ts';
import { frozenPath } from '../../core/test/fixtures/frozen.ts';
import { samplePath, truth, worst } from '../../core/test/fixtures/samples.ts';
import { smallScene } from '../../core/test/fixtures/small-scene.ts';
import { tool } from '../../core/test/fixtures/tools.ts';
import {
  DEFAULT_RENDER,
  emptyPlan,
  exportKind,
  halvesToFloats,
  loadIdLayers,
  openFrame,
  parseChangeList,
  parsePlan,
  readExr,
  writeExr,
  type ExrImage,
  type Inspection,
  type PassUse,
  type Plan,
  type PlanCost,
} from '@zesty-crow/core';
import { nodeZlib } from '@zesty-crow/core/node';

const folder = mkdtempSync(join(tmpdir(), 'zesty-crow-cli-'));
const at = (name: string) => join(folder, name);
const read = (name: string): ExrImage => readExr(new Uint8Array(readFileSync(at(name))));
const exactPlane = (member: string) => {
  const image = readExr(new Uint8Array(readFileSync(samplePath('truth_object_masks.exr'))));
  return image.channels.find((c) => c.name === truth.objects[member]!.channel)!.data as Float32Array;
};

describe('inspect', () => {
  test('prints what is in a file', async () => {
    const i = JSON.parse(await run('inspect', samplePath('all.exr'), '--json')) as Inspection;
    expect([i.width, i.height]).toEqual([640, 360]);
    const smoker = i.idLayers[0]!.members.find((m) => m.name === 'table/smoker')!;
    expect(smoker).toMatchObject({ id: '4a1a0189', pixels: 4275 });
    expect(smoker.coverage).toBeCloseTo(4136.75, 2);
    expect(start('inspect', samplePath('all.exr'))).toContain(
      'CryptoMaterial: cryptomatte, 6 ranks, 9 members',
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
    expect(await fail('convert', folder, at('x.exr'), '--frame', '9')).toContain('There are 1 to 2.');
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

describe('convert', () => {
  test('takes a part, or some channels, of any picture', async () => {
    copyFileSync(samplePath('all.exr'), at('first.exr'));
    copyFileSync(samplePath('material_piz.exr'), at('second.exr'));
    tool('exrmultipart', '-combine', '-i', at('first.exr'), at('second.exr'), '-o', at('parts.exr'));
    await run('convert', at('parts.exr'), at('part.exr'), '--part', '2');
    expect(tool('oiiotool', samplePath('material_piz.exr'), at('part.exr'), '--diff')).toContain('PASS');
    await run('convert', at('parts.exr'), at('all_parts.exr'), '--compression', 'piz');
    expect(tool('oiiotool', at('parts.exr'), at('all_parts.exr'), '--diff')).toContain('PASS');
    expect(tool('exrinfo', at('all_parts.exr')).match(/part \d/g)).toHaveLength(2);
    await run('convert', at('parts.exr'), at('some.exr'), '--part', '1', '--channels', 'depth.Z', 'R');
    expect(read('some.exr').channels.map((c) => c.name)).toEqual(['R', 'depth.Z']);
    expect(await fail('convert', at('parts.exr'), at('x.exr'), '--part', '3')).toContain(
      'parts 1 to 2: first, second',
    );
    expect(await fail('convert', at('first.exr'), at('x.exr'), '--channels', 'S')).toContain('no channel S');
    tool('oiiotool', samplePath('all.exr'), '--ch', 'R,G,B', '-d', 'float', '-o', at('light.tif'));
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

describe('apply and convert', () => {
  const list = {
    format: 'zesty-crow/changes',
    version: 1,
    changes: [
      {
        id: 'a',
        words: 'Brighter smoker',
        on: true,
        done: false,
        who: [{ mode: 'with', layer: 'CryptoObject', member: 'table/smoker' }],
        corrections: [{ id: 'b', kind: 'exposure', on: true, values: { stops: 1 } }],
      },
    ],
  };
  /** Corrections that read neighbours and another pass, a limit, an amount, and a refined edge. */
  const rich = {
    ...list,
    version: 2,
    changes: [
      { ...list.changes[0]!, edge: [] },
      {
        id: 'soft',
        words: 'The smoker softer, and calm',
        on: true,
        done: false,
        who: [{ mode: 'with', layer: 'CryptoObject', member: 'table/smoker' }],
        edge: [
          { id: 'e1', kind: 'grow', on: true, values: { by: 1.5 } },
          { id: 'e2', kind: 'feather', on: true, values: { size: 5 } },
        ],
        corrections: [
          { id: 'c1', kind: 'blur', on: true, values: { size: 7 } },
          {
            id: 'c2',
            kind: 'contrast',
            on: true,
            values: { contrast: -30, amount: 60, limitLightnessFrom: 20 },
          },
          { id: 'c3', kind: 'multiply-by-pass', on: true, values: { pass: 'depth', white: 9 } },
          { id: 'c4', kind: 'glow', on: true, values: { strength: 60, threshold: 0.2, size: 9 } },
        ],
      },
    ],
  };
  test('keyframes are those of the frame, a variant’s values those typed by hand', async () => {
    mkdirSync(at('in-states'), { recursive: true });
    for (const frame of ['0001', '0003'])
      copyFileSync(samplePath('all.exr'), at(`in-states/honey_v001.${frame}.exr`));
    const whole = parseChangeList(list);
    const [change] = whole.changes as [(typeof whole.changes)[number]];
    const [use] = change.corrections as [(typeof change.corrections)[number]];
    const key = (frame: number, value: number) => ({ frame, value, way: 'linear' as const });
    const write = (name: string, changed: typeof use, more: object = {}) =>
      writeFileSync(
        at(name),
        JSON.stringify({ ...whole, changes: [{ ...change, corrections: [changed] }], ...more }),
      );
    write('keyed.json', { ...use, keys: { stops: [key(1, 1), key(5, 0)] } });
    const set = { change: 'a', step: 'b', kind: 'exposure', values: { stops: 0.5 } };
    write('varied.json', use, { variants: [{ id: 'v', name: 'Dusk', sets: [set] }] });
    write('typed.json', { ...use, values: { stops: 0.5 } });
    const applied = async (changes: string, ...more: string[]) => {
      await run(
        'apply',
        at('in-states'),
        '--changes',
        at(changes),
        '--out',
        at('out.png'),
        '--depth',
        '8',
        ...more,
      );
      return readFileSync(at('out.png'));
    };
    const half = await applied('typed.json');
    expect((await applied('keyed.json', '--frame', '3')).equals(half)).toBe(true);
    expect((await applied('varied.json', '--variant', 'Dusk')).equals(half)).toBe(true);
    // The first frame by default.
    const base = await applied('varied.json');
    expect(base.equals(half)).toBe(false);
    expect((await applied('keyed.json')).equals(base)).toBe(true);
    expect(
      await fail(
        'apply',
        at('in-states'),
        '--changes',
        at('varied.json'),
        '--out',
        at('out.exr'),
        '--variant',
        'Noon',
      ),
    ).toContain('"Dusk"');
  });
  test('the mask of a change is that of its picks and its heading', async () => {
    const smoker = list.changes[0]!;
    const full = {
      ...list,
      version: 4,
      headings: [
        {
          id: 'h',
          words: 'Left',
          on: true,
          who: [{ mode: 'with', layer: 'CryptoObject', member: 'table/smoker' }],
          edge: [],
          fence: [],
          brush: [],
        },
      ],
      changes: [{ ...smoker, edge: [], fence: [], brush: [], plainEdges: false, heading: 'h' }],
    };
    writeFileSync(at('full.json'), JSON.stringify(full));
    const args = ['mask', samplePath('all.exr'), '--changes', at('full.json')];
    await run(...args, '--change', 'Brighter smoker', '--out', at('change.exr'));
    // Limited to itself, its edge counts twice.
    const twice = exactPlane('table/smoker').map((c) => c * c);
    expect(worst(read('change.exr').channels[0]!.data, twice)).toBeLessThan(1e-5);
    expect(await fail(...args, '--change', 'Lids', '--out', at('x.exr'))).toContain('"Brighter smoker"');
    expect(await fail('mask', samplePath('all.exr'), '--out', at('x.exr'))).toContain(
      '--changes and --change',
    );
  });
  test('a change list brightens just its member', async () => {
    writeFileSync(at('changes.json'), JSON.stringify(list));
    await run('apply', samplePath('all.exr'), '--changes', at('changes.json'), '--out', at('applied.exr'));
    const red = (image: ExrImage) =>
      halvesToFloats(image.channels.find((c) => c.name === 'R')!.data as Uint16Array);
    const before = red(readExr(new Uint8Array(readFileSync(samplePath('all.exr')))));
    const after = red(read('applied.exr'));
    const mask = exactPlane('table/smoker');
    expect(
      mask.findIndex((c, p) =>
        c === 0 ? after[p] !== before[p] : c === 1 && Math.abs(after[p]! - 2 * before[p]!) > 0.002,
      ),
    ).toBe(-1);
    await run(
      'apply',
      samplePath('all.exr'),
      '--changes',
      at('changes.json'),
      '--out',
      at('applied.png'),
      '--depth',
      '8',
    );
    expect(tool('oiiotool', '--info', at('applied.png'))).toMatch(/640 x +360, \d channel, uint8 png/);
  });
  test('writes what the export of the interface writes, and a float picture stays float', async () => {
    writeFileSync(at('changes.json'), JSON.stringify(rich));
    const image = readExr(new Uint8Array(readFileSync(samplePath('all.exr'))));
    const channels = image.channels.map((c) =>
      c.type === 'half'
        ? { ...c, type: 'float' as const, data: Float32Array.from(c.data, (_, p) => 1 / (3 + (p % 1000))) }
        : c,
    );
    writeFileSync(at('float.exr'), writeExr({ ...image.header, channels }, { zlib: nodeZlib }));
    for (const source of [samplePath('all.exr'), at('float.exr')]) {
      await run('apply', source, '--changes', at('changes.json'), '--out', at('applied.exr'));
      const frame = await openFrame([{ role: 'picture', name: 'a.exr', frame: null }], undefined, () =>
        Promise.resolve(new Uint8Array(readFileSync(source))),
      );
      const same = await exportKind('corrected-exr')!.write(
        await frame.all(),
        { list: parseChangeList(rich) },
        { zlib: nodeZlib },
      );
      expect(Buffer.compare(readFileSync(at('applied.exr')), same)).toBe(0);
    }
    expect(read('applied.exr').channels.find((c) => c.name === 'R')!.type).toBe('float');
    const bright = structuredClone(list);
    bright.changes[0]!.corrections[0]!.values.stops = 20;
    writeFileSync(at('bright.json'), JSON.stringify(bright));
    const stderr = await notes(
      'apply',
      at('float.exr'),
      '--changes',
      at('bright.json'),
      '--out',
      at('half.exr'),
      '--half',
    );
    expect(stderr).toMatch(/note: \d+ pixels are brighter than half floats can hold/);
    expect(read('half.exr').channels.find((c) => c.name === 'R')!.type).toBe('half');
  });
  test('what is no change list is refused', async () => {
    writeFileSync(at('wrong.json'), JSON.stringify({ ...list, version: 9 }));
    expect(
      await fail('apply', samplePath('all.exr'), '--changes', at('wrong.json'), '--out', at('x.exr')),
    ).toContain('is of version 9');
  });
  test('convert keeps every pixel', async () => {
    await run('convert', samplePath('material_piz.exr'), at('converted.exr'), '--compression', 'zips');
    expect(tool('oiiotool', samplePath('material_piz.exr'), at('converted.exr'), '--diff')).toContain('PASS');
    expect(tool('exrheader', at('converted.exr'))).toContain('zip, individual scanlines');
    await run('convert', samplePath('object_tiled.exr'), at('lines.exr'));
    expect(tool('oiiotool', samplePath('object_tiled.exr'), at('lines.exr'), '--diff')).toContain('PASS');
    expect(tool('exrinfo', at('lines.exr'))).toContain('scanlineimage');
  });
});

describe('render', () => {
  /** Two overlapping squares of different materials before a camera. */
  async function scene(): Promise<string> {
    const document = new Document();
    const buffer = document.createBuffer();
    const root = document.createScene('squares');
    for (const [i, name] of ['wax', 'clay'].entries()) {
      const positions = Float32Array.of(-1, -1, 0, 0.3, -1, 0, 0.3, 1, 0, -1, 1, 0).map((v, k) =>
        k % 3 === 0 ? v + i * 0.5 : v,
      );
      const primitive = document
        .createPrimitive()
        .setAttribute(
          'POSITION',
          document.createAccessor().setType('VEC3').setArray(positions).setBuffer(buffer),
        )
        .setIndices(
          document
            .createAccessor()
            .setType('SCALAR')
            .setArray(Uint16Array.of(0, 1, 2, 0, 2, 3))
            .setBuffer(buffer),
        )
        .setMaterial(document.createMaterial(name).setBaseColorFactor([0.8, 0.3 + 0.3 * i, 0.1, 1]));
      root.addChild(
        document
          .createNode(`square_${name}`)
          .setMesh(document.createMesh(name).addPrimitive(primitive))
          .setTranslation([0, 0, -3 - i]),
      );
    }
    root.addChild(
      document
        .createNode('camera')
        .setCamera(document.createCamera('camera').setType('perspective').setYFov(0.8)),
    );
    writeFileSync(at('squares.glb'), await new WebIO().writeBinary(document));
    return at('squares.glb');
  }

  test('gives the same picture on any number of threads, sound layers, and the same IDs without light', async () => {
    const file = await scene();
    const size = ['--width', '70', '--height', '40', '--samples', '8'];
    const rendering = (out: string) => ['render', file, '--out', at(out), ...size];
    const render = (out: string, ...more: string[]) => run(...rendering(out), ...more);
    await render('one.exr', '--threads', '1');
    start(...rendering('two.exr'), '--threads', '2');
    await render('seed.exr', '--seed', '6');
    await render('ids.exr', '--ids-only');
    expect(Buffer.compare(readFileSync(at('one.exr')), readFileSync(at('two.exr')))).toBe(0);
    expect(Buffer.compare(readFileSync(at('one.exr')), readFileSync(at('seed.exr')))).not.toBe(0);
    const full = loadIdLayers(read('one.exr'));
    expect(full.findings).toEqual([]);
    expect(full.layers.map((l) => [l.name, l.planes!.ids.length, l.manifestFrom])).toEqual([
      ['CryptoObject', 6, 'embedded'],
      ['CryptoMaterial', 6, 'embedded'],
    ]);
    expect([...full.layers[0]!.manifest.nameOf.values()]).toEqual(['square_wax', 'square_clay']);
    const ids = loadIdLayers(read('ids.exr'));
    expect(ids.layers[1]!.planes).toEqual(full.layers[1]!.planes);
    expect(read('ids.exr').channels.some((c) => c.name === 'R')).toBe(false);
    const header = tool('exrheader', at('one.exr'));
    expect(header).toContain('R, 16-bit floating-point');
    expect(header).toContain('CryptoMaterial02.A, 32-bit floating-point');
  });
  test('says what is wrong with a scene or settings', async () => {
    const file = await scene();
    expect(await fail('render', samplePath('all.exr'), '--out', at('x.exr'))).toContain('not a glTF');
    expect(await fail('render', file, '--out', at('x.exr'), '--width', '0')).toContain('Width');
    expect(await fail('render', file, '--out', at('x.tif'))).toContain('.exr');
  });

  const plan = (more: Partial<Plan> = {}): Plan => ({
    ...emptyPlan(),
    objects: { jars: { number: 4 } },
    passes: [
      ['cryptomatte', { by: 'object' }],
      ['cryptomatte', { by: 'attribute', attribute: 'client' }],
      ['object-buffer', { who: { of: 'object number', number: 4 } }],
      ['through-glass', { way: 'refraction', by: 'object', ranks: 2 }],
      ['ambient-occlusion', {}],
      ['motion', {}],
      ['diffuse-direct', {}],
    ].map(
      ([kind, values], i) =>
        ({ id: String(i), kind, on: true, depth: i < 4 ? 'float' : 'half', values }) as PassUse,
    ),
    output: { pattern: '{shot}_{layers}.{frame}', idsApart: true, compression: 'zip' },
    render: { ...DEFAULT_RENDER, width: 64, height: 40, samples: 8, bounces: 1, shutter: 0.5, last: 2 },
    ...more,
  });

  test('by a plan writes its files, which other programs read with the same values', async () => {
    writeFileSync(at('small.glb'), await smallScene());
    writeFileSync(at('small.plan.json'), JSON.stringify(plan()));
    await run('render', at('small.glb'), '--plan', at('small.plan.json'), '--out', at('frames'));
    expect(readdirSync(at('frames')).sort()).toEqual(
      ['ids', 'picture'].flatMap((l) => [1, 2].map((f) => `small_${l}.000${f}.exr`)),
    );
    const ids = read('frames/small_ids.0002.exr');
    expect(ids.channels.map((c) => c.name)).toEqual(
      expect.arrayContaining(['buffer_04.Y', 'Cryptoclient00.R', 'CryptoObject02.A', 'RefractedObject00.G']),
    );
    expect(ids.channels.every((c) => c.type === 'float')).toBe(true);
    expect(tool('exrheader', at('frames/small_picture.0001.exr'))).toContain(
      'diffuse_direct.R, 16-bit floating-point',
    );
    // The same average by another reader.
    const buffer = ids.channels.find((c) => c.name === 'buffer_04.Y')!.data as Float32Array;
    const mean = buffer.reduce((a, b) => a + b) / buffer.length;
    const stats = tool('oiiotool', at('frames/small_ids.0002.exr'), '--ch', 'buffer_04.Y', '--printstats');
    expect(Number(/Stats Avg: ([\d.]+)/.exec(stats)![1])).toBeCloseTo(mean, 4);
    expect(mean).toBeGreaterThan(0.02);
  });

  test('of IDs alone gives the very same ID passes', async () => {
    await run(
      'render',
      at('small.glb'),
      '--plan',
      at('small.plan.json'),
      '--out',
      at('alone'),
      '--frames',
      '2',
      '--ids-only',
    );
    expect(readdirSync(at('alone'))).toEqual(['small_ids.0002.exr']);
    const [all, alone] = ['frames', 'alone'].map((f) => read(`${f}/small_ids.0002.exr`));
    for (const c of all!.channels)
      expect(alone!.channels.find((x) => x.name === c.name)!.data).toEqual(c.data);
  });

  test('with a plan that cannot be rendered says why', async () => {
    const failing = (more: Partial<Plan>) => {
      writeFileSync(at('bad.plan.json'), JSON.stringify(plan(more)));
      return fail('render', at('small.glb'), '--plan', at('bad.plan.json'), '--out', at('bad'));
    };
    expect(await failing({ objects: {} })).toContain('number 4');
    const inHalf = plan().passes.map((p) => ({ ...p, depth: 'half' as const }));
    expect(await failing({ passes: inHalf })).toContain('/passes/0/depth is "half", which is none of: float');
    expect(await failing({ output: { ...plan().output, pattern: 'one' } })).toContain('{frame}');
    expect(await failing({ render: { ...plan().render, surroundings: 'meadow.exr' } })).toContain(
      'meadow.exr',
    );
    expect(await failing({ render: { ...plan().render, camera: 'drone' } })).toContain('drone');
    expect(await failing({ passes: 'all' as never })).toContain('/passes');
    expect(
      await fail('render', at('small.glb'), '--plan', samplePath('all.exr'), '--out', at('bad')),
    ).toContain('JSON');
  });

  test('lit by a picture all around takes its light', async () => {
    copyFileSync(samplePath('all.exr'), at('around.exr'));
    const lit = plan({
      passes: [],
      render: { ...plan().render, last: 1, surroundings: 'around.exr', surroundingsStops: 3 },
    });
    const sky = plan({ passes: [], render: { ...plan().render, last: 1 } });
    for (const [name, p] of Object.entries({ lit, sky })) {
      writeFileSync(at(`${name}.json`), JSON.stringify({ ...p, output: { ...p.output, idsApart: false } }));
      await run('render', at('small.glb'), '--plan', at(`${name}.json`), '--out', at(`${name}.exr`));
    }
    const bright = (name: string) =>
      halvesToFloats(read(name).channels.find((c) => c.name === 'R')!.data as Uint16Array).reduce(
        (a, b) => a + b,
      );
    expect(bright('lit.exr')).not.toBeCloseTo(bright('sky.exr'), 0);
  });
});

describe('plan', () => {
  test('proposes passes for wishes and tells their cost', async () => {
    writeFileSync(at('small.glb'), await smallScene());
    const wish = (id: string, layer: string, member: string) => ({
      id,
      words: `The ${member}`,
      who: [{ mode: 'with', layer, member }],
      throughGlass: false,
    });
    writeFileSync(
      at('wishes.json'),
      JSON.stringify([wish('a', 'objects', 'bee'), wish('b', 'groups', 'jars')]),
    );
    const text = await run('plan', at('small.glb'), '--wishes', at('wishes.json'));
    expect(text).toContain('Puzzle matte 1');
    expect(text).toMatch(/In all about [\d.]+ (s|min) and [\d.]+ MB a frame, 1 frame/);
    const { plan, cost } = JSON.parse(
      await run('plan', at('small.glb'), '--wishes', at('wishes.json'), '--json'),
    ) as {
      plan: Plan;
      cost: PlanCost;
    };
    expect(parsePlan(plan).passes.map((p) => p.kind)).toEqual(['puzzle-matte']);
    expect(cost.bytes).toBeGreaterThan(0);
    writeFileSync(at('wishes.json'), '[{"id":"a"}]');
    expect(await fail('plan', at('small.glb'), '--wishes', at('wishes.json'))).toContain('/wishes/0');
    expect(JSON.parse(await run('schema', 'plan'))['$id']).toBe('zesty-crow/plan');
  });
});

describe('pack', () => {
  test('makes parcels of all frames, with the sums of their files beside them', async () => {
    const parcel = (kind: string, title: string, settings: object, more = {}) => ({
      ...{ id: title, kind, title, frames: '', variants: [''], settings },
      ...{ name: '{parcel}/{shot}_{part}.{frame}', folder: '', ...more },
    });
    mkdirSync(at('pack'));
    for (const frame of ['0001', '0002']) copyFileSync(samplePath('all.exr'), at(`pack/table.${frame}.exr`));
    const parcels = [
      parcel('masks', 'Smoker', { of: 'members', members: 'table/smoker' }),
      parcel('picture', 'For looking', { format: 'png8' }, { frames: '2' }),
    ];
    writeFileSync(at('parcels.json'), JSON.stringify({ format: 'zesty-crow/parcels', version: 1, parcels }));
    const said = await run(
      'pack',
      at('pack'),
      '--parcels',
      at('parcels.json'),
      '--out',
      at('packed'),
      '--shot',
      'Table',
    );
    expect(said.trim().split('\n').sort()).toEqual([
      'for_looking/table.0002.png',
      'smoker/table_table_smoker.0001.png',
      'smoker/table_table_smoker.0002.png',
    ]);
    const { files } = JSON.parse(readFileSync(at('packed/manifest.json'), 'utf8')) as {
      files: { name: string; sha256: string }[];
    };
    for (const { name, sha256 } of files)
      expect(
        createHash('sha256')
          .update(readFileSync(at(`packed/${name}`)))
          .digest('hex'),
      ).toBe(sha256);
    tool('oiiotool', at(`packed/smoker/table_table_smoker.0002.png`), '-d', 'float', '-o', at('packed.exr'));
    expect(
      worst(read('packed.exr').channels[0]!.data as Float32Array, exactPlane('table/smoker')),
    ).toBeLessThan(1e-5);
    expect(
      await fail(
        'pack',
        at('pack'),
        '--parcels',
        at('parcels.json'),
        '--out',
        at('packed'),
        '--only',
        'Lids',
      ),
    ).toContain('There are: Smoker, For looking.');
  });

  test('writes camera and places of a scene, and says what is missing without one', async () => {
    const parcel = {
      ...{ id: 'p', kind: 'places', title: 'Places', frames: '', variants: [''] },
      ...{ settings: { members: 'jars/*/lid' }, name: '{part}', folder: '' },
    };
    writeFileSync(
      at('places.json'),
      JSON.stringify({ format: 'zesty-crow/parcels', version: 1, parcels: [parcel] }),
    );
    const files = ['0001', '0002'].map((n) => frozenPath(`bee_flight_v1.${n}.exr`));
    const rest = ['--parcels', at('places.json'), '--out', at('places')];
    // As a program: packed surfaces are unpacked by a package that looks for its WebAssembly beside itself.
    const said = start('pack', ...files, ...rest, '--scene', frozenPath('bee_flight.glb'));
    expect(said.trim().split('\n').sort()).toEqual(['places.glb', 'places.json']);
    const told = JSON.parse(readFileSync(at('places/places.json'), 'utf8')) as {
      frames: number[];
      camera: { matrices: number[][] };
      places: { name: string; seen: object[] }[];
    };
    expect(told.frames).toEqual([1, 2]);
    expect(told.camera.matrices[0]).not.toEqual(told.camera.matrices[1]);
    expect(told.places.map((p) => [p.name, p.seen.length])).toEqual([
      ['jars/jar_1/lid', 2],
      ['jars/jar_2/lid', 2],
    ]);
    expect((await run('pack', files[0]!, ...rest)).trim()).toBe('places.json');
  });
});
