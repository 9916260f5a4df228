import Ajv from 'ajv';
import { fileOf as file, openFiles as open } from '../../test/fixtures/frames.ts';
import { castOf } from '../cast/cast.ts';
import { srgbToLinear } from '../colour/srgb.ts';
import type { PlaceRemedy } from '../findings/finding.ts';
import { asFloats } from '../formats/exr/samples.ts';
import { writeExr } from '../formats/exr/write.ts';
import { maskOfMember } from '../masks/who/member-mask.ts';
import { INTERPRETATION_SCHEMA, type Interpretation } from './interpretation.ts';

const colours = (layer: string, at: (p: number, k: number) => number) =>
  Object.fromEntries(
    ['R', 'G', 'B'].map((c, k) => [layer ? `${layer}.${c}` : c, (p: number) => at(p, k)] as const),
  );

describe('which layer is the picture', () => {
  const grey = (v: number) => () => v;
  test.each([
    ['the unnamed one', ['', 'beauty', 'diffuse'], ['RGBA'], /no other layer/],
    [
      'the one that is called so',
      ['albedo', 'ViewLayer.Combined', 'diffuse'],
      ['ViewLayer.Combined'],
      /called/,
    ],
    [
      'parts of the light together',
      ['diffuse', 'specular', 'emission', 'albedo'],
      ['diffuse', 'emission', 'specular'],
      /added up/,
    ],
    ['one of no known kind before a part of the light', ['diffuse', 'shop'], ['shop'], /first/],
    [
      'not the colour of a material',
      ['diffuse_color', 'specular', 'diffuse'],
      ['diffuse', 'specular'],
      /added up/,
    ],
  ])('%s', async (_, layers, wanted, why) => {
    const frame = await open({
      'a.exr': file(
        Object.assign({}, ...layers.map((l) => colours(l, grey(0.5)))) as Record<string, () => number>,
      ),
    });
    expect([...frame.choice.layers].sort()).toEqual([...wanted].sort());
    expect(frame.choice.why).toMatch(why);
  });

  test('is told by the sum of the lights where names do not tell', async () => {
    const shelf = {
      ...colours('a_wash', () => 0.4),
      ...colours('b_shop', (p, k) => p + k + 5 * p),
      ...colours('diffuse', (p, k) => p + k),
      ...colours('specular', (p) => 5 * p),
    };
    const frame = await open({ 'x.exr': file(shelf) });
    expect(frame.choice).toEqual({ layers: ['b_shop'], why: 'the parts of the light add up to it' });
    expect((await frame.picture()).r[4]).toBe(24);
    // Where they add up to neither, it is the first one, which can be changed.
    const neither = await open({ 'x.exr': file({ ...shelf, ...colours('b_shop', () => 3) }) });
    expect(neither.choice).toMatchObject({ layers: ['a_wash'], why: 'it is the first one with colours' });
  });

  test('lights that are added up are the picture, and a channel of what is written', async () => {
    const bytes = file({ ...colours('diffuse', (p, k) => p + k), ...colours('specular', (p) => 100 * p) });
    const frame = await open({ 'a.exr': bytes });
    const { r, b } = await frame.picture();
    expect([r[3], b[3]]).toEqual([303, 305]);
    // A mask may be made of the sum, too.
    const masks = [{ name: 'bright', channels: [{ channel: 'added up.R', times: 1 }], from: 0, to: 606 }];
    const [mask] = await (await open({ 'a.exr': bytes }, { masks })).channels((n) => n === 'Masks.bright');
    expect(asFloats(mask!)[3]).toBe(0.5);
    const all = await frame.all();
    expect(all.image.channels.map((c) => c.name)).toContain('added up.R');
    expect(asFloats(all.image.channels.find((c) => c.name === 'diffuse.R')!)[3]).toBe(3);
  });

  test('is what the artist says, also several; what is not there is passed over', async () => {
    const bytes = file({ ...colours('', () => 1), ...colours('a', () => 2), ...colours('b', () => 3) });
    const red = async (picture: string[]) =>
      (await (await open({ 'x.exr': bytes }, { picture })).picture()).r[0];
    expect(await red(['a'])).toBe(2);
    expect(await red(['a', 'b'])).toBe(5);
    expect(await red(['gone'])).toBe(1);
  });
});

test('an encoding that the artist sets is used for the picture, and for sums', async () => {
  const bytes = file({ ...colours('', () => 0.5), ...colours('glow', () => 0.25) });
  const encodings = { RGBA: 'display' } as const;
  const one = await open({ 'x.exr': bytes }, { encodings });
  expect((await one.picture()).r[0]).toBeCloseTo(srgbToLinear(0.5), 6);
  const sum = await open({ 'x.exr': bytes }, { encodings, picture: ['RGBA', 'glow'] });
  expect((await sum.picture()).g[0]).toBeCloseTo(srgbToLinear(0.5) + 0.25, 6);
});

describe('masks of channels', () => {
  const bytes = file({ ...colours('', () => 1), Z: (p) => p, 'ao.R': (p) => (p % 2 ? 1 : NaN) });
  const masks: Interpretation['masks'] = [
    { name: 'far', channels: [{ channel: 'Z', times: 1 }], from: 10, to: 20 },
    { name: 'near', channels: [{ channel: 'Z', times: 1 }], from: 20, to: 10 },
    {
      name: 'both',
      channels: [
        { channel: 'Z', times: 0.01 },
        { channel: 'ao.R', times: 0.5 },
      ],
      from: 0,
      to: 1,
    },
    { name: 'lost', channels: [{ channel: 'gone', times: 1 }], from: 0, to: 1 },
  ];
  test('are members of an ID layer, with the coverage that their channels give', async () => {
    const frame = await open({ 'x.exr': bytes }, { masks });
    const layer = frame.layers.find((l) => l.name === 'Masks')!;
    const cast = castOf(layer, await frame.index(layer));
    const cover = (name: string) => {
      const mask = maskOfMember(cast.index, cast.members.find((m) => m.name === name)!.id);
      return (p: number) => mask.at(p % 8, Math.floor(p / 8));
    };
    expect(cast.members.map((m) => m.name)).not.toContain('lost');
    expect([5, 10, 15, 25].map(cover('far'))).toEqual([0, 0, 0.5, 1]);
    expect([5, 15, 25].map(cover('near'))).toEqual([1, 0.5, 0]);
    expect(cover('both')(7)).toBeCloseTo(0.57, 5);
    // What is no number covers nothing.
    expect(cover('both')(8)).toBe(0);
  });
  test('are written like any channel, and can be picked again', async () => {
    const { image } = await (await open({ 'x.exr': bytes }, { masks })).all();
    const again = await open({ 'y.exr': writeExr({ ...image.header, channels: image.channels }) });
    expect(again.layers.map((l) => [l.name, l.kind])).toEqual([['Masks', 'channel-mask']]);
    expect((await again.cast())[0]!.members.map((m) => m.name)).toContain('near');
  });
});

describe('files of another size', () => {
  const picture = file(colours('', () => 1));
  const large = file({ Z: (p) => p }, { width: 12, height: 7 });
  test('are left out and told, with a place that one click gives them', async () => {
    const frame = await open({ 'jar.exr': picture, 'jar_z.exr': large });
    expect([frame.width, frame.header.channels.map((c) => c.name)]).toEqual([8, ['B', 'G', 'R']]);
    const [finding] = frame.findings;
    expect(finding).toMatchObject({ code: 'size-differs', severity: 'error' });
    expect(finding!.message).toMatch(
      /12 x 7 .* 8 x 4.*2 pixels are cut off left and right, 2 pixels are cut off above and below/,
    );
    const { file: stem, ...place } = (finding!.remedy as PlaceRemedy).place;
    const placed = await open({ 'jar.exr': picture, 'jar_z.exr': large }, { places: { [stem]: place } });
    expect(placed.findings).toEqual([]);
    const [z] = await placed.channels((name) => name === 'z.Z' || name === 'Z');
    expect([...asFloats(z!).slice(0, 3)]).toEqual([26, 27, 28]);
  });
  test('a smaller one stays empty around; the first file need not be the picture', async () => {
    const small = file({ Z: () => 1 }, { width: 6, height: 4 });
    const files = { 'a_z.exr': small, 'b.exr': picture };
    const [finding] = (await open(files)).findings;
    expect(finding!.message).toMatch(/1 pixels? (stays|stay) empty left and right/);
    const { file: stem, ...place } = (finding!.remedy as PlaceRemedy).place;
    const frame = await open(files, { places: { [stem]: place } });
    const [z] = await frame.channels((name) => name.endsWith('Z'));
    expect([...asFloats(z!).slice(0, 8)]).toEqual([0, 1, 1, 1, 1, 1, 1, 0]);
  });
  test('the same view at another size is never resampled', async () => {
    const half = file({ Z: () => 1 }, { width: 4, height: 2 });
    const [finding] = (await open({ 'a.exr': picture, 'a_z.exr': half })).findings;
    expect(finding!.message).toMatch(/Render it at the size of the picture/);
    expect(finding!.remedy).toBeUndefined();
  });
});

test('the schema takes what is written here, and nothing else', () => {
  const check = new Ajv({ strict: false }).compile(INTERPRETATION_SCHEMA);
  const whole: Required<Interpretation> = {
    picture: ['diffuse', 'specular'],
    encodings: { RGBA: 'display' },
    places: { jar_z: { x: -2, y: 3 } },
    roles: {
      buffer_04: { role: 'object-buffer', number: 4, name: 'hive' },
      set1: { role: 'puzzle-matte', r: 'hive', g: '', b: 'bee' },
      index: { role: 'number-pass', names: { 4: 'hive' } },
      flat: { role: 'flat-colour', outlined: 'flat_lines', names: { '#ff0000': 'hive' } },
      Z: { role: 'pass' },
    },
    masks: [{ name: 'far', channels: [{ channel: 'Z', times: 1 }], from: 0, to: 1 }],
  };
  expect(check(whole)).toBe(true);
  expect(check({})).toBe(true);
  for (const wrong of [
    { picture: [] },
    { encodings: { a: 'log' } },
    { places: { a: { x: 0.5, y: 0 } } },
    { roles: { a: { role: 'puzzle-matte', number: 4 } } },
    { more: 1 },
  ])
    expect(check(wrong)).toBe(false);
});
