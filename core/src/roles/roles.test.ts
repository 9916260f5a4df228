import fc from 'fast-check';
import { fileOf, openFiles } from '../../test/fixtures/frames.ts';
import { sample, sampleBytes, samplePath, truth, worst } from '../../test/fixtures/samples.ts';
import { readScratch, scratch, tool, writeScratch } from '../../test/fixtures/tools.ts';
import { castOf } from '../cast/cast.ts';
import { quickExr } from '../../test/fixtures/quick-exr.ts';
import { idOfName } from '../idlayers/ids.ts';
import { maskOfMember } from '../masks/who/member-mask.ts';
import type { Frame } from '../version/frame.ts';
import { ROLES } from './registry.ts';
import type { RoleUse } from './role.ts';
import { numbered } from './write/rewrite.ts';
import { REWRITES } from './write/registry.ts';
import { settleSteps, slimRanks, STEPS } from './write/slim.ts';

const PICTURE = { 'beauty_srgb.png': sampleBytes('beauty_srgb.png') };
const samples = (...names: string[]) => Object.fromEntries(names.map((n) => [n, sampleBytes(n)]));

/** Masks of all members of an ID layer, by name. */
async function masksOf(frame: Frame, name: string): Promise<Map<string, Float32Array>> {
  const layer = frame.layers.find((l) => l.name === name)!;
  const index = await frame.index(layer);
  return new Map(castOf(layer, index).members.map((m) => [m.name, maskOfMember(index, m.id).flat()]));
}

const [OBJECTS, MATERIALS] = ['truth_object_masks.exr', 'truth_material_masks.exr'].map(sample);
const truthOf = (channel: string): Float32Array =>
  [...OBJECTS!.channels, ...MATERIALS!.channels].find((c) => c.name === channel)!.data as Float32Array;
const objectMask = (name: string) => truthOf(truth.objects[name]!.channel);

/** Pixels that touch glass, behind which colours and numbers show only mixed. */
const BEHIND_GLASS = (() => {
  const glass = truthOf(truth.materials['glass']!.channel);
  const { width, height } = truth;
  return Uint8Array.from(glass, (_, p) => {
    const [x, y] = [p % width, Math.floor(p / width)];
    for (let v = Math.max(0, y - 1); v <= y + 1 && v < height; v++)
      for (let u = Math.max(0, x - 1); u <= x + 1 && u < width; u++)
        if (glass[v * width + u]! > 0.004) return 1;
    return 0;
  });
})();

/** Mean difference on the edge pixels of either mask, away from glass. */
function edgeError(mask: Float32Array, exact: Float32Array): { sum: number; pixels: number } {
  let [sum, pixels] = [0, 0];
  const edge = (v: number) => v > 0.005 && v < 0.995;
  for (let p = 0; p < mask.length; p++) {
    if (BEHIND_GLASS[p] || !(edge(mask[p]!) || edge(exact[p]!))) continue;
    sum += mask[p]! > exact[p]! ? mask[p]! - exact[p]! : exact[p]! - mask[p]!;
    pixels++;
  }
  return { sum, pixels };
}

/** Names of the objects that each mask is nearest to, and the error of all of them that are sharp. */
function judge(masks: ReadonlyMap<string, Float32Array>, objects: readonly string[]) {
  let [sum, pixels] = [0, 0];
  const found = new Map<string, string>();
  for (const name of objects) {
    const exact = objectMask(name);
    let most = 0.8;
    let best: [string, Float32Array] | undefined;
    for (const entry of masks) {
      let [both, either] = [0, 0];
      const mask = entry[1];
      for (let p = 0; p < mask.length; p++) {
        const less = mask[p]! < exact[p]!;
        both += less ? mask[p]! : exact[p]!;
        either += less ? exact[p]! : mask[p]!;
      }
      if (both / either > most) [most, best] = [both / either, entry];
    }
    if (!best) continue;
    found.set(name, best[0]);
    const error = edgeError(best[1], exact);
    sum += error.sum;
    pixels += error.pixels;
  }
  return { found, mean: sum / pixels };
}
/** What is neither glass nor behind it nor blurred. */
const SHARP = Object.keys(truth.objects).filter(
  (n) => !/body$/.test(n) && !['bees/bee_001', 'bees/bee_002', 'sprigs/lavender_0002'].includes(n),
);

describe('pictures whose values are coverages', () => {
  test('object buffers and puzzle mattes are known by name, and are the masks of the truth', async () => {
    const files = samples(
      'puzzle_set1.png',
      'puzzle_set2_8bit.png',
      'buffer_04.png',
      'buffer_05.png',
      'buffer_09.png',
    );
    const frame = await openFiles({ ...files, ...PICTURE });
    expect(frame.roles.map((r) => [r.layer, r.use.role, r.by])).toEqual([
      ['buffer_04', 'object-buffer', 'name'],
      ['buffer_05', 'object-buffer', 'name'],
      ['buffer_09', 'object-buffer', 'name'],
      ['puzzle_set1', 'puzzle-matte', 'name'],
      ['puzzle_set2_8bit', 'puzzle-matte', 'name'],
    ]);
    expect(frame.beauty).toMatchObject({ r: 'R' });
    const buffers = await masksOf(frame, 'Object buffers');
    const puzzles = await masksOf(frame, 'Puzzle mattes');
    const sixteen = 0.5 / 65535 + 1e-7;
    for (const [number, name] of [
      ['04', 'table/smoker'],
      ['05', 'table/cloth'],
      ['09', 'yard/hive_box'],
    ] as const)
      expect(worst(buffers.get(number)!, objectMask(name))).toBeLessThanOrEqual(sixteen);
    for (const [number, name] of [
      ['01', 'yard/hive_box'],
      ['02', 'table/smoker'],
      ['03', 'table/cloth'],
    ] as const)
      expect(worst(puzzles.get(number)!, objectMask(name))).toBeLessThanOrEqual(sixteen);
    const materials = Object.values(truth.materials).map((m) => m.channel);
    for (const number of ['04', '05', '06']) {
      const nearest = Math.min(...materials.map((c) => worst(puzzles.get(number)!, truthOf(c))));
      expect(nearest).toBeLessThanOrEqual(0.5 / 255 + 1e-7);
    }
  });

  test('a folder of nothing but buffers is one, though its files differ in numbers only', async () => {
    const { 'buffer_04.png': four, 'buffer_05.png': five } = samples('buffer_04.png', 'buffer_05.png');
    const frame = await openFiles({ 'jars_buffer_04.png': four!, 'jars_buffer_05.png': five! });
    expect(frame.roles.map((r) => r.layer)).toEqual(['buffer_04', 'buffer_05']);
  });

  test('they carry the names that the artist gives, and a slot may be empty', async () => {
    const frame = await openFiles(
      { ...samples('puzzle_set1.png', 'buffer_04.png'), ...PICTURE },
      {
        roles: {
          puzzle_set1: { role: 'puzzle-matte', r: 'hive', g: '' },
          buffer_04: { role: 'object-buffer', name: 'smoker' },
        },
      },
    );
    expect([...(await masksOf(frame, 'Puzzle mattes')).keys()].sort()).toEqual(['03', 'hive', 'nothing']);
    expect([...(await masksOf(frame, 'Object buffers')).keys()].sort()).toEqual(['nothing', 'smoker']);
  });

  test('a name that only seems to say so can be taken back, and an ID pass be the only file', async () => {
    const files = { ...samples('puzzle_set1.png', 'buffer_04.png'), ...PICTURE };
    const plain = await openFiles(files, {
      roles: { puzzle_set1: { role: 'pass' }, buffer_04: { role: 'pass' } },
    });
    expect(plain.layers).toEqual([]);
    const alone = await openFiles(samples('puzzle_set1.png'), {
      roles: { RGBA: { role: 'puzzle-matte', r: 'hive' } },
    });
    expect(alone.beauty).toBeUndefined();
    expect(
      worst((await masksOf(alone, 'Puzzle mattes')).get('hive')!, objectMask('yard/hive_box')),
    ).toBeLessThan(1e-5);
  });
});

describe('number passes', () => {
  test('every number is a member, and edges are rebuilt from the picture', async () => {
    const frame = await openFiles({ ...samples('number_pass.exr'), ...PICTURE });
    const { found, mean } = judge(await masksOf(frame, 'objectIndex'), SHARP);
    expect(found.size).toBe(SHARP.length);
    expect(mean).toBeLessThanOrEqual(0.03);
  });

  test('without a picture they are estimated from the numbers around, far better than as they are', async () => {
    const frame = await openFiles(samples('number_pass.exr'));
    const hard = (await frame.channels((n) => n === 'objectIndex.Y'))[0]!.data as Float32Array;
    const masks = await masksOf(frame, 'objectIndex');
    const { found, mean } = judge(masks, SHARP);
    expect(found.size).toBe(SHARP.length);
    const asTheyAre = judge(
      new Map([...masks.keys()].map((name) => [name, hard.map((v) => (v === Number(name) ? 1 : 0))])),
      SHARP,
    );
    expect(mean).toBeLessThan(asTheyAre.mean / 1.5);
    expect(mean).toBeLessThan(0.16);
  });

  test('whole numbers may be integers or grey levels of 8 or 16 bits', async () => {
    const { width, height } = { width: 24, height: 16 };
    const at = (p: number) => (p % width < 12 ? 0 : p % width < 18 ? 7 : 200);
    const floats = fileOf({ 'id.Y': at }, { width, height });
    writeScratch('numbers.exr', floats);
    for (const [name, ...args] of [
      ['numbers8.png', '--mulc', String(1 / 255), '-d', 'uint8'],
      ['numbers16.tif', '--mulc', String(1 / 65535), '-d', 'uint16'],
    ] as const)
      tool(
        'oiiotool',
        scratch('numbers.exr'),
        '--ch',
        'id.Y',
        '--iscolorspace',
        'linear',
        ...args,
        '-o',
        scratch(name),
      );
    const whole = sample('number_pass.exr');
    const uint = quickExr({
      ...whole.header,
      channels: whole.channels.map((c) => ({ ...c, type: 'uint' as const, data: Uint32Array.from(c.data) })),
    });
    const use: RoleUse = { role: 'number-pass', names: { 7: 'hive' } };
    for (const name of ['numbers.exr', 'numbers8.png', 'numbers16.tif']) {
      const frame = await openFiles({ [name]: readScratch(name) }, { roles: { id: use, Y: use, RGBA: use } });
      const [layer] = frame.layers;
      expect([...layer!.manifest.nameOf.values()].sort()).toEqual(['200', 'hive']);
      const masks = await masksOf(frame, layer!.name);
      expect(masks.get('hive')![5 * width + 15]).toBe(1);
      expect(masks.get('hive')![5 * width + 20]).toBe(0);
    }
    const frame = await openFiles({ 'n.exr': uint });
    expect((await masksOf(frame, 'objectIndex')).size).toBe(15);
  });

  test('what is at a pixel is the number that was meant, also of grey levels, and the colour as it is written', () => {
    const keyOf = (role: string, bits: number | undefined, ...values: number[]) => {
      const info = { name: 'Y', type: 'float' as const, xSampling: 1, ySampling: 1, pLinear: false };
      return ROLES.find((k) => k.role === role)!.keyOf!(
        [bits === undefined ? info : { ...info, bits }],
        values,
      );
    };
    expect(keyOf('number-pass', undefined, 7)).toBe('7');
    expect(keyOf('number-pass', 8, 7 / 255)).toBe('7');
    expect(keyOf('number-pass', 16, 300 / 65535)).toBe('300');
    expect(keyOf('flat-colour', 8, 32 / 255, 54 / 255, 247 / 255)).toBe('#2036f7');
  });

  test('numbers between two others are told: somebody has smoothed the pass', async () => {
    const smooth = fileOf({ 'objectIndex.Y': (p) => (p % 8) / 2 });
    const { findings } = await openFiles({ 'a.exr': smooth });
    expect(findings.find((f) => f.code === 'ids-filtered')).toMatchObject({ severity: 'error' });
  });
});

describe('flat colours', () => {
  const all = Object.keys(truth.objects).filter((n) => !/body$/.test(n));

  test('mixed edges are taken apart to within .002', async () => {
    const frame = await openFiles({ ...samples('flat_colour.png'), ...PICTURE });
    const masks = await masksOf(frame, 'flat_colour');
    const { found, mean } = judge(masks, SHARP);
    expect(found.size).toBe(SHARP.length);
    expect(mean).toBeLessThanOrEqual(0.002);
    // The blurred one is still good; what stands behind glass is there, less what the glass mixes.
    expect(judge(masks, ['sprigs/lavender_0002']).mean).toBeLessThan(0.012);
    expect(judge(masks, all).found.size).toBeGreaterThanOrEqual(all.length - 1);
  });

  test('colours that a person cannot tell apart are told, and told apart', async () => {
    const frame = await openFiles({ ...samples('flat_colour.png'), ...PICTURE });
    expect(frame.findings.find((f) => f.code === 'colours-alike')!.message).toMatch(/#9d6858 and #9f6959/);
    expect([...(await masksOf(frame, 'flat_colour')).keys()]).toEqual(
      expect.arrayContaining(['#9d6858', '#9f6959']),
    );
  });

  test('a JPEG of one gives its members, edges estimated from the picture, and is told', async () => {
    tool('oiiotool', samplePath('flat_colour.png'), '--quality', '95', '-o', scratch('flat_colour.jpg'));
    const frame = await openFiles({ 'flat_colour.jpg': readScratch('flat_colour.jpg'), ...PICTURE });
    expect(frame.findings.map((f) => f.code)).toContain('levels-unclean');
    const { found, mean } = judge(await masksOf(frame, 'flat_colour'), SHARP);
    expect(found.size).toBeGreaterThanOrEqual(SHARP.length - 2);
    expect(mean).toBeLessThan(0.1);
  });

  /** Two squares of one colour that touch, another one far away, and the same with a black line where they touch. */
  const [W, H] = [60, 30];
  const red = (p: number) => {
    const [x, y] = [p % W, Math.floor(p / W)];
    return y >= 5 && y < 25 && ((x >= 5 && x < 35) || (x >= 45 && x < 55));
  };
  const line = (p: number) => p % W === 20;
  const squares = (layer: string, lines: boolean) => ({
    [`${layer}.B`]: () => 0,
    [`${layer}.G`]: (p: number) => (red(p) && !(lines && line(p)) ? 102 / 255 : 0),
    [`${layer}.R`]: (p: number) => (red(p) && !(lines && line(p)) ? 204 / 255 : 0),
  });
  const FILES = {
    'a.exr': fileOf(
      { ...squares('flat', false), ...squares('flat_outlined', true) },
      { width: W, height: H },
    ),
  };

  test('things of one colour that touch are told apart by the outlined twin', async () => {
    const frame = await openFiles(FILES);
    expect(frame.roles).toEqual([
      { layer: 'flat', idLayer: 'flat', by: 'name', use: { role: 'flat-colour', outlined: 'flat_outlined' } },
    ]);
    // The twin belongs to it, and is no picture.
    expect(frame.beauty).toBeUndefined();
    expect(frame.layers[0]!.sources).toEqual(
      ['flat', 'flat_outlined'].flatMap((l) => ['B', 'G', 'R'].map((c) => `${l}.${c}`)),
    );
    const masks = await masksOf(frame, 'flat');
    expect([...masks.keys()].sort()).toEqual(['#cc6600', '#cc6600 (2)', 'nothing']);
    const [left, right, far] = [10, 30, 50].map((x) => 15 * W + x);
    expect([masks.get('#cc6600')![left!], masks.get('#cc6600')![right!]]).toEqual([1, 0]);
    expect([masks.get('#cc6600 (2)')![left!], masks.get('#cc6600 (2)')![right!]]).toEqual([0, 1]);
    expect(masks.get('#cc6600')![far!]).toBe(1);
  });

  test('a name at a place is of what hangs together there, one of a colour of all of it', async () => {
    const names = { '#cc6600': 'jars', '#cc6600@50,15': 'hive' };
    const frame = await openFiles(FILES, { roles: { flat: { role: 'flat-colour', names } } });
    const masks = await masksOf(frame, 'flat');
    expect([...masks.keys()].sort()).toEqual(['hive', 'jars', 'nothing']);
    expect([10, 30, 50].map((x) => masks.get('hive')![15 * W + x])).toEqual([0, 0, 1]);
    expect([10, 30, 50].map((x) => masks.get('jars')![15 * W + x])).toEqual([1, 1, 0]);
  });
});

describe('an ID layer in another form', () => {
  const members = Object.entries(truth.objects).map(([name, { id }]) => ({ name, id: parseInt(id, 16) }));
  const written = async (kind: string) => {
    const frame = await openFiles(samples('all.exr'));
    const layer = frame.layers.find((l) => l.info.ranks.length && /obj/i.test(l.name))!;
    const { channels, attributes } = REWRITES.find((r) => r.kind === kind)!.write(
      'objects',
      await frame.index(layer),
      numbered(members),
    );
    const { header } = frame;
    const bytes = quickExr({
      dataWindow: header.dataWindow,
      displayWindow: header.displayWindow,
      pixelAspectRatio: 1,
      attributes,
      channels: channels.sort((a, b) => (a.name < b.name ? -1 : 1)),
    });
    return { bytes, channels };
  };

  test.each([
    ['cryptomatte', 1e-6],
    ['object-buffers', 1e-6],
    ['puzzle-mattes', 1e-6],
    ['flat-colour', 0.002],
    ['number-pass', 0.03],
  ])('%s holds every member to within %d, read again', async (kind, most) => {
    const { bytes } = await written(kind);
    const frame = await openFiles({ 'again.exr': bytes, ...PICTURE });
    const masks = new Map<string, Float32Array>();
    for (const l of frame.layers)
      for (const [name, mask] of await masksOf(frame, l.name)) masks.set(name, mask);
    if (most < 1e-3)
      for (const { name } of members)
        expect(worst(masks.get(name)!, objectMask(name))).toBeLessThanOrEqual(2e-4);
    const { found, mean } = judge(masks, SHARP);
    for (const name of SHARP) expect(found.get(name)).toBe(name);
    expect(mean).toBeLessThanOrEqual(Math.max(most, 1e-4));
  });

  test('the reference tools read the same pixels', async () => {
    const { bytes, channels } = await written('puzzle-mattes');
    writeScratch('puzzle-written.exr', bytes);
    for (const name of ['puzzle_1.R', 'puzzle_4.B']) {
      tool(
        'oiiotool',
        scratch('puzzle-written.exr'),
        '--ch',
        `Y=${name}`,
        '-d',
        'float',
        '--compression',
        'none',
        '-o',
        scratch('one.exr'),
      );
      const own = channels.find((c) => c.name === name)!;
      const { readExr } = await import('../formats/exr/read.ts');
      expect(worst(readExr(readScratch('one.exr')).channels[0]!.data, own.data)).toBe(0);
    }
  });

  test('numbers that are taken are not given twice', () => {
    const list = [
      { name: 'a', id: 1 },
      { name: 'b', id: 2, number: 1 },
      { name: 'c', id: 3 },
    ];
    expect(numbered(list).map((m) => m.number)).toEqual([2, 1, 3]);
  });
});

describe('slim', () => {
  test('coverages move by no more than a step, and cover no more together', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 1e-6, max: 1, noNaN: true }), { minLength: 1, maxLength: 12 }),
        (raw) => {
          const sum = Math.max(
            1,
            raw.reduce((a, b) => a + b, 0),
          );
          const before = Float64Array.from(raw, (v) => v / sum);
          const coverage = before.slice();
          settleSteps({ count: coverage.length, coverage });
          coverage.forEach((v, i) => {
            expect(Math.abs(v - before[i]!)).toBeLessThanOrEqual(1 / STEPS + 1e-12);
            expect(Number.isInteger(v * STEPS)).toBe(true);
          });
          const total = (list: Float64Array) => list.reduce((a, b) => a + b, 0);
          expect(total(coverage)).toBeLessThanOrEqual(Math.round(total(before) * STEPS) / STEPS + 1e-12);
        },
      ),
    );
  });

  test('an ID layer keeps its IDs, needs no more ranks than its fullest pixel, and packs smaller', async () => {
    const frame = await openFiles(samples('object_only_zips.exr'));
    const [layer] = frame.layers;
    const index = await frame.index(layer!);
    const slim = slimRanks(index);
    expect(slim.ids.length).toBeLessThan(layer!.info.ranks.length);
    const { channels, attributes } = REWRITES[0]!.write(layer!.name, index, members());
    function members() {
      return numbered([...layer!.manifest.nameOf].map(([id, name]) => ({ id, name })));
    }
    const { encodeCryptomatte } = await import('../idlayers/cryptomatte.ts');
    const slimmed = encodeCryptomatte(
      layer!.name,
      slim,
      members().map((m) => [m.name, m.id] as const),
    );
    const { dataWindow, displayWindow } = frame.header;
    const write = (input: typeof slimmed) =>
      quickExr({ dataWindow, displayWindow, pixelAspectRatio: 1, ...input });
    const again = await openFiles({ 'slim.exr': write(slimmed) });
    const masks = await masksOf(again, layer!.name);
    for (const name of Object.keys(truth.objects)) {
      expect(idOfName(name)).toBe(parseInt(truth.objects[name]!.id, 16));
      expect(worst(masks.get(name)!, maskOfMember(index, idOfName(name)).flat())).toBeLessThanOrEqual(
        1 / STEPS + 1e-7,
      );
    }
    expect(write(slimmed).length).toBeLessThan(write({ channels, attributes }).length);
    expect(write(slimmed).length).toBeLessThan(sampleBytes('object_only_zips.exr').length);
  });
});
