import { readFileSync } from 'node:fs';
import type { Change } from '../src/changes/change.ts';
import { parseChangeList } from '../src/changes/parse.ts';
import { correctionOf } from '../src/corrections/registry.ts';
import { wholeValues } from '../src/fields/values.ts';
import { parseParcelList } from '../src/parcels/parse.ts';
import { PARCEL_KINDS } from '../src/parcels/registry.ts';
import { parsePlan } from '../src/plan/parse.ts';
import { parseInterpretation } from '../src/version/parse-interpretation.ts';

/** Documents as they were stored when their version was today's. They must open for ever. */
const stored = (name: string) =>
  JSON.parse(readFileSync(new URL(`./fixtures/documents/${name}.json`, import.meta.url), 'utf8')) as Record<
    string,
    unknown
  >;

test('a change list of version 1 opens with everything in it', () => {
  const list = parseChangeList(stored('changes-v1'));
  expect(list.changes.map((c) => c.words)).toEqual(['Lids in the green of the hive', '']);
  expect(list.changes[0]!.who.map((p) => p.mode)).toEqual(['with', 'without', 'inside']);
  expect(list.changes[0]!.corrections.map((c) => [c.kind, c.on, c.values])).toEqual([
    ['hue-saturation-lightness', true, { hue: 150, saturation: -35, lightness: -8 }],
    ['exposure', false, { stops: 0.35 }],
  ]);
});
/** Lists before version 7 went by the whole picture where something was placed. */
const placed = <T extends object>(o: T) => {
  const { fence = [], brush = [], corrections = [] } = o as Partial<Change>;
  const places = corrections.some((c) => c.kind === 'vignette' || c.kind === 'place-picture');
  return fence.length + brush.length > 0 || places ? { ...o, placesIn: 'picture' } : o;
};
/** A stored list with what every change of a later version has and its own had not. */
const withMore = (list: Record<string, unknown>, add: object) => ({
  headings: [],
  variants: [],
  ...list,
  version: 7,
  changes: (list['changes'] as object[]).map((c) => placed({ ...c, ...add })),
});

test.each([
  ['1 has no edge steps', 'changes-v1', { edge: [], fence: [], plainEdges: true, brush: [] }],
  ['2 has no fence, and plain edges', 'changes-v2', { fence: [], plainEdges: true, brush: [] }],
  ['3 has no strokes and stands under no heading', 'changes-v3', { brush: [] }],
])('a change list of version %s', (_, name, add) =>
  expect(parseChangeList(stored(name))).toEqual(withMore(stored(name), add)),
);
test.each(['changes-v4', 'changes-v5', 'changes-v6'])('%s keeps what it has', (name) =>
  expect(parseChangeList(stored(name))).toEqual(withMore(stored(name), {})),
);
test('a change list of version 7 keeps what it has', () =>
  expect(parseChangeList(stored('changes-v7'))).toEqual(stored('changes-v7')));
test('what a list of version 6 did not say is written down: it gives what it gave', () => {
  const use = (kind: string, values: object) => ({ id: kind, kind, on: true, values });
  const before = stored('changes-v6');
  const [first] = before['changes'] as object[];
  const corrections = [
    use('core', { strength: 50 }),
    use('sharpen', { size: 3 }),
    use('local-contrast', { strength: -20 }),
    use('grain', { strength: 20 }),
    use('vignette', { stops: 1 }),
  ];
  const list = parseChangeList({ ...before, changes: [{ ...first, fence: [], brush: [], corrections }] });
  expect(list.changes[0]!.corrections.map((c) => c.values)).toEqual([
    { strength: 50, way: 'replace' },
    { size: 3, beyond: 20 },
    { strength: -20, beyond: 20 },
    { strength: 20 },
    { stops: 1 },
  ]);
  expect(list.changes[0]!.placesIn).toBe('picture');
  // Grain of a pixel is what it has where nothing is said.
  expect(wholeValues(correctionOf('grain')!.fields, {})['size']).toBe(1);
});
test('a change under a heading that is not there stands under none', () => {
  const list = parseChangeList({ ...stored('changes-v4'), headings: [] });
  expect(list.changes.map((c) => c.heading)).toEqual(list.changes.map(() => undefined));
});
test('a plan of version 1 opens with everything in it', () => {
  const before = stored('plan-v1');
  const plan = parsePlan(before);
  expect(plan.wishes.length).toBeGreaterThan(0);
  expect(plan.passes.length).toBeGreaterThan(0);
  for (const key of ['objects', 'materials', 'rules', 'wishes', 'passes', 'output'] as const)
    expect(plan[key]).toEqual(before[key]);
});
test.each([
  ['takes all of its samples', 'plan-v1', { doneWhen: 'samples', samples: 1024, noise: 0.1 }],
  ['ends at the noise that it told', 'plan-v1-noise', { doneWhen: 'clean', samples: 512, noise: 0.05 }],
  [
    'with a step of the masks takes all of its samples',
    'plan-v1-masks',
    { doneWhen: 'samples', samples: 256 },
  ],
] as const)('a plan of version 1 %s', (_, name, end) => {
  const { noise: _n, maskStep: _m, ...rest } = stored(name)['render'] as Record<string, unknown>;
  expect(parsePlan(stored(name)).render).toEqual({ ...rest, noise: 0.1, minutes: 5, ...end });
});
test('a plan of version 2 keeps what it has', () =>
  expect(parsePlan(stored('plan-v2'))).toEqual(stored('plan-v2')));
test('a list of parcels of version 1 opens with every kind and setting in it', () => {
  const list = parseParcelList(stored('parcels-v1'));
  expect(list).toEqual({ ...stored('parcels-v1'), version: 2 });
  expect(new Set(list.parcels.map((p) => p.kind)).size).toBe(9);
  // One of a kind that came later has its document in a later version.
  expect(PARCEL_KINDS.length).toBe(9);
});
test('a list of parcels of version 1 makes the files that it made: what was neutral then is written out', () => {
  const parcel = (kind: string, settings: object) => ({
    ...{ id: `${kind} ${JSON.stringify(settings)}`, kind, title: 'Honey', frames: '', variants: [''] },
    ...{ settings, name: '{parcel}', folder: '' },
  });
  const opened = (kind: string, settings: object) =>
    parseParcelList({ format: 'zesty-crow/parcels', version: 1, parcels: [parcel(kind, settings)] })
      .parcels[0]!.settings;
  // An EXR had its overscan, whatever else was said, and float TIFF was in sRGB.
  expect(opened('picture', {})).toEqual({ window: 'data' });
  expect(opened('masks', { how: 'channels' })).toEqual({ how: 'channels', window: 'data' });
  expect(opened('cut-outs', { format: 'exr' })).toEqual({ format: 'exr', window: 'data' });
  expect(opened('picture', { format: 'tiff32' })).toEqual({ format: 'tiff32', transform: 'srgb' });
  expect(opened('picture', { format: 'tiff32', transform: 'rec709' })).toEqual({
    format: 'tiff32',
    transform: 'rec709',
  });
  for (const kind of ['masks', 'cut-outs', 'layers', 'report']) expect(opened(kind, {})).toEqual({});
});
test('a list of parcels of version 2 opens with everything in it', () =>
  expect(parseParcelList(stored('parcels-v2'))).toEqual(stored('parcels-v2')));
test('what the artist knows better opens with everything in it: it has never had another form', () =>
  expect(parseInterpretation(stored('interpretation'))).toEqual(stored('interpretation')));
test.each([
  ['changes-v1', parseChangeList],
  ['plan-v1', parsePlan],
  ['parcels-v2', parseParcelList],
])('%s made by a newer Zesty Crow is refused with what to do', (name, parse) =>
  expect(() => parse({ ...stored(name), version: 99 })).toThrow(/version 99.*Update it/),
);
